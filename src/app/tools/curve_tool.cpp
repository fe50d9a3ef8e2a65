#include "app/tools/curve_tool.h"

#include <QLocale>
#include <QRegularExpression>
#include <cmath>
#include <numbers>

#include "app/look/colours.h"
#include "app/view/layers.h"

namespace evenclay {

namespace {

constexpr double kNear = 9.0;       // pixels within which a place is meant
constexpr double kDragStart = 3.0;  // pixels
constexpr double kSteps = 15.0;     // degrees while Shift is held

double degrees(double radians) {
  return radians * 180.0 / std::numbers::pi;
}

}  // namespace

const DrawsPoints* CurveTool::drawn() const {
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  return step != nullptr && step->enabled ? offer_of<DrawsPoints>(*step->operation) : nullptr;
}

const DrawsPoints* CurveTool::being_drawn() const {
  return c_.model.trial() ? drawn() : nullptr;
}

bool CurveTool::begun() const {
  return step_ != 0 && step_ == c_.model.chosen_step();
}

std::vector<Vec3> CurveTool::places() const {
  if (being_drawn() != nullptr && !begun()) {
    if (first_ && first_->step == c_.model.chosen_step()) return {first_->place};
    return {};
  }
  return drawn() != nullptr ? drawn()->drawn_points() : std::vector<Vec3>{};
}

// In the work plane, or, where that is seen edge-on, in the plane of the view through the last place.
Vec3 CurveTool::in_plane(const QPointF& at, const std::optional<Vec3>& through) const {
  const std::size_t k = c_.views.at(at);
  const Camera& camera = c_.views.camera(k);
  const Ray ray = ray_through(camera, c_.views.rect(k), at);
  Vec3 origin = through.value_or(c_.editor.work_plane().origin);
  Vec3 normal = c_.editor.work_plane().z;
  if (std::abs(dot(ray.direction, normal)) < 0.05) normal = camera.axes().z;
  return ray.origin +
         ray.direction * (dot(origin - ray.origin, normal) / dot(ray.direction, normal));
}

CurveTool::Aimed CurveTool::aimed_at(const QPointF& at, bool in_steps) const {
  const std::vector<Vec3> all = places();
  const std::size_t k = c_.views.at(at);
  const Vec3 normal = c_.editor.work_plane().z;
  const bool edge_on =
      std::abs(dot(ray_through(c_.views.camera(k), c_.views.rect(k), at).direction, normal)) < 0.05;
  Aimed result{in_plane(at, edge_on && !all.empty() ? std::optional(all.back()) : std::nullopt),
               {}};
  if (!dragged_ && being_drawn() != nullptr && begun() && being_drawn()->can_close()) {
    const OnScreen o = to_screen(c_.views.camera(k), c_.views.rect(k), all.front());
    if (std::hypot(o.at.x() - at.x(), o.at.y() - at.y()) < kNear)
      return {all.front(), QObject::tr("closes")};
  }
  if (const auto snapped = snapper_.at(c_.views.camera(k), c_.views.rect(k), at, result.at))
    return {snapped->at, snapped->what};
  if (in_steps && !all.empty() && !dragged_) {
    const Frame& plane = c_.editor.work_plane();
    const Vec3 way = result.at - all.back();
    const double angle = std::atan2(dot(way, plane.y), dot(way, plane.x));
    const double step = kSteps * std::numbers::pi / 180.0;
    const double kept = std::round(angle / step) * step;
    const Vec3 direction = plane.x * std::cos(kept) + plane.y * std::sin(kept);
    result.at = all.back() + direction * dot(way, direction);
  }
  return result;
}

std::optional<std::size_t> CurveTool::place_under(const QPointF& at) const {
  if (drawn() == nullptr || drawn()->places_are_net()) return std::nullopt;
  const std::size_t k = c_.views.at(at);
  std::optional<std::size_t> best;
  double nearest = kNear;
  const std::vector<Vec3> all = places();
  for (std::size_t n = 0; n < all.size(); ++n) {
    const OnScreen o = to_screen(c_.views.camera(k), c_.views.rect(k), all[n]);
    const double d = std::hypot(o.at.x() - at.x(), o.at.y() - at.y());
    if (o.depth <= 0.0 || d >= nearest) continue;
    nearest = d;
    best = n;
  }
  return best;
}

bool CurveTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton || drawn() == nullptr) return false;
  snapper_.gather(c_.model, c_.editor);
  if (const auto under = place_under(e.at); under && (begun() || being_drawn() == nullptr)) {
    if (!c_.model.may_change(c_.model.chosen_part())) return true;
    dragged_ = under;
    pressed_ = e.at;
    has_moved_ = false;
    start_ = places();
    return true;
  }
  if (being_drawn() == nullptr) return false;
  add(aimed_at(e.at, e.modifiers.testFlag(Qt::ShiftModifier)).at);
  return true;
}

