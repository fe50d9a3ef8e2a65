// What ModelView makes of the hand: which place it points at, and how far a drag goes.
#include <cmath>
#include <limits>

#include "app/view/model_view.h"
#include "app/view/picking.h"

namespace evenclay {

namespace {

constexpr double kCurveRadius = 7.0;  // pixels within which a curve is meant

// How near line pieces come to a place on the screen, and where: the number of the piece and the
// share of the way along it.
struct NearLine {
  double pixels = std::numeric_limits<double>::infinity();
  std::size_t piece = 0;
  double share = 0.0;
  double depth = 0.0;
};

NearLine near_line(const Camera& camera, const QRect& viewport, const QPointF& at,
                   const std::vector<float>& pieces) {
  NearLine best;
  const auto place = [&](std::size_t k) {
    return Vec3{static_cast<double>(pieces[k]), static_cast<double>(pieces[k + 1]),
                static_cast<double>(pieces[k + 2])};
  };
  for (std::size_t k = 0; k + 5 < pieces.size(); k += 6) {
    const OnScreen a = to_screen(camera, viewport, place(k));
    const OnScreen b = to_screen(camera, viewport, place(k + 3));
    if (a.depth <= 0.0 || b.depth <= 0.0) continue;
    const QPointF way = b.at - a.at;
    const double square = QPointF::dotProduct(way, way);
    const double share =
        square > 0.0 ? std::clamp(QPointF::dotProduct(at - a.at, way) / square, 0.0, 1.0) : 0.0;
    const QPointF gap = a.at + way * share - at;
    const double pixels = std::hypot(gap.x(), gap.y());
    if (pixels < best.pixels) best = {pixels, k / 6, share, a.depth};
  }
  return best;
}

}  // namespace

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

PartId ModelView::part_at(const QPointF& at) const {
  const std::size_t k = viewport_at(at);
  const Ray ray = ray_through(camera_of(k), viewport(k), at);
  PartId front = 0;
  double nearest = std::numeric_limits<double>::infinity();
  for (const Part& part : model_.document().parts) {
    const auto drawn = model_.drawn().find(part.id);
    if (!part.look.visible || drawn == model_.drawn().end() || !drawn->second.mesh) continue;
    if (drawn->second.curves) {
      const NearLine near = near_line(camera_of(k), viewport(k), at, drawn->second.curves->pieces);
      if (near.pixels < kCurveRadius) return part.id;  // a curve is thin: it is meant
      continue;
    }
    const auto distance = hit(ray, *drawn->second.mesh);
    if (!distance || *distance >= nearest) continue;
    nearest = *distance;
    front = part.id;
  }
  return front;
}

// Points between which and the eye the part lies are left out; the mesh for side views is fine
// enough to tell.
Selection ModelView::without_hidden(const Selection& points) const {
  const auto drawn = model_.drawn().find(model_.chosen_part());
  if (drawn == model_.drawn().end() || !drawn->second.small) return points;
  const DisplayMesh& mesh = *drawn->second.small;
  Selection result;
  for (const PointIndex& p : points) {
    const Vec3& at = editor_.net()->shown.point(p);
    const OnScreen o = to_screen(camera_of(active_), viewport(active_), at);
    const Ray ray = ray_through(camera_of(active_), viewport(active_), o.at);
    const auto first = hit(ray, mesh);
    const double there = dot(at - ray.origin, ray.direction);
    if (!first || *first > there - 0.02 * mesh.box.size()) result.insert(p);
  }
  return result;
}

void ModelView::start_drag() {
  hand_ = editor_.begin_drag() ? Hand::Drag : Hand::Idle;
  if (hand_ != Hand::Drag) return;
  // Measured where the drag began, so that half the way of the hand is half the move.
  drag_anchor_ = editor_.net()->shown.point(editor_.leader());
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
  editor_.drag_to(move);
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
  }
}

}  // namespace evenclay
