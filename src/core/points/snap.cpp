#include "core/points/snap.h"

#include <algorithm>
#include <cmath>

#include "core/nurbs/search.h"

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
  const double t = search_maximum(k, 32, [&](double w) { return -gap(w); }).at;
  return {t, curve.point(t), gap(t)};
}

}  // namespace evenclay
