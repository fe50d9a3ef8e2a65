// The measures of curves, defined like those of surfaces (measures.h). Thread-safe.
#pragma once

#include <optional>

#include "core/base/progress.h"
#include "core/check/comb.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// Two-sided, in mm: at least 40 samples a span and the ends, closest distances both ways; the mean is
/// weighted by length.
struct CurveDeviation {
  double max = 0.0, mean = 0.0, percentile95 = 0.0;
  Vec3 at;
};
/// Throws Cancelled.
CurveDeviation deviation(const Curve& a, const Curve& b, Progress& progress);

/// Greatest distance between a curve and its mirror image, as mirror_gap() of surfaces.
struct CurveMirrorGap {
  double max = 0.0;  ///< mm
  Vec3 at;
};
CurveMirrorGap mirror_gap(const Curve& curve, int axis, Progress& progress);

/// Length in mm by Gauss quadrature, to 1e-9 of it on smooth curves.
double arc_length(const Curve& curve);

/// 100 · max(0, 1 − standard deviation ÷ mean) of the arc lengths of 64 equal parameter steps.
double evenness(const Curve& curve);

/// Smallest radius of curvature and its place, searched between 40 samples a span; nothing on a
/// straight line.
struct CurveRadius {
  double radius = 0.0;  ///< mm
  Vec3 at;
};
std::optional<CurveRadius> least_radius(const Curve& curve);

/// The tight box: extremes searched on the curve.
Box3 tight_box(const Curve& curve);

/// The comb along the curve, as along an iso-curve (comb.h).
Comb comb(const Curve& curve, int per_span);

}  // namespace evenclay
