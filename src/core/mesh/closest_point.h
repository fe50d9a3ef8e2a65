// Closest point of a triangle mesh.
#pragma once

#include <memory>
#include <span>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

struct MeshProjection {
  Vec3 point;
  double distance = 0.0;
  std::uint32_t triangle = 0;
};

/// Bounding-volume tree over a mesh (Embree); keeps the mesh's points. Distances are exact in
/// double; the tree itself prunes in float with a margin. Thread-safe after construction.
/// Throws Error when the mesh has no triangles.
class MeshProjector {
 public:
  explicit MeshProjector(const TriangleMesh& mesh);
  ~MeshProjector();
  MeshProjector(MeshProjector&&) noexcept;

  MeshProjection closest(const Vec3& q) const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace evenclay
