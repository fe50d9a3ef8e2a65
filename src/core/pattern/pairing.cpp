#include "core/pattern/pairing.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/base/angles.h"
#include "core/mesh/cut_mesh.h"

namespace evenclay {

namespace {

// One of the four edges: which way it lies, and how its vertices follow each other.
struct Side {
  bool along_y = true;  // x is fixed
  bool end = false;     // at the far end of the base
};

// A vertex on an edge by the place along it.
struct OnEdge {
  double along;
  std::uint32_t vertex;
};

double across_of(const Vec3& local, Side s) {
  return s.along_y ? local.x : local.y;
}
double along_of(const Vec3& local, Side s) {
  return s.along_y ? local.y : local.x;
}

std::vector<OnEdge> on_edge(const TriangleMesh& tile, const PatternBase& base, Side side,
                            double near) {
  const double at = side.end ? (side.along_y ? base.length_x : base.length_y) : 0.0;
  std::vector<OnEdge> found;
  for (std::uint32_t k = 0; k < tile.points.size(); ++k) {
    const Vec3 local = base.frame.to_local(tile.points[k]);
    if (std::abs(across_of(local, side) - at) <= near) found.push_back({along_of(local, side), k});
  }
  std::sort(found.begin(), found.end(), [](const OnEdge& a, const OnEdge& b) {
    return a.along != b.along ? a.along < b.along : a.vertex < b.vertex;
  });
  return found;
}

// The cubic through the four vertices of a chain around a place, of anything that can be scaled and added.
// Source: Neville's scheme (e.g. W. Press et al., Numerical Recipes, section 3.1, from memory).
template <typename Value>
auto through_four(const std::vector<OnEdge>& chain, std::size_t next, double along,
                  const Value& value) {
  const std::size_t count = std::min<std::size_t>(4, chain.size());
  const std::size_t first = std::min(next < 2 ? 0 : next - 2, chain.size() - count);
  std::vector<decltype(value(chain[0]))> v;
  for (std::size_t k = 0; k < count; ++k) v.push_back(value(chain[first + k]));
  for (std::size_t level = 1; level < count; ++level)
    for (std::size_t k = 0; k + level < count; ++k) {
      const double a = chain[first + k].along;
      const double b = chain[first + k + level].along;
      if (!(b - a > 1e-12)) continue;
      v[k] = v[k] * ((b - along) / (b - a)) + v[k + 1] * ((along - a) / (b - a));
    }
  return v[0];
}

// Height and normal of a chain of vertices at a place along it; nothing beyond its ends.
struct Level {
  double z;
  Vec3 normal;
};
std::optional<Level> level_at(const TriangleMesh& tile, const std::vector<Vec3>& normals,
                              const PatternBase& base, const std::vector<OnEdge>& chain,
                              double along, double near) {
  if (chain.empty() || along < chain.front().along - near || along > chain.back().along + near)
    return std::nullopt;
  const auto height = [&](const OnEdge& e) { return base.frame.to_local(tile.points[e.vertex]).z; };
  auto next = std::lower_bound(chain.begin(), chain.end(), along,
                               [](const OnEdge& e, double x) { return e.along < x; });
  if (next == chain.end()) --next;
  if (next == chain.begin()) return Level{height(*next), normals[next->vertex]};
  const OnEdge& a = *(next - 1);
  const OnEdge& b = *next;
  const double t =
      b.along > a.along ? std::clamp((along - a.along) / (b.along - a.along), 0.0, 1.0) : 0.0;
  return Level{height(a) * (1.0 - t) + height(b) * t,
               normalized(normals[a.vertex] * (1.0 - t) + normals[b.vertex] * t)};
}

}  // namespace

double near_of(const PatternBase& base) {
  return 1e-5 * std::max(base.length_x, base.length_y);
}

TilePairing pairing_of(const TriangleMesh& tile, const PatternBase& base, double near) {
  TilePairing result;
  if (tile.triangles.empty()) return result;
  const std::vector<Vec3> normals = tile.normals.empty() ? averaged_normals(tile) : tile.normals;
  result.edges = true;
  double worst = -1.0;
  for (const bool along_y : {true, false}) {
    const auto begin = on_edge(tile, base, {along_y, false}, near);
    const auto end = on_edge(tile, base, {along_y, true}, near);
    const double size = along_y ? base.length_y : base.length_x;
    const auto whole = [&](const std::vector<OnEdge>& e) {
      return e.size() >= 2 && e.front().along <= near && e.back().along >= size - near;
    };
    result.edges = result.edges && whole(begin) && whole(end);
    for (const OnEdge& e : begin) {
      const auto other = level_at(tile, normals, base, end, e.along, near);
      if (!other) continue;
      const double gap = std::abs(base.frame.to_local(tile.points[e.vertex]).z - other->z);
      const double angle = degrees_between(normals[e.vertex], other->normal);
      result.gap = std::max(result.gap, gap);
      result.angle = std::max(result.angle, angle);
      // A degree weighs as much as a hundredth of the tile.
      const double fault = gap / (0.01 * size) + angle;
      if (fault <= worst) continue;
      worst = fault;
      result.at = tile.points[e.vertex];
    }
  }
  return result;
}

namespace {

using EdgeKey = std::pair<std::uint32_t, std::uint32_t>;
EdgeKey key_of(std::uint32_t a, std::uint32_t b) {
  return {std::min(a, b), std::max(a, b)};
}

class Pairer {
 public:
  Pairer(const TriangleMesh& tile, const PatternBase& base, double near)
      : mesh_(tile), base_(base), near_(near) {}

