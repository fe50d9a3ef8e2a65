#include "core/mesh/ray_scene.h"

#include <limits>

#include "core/mesh/embree_scene.h"

namespace evenclay {

struct RayScene::Impl {
  EmbreeScene scene;
};

RayScene::RayScene(const TriangleMesh& mesh) : impl_(std::make_unique<Impl>()) {
  if (!mesh.triangles.empty()) impl_->scene.build(mesh, true);
}

RayScene::RayScene(std::span<const float> vertices, std::size_t stride,
                   std::span<const std::uint32_t> indices)
    : impl_(std::make_unique<Impl>()) {
  if (indices.size() >= 3) impl_->scene.build_shared(vertices, stride, indices);
}

RayScene::~RayScene() = default;
RayScene::RayScene(RayScene&&) noexcept = default;

std::optional<TriangleHit> RayScene::first(const Ray& ray, double from) const {
  if (impl_->scene.get() == nullptr) return std::nullopt;
  RTCRayHit r{};
  r.ray.org_x = static_cast<float>(ray.origin.x);
  r.ray.org_y = static_cast<float>(ray.origin.y);
  r.ray.org_z = static_cast<float>(ray.origin.z);
  r.ray.dir_x = static_cast<float>(ray.direction.x);
  r.ray.dir_y = static_cast<float>(ray.direction.y);
  r.ray.dir_z = static_cast<float>(ray.direction.z);
  r.ray.tnear = static_cast<float>(from);
  r.ray.tfar = std::numeric_limits<float>::infinity();
  r.ray.mask = ~0U;
  r.hit.geomID = RTC_INVALID_GEOMETRY_ID;
  r.hit.instID[0] = RTC_INVALID_GEOMETRY_ID;
  RTCIntersectContext context;
  rtcInitIntersectContext(&context);
  rtcIntersect1(impl_->scene.get(), &context, &r);
  if (r.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
  return TriangleHit{static_cast<double>(r.ray.tfar), r.hit.primID, static_cast<double>(r.hit.u),
                     static_cast<double>(r.hit.v)};
}

}  // namespace evenclay
