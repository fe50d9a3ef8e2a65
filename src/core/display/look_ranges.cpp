#include "core/display/look_ranges.h"

#include <algorithm>

#include "core/document/face_looks.h"

namespace evenclay {

namespace {

// Pieces follow each other in vertices and in triangles alike, so the first triangle of one is found by halving.
std::size_t first_index(const DisplayMesh& mesh, std::uint32_t first_vertex) {
  std::size_t low = 0, high = mesh.indices.size() / 3;
  while (low < high) {
    const std::size_t middle = (low + high) / 2;
    if (mesh.indices[3 * middle] < first_vertex)
      low = middle + 1;
    else
      high = middle;
  }
  return 3 * low;
}

}  // namespace

std::vector<LookRange> look_ranges(const DisplayMesh& mesh, const Shape& shape,
                                   std::span<const FaceLook> looks) {
  std::vector<LookRange> ranges{{0, mesh.indices.size(), -1}};
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr || looks.empty() || mesh.pieces.size() != body->faces.size()) return ranges;
  const std::vector<int> of_faces = looks_of_faces(*body, looks);
  ranges.clear();
  for (std::size_t f = 0; f < of_faces.size(); ++f) {
    const std::size_t first = first_index(mesh, mesh.pieces[f].first_vertex);
    const std::size_t end = f + 1 < of_faces.size()
                                ? first_index(mesh, mesh.pieces[f + 1].first_vertex)
                                : mesh.indices.size();
    if (first == end) continue;
    if (!ranges.empty() && ranges.back().look == of_faces[f])
      ranges.back().count += end - first;
    else
      ranges.push_back({first, end - first, of_faces[f]});
  }
  return ranges;
}

DisplayMesh range_of(const DisplayMesh& mesh, const LookRange& range) {
  DisplayMesh part;
  std::vector<std::uint32_t> number(mesh.vertices.size() / 6, 0xFFFFFFFFU);
  part.indices.reserve(range.count);
  for (std::size_t k = range.first; k < range.first + range.count; ++k) {
    std::uint32_t& n = number[mesh.indices[k]];
    if (n == 0xFFFFFFFFU) {
      n = static_cast<std::uint32_t>(part.vertices.size() / 6);
      const auto from = mesh.vertices.begin() + 6 * static_cast<std::ptrdiff_t>(mesh.indices[k]);
      part.vertices.insert(part.vertices.end(), from, from + 6);
    }
    part.indices.push_back(n);
  }
  part.box = mesh.box;
  return part;
}

}  // namespace evenclay