  TriangleMesh run() {
    // Vertices of one edge too near to tell apart would find one partner for both.
    if (crowded()) mesh_ = welded(mesh_, same());
    for (const bool along_y : {true, false}) {
      put_on_edge({along_y, false});
      put_on_edge({along_y, true});
      complete({along_y, true}, on_edge(mesh_, base_, {along_y, false}, near_));
      complete({along_y, false}, on_edge(mesh_, base_, {along_y, true}, near_));
      level(along_y);
    }
    return std::move(mesh_);
  }

 private:
  bool crowded() const {
    for (const bool along_y : {true, false})
      for (const bool end : {false, true}) {
        const auto chain = on_edge(mesh_, base_, {along_y, end}, near_);
        for (std::size_t k = 1; k < chain.size(); ++k)
          if (chain[k].along - chain[k - 1].along <= same()) return true;
      }
    return false;
  }
  // Vertices near the edge lie on it exactly.
  void put_on_edge(Side side) {
    const double at = side.end ? (side.along_y ? base_.length_x : base_.length_y) : 0.0;
    for (const OnEdge& e : on_edge(mesh_, base_, side, near_)) {
      Vec3 local = base_.frame.to_local(mesh_.points[e.vertex]);
      (side.along_y ? local.x : local.y) = at;
      const double size = side.along_y ? base_.length_y : base_.length_x;
      double& along = side.along_y ? local.y : local.x;
      if (std::abs(along) <= near_) along = 0.0;
      if (std::abs(along - size) <= near_) along = size;
      mesh_.points[e.vertex] = base_.frame.to_world(local);
    }
  }
  // Splits the border triangles of an edge where `wanted` has a vertex and it has none.
  void complete(Side side, const std::vector<OnEdge>& wanted) {
    std::vector<OnEdge> chain = on_edge(mesh_, base_, side, near_);
    if (chain.size() < 2) return;
    std::map<EdgeKey, std::uint32_t> border;
    for (const OnEdge& w : wanted) {
      const auto next = std::lower_bound(chain.begin(), chain.end(), w.along,
                                         [](const OnEdge& e, double x) { return e.along < x; });
      if (next == chain.begin() || next == chain.end()) continue;
      const OnEdge a = *(next - 1);
      const OnEdge b = *next;
      if (w.along - a.along <= same() || b.along - w.along <= same()) continue;
      if (border.empty()) border = open_edges(chain);  // most tiles need none
      const auto open = border.find(key_of(a.vertex, b.vertex));
      if (open == border.end()) continue;
      const std::uint32_t triangle = open->second;
      border.erase(open);
      const std::uint32_t fresh = split(triangle, a, b, w.along);
      if (!mesh_.normals.empty())
        mesh_.normals[fresh] =
            normalized(through_four(chain, static_cast<std::size_t>(next - chain.begin()), w.along,
                                    [&](const OnEdge& e) { return mesh_.normals[e.vertex]; }));
      take_height(fresh, w.vertex);
      const auto last = static_cast<std::uint32_t>(mesh_.triangles.size()) - 1;
      for (std::size_t c = 0; c < 3; ++c) {  // its other border may be the new triangle's now
        const auto& t = mesh_.triangles[last];
        if (const auto moved = border.find(key_of(t[c], t[(c + 1) % 3])); moved != border.end())
          moved->second = last;
      }
      border[key_of(a.vertex, fresh)] = triangle;
      border[key_of(fresh, b.vertex)] = last;
      chain.insert(chain.begin() + (next - chain.begin()), {w.along, fresh});
    }
  }
  // A vertex put on a straight piece of border lies as high as its partner, which is on the form itself.
  void take_height(std::uint32_t fresh, std::uint32_t partner) {
    constexpr double kRough = 300.0;  // times what counts as on an edge
    Vec3 local = base_.frame.to_local(mesh_.points[fresh]);
    const double z = base_.frame.to_local(mesh_.points[partner]).z;
    if (std::abs(local.z - z) > kRough * near_) return;
    local.z = z;
    mesh_.points[fresh] = base_.frame.to_world(local);
  }
  std::uint32_t split(std::uint32_t triangle, const OnEdge& a, const OnEdge& b, double along) {
    const double t = (along - a.along) / (b.along - a.along);
    const auto fresh = static_cast<std::uint32_t>(mesh_.points.size());
    mesh_.points.push_back(mesh_.points[a.vertex] * (1.0 - t) + mesh_.points[b.vertex] * t);
    if (!mesh_.normals.empty())
      mesh_.normals.push_back(
          normalized(mesh_.normals[a.vertex] * (1.0 - t) + mesh_.normals[b.vertex] * t));
    std::array<std::uint32_t, 3> second = mesh_.triangles[triangle];
    for (std::uint32_t& v : second)
      if (v == a.vertex) v = fresh;
    for (std::uint32_t& v : mesh_.triangles[triangle])
      if (v == b.vertex) v = fresh;
    mesh_.triangles.push_back(second);
    return fresh;
  }
  // Edges of one triangle only, among those that touch the chain.
  std::map<EdgeKey, std::uint32_t> open_edges(const std::vector<OnEdge>& chain) const {
    std::vector<bool> touched(mesh_.points.size(), false);
    for (const OnEdge& e : chain) touched[e.vertex] = true;
    std::map<EdgeKey, std::uint32_t> open;
    for (std::uint32_t k = 0; k < mesh_.triangles.size(); ++k)
      for (std::size_t c = 0; c < 3; ++c) {
        const std::uint32_t v = mesh_.triangles[k][c];
        const std::uint32_t w = mesh_.triangles[k][(c + 1) % 3];
        if (!touched[v] || !touched[w]) continue;
        const auto [at, first] = open.try_emplace(key_of(v, w), k);
        if (!first) open.erase(at);
      }
    return open;
  }
  // Vertices that meet get one place along the edge, one height, and one normal where they agree.
  void level(bool along_y) {
    const auto begin = on_edge(mesh_, base_, {along_y, false}, near_);
    const auto end = on_edge(mesh_, base_, {along_y, true}, near_);
    std::size_t k = 0;
    for (const OnEdge& e : begin) {
      while (k < end.size() && end[k].along < e.along - same()) ++k;
      if (k == end.size() || end[k].along > e.along + same()) continue;
      const std::uint32_t other = end[k].vertex;
      Vec3 a = base_.frame.to_local(mesh_.points[e.vertex]);
      Vec3 b = base_.frame.to_local(mesh_.points[other]);
      if (std::abs(a.z - b.z) > near_) continue;
      a.z = b.z = 0.5 * (a.z + b.z);
      (along_y ? b.y : b.x) = along_y ? a.y : a.x;
      mesh_.points[e.vertex] = base_.frame.to_world(a);
      mesh_.points[other] = base_.frame.to_world(b);
      if (mesh_.normals.empty()) continue;
      Vec3& n = mesh_.normals[e.vertex];
      Vec3& m = mesh_.normals[other];
      if (degrees_between(n, m) <= 0.1) n = m = normalized(n + m);
    }
  }

  // Along an edge vertices may lie close to each other without being one.
  double same() const { return 0.1 * near_; }

  TriangleMesh mesh_;
  const PatternBase& base_;
  double near_;
};

}  // namespace

TriangleMesh paired(const TriangleMesh& tile, const PatternBase& base, double near) {
  return Pairer(tile, base, near).run();
}

}  // namespace evenclay
