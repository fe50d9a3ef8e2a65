#include "core/display/pattern_display.h"

#include <algorithm>
#include <cmath>
#include <nanoflann.hpp>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/operations/tile_mesh.h"
#include "core/source/copies.h"

namespace evenclay {

std::shared_ptr<const TileDisplay> tile_display(const Shape& shape, Progress& progress) {
  if ((kind_of(shape) & (kBody | kMesh)) == 0 || is_empty(shape)) return nullptr;
  // Edges of trimmed faces are compared between their vertices, which takes a finer mesh.
  const auto* body = std::get_if<Body>(&shape);
  const TriangleMesh tile =
      tile_mesh(shape, body != nullptr && is_trimmed(*body) ? 96 : 24, progress);
  auto result = std::make_shared<TileDisplay>();
  result->base = base_of(tile);
  if (!(result->base.length_x > 1e-6) || !(result->base.length_y > 1e-6)) return nullptr;
  result->pairing = pairing_of(tile, result->base, near_of(result->base));
  TriangleMesh all;
  for (const double x : {0.0, -1.0, 1.0})
    for (const double y : {0.0, -1.0, 1.0})
      append(all,
             placed(tile, moved_by({x * result->base.length_x, y * result->base.length_y, 0.0})));
  result->mesh =
      std::make_shared<const DisplayMesh>(display_mesh(Shape(std::move(all)), {}, progress));
  return result;
}

namespace {

// Which repeat a share of the domain lies in; −1 for none.
int repeat_at(const std::vector<double>& ends, double share, bool around) {
  constexpr double kHair = 1e-6;
  for (const double turn : {0.0, 1.0, -1.0}) {
    if (turn != 0.0 && !around) continue;
    const double x = share + turn;
    if (x < ends.front() - kHair || x > ends.back() + kHair) continue;
    const auto next = std::upper_bound(ends.begin(), ends.end(), x);
    const auto k = static_cast<int>(next - ends.begin()) - 1;
    return std::clamp(k, 0, static_cast<int>(ends.size()) - 2);
  }
  return -1;
}

}  // namespace

std::shared_ptr<const DisplayMesh> without_covered(std::shared_ptr<const DisplayMesh> mesh,
                                                   const Shape& shape, const PatternFacts& facts) {
  const auto* body = std::get_if<Body>(&shape);
  if (body == nullptr || facts.ends_u.size() < 2 || facts.ends_v.size() < 2 ||
      mesh->shares.empty() || mesh->pieces.size() != body->faces.size())
    return mesh;
  const auto vertices = static_cast<std::uint32_t>(mesh->vertices.size() / 6);
  const auto count_v = facts.ends_v.size() - 1;
  std::vector<bool> covered(vertices, false);
  bool any = false;
  for (std::size_t piece = 0; piece < mesh->pieces.size(); ++piece) {
    const Face& f = body->faces[piece];
    if (f.tag != facts.face && f.piece_of != facts.face) continue;
    const std::uint32_t end =
        piece + 1 < mesh->pieces.size() ? mesh->pieces[piece + 1].first_vertex : vertices;
    for (std::uint32_t k = mesh->pieces[piece].first_vertex; k < end; ++k) {
      const int a =
          repeat_at(facts.ends_u, static_cast<double>(mesh->shares[2 * k]), facts.around_u);
      const int b =
          repeat_at(facts.ends_v, static_cast<double>(mesh->shares[2 * k + 1]), facts.around_v);
      if (a < 0 || b < 0) continue;
      covered[k] = facts.made.empty() ||
                   facts.made[static_cast<std::size_t>(a) * count_v + static_cast<std::size_t>(b)];
      any = any || covered[k];
    }
  }
  if (!any) return mesh;
  auto rest = std::make_shared<DisplayMesh>(*mesh);
  rest->indices.clear();
  rest->closed = false;
  for (std::size_t t = 0; t + 2 < mesh->indices.size(); t += 3) {
    const auto& i = mesh->indices;
    if (covered[i[t]] && covered[i[t + 1]] && covered[i[t + 2]]) continue;
    rest->indices.insert(rest->indices.end(), {i[t], i[t + 1], i[t + 2]});
  }
  return rest;
}

namespace {

struct Places {
  const std::vector<Vec3>& points;
  std::size_t kdtree_get_point_count() const { return points.size(); }
  double kdtree_get_pt(std::size_t k, std::size_t axis) const { return points[k][axis]; }
  template <typename Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
};
using Tree =
    nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, Places>, Places, 3>;

double most_of(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  return values.empty() ? 0.0 : values[values.size() * 49 / 50];
}

}  // namespace

std::shared_ptr<const DisplayValues> stretch_values(const DisplayMesh& mesh,
                                                    const PatternFacts& facts, Progress& progress) {
  const Stretch& s = facts.stretch;
  if (s.places.empty() || mesh.vertices.empty()) return nullptr;
  const Places places{s.places.values()};
  const Tree tree(3, places, nanoflann::KDTreeSingleIndexAdaptorParams(10));
  auto result = std::make_shared<DisplayValues>();
  result->reach = std::max(1.0, most_of(s.map.values()));
  result->values.resize(mesh.vertices.size() / 6);
  const double far = 2.0 * std::max(facts.tile_u, facts.tile_v);
  parallel_blocks(result->values.size(), 2048, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const std::array<double, 3> q{static_cast<double>(mesh.vertices[6 * k]),
                                    static_cast<double>(mesh.vertices[6 * k + 1]),
                                    static_cast<double>(mesh.vertices[6 * k + 2])};
      std::size_t nearest = 0;
      double square = 0.0;
      nanoflann::KNNResultSet<double> found(1);
      found.init(&nearest, &square);
      tree.findNeighbors(found, q.data(), nanoflann::SearchParams());
      if (square <= far * far) result->values[k] = static_cast<float>(s.map.values()[nearest]);
    }
  });
  return result;
}

}  // namespace evenclay
