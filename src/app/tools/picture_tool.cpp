#include "app/tools/picture_tool.h"

#include <QLocale>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"
#include "core/operations/offers.h"

namespace evenclay {

const Picture* PictureTool::picture() const {
  const auto drawn = c_.model.drawn().find(c_.model.chosen_part());
  if (drawn == c_.model.drawn().end() || !drawn->second.shape) return nullptr;
  return std::get_if<Picture>(drawn->second.shape.get());
}

void PictureTool::begin() {
  if (picture() == nullptr) {
    c_.model.say_trouble(QObject::tr("Choose a reference picture first."));
    return;
  }
  waiting_ = true;
  places_.clear();
  c_.model.say(
      QObject::tr("Click two places on the picture whose distance you know; Esc gives up."));
}

std::optional<Vec3> PictureTool::place_at(const QPointF& at) const {
  const Picture* p = picture();
  if (p == nullptr) return std::nullopt;
  const std::size_t k = c_.views.at(at);
  const Ray ray = ray_through(c_.views.camera(k), c_.views.rect(k), at);
  const double slope = dot(ray.direction, p->frame.z);
  if (std::abs(slope) < 0.02) return std::nullopt;  // seen edge-on
  const Vec3 place =
      ray.origin + ray.direction * (dot(p->frame.origin - ray.origin, p->frame.z) / slope);
  const Vec3 l = p->frame.to_local(place);
  if (std::abs(l.x) > 0.5 * p->width || std::abs(l.y) > 0.5 * p->height) return std::nullopt;
  return place;
}

bool PictureTool::press(const HandEvent& e) {
  if (!waiting_ || e.button != Qt::LeftButton) return false;
  const auto place = place_at(e.at);
  if (!place) {
    c_.model.say_trouble(
        QObject::tr("Click on the picture itself, from a side from which it is seen."));
    return true;
  }
  if (!places_.empty() && distance(places_.front(), *place) < 1e-6) return true;
  places_.push_back(*place);
  c_.view.update();
  if (places_.size() < 2) return true;
  waiting_ = false;
  TypedField::Question q{QObject::tr("These places are apart by"), QObject::tr("mm"),
                         QLocale::c().toString(distance(places_[0], places_[1]), 'f', 2)};
  q.selected = true;
  q.take = [this](const QString& text) { return take(text); };
  ask_(std::move(q));
  return true;
}

bool PictureTool::take(const QString& text) {
  bool good = false;
  QString number = text;
  const double mm = QLocale::c().toDouble(number.replace(',', '.'), &good);
  if (!good || !(mm > 1e-6) || mm > 1e5) {
    c_.model.say_trouble(
        QObject::tr("'%1' is no distance. Type millimetres, such as 104.").arg(text));
    return false;
  }
  const std::vector<Vec3> places = std::move(places_);
  places_.clear();
  const Part* part = find_part(c_.model.document(), c_.model.chosen_part());
  if (part == nullptr || places.size() != 2) return true;
  const Step& step = part->steps.front();
  const auto* placed = offer_of<PlacesPicture>(*step.operation);
  if (placed == nullptr) return true;
  c_.model.attempt([&] {
    c_.model.change_operation(step.id,
                              placed->scaled_about(places[0], mm / distance(places[0], places[1])),
                              QObject::tr("Scale the picture"), {});
  });
  return true;
}

bool PictureTool::hover(const QPointF& at) {
  cursor_.reset();
  if (!waiting_) return false;
  cursor_ = place_at(at);
  c_.view.setCursor(cursor_ ? Qt::CrossCursor : Qt::ForbiddenCursor);
  return true;
}

QString PictureTool::hover_words() const {
  if (!cursor_) return QObject::tr("click on the picture");
  if (places_.empty()) return QObject::tr("the first place");
  return QObject::tr("the second place, %1 mm now")
      .arg(QLocale().toString(distance(places_[0], *cursor_), 'f', 2));
}

bool PictureTool::key(QKeyEvent& event) {
  if (!waiting_ || event.key() != Qt::Key_Escape) return false;
  waiting_ = false;
  places_.clear();
  c_.view.update();
  return true;
}

void PictureTool::add_to(Scene& scene) const {
  for (const Vec3& p : places_) scene.points.push_back({p, PointState::Picked});
  if (places_.empty()) return;
  const Vec3 to = places_.size() > 1 ? places_[1] : cursor_.value_or(places_[0]);
  LineItem line{{}, look::colours().water, 1.5F, true};
  add_piece(line.pieces, places_[0], to);
  scene.lines.push_back(std::move(line));
}

}  // namespace evenclay
