#include "core/points/symmetry.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <functional>
#include <limits>
#include <map>

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

}  // namespace

std::vector<SymmetryPlane> planes_of(SymmetryPlane choice) {
  using enum SymmetryPlane;
  switch (choice) {
    case None:
      return {};
    case YZAndXZ:
      return {YZ, XZ};
    case XZAndXY:
      return {XZ, XY};
    case YZAndXY:
      return {YZ, XY};
    case All:
      return {YZ, XZ, XY};
    default:
      return {choice};
  }
}

Vec3 mirrored(const Vec3& p, SymmetryPlane plane) {
  switch (plane) {
    case SymmetryPlane::YZ:
      return {-p.x, p.y, p.z};
    case SymmetryPlane::XZ:
      return {p.x, -p.y, p.z};
    case SymmetryPlane::XY:
      return {p.x, p.y, -p.z};
    default:
      break;
  }
  return p;
}

double side_of(const Vec3& p, SymmetryPlane plane) {
  return plane == SymmetryPlane::YZ ? p.x : (plane == SymmetryPlane::XZ ? p.y : p.z);
}

namespace {

// An index map of one direction: k → (±k + shift) mod n, or reversal when not closed.
std::vector<std::vector<int>> index_maps(int n, bool closed) {
  std::vector<std::vector<int>> maps;
  const auto add = [&](auto&& f) {
    std::vector<int> map;
    for (int i = 0; i < n; ++i) map.push_back(f(i));
    maps.push_back(std::move(map));
  };
  if (!closed) {
    add([](int i) { return i; });
    if (n > 1) add([n](int i) { return n - 1 - i; });
    return maps;
  }
  for (int shift = 0; shift < n; ++shift) {
    add([=](int i) { return (i + shift) % n; });
    add([=](int i) { return (shift - i + n) % n; });
  }
  return maps;
}

using Maps = std::array<const std::vector<int>*, 3>;

PointIndex image(PointIndex p, int net, const Maps& m) {
  return {net, (*m[0])[at(p.i)], (*m[1])[at(p.j)], (*m[2])[at(p.k)]};
}

// Greatest gap between the mirror image of net `a` and net `b` under the maps.
double mismatch(const Nets& nets, int a, int b, SymmetryPlane plane, const Maps& maps,
                double give_up) {
  double worst = 0.0;
  const Net& net = nets.nets[at(a)];
  for (int i = 0; i < net.count(0); ++i)
    for (int j = 0; j < net.count(1); ++j)
      for (int k = 0; k < net.count(2); ++k) {
        const PointIndex p{a, i, j, k};
        worst = std::max(worst,
                         distance(mirrored(nets.point(p), plane), nets.point(image(p, b, maps))));
        if (worst > give_up) return worst;
      }
  return worst;
}

bool same_counts(const Net& a, const Net& b) {
  for (int d = 0; d < 3; ++d)
    if (a.count(d) != b.count(d) || a.closed(d) != b.closed(d)) return false;
  return true;
}

// The best map of net `a` onto any net of the part, with a gap of at most `tolerance`.
bool map_net(const Nets& nets, int a, double tolerance, MirrorMap& result) {
  const Net& net = nets.nets[at(a)];
  std::array<std::vector<std::vector<int>>, 3> maps;
  for (int d = 0; d < 3; ++d) maps[at(d)] = index_maps(net.count(d), net.closed(d));
  bool found = false;
  double best = tolerance;
  for (int b = 0; b < static_cast<int>(nets.nets.size()); ++b) {
    if (!same_counts(net, nets.nets[at(b)])) continue;
    for (const auto& mu : maps[0])
      for (const auto& mv : maps[1])
        for (const auto& mw : maps[2]) {
          const Maps m{&mu, &mv, &mw};
          const double gap = mismatch(nets, a, b, result.plane, m, best);
          if (gap > best || (found && gap == best)) continue;
          found = true;
          best = gap;
          for_each_point(net, a, [&](PointIndex p) { result.partner(p) = image(p, b, m); });
        }
  }
  if (found) result.worst_gap = std::max(result.worst_gap, best);
  return found;
}

}  // namespace

