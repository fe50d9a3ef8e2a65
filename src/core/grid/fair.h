// Wobbles taken out within a tolerance.
#pragma once

#include <array>
#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/surface.h"

namespace evenclay {

struct FairPlan {
  double tolerance = 0.05;     ///< mm that no place may move farther than, above 0
  double shorter_than = 30.0;  ///< mm: waves longer than this stay, shorter ones go
  std::array<int, 4> rows_held{
      1, 1, 1, 1};  ///< rows of control points that stay, in the order of Border; 0..4
  std::vector<char>
      held;  ///< besides, a sign for each control point in the order of the grid; empty: none
};

/// What fairing did, before and after.
struct FairReport {
  int turns_before = 0,
      turns_after = 0;  ///< sign changes of the combs along 8 iso-curves a direction
  double energy_before = 0.0,
         energy_after = 0.0;          ///< ∫ squared third derivatives of the wobble, 1/mm²
  double greatest = 0.0, mean = 0.0;  ///< change, mm
  Vec3 at;                            ///< of the greatest
  bool at_limit = false;              ///< the tolerance kept more from going
};

/// The surface T on spans of about 0.7 waves of `shorter_than` (a subset of the surface's knots, by least squares) is what
/// stays; of what stands off it, D, the integral of squared third derivatives (second ones below degree 3) is made small:
/// minimise ½ ∫ |d|² + ½ λ ∫ |(D + d)'''|², λ = (shorter_than / 2π)⁶, so that waves of that length lose half and shorter ones nearly
/// all, subject to |d| ≤ tolerance at the Greville places. Solved by the alternating direction method of multipliers (S. Boyd
/// and others, 2011, section 3) on one sparse Cholesky factor. At 6 × 6 places a span the change is measured and kept within
/// the tolerance. Poles keep two rows. A form without such waves does not change; weights stay.
/// Throws Error when degree is 1 both ways, the tolerance is not above 0, or the control points lie so far apart that there can be
/// no wave shorter than `shorter_than` (the sentence says from which length on there can); Cancelled.
Surface faired(const Surface& surface, const FairPlan& plan, Progress& progress,
               FairReport* report = nullptr);

/// A curve alike; rows_held counts points at its two ends.
Curve faired(const Curve& curve, const FairPlan& plan, Progress& progress,
             FairReport* report = nullptr);

}  // namespace evenclay
