#include "core/mesh/embree_scene.h"

namespace evenclay {

EmbreeScene::~EmbreeScene() {
  if (scene_ != nullptr) rtcReleaseScene(scene_);
  if (device_ != nullptr) rtcReleaseDevice(device_);
}

RTCGeometry EmbreeScene::begin() {
  device_ = rtcNewDevice(nullptr);
  scene_ = rtcNewScene(device_);
  return rtcNewGeometry(device_, RTC_GEOMETRY_TYPE_TRIANGLE);
}

void EmbreeScene::commit(RTCGeometry geometry, bool robust) {
  rtcCommitGeometry(geometry);
  rtcAttachGeometry(scene_, geometry);
  rtcReleaseGeometry(geometry);
  if (robust) rtcSetSceneFlags(scene_, RTC_SCENE_FLAG_ROBUST);
  rtcCommitScene(scene_);
}

void EmbreeScene::build(const TriangleMesh& mesh, bool robust) {
  RTCGeometry geometry = begin();
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
  commit(geometry, robust);
}

void EmbreeScene::build_shared(std::span<const float> vertices, std::size_t stride,
                               std::span<const std::uint32_t> indices) {
  RTCGeometry geometry = begin();
  rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3,
                             vertices.data(), 0, stride * sizeof(float), vertices.size() / stride);
  rtcSetSharedGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, indices.data(),
                             0, 3 * sizeof(std::uint32_t), indices.size() / 3);
  commit(geometry, true);
}

}  // namespace evenclay
