#include "core/mesh/ray_scene.h"

#include <embree3/rtcore.h>

#include <limits>

namespace evenclay {

struct RayScene::Impl {
  RTCDevice device = nullptr;
  RTCScene scene = nullptr;

  void begin() {
    device = rtcNewDevice(nullptr);
    scene = rtcNewScene(device);
  }
  void commit(RTCGeometry geometry) {
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcReleaseGeometry(geometry);
    rtcSetSceneFlags(scene, RTC_SCENE_FLAG_ROBUST);
    rtcCommitScene(scene);
  }
  Impl() = default;
  ~Impl() {
    if (scene != nullptr) rtcReleaseScene(scene);
    if (device != nullptr) rtcReleaseDevice(device);
  }
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
};

RayScene::RayScene(const TriangleMesh& mesh) : impl_(std::make_unique<Impl>()) {
  if (mesh.triangles.empty()) return;
  impl_->begin();
  RTCGeometry geometry = rtcNewGeometry(impl_->device, RTC_GEOMETRY_TYPE_TRIANGLE);
  auto* vertices = static_cast<float*>(rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0,
                                                               RTC_FORMAT_FLOAT3, 3 * sizeof(float),
                                                               mesh.points.size()));
  for (const Vec3& p : mesh.points)
    for (std::size_t c = 0; c < 3; ++c) *vertices++ = static_cast<float>(p[c]);
  auto* indices = static_cast<std::uint32_t*>(
      rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                              3 * sizeof(std::uint32_t), mesh.triangles.size()));
  for (const auto& t : mesh.triangles)
    for (const std::uint32_t v : t) *indices++ = v;
  impl_->commit(geometry);
}

RayScene::RayScene(std::span<const float> vertices, std::size_t stride,
                   std::span<const std::uint32_t> indices)
    : impl_(std::make_unique<Impl>()) {
  if (indices.size() < 3) return;
  impl_->begin();
  RTCGeometry geometry = rtcNewGeometry(impl_->device, RTC_GEOMETRY_TYPE_TRIANGLE);
  rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                             vertices.data(), 0, stride * sizeof(float), vertices.size() / stride);
  rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, indices.data(),
                             0, 3 * sizeof(std::uint32_t), indices.size() / 3);
  impl_->commit(geometry);
}

RayScene::~RayScene() = default;
RayScene::RayScene(RayScene&&) noexcept = default;

std::optional<TriangleHit> RayScene::first(const Ray& ray, double from) const {
  if (impl_->scene == nullptr) return std::nullopt;
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
  rtcIntersect1(impl_->scene, &context, &r);
  if (r.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
  return TriangleHit{static_cast<double>(r.ray.tfar), r.hit.primID, static_cast<double>(r.hit.u),
                     static_cast<double>(r.hit.v)};
}

}  // namespace evenclay
