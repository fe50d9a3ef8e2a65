#include "core/display/ray_model.h"

#include <stb/stb_image_write.h>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

RayModel::RayModel(const std::vector<std::shared_ptr<const DisplayMesh>>& meshes)
    : data_(together(meshes)), scene_(data_.vertices, 6, data_.indices) {}

RayModel::Data RayModel::together(const std::vector<std::shared_ptr<const DisplayMesh>>& meshes) {
  Data d;
  for (std::uint32_t m = 0; m < meshes.size(); ++m) {
    if (!meshes[m] || meshes[m]->indices.empty()) continue;
    const auto first = static_cast<std::uint32_t>(d.vertices.size() / 6);
    d.vertices.insert(d.vertices.end(), meshes[m]->vertices.begin(), meshes[m]->vertices.end());
    for (const std::uint32_t i : meshes[m]->indices) d.indices.push_back(first + i);
    d.owner.resize(d.indices.size() / 3, m);
    d.box.add(meshes[m]->box);
  }
  return d;
}

Vec3 RayModel::vertex(std::size_t k, std::size_t from) const {
  const float* v = &data_.vertices[6 * k + from];
  return {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])};
}

Vec3 RayModel::normal(const TriangleHit& hit, const Vec3& otherwise) const {
  const double weights[] = {1.0 - hit.b - hit.c, hit.b, hit.c};
  Vec3 n;
  for (std::size_t k = 0; k < 3; ++k)
    n += vertex(data_.indices[3 * hit.triangle + k], 3) * weights[k];
  return length(n) > 1e-9 ? normalized(n) : otherwise;
}

Box3 RayModel::box_along(const Frame& frame) const {
  Box3 box;
  for (std::size_t k = 0; k < data_.vertices.size() / 6; ++k) box.add(frame.to_local(vertex(k, 0)));
  return box;
}

std::string png_bytes(int width, int height, int channels,
                      const std::vector<unsigned char>& bytes) {
  std::string png;
  const auto put = [](void* context, void* data, int size) {
    static_cast<std::string*>(context)->append(static_cast<const char*>(data),
                                               static_cast<std::size_t>(size));
  };
  if (stbi_write_png_to_func(put, &png, width, height, channels, bytes.data(), width * channels) ==
      0)
    throw Error(say("The picture could not be written. Make it smaller."));
  return png;
}

}  // namespace evenclay
