// One mesh as Embree keeps it; for rays (ray_scene.h) and questions for closest points (closest_point.h).
#pragma once

#include <embree3/rtcore.h>

#include <cstdint>
#include <span>

#include "core/mesh/triangle_mesh.h"

namespace evenclay {

class EmbreeScene {
 public:
  EmbreeScene() = default;
  ~EmbreeScene();
  EmbreeScene(const EmbreeScene&) = delete;
  EmbreeScene& operator=(const EmbreeScene&) = delete;

  /// Copies the places in float. `robust`: rays do not slip between triangles.
  void build(const TriangleMesh& mesh, bool robust);
  /// A position every `stride` floats; the numbers must outlive this.
  void build_shared(std::span<const float> vertices, std::size_t stride,
                    std::span<const std::uint32_t> indices);
  /// Null before anything was built.
  RTCScene get() const { return scene_; }

 private:
  RTCGeometry begin();
  void commit(RTCGeometry geometry, bool robust);
  RTCDevice device_ = nullptr;
  RTCScene scene_ = nullptr;
};

}  // namespace evenclay
