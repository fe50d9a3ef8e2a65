#include "core/display/rays.h"

#include <embree3/rtcore.h>

namespace evenclay {

struct MeshRays::Impl {
  std::shared_ptr<const DisplayMesh> mesh;
  RTCDevice device = nullptr;
  RTCScene scene = nullptr;

  explicit Impl(std::shared_ptr<const DisplayMesh> m) : mesh(std::move(m)) {
    if (mesh->indices.size() < 3) return;
    device = rtcNewDevice(nullptr);
    scene = rtcNewScene(device);
    RTCGeometry geometry = rtcNewGeometry(device, RTC_GEOMETRY_TYPE_TRIANGLE);
    // The mesh's own numbers: a position every six floats, with a normal behind it.
    rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                               mesh->vertices.data(), 0, 6 * sizeof(float),
                               mesh->vertices.size() / 6);
    rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3,
                               mesh->indices.data(), 0, 3 * sizeof(std::uint32_t),
                               mesh->indices.size() / 3);
    rtcCommitGeometry(geometry);
    rtcAttachGeometry(scene, geometry);
    rtcReleaseGeometry(geometry);
    rtcSetSceneFlags(scene, RTC_SCENE_FLAG_ROBUST);
    rtcCommitScene(scene);
  }
  ~Impl() {
    if (scene != nullptr) rtcReleaseScene(scene);
    if (device != nullptr) rtcReleaseDevice(device);
  }
  Impl(const Impl&) = delete;
  Impl& operator=(const Impl&) = delete;
};

MeshRays::MeshRays(std::shared_ptr<const DisplayMesh> mesh)
    : impl_(std::make_unique<Impl>(std::move(mesh))) {}
MeshRays::~MeshRays() = default;
MeshRays::MeshRays(MeshRays&&) noexcept = default;

std::optional<TriangleHit> MeshRays::first(const Ray& ray) const {
  if (impl_->scene == nullptr) return std::nullopt;
  RTCRayHit r{};
  r.ray.org_x = static_cast<float>(ray.origin.x);
  r.ray.org_y = static_cast<float>(ray.origin.y);
  r.ray.org_z = static_cast<float>(ray.origin.z);
  r.ray.dir_x = static_cast<float>(ray.direction.x);
  r.ray.dir_y = static_cast<float>(ray.direction.y);
  r.ray.dir_z = static_cast<float>(ray.direction.z);
  r.ray.tnear = 0.0F;
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
