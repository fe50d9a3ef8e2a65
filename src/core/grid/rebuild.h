// Rebuild: the same shape on a chosen, evenly knotted grid of control points.
#pragma once

#include "core/base/progress.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/surface.h"

namespace evenclay {

struct RebuildOptions {
  int points_u = 8;   ///< 2..200, more than degree_u
  int points_v = 8;   ///< 2..200
  int degree_u = 3;   ///< 1..11
  int degree_v = 3;   ///< 1..11
  bool even = false;  ///< false keeps the flow of the old parameters; true spaces by arc length
  double pole_tolerance = 1e-6;  ///< mm; a border shorter than this is a pole
  bool operator==(const RebuildOptions&) const = default;
};

/// The surface refitted (nurbs/refit.h, which says what is kept) on uniform knots over [0, 1] in both
/// directions; the result is not rational. Throws Error when a count or degree is out of range,
/// Cancelled.
Surface rebuild(const Surface& surface, const RebuildOptions& options, Progress& progress);

struct CurveRebuildOptions {
  int points = 12;  ///< 2..500, more than degree
  int degree = 3;   ///< 1..11
  bool even = false;
  bool operator==(const CurveRebuildOptions&) const = default;
};

/// The curve refitted in the same way, on uniform knots over [0, 1]; closed stays closed, ends are met
/// exactly, the result is not rational. Throws Error when a count or degree is out of range, Cancelled.
Curve rebuild(const Curve& curve, const CurveRebuildOptions& options, Progress& progress);

}  // namespace evenclay
