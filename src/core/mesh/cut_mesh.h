// Cutting meshes by planes, and joining what lies on each other.
#pragma once

#include <span>

#include "core/mesh/triangle_mesh.h"

namespace evenclay {

/// What lies on the side of the plane that `normal` points away from. Triangles are cut along it, new vertices shared;
/// vertices within `near` (mm) of the plane count as on it.
TriangleMesh cut_by_plane(const TriangleMesh& mesh, const Vec3& through, const Vec3& normal,
                          double near);

/// Vertices within `near` (mm) of each other become one, which keeps the first one's place and the mean of the normals;
/// triangles that collapse go.
TriangleMesh welded(const TriangleMesh& mesh, double near);

/// Points that lie within `near` of an earlier one become that one: the places that are left, in their order, and for each
/// point the number of its place.
struct OnePlaces {
  std::vector<Vec3> places;
  std::vector<std::uint32_t> number;
};
OnePlaces one_places(std::span<const Vec3> points, double near);

}  // namespace evenclay
