// A part as the mesh of a tile.
#pragma once

#include "core/base/progress.h"
#include "core/document/shape.h"

namespace evenclay {

/// Surfaces of a tile as one mesh with `divisions` parts a side of each surface; joined or trimmed bodies by their
/// own tessellation; meshes as they are. Throws Error for other shapes, Cancelled.
TriangleMesh tile_mesh(const Shape& shape, int divisions, Progress& progress);

}  // namespace evenclay
