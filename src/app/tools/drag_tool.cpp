#include "app/tools/drag_tool.h"

#include <QLocale>
#include <algorithm>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"

namespace evenclay {

namespace {
constexpr double kDragStart = 3.0;  // pixels
}

bool DragTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton) return false;
  viewport_ = c_.views.at(e.at);
  pressed_ = e.at;
  if (c_.editor.mode() == EditMode::PullSkin && c_.editor.net_visible() && start_pull(e.at))
    return true;
  return press_points(e);
}

void DragTool::move(const HandEvent& e) {
  if (does_ == Does::Pressed) {
    if (std::hypot(e.at.x() - pressed_.x(), e.at.y() - pressed_.y()) < kDragStart) return;
    start_drag();
  }
  if (does_ == Does::Drag && !c_.editor.dragging())
    does_ = Does::Nothing;  // something else ended it
  if (does_ == Does::Drag) drag_to(e);
}

void DragTool::release(const HandEvent&) {
  const bool dragged = does_ == Does::Drag;
  does_ = Does::Nothing;
  snapped_.reset();
  snapper_.clear();
  if (dragged) c_.editor.end_drag();
  c_.view.update();
}

void DragTool::cancel() {
  const bool dragged = does_ == Does::Drag;
  does_ = Does::Nothing;
  snapped_.reset();
  snapper_.clear();
  if (dragged) c_.editor.cancel_drag();
}

// While there is nothing to undo yet the action is dimmed and the key comes here.
bool DragTool::key(QKeyEvent& event) {
  if (does_ != Does::Drag || !event.matches(QKeySequence::Undo)) return false;
  c_.editor.cancel_drag();
  return true;
}

// True when something of the net was pressed: it is picked, added, removed, or ready to be dragged.
bool DragTool::press_points(const HandEvent& e) {
  const auto pressed = c_.pick().pressed_at(e.at);
  if (!pressed) return false;
  const bool shift = e.modifiers.testFlag(Qt::ShiftModifier);
  const bool control = e.modifiers.testFlag(Qt::ControlModifier);
  if (c_.editor.plane_points_missing() > 0) {
    c_.editor.add_plane_point(pressed->leader);
    return true;
  }
  if (control && shift && (pressed->tag == 0 || c_.editor.form_kind() == PickKind::Corner)) {
    c_.editor.extend_to(pressed->leader);
    return true;
  }
  if (pressed->tag != 0) return press_form(*pressed, shift, control);
  Selection picked = c_.editor.picked();
  if (control) {
    for (const PointIndex& p : with_united(c_.editor.net()->shown, pressed->points))
      picked.erase(p);
    c_.editor.pick(picked);
    return true;
  }
  const bool already = picked.contains(pressed->leader);
  c_.editor.set_leader(pressed->leader);
  if (shift) {
    picked.insert(pressed->points.begin(), pressed->points.end());
    c_.editor.pick(picked);
  } else if (!already) {
    c_.editor.pick(pressed->points);
  }
  does_ = Does::Pressed;
  return true;
}

// Faces, edges and points of a form are added and removed by name.
bool DragTool::press_form(const ScenePicker::Pressed& pressed, bool shift, bool control) {
  std::vector<Tag> tags = c_.editor.form_picked();
  const bool already = std::find(tags.begin(), tags.end(), pressed.tag) != tags.end();
  if (control) {
    std::erase(tags, pressed.tag);
    c_.editor.pick_form(std::move(tags));
    return true;
  }
  c_.editor.set_leader(pressed.leader);
  if (!already) {
    if (!shift) tags.clear();
    tags.push_back(pressed.tag);
    c_.editor.pick_form(std::move(tags));
  }
  does_ = Does::Pressed;
  return true;
}

void DragTool::start_drag() {
  does_ = c_.editor.begin_drag() ? Does::Drag : Does::Nothing;
  if (does_ != Does::Drag) return;
  // Measured where the drag began, so that half the way of the hand is half the move.
  anchor_ = c_.editor.net()->shown.point(c_.editor.leader());
  snapped_.reset();
  snapper_.gather(c_.model, c_.editor);
}

bool DragTool::start_pull(const QPointF& at) {
  const auto place = c_.pick().place_at(at);
  if (!place || !c_.editor.begin_pull(*place)) return false;
  anchor_ = c_.editor.pulled_place();
  does_ = Does::Drag;
  return true;
}

double DragTool::stepped(double amount) const {
  const double step = c_.editor.step_length();
  return step > 0.0 ? std::round(amount / step) * step : amount;
}

double DragTool::along_axis(const QPointF& hand, const Vec3& axis) const {
  const Frame axes = camera().axes();
  const double mm = pixel_size(camera(), rect(), anchor_);
  const double ax = dot(axis, axes.x) / mm;
  const double ay = -dot(axis, axes.y) / mm;
  const double square = ax * ax + ay * ay;
  const bool towards_eye = square * mm * mm < 0.02;
  return towards_eye ? -hand.y() * mm : (hand.x() * ax + hand.y() * ay) / square;
}

