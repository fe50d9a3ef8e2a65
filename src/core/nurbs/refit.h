// Fitting a surface on other knots by tensor-product least squares.
// Source: The NURBS Book, section 9.4.3 (fitted direction by direction).
#pragma once

#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay {

struct RefitOptions {
  bool even_u = false;           ///< the new u follows arc length instead of the old parameter
  bool even_v = false;           ///< the same for v
  double pole_tolerance = 1e-6;  ///< mm; a border shorter than this is a pole
  /// Fit in homogeneous form, so that a rational surface stays rational. Poles then are only as
  /// smooth as the fit makes them.
  bool keep_weights = false;
};

/// The surface on the knots u and v, over the same share of the domain. A direction is periodic in
/// both or in neither. At least 6 samples a new span and one in each old span.
///  - Corners are met exactly; a border is fitted from the border's own samples alone, so two
///    surfaces that share a border and are refitted alike along it still share it. Where even, a
///    border is spaced by its own arc length, and the inside by the mean of 16 iso-curves.
///  - A pole stays a pole, and when the surface was smooth there, the next row is kept in its
///    tangent plane.
///  - A surface that lies in the new space is reproduced to 1e-10 × size (not where even).
/// Throws Error when a direction is closed in one only, Cancelled.
Surface refit(const Surface& surface, const KnotVector& u, const KnotVector& v,
              const RefitOptions& options, Progress& progress);

/// A least-squares fit of values on a tensor grid of places: values[(a * places_v + b) * width + c].
/// The first and last row of clamped directions meet their samples.
struct GridFit {
  std::vector<double> places_u, weights_u, places_v, weights_v;
};
std::vector<double> fit_grid(const KnotVector& u, const KnotVector& v, const GridFit& at,
                             std::span<const double> values, std::size_t width, Progress& progress);

}  // namespace evenclay
