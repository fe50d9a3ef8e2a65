// What ModelView picks: points, lines of the net, parts; by click, box and lasso.
#include <cmath>
#include <limits>

#include "app/view/model_view.h"
#include "app/view/near_line.h"
#include "app/view/picking.h"

namespace evenclay {

namespace {
constexpr double kPickRadius = 10.0;  // pixels
constexpr double kLineRadius = 6.0;
constexpr double kDragStart = 3.0;
}  // namespace

std::optional<PointIndex> ModelView::point_at(const QPointF& at) const {
  if (!editor_.net() || !editor_.net_visible() || picker_.active()) return std::nullopt;
  const std::size_t k = viewport_at(at);
  const Nets& nets = editor_.net()->shown;
  std::optional<PointIndex> best;
  double best_rank = std::numeric_limits<double>::infinity();
  for_each_point(nets, [&](PointIndex p) {
    const OnScreen o = to_screen(camera_of(k), viewport(k), nets.point(p));
    const double d = std::hypot(o.at.x() - at.x(), o.at.y() - at.y());
    if (d > kPickRadius || o.depth <= 0.0) return;
    // Of points that lie together on the screen the front one is meant.
    const double rank = std::floor(d / 4.0) * 1e6 + o.depth;
    if (rank < best_rank) {
      best_rank = rank;
      best = p;
    }
  });
  return best;
}

std::optional<ModelView::Pressed> ModelView::net_line_at(const QPointF& at) const {
  const Nets& nets = editor_.net()->shown;
  const std::size_t k = viewport_at(at);
  std::optional<Pressed> best;
  double nearest = kLineRadius;
  for_each_point(nets, [&](PointIndex p) {
    for (int d = 0; d < nets.of(p).directions(); ++d) {
      const auto q = neighbour(nets.of(p), p, d, 1);
      if (!q) continue;
      std::vector<float> piece;
      for (const Vec3& x : {nets.point(p), nets.point(*q)})
        for (std::size_t a = 0; a < 3; ++a) piece.push_back(static_cast<float>(x[a]));
      const NearLine near = near_line(camera_of(k), viewport(k), at, piece);
      if (near.pixels >= nearest) continue;
      nearest = near.pixels;
      best = Pressed{near.share < 0.5 ? p : *q, row_through(nets, p, d)};
    }
  });
  return best;
}

std::optional<ModelView::Pressed> ModelView::pressed_at(const QPointF& at) const {
  if (!editor_.net() || !editor_.net_visible() || picker_.active()) return std::nullopt;
  if (editor_.filter() != PickFilter::NetLines)
    if (const auto point = point_at(at)) return Pressed{*point, {*point}};
  if (editor_.filter() == PickFilter::Points) return std::nullopt;
  return net_line_at(at);
}

// True when something of the net was pressed: it is picked, added, removed, or ready to be dragged.
bool ModelView::press_points(const QPointF& at) {
  const auto pressed = pressed_at(at);
  if (!pressed) return false;
  const bool shift = pressed_modifiers_.testFlag(Qt::ShiftModifier);
  const bool control = pressed_modifiers_.testFlag(Qt::ControlModifier);
  if (editor_.plane_points_missing() > 0) {
    editor_.add_plane_point(pressed->leader);
    return true;
  }
  if (control && shift) {
    editor_.extend_to(pressed->leader);
    return true;
  }
  Selection picked = editor_.picked();
  if (control) {
    for (const PointIndex& p : with_united(editor_.net()->shown, pressed->points)) picked.erase(p);
    editor_.pick(picked);
    return true;
  }
  const bool already = picked.contains(pressed->leader);
  editor_.set_leader(pressed->leader);
  if (shift) {
    picked.insert(pressed->points.begin(), pressed->points.end());
    editor_.pick(picked);
  } else if (!already) {
    editor_.pick(pressed->points);
  }
  hand_ = Hand::PressedPoint;
  return true;
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

// A click beside all points lets go of the picked ones, or chooses the part under the cursor.
void ModelView::click_empty(const QPointF& at) {
  if (!editor_.picked().empty()) {
    editor_.pick({});
    return;
  }
  const PartId part = part_at(at);
  if (part != 0) model_.choose_part(part);
}

void ModelView::finish_box() {
  const bool add = pressed_modifiers_.testFlag(Qt::ShiftModifier);
  const bool remove = pressed_modifiers_.testFlag(Qt::ControlModifier);
  const bool click = std::hypot(last_.x() - pressed_.x(), last_.y() - pressed_.y()) < kDragStart;
  if (click && hand_ == Hand::Box) {
    if (!add && !remove) click_empty(last_);
    return;
  }
  if (!editor_.net() || !editor_.net_visible()) return;
  const QRectF box = QRectF(pressed_, last_).normalized();
  const QPolygonF lasso(QList<QPointF>(lasso_.begin(), lasso_.end()));
  const auto in_region = [&](const Vec3& p) {
    const OnScreen o = to_screen(camera_of(active_), viewport(active_), p);
    if (o.depth <= 0.0) return false;
    return hand_ == Hand::Box ? box.contains(o.at) : lasso.containsPoint(o.at, Qt::OddEvenFill);
  };
  // A box to the left takes lines of the net as soon as it touches them.
  const Selection inside = editor_.found_in(in_region, last_.x() < pressed_.x());
  Selection picked = add || remove ? editor_.picked() : Selection{};
  for (const PointIndex& p : editor_.visible_only() ? without_hidden(inside) : inside) {
    if (remove)
      picked.erase(p);
    else
      picked.insert(p);
  }
  editor_.pick(picked);
}

}  // namespace evenclay