void DragTool::drag_move(const QPointF& hand, double share) {
  const Frame axes = camera().axes();
  const double mm = pixel_size(camera(), rect(), anchor_);
  Move move{c_.editor.direction(), 0.0, {}};
  const bool free = move.direction == MoveDirection::InView ||
                    move.direction == MoveDirection::OnSkin ||
                    move.direction == MoveDirection::WorkPlane;
  if (free)
    move.vector = axes.x * stepped(hand.x() * mm * share) - axes.y * stepped(hand.y() * mm * share);
  else
    move.amount = stepped(along_axis(hand, c_.editor.axis(c_.editor.leader(), axes)) * share);
  // Where the point would go by itself, and what is near the cursor there.
  const Vec3 target = free ? anchor_ + move.vector
                           : anchor_ + c_.editor.axis(c_.editor.leader(), axes) * move.amount;
  snapped_ = snapper_.at(camera(), rect(), pressed_ + hand, target);
  c_.editor.drag_to(snapped_ ? c_.editor.snapped(move, snapped_->at) : move);
}

// Along the chosen direction where it is one line; else in the view.
void DragTool::drag_pull(const QPointF& hand, double share) {
  const Frame axes = camera().axes();
  const double mm = pixel_size(camera(), rect(), anchor_);
  const MoveDirection d = c_.editor.direction();
  const bool line = d == MoveDirection::X || d == MoveDirection::Y || d == MoveDirection::Z ||
                    d == MoveDirection::OffSkin;
  const Vec3 axis = c_.editor.axis(c_.editor.leader(), axes);
  c_.editor.drag_pull(line ? axis * stepped(along_axis(hand, axis) * share)
                           : axes.x * stepped(hand.x() * mm * share) -
                                 axes.y * stepped(hand.y() * mm * share));
}

void DragTool::drag_to(const HandEvent& e) {
  const QPointF hand = e.at - pressed_;
  const double share = (e.modifiers.testFlag(Qt::ShiftModifier) ? 0.1 : 1.0) / c_.editor.ratio();
  const Frame axes = camera().axes();
  switch (c_.editor.mode()) {
    case EditMode::Move:
      drag_move(hand, share);
      break;
    case EditMode::Scale:  // 200 pixels to the right double, as many to the left halve
      amount_ = std::exp2(hand.x() * share / 200.0);
      c_.editor.drag_scale(amount_, axes);
      break;
    case EditMode::Turn:  // half a degree a pixel
      amount_ = stepped(hand.x() * share * 0.5);
      c_.editor.drag_turn(amount_, axes);
      break;
    case EditMode::PullSkin:
      drag_pull(hand, share);
      break;
    case EditMode::Weight:  // 100 pixels to the right double
      amount_ = std::exp2(hand.x() * share / 100.0);
      c_.editor.drag_weight(amount_);
      break;
  }
}

// A small diamond where the dragged point has snapped to.
void DragTool::add_to(Scene& scene) const {
  if (!snapped_ || does_ != Does::Drag) return;
  const Frame axes = camera().axes();
  const double arm = pixel_size(camera(), rect(), snapped_->at) * 9.0;
  LineItem cue{{}, look::colours().good, 2.4F, true};
  const Vec3 corners[4] = {snapped_->at + axes.x * arm, snapped_->at + axes.y * arm,
                           snapped_->at - axes.x * arm, snapped_->at - axes.y * arm};
  for (std::size_t k = 0; k < 4; ++k) add_piece(cue.pieces, corners[k], corners[(k + 1) % 4]);
  scene.lines.push_back(std::move(cue));
}

// What the hand does: the amount, and how far points and surface really went.
QString DragTool::words() const {
  if (does_ != Does::Drag) return {};
  const QLocale plain = QLocale::c();
  const QString surface = plain.toString(c_.editor.surface_moved(), 'f', 2);
  switch (c_.editor.mode()) {
    case EditMode::Scale:
      return QObject::tr("× %1 · surface %2 mm").arg(plain.toString(amount_, 'f', 3), surface);
    case EditMode::Turn:
      return QObject::tr("%1° · surface %2 mm").arg(plain.toString(amount_, 'f', 1), surface);
    case EditMode::PullSkin:
      return QObject::tr("surface %1 mm · nearest point %2 mm")
          .arg(surface, plain.toString(c_.editor.points_moved(), 'f', 2));
    case EditMode::Weight:
      return QObject::tr("weight %1 · surface %2 mm")
          .arg(plain.toString(c_.editor.picked_weight().value_or(1.0), 'f', 2), surface);
    case EditMode::Move:
      break;
  }
  if (snapped_)
    return QObject::tr("points %1 mm · surface %2 mm · on %3")
        .arg(plain.toString(c_.editor.points_moved(), 'f', 2), surface, snapped_->what);
  return QObject::tr("points %1 mm · surface %2 mm")
      .arg(plain.toString(c_.editor.points_moved(), 'f', 2), surface);
}

}  // namespace evenclay
