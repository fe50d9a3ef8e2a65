#include <meshoptimizer.h>

#include "core/display/display.h"

namespace evenclay {

namespace {

constexpr std::size_t kStride = 6;  // floats a vertex: place and normal

// Only the vertices that triangles use, in the order of their use.
void take_used(const DisplayMesh& mesh, std::vector<std::uint32_t> indices, DisplayMesh& out) {
  const std::size_t count = mesh.vertices.size() / kStride;
  std::vector<unsigned int> remap(count);
  const std::size_t used =
      meshopt_optimizeVertexFetchRemap(remap.data(), indices.data(), indices.size(), count);
  out.vertices.resize(used * kStride);
  meshopt_remapVertexBuffer(out.vertices.data(), mesh.vertices.data(), count,
                            kStride * sizeof(float), remap.data());
  out.indices.resize(indices.size());
  meshopt_remapIndexBuffer(out.indices.data(), indices.data(), indices.size(), remap.data());
}

}  // namespace

std::shared_ptr<const DisplayMesh> thinned(std::shared_ptr<const DisplayMesh> mesh,
                                           std::size_t triangles, double most_share) {
  if (mesh->indices.size() / 3 <= triangles) return mesh;
  const std::size_t count = mesh->vertices.size() / kStride;
  // Vertices of several pieces at one place are one for the thinning, so that no cracks open.
  std::vector<unsigned int> welded(count);
  const meshopt_Stream places{mesh->vertices.data(), 3 * sizeof(float), kStride * sizeof(float)};
  meshopt_generateVertexRemapMulti(welded.data(), mesh->indices.data(), mesh->indices.size(), count,
                                   &places, 1);
  std::vector<std::uint32_t> first(count, 0);
  for (std::size_t v = count; v-- > 0;)
    if (welded[v] < count) first[welded[v]] = static_cast<std::uint32_t>(v);  // others are not used
  std::vector<std::uint32_t> indices = mesh->indices;
  for (std::uint32_t& i : indices) i = first[welded[i]];
  std::vector<std::uint32_t> kept(indices.size());
  const std::size_t now = meshopt_simplify(
      kept.data(), indices.data(), indices.size(), mesh->vertices.data(), count,
      kStride * sizeof(float), triangles * 3, static_cast<float>(most_share), 0, nullptr);
  kept.resize(now);
  auto out = std::make_shared<DisplayMesh>();
  out->box = mesh->box;
  out->closed = mesh->closed;
  take_used(*mesh, std::move(kept), *out);
  return out;
}

void thin_quickly(DisplayMesh& mesh) {
  constexpr std::size_t kDrawn = 1'000'000, kLeft = 500'000;
  if (mesh.indices.size() / 3 <= kDrawn || !mesh.shares.empty()) return;
  std::vector<std::uint32_t> kept(mesh.indices.size());
  const std::size_t now = meshopt_simplifySloppy(
      kept.data(), mesh.indices.data(), mesh.indices.size(), mesh.vertices.data(),
      mesh.vertices.size() / kStride, kStride * sizeof(float), kLeft * 3, 0.05F, nullptr);
  if (now == 0) return;
  kept.resize(now);
  DisplayMesh few;
  few.box = mesh.box;
  few.closed = mesh.closed;
  take_used(mesh, std::move(kept), few);
  mesh = std::move(few);
}

}  // namespace evenclay
