// The smallest rectangle around places of a plane.
#pragma once

#include <vector>

#include "core/base/vec3.h"

namespace evenclay {

/// The convex hull of places in the plane z = 0, counter-clockwise, without places on its sides. Source: A. Andrew,
/// Another efficient algorithm for convex hulls in two dimensions, 1979.
std::vector<Vec3> convex_hull(std::vector<Vec3> places);

struct LeastRectangle {
  Vec3 x{1, 0, 0};                ///< unit, along the longer side
  double wide = 0.0, high = 0.0;  ///< along x, and across it
};

/// The rectangle of least area around places in the plane z = 0 (z is not looked at): one of its sides lies along the
/// hull (H. Freeman, R. Shapira, Determining the minimum-area encasing rectangle for an arbitrary closed curve, 1975).
LeastRectangle least_rectangle(std::vector<Vec3> places);

}  // namespace evenclay
