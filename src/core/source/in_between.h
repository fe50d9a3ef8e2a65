// Curves and surfaces between two others, and surfaces at a distance from one.
#pragma once

#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// How the in-betweens are spread from the first to the second.
enum class Ease { Even, SlowStart, SlowEnd, SlowBoth };
/// t in [0, 1] to a position in [0, 1]; both ends stay. Even t; slow start t²; slow end 1 − (1 − t)²; slow
/// both 3t² − 2t³.
double eased(Ease ease, double t);

/// The curve a share of the way from `a` to `b` (points and weights between those of the curves made
/// compatible): `a` at 0, `b` at 1.
Curve in_between(const Curve& a, const Curve& b, double share);
Surface in_between(const Surface& a, const Surface& b, double share);

/// The same, steered: at a share of the way everything is moved as the guides leave the straight way between their own
/// ends there. One guide moves all alike; of two each moves what lies at it along u, with the mean of both by
/// the distance between. Guides run from the first surface to the second, or are turned to.
Surface in_between(const Surface& a, const Surface& b, double share, std::span<const Curve> guides);
Curve in_between(const Curve& a, const Curve& b, double share, std::span<const Curve> guides);

/// The surface whose places lie `mm` off `surface` along its normal (below 0 against it), within `tolerance` mm at
/// places between those it was fitted to; the parameters stay, so trims stay. Knots are halved until it does.
/// `worst` is the distance left there. Where the surface bends more sharply than the offset
/// (`folds`) the result runs through itself. Throws Error when it cannot be reached with 400 points a direction,
/// Cancelled.
struct Offset {
  Surface surface;
  double worst = 0.0;
  bool folds = false;
};
Offset offset(const Surface& surface, double mm, double tolerance, Progress& progress);

}  // namespace evenclay
