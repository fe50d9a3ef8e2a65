// Drawn meshes as one model for rays, and what pictures made by rays share.
#pragma once

#include <string>
#include <vector>

#include "core/display/display.h"
#include "core/mesh/ray_scene.h"

namespace evenclay {

class RayModel {
 public:
  /// Null meshes and those without triangles have no part in it; they keep their place.
  explicit RayModel(const std::vector<std::shared_ptr<const DisplayMesh>>& meshes);

  const RayScene& scene() const { return scene_; }
  const Box3& box() const { return data_.box; }
  bool empty() const { return data_.indices.empty(); }
  /// The place in `meshes` of the one that was hit.
  std::size_t owner(const TriangleHit& hit) const { return data_.owner[hit.triangle]; }
  /// Unit, between those of the triangle's vertices; `otherwise` where they cancel out.
  Vec3 normal(const TriangleHit& hit, const Vec3& otherwise) const;
  /// Around all vertices, along the axes of a frame.
  Box3 box_along(const Frame& frame) const;

 private:
  struct Data {
    std::vector<float> vertices;  // position and normal
    std::vector<std::uint32_t> indices, owner;
    Box3 box;
  };
  static Data together(const std::vector<std::shared_ptr<const DisplayMesh>>& meshes);
  Vec3 vertex(std::size_t k, std::size_t from) const;

  Data data_;
  RayScene scene_;
};

/// PNG bytes (ISO/IEC 15948) of rows of 8-bit pixels with so many channels. Throws Error when it is too large for the writer.
std::string png_bytes(int width, int height, int channels, const std::vector<unsigned char>& bytes);

}  // namespace evenclay
