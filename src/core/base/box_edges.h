// The edges of boxes, to be drawn.
#pragma once

#include <array>
#include <vector>

#include "core/base/frame.h"

namespace evenclay {

/// All twelve, along x first, then y, then z; each from its lower end.
inline std::vector<std::array<Vec3, 2>> box_edges(const Box3& box) {
  std::vector<std::array<Vec3, 2>> edges;
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (int corner = 0; corner < 4; ++corner) {
      Vec3 a = box.min;
      if ((corner & 1) != 0) a[(axis + 1) % 3] = box.max[(axis + 1) % 3];
      if ((corner & 2) != 0) a[(axis + 2) % 3] = box.max[(axis + 2) % 3];
      Vec3 b = a;
      b[axis] = box.max[axis];
      edges.push_back({a, b});
    }
  return edges;
}

}  // namespace evenclay
