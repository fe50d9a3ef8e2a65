// Rays against a drawn mesh: what lies under the cursor, and what hides what.
#pragma once

#include <memory>
#include <optional>

#include "core/display/display.h"
#include "core/mesh/ray_scene.h"

namespace evenclay {

/// A mesh prepared for rays. Thread-safe after construction; keeps the mesh alive.
class MeshRays {
 public:
  explicit MeshRays(std::shared_ptr<const DisplayMesh> mesh);

  std::optional<TriangleHit> first(const Ray& ray) const { return scene_.first(ray); }

 private:
  std::shared_ptr<const DisplayMesh> mesh_;
  RayScene scene_;
};

}  // namespace evenclay
