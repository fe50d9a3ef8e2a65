// Triangles of a body: trimmed faces, without cracks where they are joined.
#pragma once

#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

struct BodyMeshOptions {
  double chord = 0.01;  ///< mm; greatest distance of triangles from the surfaces
  /// mm; cells are no wider, about: for meshes that are bent afterwards. 0: as wide as the chord allows.
  double widest = 0.0;
  std::size_t most_triangles = 2000000;  ///< of all faces together; the chord grows to keep it
};

/// The triangles of one face; vertices on edges are there once for each face, since their normals
/// differ.
struct FaceMesh {
  std::vector<Parameter> uv;
  std::vector<Vec3> points;
  std::vector<Vec3> normals;
  std::vector<std::uint32_t> weld;  ///< equal numbers are one place of the body
  std::vector<std::array<std::uint32_t, 3>> triangles;
};

struct BodyMesh {
  std::vector<FaceMesh> faces;
  std::uint32_t weld_count = 0;
};

/// Each face on a regular grid of its parameters, whose lines lie as close as the bend across the
/// surface wants, and whose border cells are cut along the loops. Vertices on an edge are the edge's
/// own points, the same for all faces it joins; they contain every place where the edge crosses a
/// grid line of one of them, so no face needs a vertex that its neighbour has not. Faces without
/// loops get their natural borders (with_explicit_borders, 1e-6 of the size).
/// A triangle inside a cell of hu × hv leaves the surface by at most
/// (hu² |n·Suu| + 2 hu hv |n·Suv| + hv² |n·Svv|) / 8. Throws Error for an empty chord, Cancelled.
BodyMesh tessellate(const Body& body, const BodyMeshOptions& options, Progress& progress);

/// All faces as one mesh, whose vertices are shared along edges: watertight where the body is closed.
/// Normals are given where all faces agree within 1°, and left out of the whole mesh otherwise.
/// `faces` gets the face of each triangle, when it is wanted.
TriangleMesh welded(const BodyMesh& mesh, std::vector<std::uint32_t>* faces = nullptr);

}  // namespace evenclay