OperationPtr CurveTool::with_more(const Vec3& place) const {
  const DrawsPoints* curve = being_drawn();
  if (begun()) return curve->with_drawn_place(place, leg_, false);
  const OperationPtr one = curve->with_drawn_place(first_->place, Leg::Line, true);
  return offer_of<DrawsPoints>(*one)->with_drawn_place(place, leg_, false);
}

void CurveTool::add(const Vec3& place) {
  const StepId step = c_.model.chosen_step();
  if (!begun() && (!first_ || first_->step != step)) {
    step_ = 0;
    leg_ = Leg::Line;
    first_ = First{place, step};
    c_.model.say(QObject::tr("Click on; the curve appears with the second point. Enter keeps it."));
    c_.view.update();
    return;
  }
  c_.model.attempt([&] {
    c_.model.change_operation(step, with_more(place), QObject::tr("Draw a curve"), {});
    step_ = step;
    first_.reset();
  });
}

void CurveTool::close() {
  const DrawsPoints* curve = being_drawn();
  if (curve == nullptr || !curve->can_close()) return;
  c_.model.attempt([&] {
    c_.model.change_operation(c_.model.chosen_step(), curve->drawn_closed(leg_),
                              QObject::tr("Draw a curve"), {});
    c_.model.say(QObject::tr("Closed. Enter keeps it; drag a place to move it."));
  });
}

void CurveTool::show(const std::vector<Vec3>& moved) {
  const StepId step = c_.model.chosen_step();
  c_.model.attempt([&] {
    const OperationPtr changed = drawn()->with_drawn_points(moved);
    if (c_.model.trial())
      c_.model.change_operation(step, changed, QObject::tr("Move a place"), {});
    else
      c_.model.preview_drag(with_operation(c_.model.document(), step, changed));
  });
}

void CurveTool::move(const HandEvent& e) {
  const QPointF way = e.at - pressed_;
  if (!has_moved_ && std::hypot(way.x(), way.y()) < kDragStart) return;
  has_moved_ = true;
  std::vector<Vec3> moved = start_;
  // It stays in the plane that it lies in.
  const std::size_t k = c_.views.at(e.at);
  Vec3 to = in_plane(e.at, start_[*dragged_]);
  if (const auto snapped = snapper_.at(c_.views.camera(k), c_.views.rect(k), e.at, to))
    to = snapped->at;
  moved[*dragged_] = to;
  cursor_ = Aimed{to, {}};
  show(moved);
  c_.view.update();
}

void CurveTool::release(const HandEvent&) {
  const bool first = dragged_ == 0;
  dragged_.reset();
  if (!has_moved_ && first && being_drawn() != nullptr) close();
  if (has_moved_ && !c_.model.trial() && c_.model.dragging())
    c_.model.commit_drag(c_.model.document(), QObject::tr("Move a place"), {});
  has_moved_ = false;
}

void CurveTool::cancel() {
  if (!dragged_) return;
  dragged_.reset();
  if (c_.model.trial())
    show(start_);
  else
    c_.model.drop_drag();
}

bool CurveTool::hover(const QPointF& at) {
  under_.reset();
  cursor_.reset();
  if (drawn() == nullptr) return false;
  under_ = place_under(at);
  if (being_drawn() == nullptr) {
    if (under_) c_.view.setCursor(Qt::SizeAllCursor);
    return under_.has_value();
  }
  snapper_.gather(c_.model, c_.editor);
  cursor_ = aimed_at(at, QGuiApplication::keyboardModifiers().testFlag(Qt::ShiftModifier));
  c_.view.setCursor(under_ && begun() ? Qt::SizeAllCursor : Qt::CrossCursor);
  return true;
}

QString CurveTool::leg_words(const Vec3& from, const Vec3& to) const {
  const Frame& plane = c_.editor.work_plane();
  const Vec3 way = to - from;
  const QLocale locale;
  return QObject::tr("%1 mm at %2°")
      .arg(locale.toString(length(way), 'f', 2),
           locale.toString(degrees(std::atan2(dot(way, plane.y), dot(way, plane.x))), 'f', 1));
}

QString CurveTool::hover_words() const {
  if (under_ && (begun() || being_drawn() == nullptr))
    return *under_ == 0 && being_drawn() != nullptr && being_drawn()->can_close()
               ? QObject::tr("a click closes, a drag moves the place")
               : QObject::tr("drag to move the place");
  if (!cursor_) return {};
  const std::vector<Vec3> all = places();
  if (all.empty()) return QObject::tr("the first place");
  QString text = leg_words(all.back(), cursor_->at);
  if (being_drawn() != nullptr && being_drawn()->draws_legs()) {
    static const std::array<QString, 3> legs{QObject::tr("line"), QObject::tr("tangent arc"),
                                             QObject::tr("tangent curve")};
    text = legs[static_cast<std::size_t>(leg_)] + QStringLiteral(" · ") + text;
  }
  if (!cursor_->what.isEmpty()) text += QStringLiteral(" · ") + cursor_->what;
  return text;
}

