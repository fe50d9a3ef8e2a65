// Which triangles of a drawn body belong to faces of one look.
#pragma once

#include <span>
#include <vector>

#include "core/display/display.h"

namespace evenclay {

/// Triangles that follow each other and look alike.
struct LookRange {
  std::size_t first = 0, count = 0;  ///< places in DisplayMesh::indices, three for a triangle
  int look = -1;                     ///< in the part's face_looks; -1: as the part
};

/// The whole mesh in runs, in the order of its triangles. One run of the part's own look where no face has another, or the mesh is
/// not that of the shape's faces (forms, triangles, thinned ones).
std::vector<LookRange> look_ranges(const DisplayMesh& mesh, const Shape& shape,
                                   std::span<const FaceLook> looks);

/// The triangles of a range with the vertices they use.
DisplayMesh range_of(const DisplayMesh& mesh, const LookRange& range);

}  // namespace evenclay
