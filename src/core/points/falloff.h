// How much of a move the points around the picked ones take.
#pragma once

#include "core/points/selection.h"

namespace evenclay {

enum class FalloffShape { Rigid, Ramp, Scoop, Dome, Bell };

/// Share of the move at grid distance t in [0, 1] from the pulled point to the border of influence,
/// with strength k in [0.2, 5]: Rigid 1, Ramp 1 − t, Scoop (1 − t)^(1 + k), Dome 1 − t^(1 + k),
/// Bell (1 − s(t))^k with s = 6t⁵ − 15t⁴ + 10t³. 0 for t >= 1.
double falloff(FalloffShape shape, double t, double strength);

/// Along the picked row, and across it. A single point uses both from itself, u being along.
/// Reach counts control points beside the picked ones; 0 leaves them out.
struct Falloff {
  FalloffShape along = FalloffShape::Bell, across = FalloffShape::Bell;
  int reach_along = 0, reach_across = 0;
  double strength_along = 1.0, strength_across = 1.0;
  bool operator==(const Falloff&) const = default;
};

/// The share of each point: 1 for picked ones, the product of the directions for their neighbours
/// (the greatest over all picked points), 0 outside. Counted on the grid, round closed directions;
/// all directions but that of the picked row count as across. Points that are one place share their
/// greatest value.
PointShares shares(const Nets& nets, const Selection& picked, const Falloff& falloff);

}  // namespace evenclay