QString CurveTool::words() const {
  if (!dragged_ || !cursor_) return {};
  const std::size_t k = *dragged_;
  const QLocale locale;
  QString text =
      QObject::tr("moved %1 mm").arg(locale.toString(distance(cursor_->at, start_[k]), 'f', 2));
  if (k > 0) text += QStringLiteral(" · ") + leg_words(start_[k - 1], cursor_->at);
  return text;
}

bool CurveTool::wants(const QKeyEvent& event) const {
  if (event.modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return false;
  const DrawsPoints* curve = being_drawn();
  return curve != nullptr && curve->draws_legs() &&
         (event.key() == Qt::Key_L || event.key() == Qt::Key_A || event.key() == Qt::Key_C);
}

bool CurveTool::key(QKeyEvent& event) {
  if (event.modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return false;
  if (event.key() == Qt::Key_Backspace) return take_back();
  const DrawsPoints* curve = being_drawn();
  if (curve == nullptr || !curve->draws_legs()) return false;
  if (event.key() == Qt::Key_L)
    leg_ = Leg::Line;
  else if (event.key() == Qt::Key_A)
    leg_ = Leg::Arc;
  else if (event.key() == Qt::Key_C)
    leg_ = Leg::Curve;
  else
    return false;
  static const std::array<QString, 3> said{
      QObject::tr("The next leg is a line."),
      QObject::tr("The next leg is an arc that goes on tangent."),
      QObject::tr("The next leg is a curve that goes on tangent.")};
  c_.model.say_hint(said[static_cast<std::size_t>(leg_)]);
  c_.view.update();
  return true;
}

bool CurveTool::take_back() {
  const DrawsPoints* curve = being_drawn();
  if (curve == nullptr || !begun()) return false;
  std::vector<Vec3> all = places();
  if (all.size() < 3) {
    c_.model.say_trouble(QObject::tr("A curve needs two points; Esc drops it."));
    return true;
  }
  all.pop_back();
  c_.model.attempt([&] {
    c_.model.change_operation(c_.model.chosen_step(), curve->with_drawn_points(all),
                              QObject::tr("Draw a curve"), {});
  });
  return true;
}

std::optional<TypedField::Question> CurveTool::question(const QString& first) {
  if (being_drawn() == nullptr || places().empty()) return std::nullopt;
  TypedField::Question q{QObject::tr("Next leg: length, and angle if wanted"), QObject::tr("mm, °"),
                         first};
  q.take = [this](const QString& text) { return take_typed(text); };
  return q;
}

// "25" towards the cursor; "25 30" at an angle of the work plane.
bool CurveTool::take_typed(const QString& text) {
  const std::vector<Vec3> all = places();
  if (being_drawn() == nullptr || all.empty()) return true;
  static const QRegularExpression between("[;, ]+");
  const QStringList words = text.split(between, Qt::SkipEmptyParts);
  bool good = !words.isEmpty() && words.size() <= 2;
  std::array<double, 2> x{};
  for (int k = 0; good && k < words.size(); ++k)
    x[static_cast<std::size_t>(k)] = QLocale::c().toDouble(words[k], &good);
  if (!good || !(std::abs(x[0]) > 1e-9) || std::abs(x[0]) > 1e5) {
    c_.model.say_trouble(
        QObject::tr("'%1' is no length. Type 25, or 25 30 for 25 mm at 30°.").arg(text));
    return false;
  }
  const Frame& plane = c_.editor.work_plane();
  Vec3 direction = plane.x;
  if (words.size() == 2) {
    const double a = x[1] * std::numbers::pi / 180.0;
    direction = plane.x * std::cos(a) + plane.y * std::sin(a);
  } else if (cursor_ && distance(cursor_->at, all.back()) > 1e-9) {
    direction = normalized(cursor_->at - all.back());
  }
  add(all.back() + direction * x[0]);
  return true;
}

// The next leg, as a click would make it, and the places.
void CurveTool::add_to(Scene& scene) const {
  if (drawn() == nullptr || drawn()->places_are_net()) {
    if (!(being_drawn() != nullptr && first_ && !begun())) return;
  }
  const std::vector<Vec3> all = places();
  for (std::size_t k = 0; k < all.size(); ++k) {
    PointItem item{all[k]};
    if (dragged_ == k)
      item.state = PointState::Picked;
    else if (under_ == k)
      item.state = PointState::Hovered;
    scene.points.push_back(item);
  }
  if (being_drawn() == nullptr || !cursor_ || all.empty() || dragged_ || under_) return;
  LineItem item{{}, look::colours().water, 1.5F, true};
  try {
    Progress progress;
    const OperationPtr next = with_more(cursor_->at);
    const Outcome outcome = next->apply(CurveSet{}, {}, progress);
    item.pieces = curve_lines(outcome.shape, 24).pieces;
  } catch (const Error&) {
    add_piece(item.pieces, all.back(), cursor_->at);
  }
  scene.lines.push_back(std::move(item));
}

}  // namespace evenclay
