// One triangle of a mesh.
#pragma once

#include "core/mesh/triangle_mesh.h"

namespace evenclay {

/// Along the normal, as long as the triangle is large, mm².
inline Vec3 area_vector(const TriangleMesh& m, const std::array<std::uint32_t, 3>& t) {
  return cross(m.points[t[1]] - m.points[t[0]], m.points[t[2]] - m.points[t[0]]) * 0.5;
}
inline Vec3 middle_of(const TriangleMesh& m, const std::array<std::uint32_t, 3>& t) {
  return (m.points[t[0]] + m.points[t[1]] + m.points[t[2]]) / 3.0;
}

}  // namespace evenclay