namespace {

// Points in the cells of a grid, so that the nearest within a distance is found at once.
class Cells {
 public:
  Cells(const Nets& nets, double near) : nets_(nets), side_(2.0 * std::max(near, 1e-9)) {
    for_each_point(nets, [&](PointIndex p) { points_[cell(nets.point(p), {})].push_back(p); });
  }
  std::optional<PointIndex> nearest(const Vec3& place) const {
    std::optional<PointIndex> best;
    for (const int x : {-1, 0, 1})
      for (const int y : {-1, 0, 1})
        for (const int z : {-1, 0, 1}) {
          const auto found = points_.find(cell(place, {x, y, z}));
          if (found == points_.end()) continue;
          for (const PointIndex& q : found->second)
            if (!best || distance(nets_.point(q), place) < distance(nets_.point(*best), place))
              best = q;
        }
    return best;
  }

 private:
  using Cell = std::array<double, 3>;  // whole numbers, however great
  Cell cell(const Vec3& p, const std::array<int, 3>& beside) const {
    return {std::floor(p.x / side_) + beside[0], std::floor(p.y / side_) + beside[1],
            std::floor(p.z / side_) + beside[2]};
  }
  const Nets& nets_;
  double side_;
  std::map<Cell, std::vector<PointIndex>> points_;
};

// Of forms, which have no rows, the nearest point is the partner when each is the other's.
std::optional<MirrorMap> mirror_of_forms(const Nets& nets, SymmetryPlane plane, double tolerance) {
  MirrorMap result{plane, PerPoint<PointIndex>(nets), true, 0.0};
  const Cells cells(nets, tolerance);
  bool found = true;
  for_each_point(nets, [&](PointIndex p) {
    if (!found) return;
    const Vec3 there = mirrored(nets.point(p), plane);
    const auto q = cells.nearest(there);
    const double gap = q ? distance(nets.point(*q), there) : tolerance + 1.0;
    found = gap <= tolerance;
    if (!found) return;
    result.partner(p) = *q;
    result.worst_gap = std::max(result.worst_gap, gap);
  });
  for_each_point(nets,
                 [&](PointIndex p) { found = found && result.partner(result.partner(p)) == p; });
  if (!found) return std::nullopt;
  return result;
}

}  // namespace

std::optional<MirrorMap> find_mirror(const Nets& nets, SymmetryPlane plane, double tolerance) {
  if (plane == SymmetryPlane::None) return std::nullopt;
  if (!nets.empty() && nets.nets.front().form() != nullptr)
    return mirror_of_forms(nets, plane, tolerance);
  MirrorMap result{plane, PerPoint<PointIndex>(nets), true, 0.0};
  bool found = true;
  for (int n = 0; found && n < static_cast<int>(nets.nets.size()); ++n)
    found = map_net(nets, n, tolerance, result);
  if (found) return result;
  result.on_grid = false;
  result.worst_gap = 0.0;
  for_each_point(nets, [&](PointIndex p) {
    if (result.worst_gap > tolerance) return;
    const Vec3 there = mirrored(nets.point(p), plane);
    double nearest = std::numeric_limits<double>::infinity();
    for_each_point(nets, [&](PointIndex q) {
      if (const double d = distance(there, nets.point(q)); d < nearest) {
        nearest = d;
        result.partner(p) = q;
      }
    });
    result.worst_gap = std::max(result.worst_gap, nearest);
  });
  if (result.worst_gap > tolerance) return std::nullopt;
  return result;
}

std::optional<std::vector<MirrorMap>> find_mirrors(const Nets& nets, SymmetryPlane choice,
                                                   double tolerance) {
  std::vector<MirrorMap> result;
  for (const SymmetryPlane plane : planes_of(choice)) {
    auto map = find_mirror(nets, plane, tolerance);
    if (!map) return std::nullopt;
    result.push_back(std::move(*map));
  }
  return result;
}

}  // namespace evenclay
