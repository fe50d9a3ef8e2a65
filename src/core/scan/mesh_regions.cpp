#include "core/scan/mesh_regions.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <queue>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

constexpr std::uint32_t kNone = MeshRegions::kNone;
constexpr int kRounds = 4;  // means taken anew

using Triangles = std::vector<std::uint32_t>;

std::uint64_t way(std::uint32_t from, std::uint32_t to) {
  return (std::uint64_t{from} << 32U) | to;
}

class Divider {
 public:
  Divider(const TriangleMesh& mesh, double sharp, double turn, std::uint32_t most,
          Progress& progress)
      : mesh_(mesh), turn_(std::cos(turn)), most_(most), progress_(progress) {
    measure();
    connect(std::cos(sharp));
    mark_.assign(mesh.triangles.size(), kNone);
  }

  MeshRegions run() {
    std::vector<Triangles> waiting = pieces();
    while (!waiting.empty()) {
      progress_.check();
      Triangles now = std::move(waiting.back());
      waiting.pop_back();
      if (now.size() == 1 || narrow(now, mean_of(now))) {
        take(std::move(now));
        continue;
      }
      auto [a, b] = halved(now);
      waiting.push_back(std::move(a));
      waiting.push_back(std::move(b));
    }
    merge();
    return numbered();
  }

 private:
  void measure() {
    for (const auto& t : mesh_.triangles) {
      const Vec3& a = mesh_.points[t[0]];
      const Vec3 n = cross(mesh_.points[t[1]] - a, mesh_.points[t[2]] - a);
      area_.push_back(length(n));
      normal_.push_back(area_.back() > 0.0 ? n / area_.back() : Vec3{});
    }
  }

  void connect(double least_cosine) {
    std::unordered_map<std::uint64_t, std::uint32_t> from;
    for (std::uint32_t t = 0; t < mesh_.triangles.size(); ++t)
      for (std::size_t k = 0; k < 3; ++k)
        from[way(mesh_.triangles[t][k], mesh_.triangles[t][(k + 1) % 3])] = t;
    beside_.assign(mesh_.triangles.size(), {kNone, kNone, kNone});
    for (std::uint32_t t = 0; t < mesh_.triangles.size(); ++t)
      for (std::size_t k = 0; k < 3; ++k) {
        const auto it = from.find(way(mesh_.triangles[t][(k + 1) % 3], mesh_.triangles[t][k]));
        if (it == from.end() || area_[t] <= 0.0 || area_[it->second] <= 0.0) continue;
        if (dot(normal_[t], normal_[it->second]) >= least_cosine) beside_[t][k] = it->second;
      }
  }

  std::vector<Triangles> pieces() const {
    std::vector<Triangles> all;
    std::vector<bool> seen(mesh_.triangles.size());
    for (std::uint32_t first = 0; first < seen.size(); ++first) {
      if (seen[first] || area_[first] <= 0.0) continue;
      Triangles piece{first};
      seen[first] = true;
      for (std::size_t k = 0; k < piece.size(); ++k)
        for (const std::uint32_t next : beside_[piece[k]])
          if (next != kNone && !seen[next]) {
            seen[next] = true;
            piece.push_back(next);
          }
      all.push_back(std::move(piece));
    }
    return all;
  }

  Vec3 mean_of(const Triangles& triangles) const {
    Vec3 sum;
    for (const std::uint32_t t : triangles) sum += normal_[t] * area_[t];
    return length(sum) > 0.0 ? normalized(sum) : Vec3{};
  }

  bool narrow(const Triangles& triangles, const Vec3& mean) const {
    return std::all_of(triangles.begin(), triangles.end(),
                       [&](std::uint32_t t) { return dot(normal_[t], mean) >= turn_; });
  }

  // Of the triangles that one whose normal is most, or least, like `to`.
  std::uint32_t extreme(const Triangles& triangles, const Vec3& to, bool most) const {
    return *std::max_element(triangles.begin(), triangles.end(), [&](auto a, auto b) {
      const double da = dot(normal_[a], to), db = dot(normal_[b], to);
      return da != db ? (most ? da < db : da > db) : a > b;
    });
  }

  std::array<Triangles, 2> halved(const Triangles& all) {
    std::array<std::uint32_t, 2> seeds{};
    seeds[0] = extreme(all, mean_of(all), false);
    seeds[1] = extreme(all, normal_[seeds[0]], false);
    std::array<Triangles, 2> halves;
    for (int round = 0;; ++round) {
      halves = grown(all, seeds);
      if (round == kRounds) break;
      for (std::size_t k = 0; k < 2; ++k) seeds[k] = extreme(halves[k], mean_of(halves[k]), true);
    }
    return halves;
  }

  std::array<Triangles, 2> grown(const Triangles& all, const std::array<std::uint32_t, 2>& seeds) {
    struct Next {
      double cost;
      std::uint32_t triangle, side;
      bool operator<(const Next& o) const {  // the cheapest first
        return cost != o.cost ? cost > o.cost : triangle > o.triangle;
      }
    };
    constexpr std::uint32_t kWaiting = kNone - 1;
    for (const std::uint32_t t : all) mark_[t] = kWaiting;
    std::priority_queue<Next> queue;
    for (std::uint32_t side = 0; side < 2; ++side) queue.push({-1.0, seeds[side], side});
    std::array<Triangles, 2> halves;
    while (!queue.empty()) {
      const Next n = queue.top();
      queue.pop();
      if (mark_[n.triangle] != kWaiting) continue;
      mark_[n.triangle] = n.side;
      halves[n.side].push_back(n.triangle);
      const Vec3& proxy = normal_[seeds[n.side]];
      for (const std::uint32_t next : beside_[n.triangle])
        if (next != kNone && mark_[next] == kWaiting) {
          const Vec3 off = normal_[next] - proxy;
          queue.push({dot(off, off) * area_[next], next, n.side});
        }
    }
    for (const std::uint32_t t : all) mark_[t] = kNone;
    return halves;
  }

