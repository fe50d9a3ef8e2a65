// The triangles of one surface as the graphics card takes them, without a mesh in between: this is
// what the picture waits for while a point is dragged.
#pragma once

#include "core/display/display.h"
#include "core/mesh/tessellate.h"

namespace evenclay {

/// Adds the surface as one more piece of `out`: positions, exact normals and shares of the domain on
/// the regular grid of `options`. At a pole each parameter keeps a vertex of its own, and triangles
/// without area are left out. Runs on all cores. Throws Cancelled.
void add_surface(const Surface& surface, const TessellationOptions& options, Progress& progress,
                 DisplayMesh& out);

}  // namespace evenclay
