// What ModelView makes of the hand: which place it points at, and how far a drag goes.
#include <cmath>
#include <limits>

#include "app/view/model_view.h"
#include "app/view/near_line.h"
#include "app/view/picking.h"
#include "core/points/snap.h"

namespace evenclay {

std::optional<SurfacePlace> ModelView::place_at(const QPointF& at) const {
  const std::size_t k = viewport_at(at);
  const auto drawn = model_.drawn().find(model_.chosen_part());
  if (drawn == model_.drawn().end() || !drawn->second.mesh) return std::nullopt;
  if (drawn->second.curves) return place_on_curves(at, *drawn->second.shape);
  const auto found = hit_triangle(ray_through(camera_of(k), viewport(k), at), *drawn->second.mesh);
  if (!found) return std::nullopt;
  return place_in_triangle(*drawn->second.mesh, found->triangle, found->b, found->c);
}

std::optional<SurfacePlace> ModelView::place_on_curves(const QPointF& at,
                                                       const Shape& shape) const {
  const std::size_t k = viewport_at(at);
  const auto* set = std::get_if<CurveSet>(&shape);
  if (set == nullptr) return std::nullopt;
  std::optional<SurfacePlace> best;
  double nearest = kCurveRadius;
  for (std::size_t c = 0; c < set->curves.size(); ++c) {
    const Curve& curve = set->curves[c];
    const DisplayLines lines = curve_lines(CurveSet{{curve}}, 24);
    const NearLine near = near_line(camera_of(k), viewport(k), at, lines.pieces);
    if (near.pixels >= nearest) continue;
    nearest = near.pixels;
    // The run of the pieces is the run of the parameter, span by span.
    std::vector<double> run = sample_places(curve.knots, curve.knots.degree == 1 ? 1 : 24);
    if (curve.knots.periodic) run.push_back(curve.knots.last());
    const double t = run[near.piece] + (run[near.piece + 1] - run[near.piece]) * near.share;
    best = SurfacePlace{static_cast<int>(c), (t - curve.knots.first()) / curve.knots.length(), 0.0};
  }
  return best;
}

void ModelView::start_drag() {
  hand_ = editor_.begin_drag() ? Hand::Drag : Hand::Idle;
  if (hand_ != Hand::Drag) return;
  // Measured where the drag began, so that half the way of the hand is half the move.
  drag_anchor_ = editor_.net()->shown.point(editor_.leader());
  snapped_.reset();
  snapper_.gather(model_, editor_);
}

bool ModelView::start_pull(const QPointF& at) {
  const auto place = place_at(at);
  if (!place || !editor_.begin_pull(*place)) return false;
  drag_anchor_ = editor_.pulled_place();
  hand_ = Hand::Drag;
  return true;
}

double ModelView::stepped(double amount) const {
  const double step = editor_.step_length();
  return step > 0.0 ? std::round(amount / step) * step : amount;
}

double ModelView::along_axis(const QPointF& hand, const Vec3& axis) const {
  const Frame axes = camera_of(active_).axes();
  const double mm = pixel_size(camera_of(active_), viewport(active_), drag_anchor_);
  const double ax = dot(axis, axes.x) / mm;
  const double ay = -dot(axis, axes.y) / mm;
  const double square = ax * ax + ay * ay;
  const bool towards_eye = square * mm * mm < 0.02;
  return towards_eye ? -hand.y() * mm : (hand.x() * ax + hand.y() * ay) / square;
}

void ModelView::drag_move(const QPointF& hand, double share) {
  const Frame axes = camera_of(active_).axes();
  const double mm = pixel_size(camera_of(active_), viewport(active_), drag_anchor_);
  Move move{editor_.direction(), 0.0, {}};
  const bool free = move.direction == MoveDirection::InView ||
                    move.direction == MoveDirection::OnSkin ||
                    move.direction == MoveDirection::WorkPlane;
  if (free)
    move.vector = axes.x * stepped(hand.x() * mm * share) - axes.y * stepped(hand.y() * mm * share);
  else
    move.amount = stepped(along_axis(hand, editor_.axis(editor_.leader(), axes)) * share);
  // Where the point would go by itself, and what is near the cursor there.
  const Vec3 target = free ? drag_anchor_ + move.vector
                           : drag_anchor_ + editor_.axis(editor_.leader(), axes) * move.amount;
  snapped_ = snapper_.at(camera_of(active_), viewport(active_), pressed_ + hand, target);
  editor_.drag_to(snapped_ ? editor_.snapped(move, snapped_->at) : move);
}

// Along the chosen direction where it is one line; else in the view.
void ModelView::drag_pull(const QPointF& hand, double share) {
  const Frame axes = camera_of(active_).axes();
  const double mm = pixel_size(camera_of(active_), viewport(active_), drag_anchor_);
  const MoveDirection d = editor_.direction();
  const bool line = d == MoveDirection::X || d == MoveDirection::Y || d == MoveDirection::Z ||
                    d == MoveDirection::OffSkin;
  const Vec3 axis = editor_.axis(editor_.leader(), axes);
  editor_.drag_pull(line ? axis * stepped(along_axis(hand, axis) * share)
                         : axes.x * stepped(hand.x() * mm * share) -
                               axes.y * stepped(hand.y() * mm * share));
}

void ModelView::drag_to(const QPointF& at, Qt::KeyboardModifiers modifiers) {
  const QPointF hand = at - pressed_;
  const double share = (modifiers.testFlag(Qt::ShiftModifier) ? 0.1 : 1.0) / editor_.ratio();
  const Frame axes = camera_of(active_).axes();
  switch (editor_.mode()) {
    case EditMode::Move:
      drag_move(hand, share);
      break;
    case EditMode::Scale:  // 200 pixels to the right double, as many to the left halve
      drag_amount_ = std::exp2(hand.x() * share / 200.0);
      editor_.drag_scale(drag_amount_, axes);
      break;
    case EditMode::Turn:  // half a degree a pixel
      drag_amount_ = stepped(hand.x() * share * 0.5);
      editor_.drag_turn(drag_amount_, axes);
      break;
    case EditMode::PullSkin:
      drag_pull(hand, share);
      break;
    case EditMode::Weight:  // 100 pixels to the right double
      drag_amount_ = std::exp2(hand.x() * share / 100.0);
      editor_.drag_weight(drag_amount_);
      break;
  }
}

const DrawsPoints* ModelView::curve_being_drawn() const {
  if (!model_.trial()) return nullptr;
  const Step* step = find_step(model_.document(), model_.chosen_step());
  return step != nullptr ? offer_of<DrawsPoints>(*step->operation) : nullptr;
}

// A click beside the points adds one: in the work plane, or, where that is seen edge-on, in the plane
// of the view through the last point.
void ModelView::press_on_curve_source(const QPointF& at) {
  const Camera& camera = camera_of(active_);
  const Ray ray = ray_through(camera, viewport(active_), at);
  Vec3 origin = editor_.work_plane().origin;
  Vec3 normal = editor_.work_plane().z;
  if (std::abs(dot(ray.direction, normal)) < 0.05) {
    normal = camera.axes().z;
    if (!drawn_places_.empty()) origin = drawn_places_.back();
  }
  const Vec3 place =
      ray.origin + ray.direction * (dot(origin - ray.origin, normal) / dot(ray.direction, normal));
  if (drawing_step_ != model_.chosen_step()) drawn_places_.clear();
  drawing_step_ = model_.chosen_step();
  drawn_places_.push_back(place);
  if (drawn_places_.size() < 2) {
    model_.say(tr("Click on; the curve appears with the second point. Enter keeps it."));
    return;
  }
  model_.attempt([&] {
    model_.change_operation(drawing_step_, curve_being_drawn()->with_drawn_points(drawn_places_),
                            tr("Draw a curve"), {});
  });
}

bool ModelView::take_back_curve_point() {
  const DrawsPoints* curve = curve_being_drawn();
  if (curve == nullptr || drawing_step_ != model_.chosen_step()) return false;
  if (drawn_places_.size() < 3) {
    model_.say_trouble(tr("A curve needs two points; Esc drops it."));
    return true;
  }
  drawn_places_.pop_back();
  model_.change_operation(drawing_step_, curve->with_drawn_points(drawn_places_),
                          tr("Draw a curve"), {});
  return true;
}

}  // namespace evenclay
