// A mesh taken apart into regions that one surface each can carry.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

struct MeshRegions {
  std::vector<std::uint32_t> of;  ///< the region of each triangle; kNone: without area
  std::uint32_t count = 0;        ///< numbered by their first triangles
  static constexpr std::uint32_t kNone = 0xffffffffU;
};

/// Triangles that hang together over edges bent by at most `sharp` (radians), and whose normals all lie within `turn`
/// of their region's mean: a region that turns further is halved, from the two triangles that look most apart, by
/// growing both towards like normals and taking the means anew (L2,1 proxies: D. Cohen-Steiner, P. Alliez, M. Desbrun,
/// Variational shape approximation, 2004). Vertices must be welded. Throws Error when there are more than `most`
/// regions; Cancelled.
MeshRegions regions_of(const TriangleMesh& mesh, double sharp, double turn, std::uint32_t most,
                       Progress& progress);

/// The triangles of each region, in their order.
std::vector<std::vector<std::uint32_t>> triangles_by_region(const MeshRegions& regions);

/// The borders of a region of these triangles: its outer vertices in walking order, the region at the left, the first not
/// repeated.
std::vector<std::vector<std::uint32_t>> borders_of(const TriangleMesh& mesh,
                                                   std::span<const std::uint32_t> triangles);

}  // namespace evenclay
