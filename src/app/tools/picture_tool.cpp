#include "app/tools/picture_tool.h"

#include <QLineF>
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

bool PictureTool::begins_move(const QPointF& at) const {
  const Part* part = find_part(c_.model.document(), c_.model.chosen_part());
  if (part == nullptr || is_locked(c_.model.document(), *part) || picture() == nullptr ||
      !place_at(at))
    return false;
  const PartId front = c_.pick().part_at(at);
  return front == 0 || front == part->id;
}

bool PictureTool::press(const HandEvent& e) {
  if (!waiting_ && e.button == Qt::LeftButton && e.modifiers == Qt::NoModifier &&
      begins_move(e.at)) {
    const Part* part = find_part(c_.model.document(), c_.model.chosen_part());
    held_ = Held{e.at, *place_at(e.at), {}, part->steps.front().operation, *picture()};
    return true;
  }
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

// A few pixels are a click that trembled.
void PictureTool::move(const HandEvent& e) {
  if (!held_) return;
  constexpr double kTremble = 3.0;
  if (!held_->moved && QLineF(held_->from, e.at).length() < kTremble) return;
  const Picture& p = held_->shape;
  const std::size_t k = c_.views.at(held_->from);
  const Ray ray = ray_through(c_.views.camera(k), c_.views.rect(k), e.at);
  const double slope = dot(ray.direction, p.frame.z);
  if (std::abs(slope) < 0.02) return;
  const Vec3 now =
      ray.origin + ray.direction * (dot(p.frame.origin - ray.origin, p.frame.z) / slope);
  held_->moved = true;
  held_->way = now - held_->place;
  const Part* part = find_part(c_.model.document(), c_.model.chosen_part());
  const auto* placed = offer_of<PlacesPicture>(*held_->begun);
  if (part == nullptr || placed == nullptr) return;
  const StepId step = part->steps.front().id;
  c_.model.attempt([&] {
    if (c_.model.trial())
      c_.model.change_operation(step, placed->moved_by(held_->way), QObject::tr("Move the picture"),
                                QString("%1.moved").arg(step));
    else
      c_.model.preview_drag(
          with_operation(c_.model.document(), step, placed->moved_by(held_->way)));
  });
}

void PictureTool::release(const HandEvent&) {
  if (!held_) return;
  const bool moved = held_->moved;
  held_.reset();
  if (!moved) return;
  if (!c_.model.trial() && c_.model.dragging())
    c_.model.commit_drag(c_.model.document(), QObject::tr("Move the picture"), {});
  c_.model.close_merge();
}

void PictureTool::cancel() {
  if (!held_) return;
  const Held was = *held_;
  held_.reset();
  if (!was.moved) return;
  if (!c_.model.trial()) return c_.model.drop_drag();
  const Part* part = find_part(c_.model.document(), c_.model.chosen_part());
  if (part != nullptr)
    c_.model.change_operation(part->steps.front().id, was.begun, QObject::tr("Move the picture"),
                              QString("%1.moved").arg(part->steps.front().id));
}

QString PictureTool::words() const {
  if (!held_ || !held_->moved) return {};
  const auto number = [](double x) { return QLocale().toString(x, 'f', 2); };
  return QObject::tr("%1, %2, %3 mm")
      .arg(number(held_->way.x), number(held_->way.y), number(held_->way.z));
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
  if (!waiting_ && begins_move(at)) {
    c_.view.setCursor(Qt::SizeAllCursor);
    return true;
  }
  if (!waiting_) return false;
  cursor_ = place_at(at);
  c_.view.setCursor(cursor_ ? Qt::CrossCursor : Qt::ForbiddenCursor);
  return true;
}

QString PictureTool::hover_words() const {
  if (!waiting_) return {};
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
