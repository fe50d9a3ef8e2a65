// Triangle meshes as values.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/frame.h"

namespace evenclay {

/// Vertices in mm; triangles counter-clockwise seen from outside. normals is empty or one unit
/// vector a vertex. Vertices are shared: two triangles that meet name the same vertices.
struct TriangleMesh {
  std::vector<Vec3> points;
  std::vector<Vec3> normals;
  std::vector<std::array<std::uint32_t, 3>> triangles;
  bool operator==(const TriangleMesh&) const = default;
};

/// Throws Error when a triangle names a vertex that is not there, a point is not a number, or
/// normals are given for only some vertices.
void check(const TriangleMesh& mesh);

Box3 box(const TriangleMesh& mesh);
double area(const TriangleMesh& mesh);
/// Signed volume by the divergence theorem; meaningful for a watertight mesh.
double volume(const TriangleMesh& mesh);

/// Edges used by one triangle only, and edges used by more than two or twice the same way.
struct EdgeReport {
  std::size_t open = 0;
  std::size_t tangled = 0;
  bool watertight() const { return open == 0 && tangled == 0; }
};
EdgeReport check_edges(const TriangleMesh& mesh);

/// Unit normals by averaging triangles weighted by area.
std::vector<Vec3> averaged_normals(const TriangleMesh& mesh);

/// b is added to a, nothing welded.
void append(TriangleMesh& a, const TriangleMesh& b);

}  // namespace evenclay
