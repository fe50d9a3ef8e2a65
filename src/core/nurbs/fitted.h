// Surfaces and knots for what is known by its places: a function of the parameters, or places to run through.
#pragma once

#include <functional>
#include <span>

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// Knots over [0, 1] for interpolation at parameters (increasing, from 0 to 1), each inner one the mean of `degree`
/// of them. Source: The NURBS Book, equation 9.8.
KnotVector averaged_knots(std::span<const double> parameters, int degree);

/// The knots in degree 3 at least, every span halved `halvings` times.
KnotVector refined_cubic(const KnotVector& knots, int halvings);

/// A place for parameters of the surface that is to be fitted.
using SurfaceFunction = std::function<Vec3(double u, double v)>;

/// Least-squares fit of the function on the knots u and v, sampled so that each span of `like` has its samples too.
/// Throws Cancelled.
Surface fitted_surface(const SurfaceFunction& place, const KnotVector& u, const KnotVector& v,
                       const Surface& like, Progress& progress);

/// Greatest distance of the surface from the function at places inside its spans, mm.
double greatest_miss(const Surface& surface, const SurfaceFunction& place);

}  // namespace evenclay
