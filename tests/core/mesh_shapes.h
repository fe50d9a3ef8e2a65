// Triangle meshes by formula.
#pragma once

#include "core/mesh/triangle_mesh.h"

namespace evenclay::testing {

/// Outside out; corners numbered by bits: x, y, z. The top's triangles are numbers 2 and 3.
inline TriangleMesh box_mesh(const Vec3& at, const Vec3& size) {
  TriangleMesh m;
  for (int k = 0; k < 8; ++k)
    m.points.push_back(at + Vec3{(k & 1) * size.x, ((k >> 1) & 1) * size.y, (k >> 2) * size.z});
  const std::array<std::array<std::uint32_t, 4>, 6> sides{
      {{0, 2, 3, 1}, {4, 5, 7, 6}, {0, 1, 5, 4}, {2, 6, 7, 3}, {0, 4, 6, 2}, {1, 3, 7, 5}}};
  for (const auto& s : sides) {
    m.triangles.push_back({s[0], s[1], s[2]});
    m.triangles.push_back({s[0], s[2], s[3]});
  }
  return m;
}

}  // namespace evenclay::testing
