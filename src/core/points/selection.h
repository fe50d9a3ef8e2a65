// Addresses of control points and sets of them.
#pragma once

#include <compare>
#include <functional>
#include <set>

#include "core/nurbs/surface.h"

namespace evenclay {

/// One control point of a shape: surface number, i along u, j along v.
struct PointIndex {
  int surface = 0;
  int i = 0;
  int j = 0;
  auto operator<=>(const PointIndex&) const = default;
};

using Selection = std::set<PointIndex>;

/// All points of the row through `at` along u (j constant) or along v (i constant).
Selection row_through(const Surface& surface, PointIndex at, bool along_u);

/// Points for which `inside` is true, such as those in a box on the screen, through the depth.
Selection points_where(const Surface& surface, int surface_number,
                       const std::function<bool(const Vec3&)>& inside);

/// The selection with every row that is collapsed to a pole taken whole, since it moves as one.
Selection with_whole_poles(const Surface& surface, const Selection& selection, double tolerance);

}  // namespace evenclay
