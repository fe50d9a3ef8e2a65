// Skins of triangles given a thickness.
#pragma once

#include "core/base/progress.h"
#include "core/cut/thicken.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

struct ThickMesh {
  TriangleMesh mesh;  ///< both skins, and walls along the open edges: watertight
  double off =
      0.0;  ///< greatest distance of the second skin's triangles from where they should lie, mm
  std::size_t walls = 0;  ///< open edges that got one
};

/// The mesh with a second skin at the distance `thickness` (mm, > 0) and walls along its open edges. Vertices move along
/// their own normals where these agree with the triangles around within 20°, else so that they keep the distance from the
/// planes of those triangles: edges and corners are mitred, which is exact for flat faces.
/// Throws Error: a thickness that is not above 0; a mesh that is empty, tangled, or touches itself in a point of its
/// border; a thickness beyond what fits, with the place and a thickness that works: where a triangle would turn over (the
/// local limit, exact for the moves of its corners), or where the skin opposite comes against it (exact for plane pieces,
/// asked along a ray from every vertex). Throws Cancelled.
ThickMesh thickened(const TriangleMesh& skin, double thickness, ThickenSide side,
                    Progress& progress);

}  // namespace evenclay
