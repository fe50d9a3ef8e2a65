#include "core/points/snap.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace evenclay {

namespace {

// How far along the leg, forwards or backwards, whichever leads towards the way.
double along_leg(const Nets& nets, PointIndex p, int direction, const Vec3& way) {
  const double forward = dot(way, leg_direction(nets, p, direction, true));
  if (forward >= 0.0) return forward;
  return std::min(0.0, dot(way, leg_direction(nets, p, direction, false)));
}

}  // namespace

Move move_to(const Nets& nets, PointIndex leader, Move move, const Vec3& target) {
  const PointIndex p = nets.representative(leader);
  const Vec3 way = target - nets.point(p);
  switch (move.direction) {
    case MoveDirection::X:
      move.amount = way.x;
      break;
    case MoveDirection::Y:
      move.amount = way.y;
      break;
    case MoveDirection::Z:
      move.amount = way.z;
      break;
    case MoveDirection::OffSkin:
      move.amount = dot(way, skin_normal(nets, p));
      break;
    case MoveDirection::AlongU:
      move.amount = along_leg(nets, p, 0, way);
      break;
    case MoveDirection::AlongV:
      move.amount = along_leg(nets, p, 1, way);
      break;
    case MoveDirection::AlongW:
      move.amount = along_leg(nets, p, 2, way);
      break;
    case MoveDirection::InView:
    case MoveDirection::OnSkin:
    case MoveDirection::WorkPlane:
      move.vector = way;  // moves_of() leaves out what the plane does not allow
      break;
  }
  return move;
}

Vec3 grid_corner(const Frame& plane, double spacing, const Vec3& place) {
  Vec3 local = plane.to_local(place);
  if (spacing > 0.0) {
    local.x = std::round(local.x / spacing) * spacing;
    local.y = std::round(local.y / spacing) * spacing;
  }
  return plane.to_world(local);
}

CurvePlace closest_to_line(const CurveEvaluator& curve, const Vec3& origin, const Vec3& direction) {
  const Vec3 d = normalized(direction);
  const KnotVector& k = curve.curve().knots;
  const auto gap = [&](double t) {
    const Vec3 way = curve.point(t) - origin;
    return length(way - d * dot(way, d));
  };
  std::vector<double> places = sample_places(k, 32);
  if (k.periodic) places.push_back(k.last());
  std::size_t best = 0;
  double nearest = std::numeric_limits<double>::infinity();
  for (std::size_t n = 0; n < places.size(); ++n)
    if (const double g = gap(places[n]); g < nearest) {
      nearest = g;
      best = n;
    }
  double a = places[best > 0 ? best - 1 : 0];
  double b = places[std::min(best + 1, places.size() - 1)];
  constexpr double kGolden = 0.6180339887498949;
  for (int pass = 0; pass < 60 && b - a > 1e-13 * k.length(); ++pass) {
    const double left = b - (b - a) * kGolden;
    const double right = a + (b - a) * kGolden;
    if (gap(left) < gap(right))
      b = right;
    else
      a = left;
  }
  double t = 0.5 * (a + b);
  if (gap(places[best]) <= gap(t)) t = places[best];
  return {t, curve.point(t), gap(t)};
}

}  // namespace evenclay
