// A block of control points, as cages have it.
#pragma once

#include "core/base/grid.h"
#include "core/base/vec3.h"
#include "core/nurbs/knot_vector.h"

namespace evenclay {

/// points(i, j, k): i along u, j along v, k along w; clamped in all three directions.
struct Lattice {
  KnotVector u, v, w;
  Grid<Vec3> points;
  bool operator==(const Lattice&) const = default;
};

}  // namespace evenclay
