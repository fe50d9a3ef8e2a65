// Faces of a body moved along their normals, with walls to the faces around.
#pragma once

#include "core/cut/thicken.h"

namespace evenclay {

/// The faces with these numbers moved by `mm` along their outside (below 0 inward); where they border others a wall
/// stands between, square to them. The moved faces keep names; walls are named after their edges.
/// Throws Error as thickened() does, and when all faces are picked.
Body raised(const Body& body, const std::vector<std::size_t>& faces, double mm,
            const OffsetSurface& offset, double tolerance, int step, Progress& progress);

}  // namespace evenclay
