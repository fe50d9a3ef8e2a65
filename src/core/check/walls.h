// How thick the walls of closed meshes are.
#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/mesh/ray_scene.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

inline constexpr double kNoWall = 1e300;

/// For each triangle the way inwards from its middle along its normal to what lies opposite within 60°, mm; kNoWall where there is
/// none, or where a triangle is so thin (longest edge above 40 heights) that its normal means nothing. `rays` are of the
/// same mesh. Throws Cancelled.
std::vector<double> wall_thickness(const TriangleMesh& mesh, const RayScene& rays,
                                   Progress& progress);

}  // namespace evenclay
