// Triangles of a surface on a regular parameter grid.
#pragma once

#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

struct TessellationOptions {
  int per_span_u = 8;            ///< parts of each span along u, 1..256
  int per_span_v = 8;            ///< parts of each span along v, 1..256
  double pole_tolerance = 1e-9;  ///< mm; borders shorter than this become one vertex
};

/// A mesh with exact normals. Periodic directions close on the same vertices and poles become one
/// vertex, so a closed surface gives a watertight mesh. Throws Cancelled.
TriangleMesh tessellate(const Surface& surface, const TessellationOptions& options,
                        Progress& progress);

/// Parts per span so that chords stay within `tolerance` (mm) of the surface, estimated from
/// second derivatives; the total is kept below `most_triangles`.
TessellationOptions for_tolerance(const Surface& surface, double tolerance,
                                  std::size_t most_triangles = 2000000);

}  // namespace evenclay
