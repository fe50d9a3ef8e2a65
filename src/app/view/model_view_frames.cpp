// Where the cameras look from.
#include "app/view/model_view.h"

#include "app/look/preferences.h"

#include <QLabel>
#include <QMouseEvent>
#include <QPainter>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "app/tools/box_tool.h"
#include "app/tools/camera_tool.h"
#include "app/tools/curve_tool.h"
#include "app/tools/face_tool.h"
#include "app/tools/handle_tool.h"
#include "app/tools/lasso_tool.h"
#include "app/tools/parts_tool.h"
#include "app/tools/pattern_tool.h"
#include "app/tools/pick_tool.h"
#include "app/tools/picture_tool.h"
#include "app/tools/place_tool.h"
#include "app/tools/section_tool.h"
#include "app/view/overlay.h"

namespace evenclay {

// The first shape that arrives after a start or an opened file is brought into view.
void ModelView::first_frame() {
  if (model_.document().parts.empty()) framed_ = false;
  if (framed_ || !model_.answer() || !model_.answer()->exact) return;
  framed_ = !box_of_all(model_).empty();
  if (framed_) frame_all();
}

void ModelView::frame_all() {
  Box3 box = box_of_all(model_);
  const auto chosen = model_.drawn().find(model_.chosen_part());
  if (settings_.tile_view && chosen != model_.drawn().end() && chosen->second.mesh) {
    box = chosen->second.mesh->box;  // the tile with its neighbours, which may not be there yet
    const Vec3 size = box.max - box.min;
    box.add(box.min - Vec3{size.x, size.y, 0});
    box.add(box.max + Vec3{size.x, size.y, 0});
  }
  views_.frame_all(box);
  update();
}

void ModelView::turn_to(const Vec3& place) {
  const Box3 box = box_of_all(model_);
  if (box.empty()) return;
  const Vec3 out = place - box.centre();
  Camera& camera = views_.camera(0);
  if (length(out) > 1e-6 * box.size()) {
    constexpr double kDegrees = 180.0 / std::numbers::pi;
    camera.yaw = std::atan2(out.y, out.x) * kDegrees;
    camera.pitch = std::clamp(std::asin(out.z / length(out)) * kDegrees, -60.0, 60.0);
  }
  camera.target = place;
  camera.height = std::max(0.5 * box.size(), 1e-3);
  update();
}

void ModelView::frame_picked() {
  Box3 box;
  if (editor_.net())
    for (const PointIndex& p : editor_.picked()) box.add(editor_.net()->shown.point(p));
  for (const Pick& p : editor_.form_picks()) box.add(p.near);
  double least = 0.2 * box_of_all(model_).size();  // a single point still needs surroundings
  if (box.empty()) {
    const auto found = model_.drawn().find(model_.chosen_part());
    if (found != model_.drawn().end() && found->second.mesh) box = found->second.mesh->box;
    least = 1e-3;
  }
  if (box.empty()) return;
  Box3 roomy = box;
  if (box.size() < least) {
    roomy.add(box.centre() + Vec3{1, 1, 1} * (least * 0.3));
    roomy.add(box.centre() - Vec3{1, 1, 1} * (least * 0.3));
  }
  views_.frame_main(roomy);
  update();
}

Vec3 ModelView::middle() const {
  const Box3 box = box_of_all(model_);
  return box.empty() ? Vec3{} : box.centre();
}

void ModelView::face(const Vec3& normal, const Vec3& at) {
  if (!(length(normal) > 0.0)) return;
  const Vec3 n = normalized(normal);
  Camera& c = views_.camera(0);
  c.pitch = std::asin(std::clamp(n.z, -1.0, 1.0)) * 180.0 / std::numbers::pi;
  if (std::hypot(n.x, n.y) > 1e-9) c.yaw = std::atan2(n.y, n.x) * 180.0 / std::numbers::pi;
  c.target = at;
  Q_EMIT look_changed();
  update();
}

void ModelView::face_picked() {
  if (!editor_.net() || editor_.picked().empty()) return;
  face(skin_normal(editor_.net()->shown, editor_.leader()), editor_.picked_centre());
}

void ModelView::toggle_perspective() {
  views_.camera(0).perspective = !views_.camera(0).perspective;
  Q_EMIT look_changed();
  update();
}

void ModelView::look_from(const SavedView& v) {
  Camera& c = views_.camera(0);
  c.target = v.target;
  c.yaw = v.yaw;
  c.pitch = v.pitch;
  c.height = v.height;
  c.perspective = v.perspective;
  Q_EMIT look_changed();
  update();
}

void ModelView::bring_to_main(ViewName name) {
  views_.bring_to_main(name, box_of_all(model_));
  update();
}

}  // namespace evenclay
