// How much a pattern is stretched on its target, and what of the target will harm it.
#pragma once

#include <optional>

#include "core/pattern/flow.h"

namespace evenclay {

/// Stretch of the map from the flat base to the target: the singular values σ1 ≥ σ2 of its differential divided by
/// √(target area ÷ base area); stretch σ1 − 1 and squeeze 1 − σ2, in percent. Over all of the region, whichever
/// tiles are made.
struct Stretch {
  double worst = 0.0;    ///< the greater of stretch and squeeze at the worst place
  double stretch = 0.0;  ///< there
  double squeeze = 0.0;  ///< there
  double mean = 0.0;     ///< of the greater of both, weighted by the target's area
  Vec3 at;               ///< the worst place on the target
  int rows = 0;          ///< samples along u of `map`
  Grid<double> map;      ///< the greater of both at the middles of equal cells of the region
  Grid<Vec3> places;     ///< where they lie on the target
};
/// `samples` × `samples` places; `length_x`, `length_y`: one repeat in the base, mm.
Stretch stretch_of(const Chart& chart, const FlowOptions& options, double length_x, double length_y,
                   int samples = 48);

/// What lies in the way of a pattern whose heights run from `low` to `high` (mm, with their factor, towards the side
/// they point to): places whose least radius of curvature is smaller than the height that bends over them, so that
/// the pattern folds.
struct FlowHarm {
  double radius = 0.0;  ///< the least radius on the side of the heights, mm
  double height = 0.0;  ///< the height that reaches beyond it
  Vec3 at;
};
std::optional<FlowHarm> harm_of(const Chart& chart, const FlowOptions& options, double low,
                                double high, int samples = 48);

}  // namespace evenclay