  void take(Triangles triangles) {
    regions_.push_back(std::move(triangles));
    if (regions_.size() > most_)
      throw Error(
          say("The mesh falls apart into more than {} regions. Take a greater angle for "
              "sharp edges, clip "
              "a region of it, or smooth it first.",
              most_));
  }

  // Halving leaves more regions than are needed: those that stay narrow together become one, small ones first.
  void merge() {
    std::vector<std::uint32_t> of(mesh_.triangles.size(), kNone);
    const auto number = [&](std::uint32_t r) {
      for (const std::uint32_t t : regions_[r]) of[t] = r;
    };
    for (std::uint32_t r = 0; r < regions_.size(); ++r) number(r);
    for (bool again = true; again;) {
      again = false;
      std::vector<std::uint32_t> order;
      for (std::uint32_t r = 0; r < regions_.size(); ++r)
        if (!regions_[r].empty()) order.push_back(r);
      std::sort(order.begin(), order.end(), [&](auto a, auto b) {
        return std::pair(regions_[a].size(), a) < std::pair(regions_[b].size(), b);
      });
      for (const std::uint32_t r : order) {
        progress_.check();
        if (regions_[r].empty()) continue;
        const std::uint32_t into = best_neighbour(r, of);
        if (into == kNone) continue;
        regions_[into].insert(regions_[into].end(), regions_[r].begin(), regions_[r].end());
        regions_[r].clear();
        number(into);
        again = true;
      }
    }
  }

  // With which it shares the most edges, of those it may join.
  std::uint32_t best_neighbour(std::uint32_t r, const std::vector<std::uint32_t>& of) const {
    std::map<std::uint32_t, int> shared;
    for (const std::uint32_t t : regions_[r])
      for (const std::uint32_t next : beside_[t])
        if (next != kNone && of[next] != r) ++shared[of[next]];
    std::uint32_t best = kNone;
    int most = 0;
    for (const auto& [other, edges] : shared) {
      if (edges <= most) continue;
      Triangles both = regions_[r];
      both.insert(both.end(), regions_[other].begin(), regions_[other].end());
      if (!narrow(both, mean_of(both))) continue;
      most = edges;
      best = other;
    }
    return best;
  }

  MeshRegions numbered() const {
    MeshRegions result{std::vector<std::uint32_t>(mesh_.triangles.size(), kNone), 0};
    std::vector<std::uint32_t> raw(mesh_.triangles.size(), kNone);
    for (std::uint32_t r = 0; r < regions_.size(); ++r)
      for (const std::uint32_t t : regions_[r]) raw[t] = r;
    std::vector<std::uint32_t> number(regions_.size(), kNone);
    for (std::size_t t = 0; t < raw.size(); ++t) {
      if (raw[t] == kNone) continue;
      if (number[raw[t]] == kNone) number[raw[t]] = result.count++;
      result.of[t] = number[raw[t]];
    }
    return result;
  }

  const TriangleMesh& mesh_;
  double turn_;
  std::uint32_t most_;
  Progress& progress_;
  std::vector<double> area_;
  std::vector<Vec3> normal_;
  std::vector<std::array<std::uint32_t, 3>> beside_;
  std::vector<std::uint32_t> mark_;
  std::vector<Triangles> regions_;
};

}  // namespace

MeshRegions regions_of(const TriangleMesh& mesh, double sharp, double turn, std::uint32_t most,
                       Progress& progress) {
  return Divider(mesh, sharp, turn, most, progress).run();
}

std::vector<std::vector<std::uint32_t>> triangles_by_region(const MeshRegions& regions) {
  std::vector<Triangles> all(regions.count);
  for (std::uint32_t t = 0; t < regions.of.size(); ++t)
    if (regions.of[t] != kNone) all[regions.of[t]].push_back(t);
  return all;
}

std::vector<std::vector<std::uint32_t>> borders_of(const TriangleMesh& mesh,
                                                   std::span<const std::uint32_t> triangles) {
  // Each way along an edge of the region, with the vertex that follows it in its triangle.
  std::unordered_map<std::uint64_t, std::uint32_t> after;
  std::vector<std::uint64_t> ways;
  for (const std::uint32_t t : triangles) {
    const auto& v = mesh.triangles[t];
    for (std::size_t k = 0; k < 3; ++k) {
      after[way(v[k], v[(k + 1) % 3])] = v[(k + 2) % 3];
      ways.push_back(way(v[k], v[(k + 1) % 3]));
    }
  }
  const auto back = [](std::uint64_t w) { return (w << 32U) | (w >> 32U); };
  const auto outer = [&](std::uint64_t w) { return after.count(back(w)) == 0; };
  std::vector<std::vector<std::uint32_t>> loops;
  std::unordered_map<std::uint64_t, char> walked;
  for (const std::uint64_t first : ways) {
    if (!outer(first) || walked.count(first) != 0) continue;
    std::vector<std::uint32_t> loop;
    for (std::uint64_t w = first; walked.emplace(w, 1).second;) {
      loop.push_back(static_cast<std::uint32_t>(w >> 32U));
      // Round the end of the way, through the region, to the next outer one.
      const auto end = static_cast<std::uint32_t>(w & 0xffffffffU);
      std::uint64_t next = way(end, after.at(w));
      for (std::size_t guard = 0; !outer(next) && guard < ways.size(); ++guard)
        next = way(end, after.at(back(next)));
      w = next;
    }
    loops.push_back(std::move(loop));
  }
  return loops;
}

}  // namespace evenclay
