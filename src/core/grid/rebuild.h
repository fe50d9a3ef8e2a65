// Rebuild: the same shape on a chosen, evenly knotted grid of control points.
#pragma once

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay {

struct RebuildOptions {
  int points_u = 8;   ///< 2..200, more than degree_u
  int points_v = 8;   ///< 2..200
  int degree_u = 3;   ///< 1..11
  int degree_v = 3;   ///< 1..11
  bool even = false;  ///< false keeps the flow of the old parameters; true spaces by arc length
  double pole_tolerance = 1e-6;  ///< mm; a border shorter than this is a pole
};

/// Tensor-product least squares on at least 4 samples a new span and one in each old span; the
/// result is not rational, with uniform knots over [0, 1] in both directions.
///  - Corners are met exactly; a border is fitted from the border's own samples alone, so two
///    surfaces that share a border and are rebuilt alike along it still share it.
///  - A periodic direction stays periodic. A pole stays a pole, and when the surface was smooth
///    there, the next row is kept in its tangent plane.
///  - A surface that lies in the new space is reproduced to 1e-10 × size.
/// Throws Error when a count or degree is out of range, Cancelled.
/// Source: The NURBS Book, section 9.4.3 (fitted direction by direction).
Surface rebuild(const Surface& surface, const RebuildOptions& options, Progress& progress);

}  // namespace evenclay
