#include "core/mesh/repair.h"

#include <algorithm>
#include <array>
#include <map>
#include <set>
#include <utility>

#include "core/mesh/area_vector.h"
#include "core/mesh/cut_mesh.h"

namespace evenclay {

namespace {

using Triangle = std::array<std::uint32_t, 3>;
using Side = std::pair<std::uint32_t, std::uint32_t>;

Side side(std::uint32_t a, std::uint32_t b) {
  return {std::min(a, b), std::max(a, b)};
}

// Vertices at one place become one; triangles that collapse or are there already go.
void weld(TriangleMesh& m, double near, Mended& mended) {
  const OnePlaces one = one_places(m.points, near);
  mended.welded = m.points.size() - one.places.size();
  m.points = one.places;
  std::vector<Triangle> kept;
  std::set<Triangle> seen;
  for (Triangle t : m.triangles) {
    for (std::uint32_t& v : t) v = one.number[v];
    Triangle sorted = t;
    std::sort(sorted.begin(), sorted.end());
    const bool flat = sorted[0] == sorted[1] || sorted[1] == sorted[2];
    if (!flat && seen.insert(sorted).second)
      kept.push_back(t);
    else
      ++mended.dropped;
  }
  m.triangles = std::move(kept);
}

// At an edge of more than two triangles the two largest stay.
void drop_third_ones(TriangleMesh& m, Mended& mended) {
  std::map<Side, std::vector<std::uint32_t>> users;
  for (std::uint32_t k = 0; k < m.triangles.size(); ++k)
    for (std::size_t c = 0; c < 3; ++c)
      users[side(m.triangles[k][c], m.triangles[k][(c + 1) % 3])].push_back(k);
  std::vector<char> gone(m.triangles.size(), 0);
  for (auto& [edge, list] : users) {
    std::erase_if(list, [&](std::uint32_t k) { return gone[k] != 0; });
    if (list.size() < 3) continue;
    std::stable_sort(list.begin(), list.end(), [&](std::uint32_t a, std::uint32_t b) {
      return length(area_vector(m, m.triangles[a])) > length(area_vector(m, m.triangles[b]));
    });
    for (std::size_t k = 2; k < list.size(); ++k) {
      gone[list[k]] = 1;
      ++mended.dropped;
    }
  }
  std::vector<Triangle> kept;
  for (std::size_t k = 0; k < m.triangles.size(); ++k)
    if (gone[k] == 0) kept.push_back(m.triangles[k]);
  m.triangles = std::move(kept);
}

bool runs(const Triangle& t, std::uint32_t a, std::uint32_t b) {
  for (std::size_t c = 0; c < 3; ++c)
    if (t[c] == a && t[(c + 1) % 3] == b) return true;
  return false;
}

// Whether two triangles run along a common edge in the same way, as they must not.
bool run_alike(const Triangle& a, const Triangle& b) {
  for (std::size_t c = 0; c < 3; ++c)
    if (runs(b, a[c], a[(c + 1) % 3])) return true;
  return false;
}

// Neighbours run along their common edge in opposite ways; pieces as numbers from 0.
std::vector<std::uint32_t> agree(TriangleMesh& m) {
  std::map<Side, std::vector<std::uint32_t>> users;
  for (std::uint32_t k = 0; k < m.triangles.size(); ++k)
    for (std::size_t c = 0; c < 3; ++c)
      users[side(m.triangles[k][c], m.triangles[k][(c + 1) % 3])].push_back(k);
  constexpr std::uint32_t kNone = ~0U;
  std::vector<std::uint32_t> piece(m.triangles.size(), kNone);
  std::uint32_t pieces = 0;
  for (std::uint32_t first = 0; first < m.triangles.size(); ++first) {
    if (piece[first] != kNone) continue;
    std::vector<std::uint32_t> open{first};
    piece[first] = pieces;
    while (!open.empty()) {
      const std::uint32_t k = open.back();
      open.pop_back();
      const Triangle t = m.triangles[k];
      for (std::size_t c = 0; c < 3; ++c)
        for (const std::uint32_t n : users[side(t[c], t[(c + 1) % 3])]) {
          if (piece[n] != kNone) continue;
          piece[n] = pieces;
          open.push_back(n);
          if (runs(m.triangles[n], t[c], t[(c + 1) % 3]))
            std::swap(m.triangles[n][1], m.triangles[n][2]);
        }
    }
    ++pieces;
  }
  return piece;
}

// Each piece so that its volume is positive.
void turn_outside_out(TriangleMesh& m) {
  const std::vector<std::uint32_t> piece = agree(m);
  std::map<std::uint32_t, double> volume;
  const Vec3 about = m.points.empty() ? Vec3{} : m.points.front();
  for (std::size_t k = 0; k < m.triangles.size(); ++k) {
    const Triangle& t = m.triangles[k];
    volume[piece[k]] +=
        dot(m.points[t[0]] - about, cross(m.points[t[1]] - about, m.points[t[2]] - about));
  }
  for (std::size_t k = 0; k < m.triangles.size(); ++k)
    if (volume[piece[k]] < 0.0) std::swap(m.triangles[k][1], m.triangles[k][2]);
}

// Borders as loops that run against their triangles, so that what fills them agrees.
std::vector<std::vector<std::uint32_t>> openings(const TriangleMesh& m, std::size_t& tangled) {
  std::set<Side> there;
  for (const Triangle& t : m.triangles)
    for (std::size_t c = 0; c < 3; ++c) there.insert({t[c], t[(c + 1) % 3]});
  std::map<std::uint32_t, std::vector<std::uint32_t>> next;
  for (const auto& [a, b] : there)
    if (!there.contains({b, a})) next[b].push_back(a);
  std::vector<std::vector<std::uint32_t>> loops;
  while (!next.empty()) {
    std::vector<std::uint32_t> loop{next.begin()->first};
    while (true) {
      const auto at = next.find(loop.back());
      if (at == next.end()) break;
      const std::uint32_t to = at->second.back();
      at->second.pop_back();
      if (at->second.empty()) next.erase(at);
      // A place met again closes a loop of its own.
      const auto before = std::find(loop.begin(), loop.end(), to);
      if (before == loop.end()) {
        loop.push_back(to);
        continue;
      }
      loops.emplace_back(before, loop.end());
      loop.erase(before + 1, loop.end());
      if (loop.size() == 1) break;
    }
    if (loop.size() > 1) ++tangled;
  }
  return loops;
}

// The triangulation of least area: the cheapest way to close each run i … k of the border, from short runs to long ones.
std::vector<Triangle> least_area(const TriangleMesh& m, const std::vector<std::uint32_t>& loop) {
  const std::size_t n = loop.size();
  std::vector<double> cost(n * n, 0.0);
  std::vector<std::size_t> middle(n * n, 0);
  for (std::size_t run = 2; run < n; ++run)
    for (std::size_t i = 0; i + run < n; ++i) {
      const std::size_t k = i + run;
      cost[i * n + k] = 1e300;
      for (std::size_t j = i + 1; j < k; ++j) {
        const double c =
            cost[i * n + j] + cost[j * n + k] + length(area_vector(m, {loop[i], loop[j], loop[k]}));
        if (c >= cost[i * n + k]) continue;
        cost[i * n + k] = c;
        middle[i * n + k] = j;
      }
    }
  std::vector<Triangle> made;
  std::vector<std::pair<std::size_t, std::size_t>> open{{0, n - 1}};
  while (!open.empty()) {
    const auto [i, k] = open.back();
    open.pop_back();
    if (k - i < 2) continue;
    const std::size_t j = middle[i * n + k];
    made.push_back({loop[i], loop[j], loop[k]});
    open.emplace_back(i, j);
    open.emplace_back(j, k);
  }
  return made;
}

void fill(TriangleMesh& m, const std::vector<std::uint32_t>& loop) {
  constexpr std::size_t kMost = 300;
  if (loop.size() <= kMost) {
    for (const Triangle& t : least_area(m, loop)) m.triangles.push_back(t);
    return;
  }
  Vec3 middle;
  for (const std::uint32_t v : loop) middle += m.points[v] / static_cast<double>(loop.size());
  const auto centre = static_cast<std::uint32_t>(m.points.size());
  m.points.push_back(middle);
  for (std::size_t k = 0; k < loop.size(); ++k)
    m.triangles.push_back({loop[k], loop[(k + 1) % loop.size()], centre});
}

}  // namespace

Repaired repaired(const TriangleMesh& mesh, double near, Progress& progress) {
  Repaired r{mesh, {}};
  r.mesh.normals.clear();
  weld(r.mesh, near, r.mended);
  progress.check();
  drop_third_ones(r.mesh, r.mended);
  progress.check();
  const std::vector<Triangle> came = r.mesh.triangles;
  (void)agree(r.mesh);
  for (const std::vector<std::uint32_t>& loop : openings(r.mesh, r.mended.left_open)) {
    progress.check();
    if (loop.size() < 3) continue;
    fill(r.mesh, loop);
    ++r.mended.filled;
  }
  turn_outside_out(r.mesh);
  for (std::size_t k = 0; k < came.size(); ++k)
    if (!runs(came[k], r.mesh.triangles[k][0], r.mesh.triangles[k][1])) ++r.mended.turned;
  return r;
}

std::size_t turn_alike(TriangleMesh& m) {
  struct Use {
    std::uint64_t side;
    std::uint32_t triangle;
    bool operator<(const Use& o) const {
      return side != o.side ? side < o.side : triangle < o.triangle;
    }
  };
  std::vector<Use> uses;
  uses.reserve(3 * m.triangles.size());
  for (std::uint32_t k = 0; k < m.triangles.size(); ++k)
    for (std::size_t c = 0; c < 3; ++c) {
      const Side s = side(m.triangles[k][c], m.triangles[k][(c + 1) % 3]);
      uses.push_back({std::uint64_t{s.first} << 32U | s.second, k});
    }
  std::sort(uses.begin(), uses.end());
  // Of each triangle the neighbours across its three sides.
  constexpr std::uint32_t kNone = ~0U;
  std::vector<std::array<std::uint32_t, 3>> beside(m.triangles.size(), {kNone, kNone, kNone});
  for (std::size_t k = 0; k < uses.size();) {
    std::size_t end = k + 1;
    while (end < uses.size() && uses[end].side == uses[k].side) ++end;
    if (end == k + 2)
      for (const auto& [mine, other] : {std::pair{k, k + 1}, {k + 1, k}}) {
        auto& list = beside[uses[mine].triangle];
        *std::find(list.begin(), list.end() - 1, kNone) = uses[other].triangle;
      }
    k = end;
  }
  std::size_t turned = 0;
  std::vector<char> seen(m.triangles.size(), 0), other(m.triangles.size(), 0);
  std::vector<std::uint32_t> piece;
  for (std::uint32_t first = 0; first < m.triangles.size(); ++first) {
    if (seen[first] != 0) continue;
    piece.assign(1, first);
    seen[first] = 1;
    std::size_t against = 0;
    for (std::size_t at = 0; at < piece.size(); ++at) {
      const std::uint32_t k = piece[at];
      for (const std::uint32_t n : beside[k]) {
        if (n == kNone || seen[n] != 0) continue;
        seen[n] = 1;
        const bool same_way = run_alike(m.triangles[k], m.triangles[n]);
        other[n] = static_cast<char>((other[k] != 0) != same_way);
        against += other[n] != 0 ? 1 : 0;
        piece.push_back(n);
      }
    }
    const bool most = 2 * against > piece.size();
    for (const std::uint32_t k : piece)
      if ((other[k] != 0) != most) {
        std::swap(m.triangles[k][1], m.triangles[k][2]);
        ++turned;
      }
  }
  if (turned > 0) m.normals.clear();
  return turned;
}

}  // namespace evenclay
