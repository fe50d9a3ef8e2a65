// Mending triangle meshes so that they bound a volume.
#pragma once

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

/// What was mended; all 0 when nothing was wrong.
struct Mended {
  std::size_t welded = 0;     ///< vertices that became one with another
  std::size_t dropped = 0;    ///< triangles without area, twice there, or a third one at an edge
  std::size_t turned = 0;     ///< triangles whose outside was inside
  std::size_t filled = 0;     ///< openings
  std::size_t left_open = 0;  ///< openings whose border is no simple loop
  bool any() const { return welded + dropped + turned + filled > 0; }
};

struct Repaired {
  TriangleMesh mesh;
  Mended mended;
};

/// Welds vertices within `near` (mm); drops what is no manifold; turns each piece that hangs together so that its
/// triangles agree and it bounds a positive volume; fills each opening by the triangulation of least area of its border
/// (G. Barequet, M. Sharir, Filling gaps in the boundary of a polyhedron, 1995; borders of more than 300 edges by a fan from their
/// middle). Normals are dropped. Throws Cancelled.
Repaired repaired(const TriangleMesh& mesh, double near, Progress& progress);

/// Turns triangles so that those that share an edge look to one side, in each piece that hangs together the fewer ones. Vertices
/// must be welded; edges of more than two triangles join nothing. Returns how many were turned; normals are dropped when any was.
std::size_t turn_alike(TriangleMesh& mesh);

}  // namespace evenclay
