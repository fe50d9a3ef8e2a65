// Closest points of many places at once, from parameters that are near them already.
#pragma once

#include <span>

#include "core/base/progress.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// `steps` steps of Newton's method on the squared distance (The NURBS Book, section 6.1; Gauss-Newton where the distance
/// bends the other way), each at most a span long, kept inside the domain or around closed directions. All cores.
/// `at` has the size of `places`. Throws Cancelled.
void improve_feet(const Surface& surface, const SurfaceEvaluator& evaluator,
                  std::span<const Vec3> places, std::span<Parameter> at, int steps,
                  Progress& progress);

/// Distances of places from their feet, mm: positive on the side du × dv points to. All cores.
void distances_to_feet(const SurfaceEvaluator& evaluator, std::span<const Vec3> places,
                       std::span<const Parameter> at, std::span<double> out, Progress& progress);

}  // namespace evenclay
