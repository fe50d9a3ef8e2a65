#include "app/tools/snapper.h"

#include <cmath>
#include <limits>

#include "app/view/picking.h"
#include "core/points/snap.h"

namespace evenclay {

namespace {

constexpr double kReach = 12.0;  // pixels

double pixels_to(const Camera& camera, const QRect& viewport, const QPointF& cursor,
                 const Vec3& place) {
  const OnScreen o = to_screen(camera, viewport, place);
  if (o.depth <= 0.0) return std::numeric_limits<double>::infinity();
  return std::hypot(o.at.x() - cursor.x(), o.at.y() - cursor.y());
}

}  // namespace

void Snapper::clear() {
  points_.clear();
  ends_.clear();
  edges_.clear();
  kinds_ = {};
}

void Snapper::gather(const AppModel& model, const PointEditor& editor) {
  clear();
  kinds_ = editor.snap();
  plane_ = editor.work_plane();
  if (!kinds_.on) return;
  const Nets& nets = editor.net() ? editor.net()->shown : Nets();
  const Selection partners = editor.partners();
  if (kinds_.points)
    for_each_point(nets, [&](PointIndex p) {
      const bool moves = editor.shares().fits(nets) && editor.shares()(p) > 0.0;
      if (!moves && !partners.contains(p)) points_.push_back(nets.point(p));
    });
  for (const auto& [id, drawn] : model.drawn()) {
    const Part* part = find_part(model.document(), id);
    if (id == model.chosen_part() || part == nullptr || !model.is_shown(*part) || !drawn.shape)
      continue;
    for (const Curve& c : evenclay::edges_of(*drawn.shape)) {
      if (kinds_.edges) {
        Box3 box;  // the curve lies within the hull of its control points
        for (const Vec3& p : c.points) box.add(p);
        edges_.push_back({CurveEvaluator(c), box.centre(), 0.5 * box.size()});
      }
      if (!kinds_.ends || c.knots.periodic) continue;
      ends_.push_back(evaluate(c, c.knots.first()));
      ends_.push_back(evaluate(c, c.knots.last()));
    }
  }
}

std::optional<SnapPlace> Snapper::at(const Camera& camera, const QRect& viewport,
                                     const QPointF& cursor, const Vec3& target) const {
  if (!kinds_.on) return std::nullopt;
  std::optional<SnapPlace> found;
  double nearest = kReach;
  const auto offer = [&](const Vec3& place, const QString& what) {
    const double pixels = pixels_to(camera, viewport, cursor, place);
    if (pixels >= nearest) return;
    nearest = pixels;
    found = SnapPlace{place, what};
  };
  for (const Vec3& p : points_) offer(p, QObject::tr("a control point"));
  if (found) return found;
  for (const Vec3& p : ends_) offer(p, QObject::tr("an end of a curve or edge"));
  if (found) return found;
  const Ray ray = ray_through(camera, viewport, cursor);
  for (const Near& e : edges_) {
    const double ball = e.radius / pixel_size(camera, viewport, e.centre);
    // Seen in perspective a ball looks larger than at its centre; twice is more than enough.
    if (pixels_to(camera, viewport, cursor, e.centre) > 2.0 * ball + kReach) continue;
    offer(closest_to_line(e.curve, ray.origin, ray.direction).p, QObject::tr("a curve or edge"));
  }
  if (found) return found;
  if (kinds_.grid)
    offer(grid_corner(plane_, kinds_.grid_mm, target), QObject::tr("the grid of the work plane"));
  return found;
}

}  // namespace evenclay
