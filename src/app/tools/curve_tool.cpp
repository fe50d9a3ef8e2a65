#include "app/tools/curve_tool.h"

#include <cmath>

namespace evenclay {

const DrawsPoints* CurveTool::being_drawn() const {
  if (!c_.model.trial()) return nullptr;
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  return step != nullptr ? offer_of<DrawsPoints>(*step->operation) : nullptr;
}

// In the work plane, or, where that is seen edge-on, in the plane of the view through the last point.
Vec3 CurveTool::place_at(const QPointF& at) const {
  const std::size_t k = c_.views.at(at);
  const Camera& camera = c_.views.camera(k);
  const Ray ray = ray_through(camera, c_.views.rect(k), at);
  Vec3 origin = c_.editor.work_plane().origin;
  Vec3 normal = c_.editor.work_plane().z;
  if (std::abs(dot(ray.direction, normal)) < 0.05) {
    normal = camera.axes().z;
    if (!places_.empty()) origin = places_.back();
  }
  return ray.origin +
         ray.direction * (dot(origin - ray.origin, normal) / dot(ray.direction, normal));
}

bool CurveTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton || being_drawn() == nullptr) return false;
  if (step_ != c_.model.chosen_step()) places_.clear();
  step_ = c_.model.chosen_step();
  places_.push_back(place_at(e.at));
  if (places_.size() < 2) {
    c_.model.say(QObject::tr("Click on; the curve appears with the second point. Enter keeps it."));
    return true;
  }
  c_.model.attempt([&] {
    c_.model.change_operation(step_, being_drawn()->with_drawn_points(places_),
                              QObject::tr("Draw a curve"), {});
  });
  return true;
}

bool CurveTool::key(QKeyEvent& event) {
  return event.key() == Qt::Key_Backspace && take_back();
}

bool CurveTool::take_back() {
  const DrawsPoints* curve = being_drawn();
  if (curve == nullptr || step_ != c_.model.chosen_step()) return false;
  if (places_.size() < 3) {
    c_.model.say_trouble(QObject::tr("A curve needs two points; Esc drops it."));
    return true;
  }
  places_.pop_back();
  c_.model.change_operation(step_, curve->with_drawn_points(places_), QObject::tr("Draw a curve"),
                            {});
  return true;
}

}  // namespace evenclay
