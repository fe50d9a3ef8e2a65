#include "core/points/selection.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <vector>

namespace evenclay {

Selection row_through(const Nets& nets, PointIndex at, int direction) {
  if (nets.of(at).form() != nullptr) return {at};
  Selection result;
  for (int k = 0; k < nets.of(at).count(direction); ++k)
    result.insert(with_place(at, direction, k));
  return result;
}

namespace {

// Steps from p to the nearest end of the first two directions.
int steps_from_edge(const Net& net, PointIndex p) {
  const int i = std::min(p.i, net.count(0) - 1 - p.i);
  const int j = std::min(p.j, net.count(1) - 1 - p.j);
  return std::min(i, j);
}

}  // namespace

Selection ring_through(const Nets& nets, PointIndex at) {
  const Net& net = nets.of(at);
  if (net.form() != nullptr) return {at};
  for (int d = 0; d < net.directions(); ++d)
    if (net.closed(d)) return row_through(nets, at, d);
  if (net.directions() == 1) return row_through(nets, at, 0);
  Selection result;
  const int steps = steps_from_edge(net, at);
  for_each_point(net, at.net, [&](PointIndex p) {
    if (p.k == at.k && steps_from_edge(net, p) == steps) result.insert(p);
  });
  return result;
}

Selection points_where(const Nets& nets, const std::function<bool(const Vec3&)>& inside) {
  Selection result;
  for_each_point(nets, [&](PointIndex p) {
    if (inside(nets.point(p))) result.insert(p);
  });
  return result;
}

Selection net_lines_where(const Nets& nets, const std::function<bool(const Vec3&)>& inside,
                          bool whole) {
  Selection result;
  for_each_point(nets, [&](PointIndex p) {
    for (int d = 0; d < nets.of(p).directions(); ++d) {
      if (place_along(p, d) != 0) continue;  // each row once, from its first point
      const Selection row = row_through(nets, p, d);
      const auto count = std::count_if(row.begin(), row.end(),
                                       [&](PointIndex q) { return inside(nets.point(q)); });
      if (count == static_cast<long>(row.size()) || (!whole && count >= 2))
        result.insert(row.begin(), row.end());
    }
  });
  return result;
}

Selection grown(const Nets& nets, const Selection& picked) {
  Selection result = picked;
  for (const PointIndex& p : picked)
    for_each_neighbour(nets.of(p), p, [&](PointIndex q) { result.insert(q); });
  return result;
}

Selection shrunk(const Nets& nets, const Selection& picked) {
  const auto inner = [&](PointIndex p) {
    bool all = true;
    for_each_neighbour(nets.of(p), p, [&](PointIndex q) { all = all && picked.contains(q); });
    return all;
  };
  Selection result;
  for (const PointIndex& p : picked)
    if (inner(p)) result.insert(p);
  return result;
}

Selection every_nth(const Selection& picked, int direction, int n, int start) {
  std::map<PointIndex, std::vector<PointIndex>> rows;  // by the place where the row begins
  for (const PointIndex& p : picked) rows[with_place(p, direction, 0)].push_back(p);
  Selection result;
  for (const auto& [begin, points] : rows) {
    const int first = place_along(points.front(), direction);
    for (const PointIndex& p : points) {
      const int passed = place_along(p, direction) - first;
      if (points.size() == 1 || (passed >= start && (passed - start) % n == 0)) result.insert(p);
    }
  }
  return result;
}

Selection checker(const Selection& picked, bool other) {
  Selection result;
  for (const PointIndex& p : picked)
    if (((p.i + p.j + p.k) % 2 == 1) == other) result.insert(p);
  return result;
}

namespace {

// The points of the way of fewest edges, the shortest of those.
Selection way_between(const Net& net, PointIndex from, PointIndex to) {
  std::map<PointIndex, std::pair<double, PointIndex>> reached{{to, {0.0, to}}};
  std::vector<PointIndex> ring{to};
  while (!ring.empty() && !reached.contains(from)) {
    std::map<PointIndex, std::pair<double, PointIndex>> next;
    for (const PointIndex& p : ring)
      for_each_neighbour(net, p, [&](PointIndex q) {
        if (reached.contains(q)) return;
        const double way =
            reached.at(p).first + distance(net.point(p.i, p.j, p.k), net.point(q.i, q.j, q.k));
        const auto [found, fresh] = next.try_emplace(q, std::pair{way, p});
        if (!fresh && way < found->second.first) found->second = {way, p};
      });
    ring.clear();
    for (const auto& [q, how] : next) {
      reached[q] = how;
      ring.push_back(q);
    }
  }
  Selection result{from, to};
  if (reached.contains(from))
    for (PointIndex p = from; p != to; p = reached.at(p).second) result.insert(p);
  return result;
}

}  // namespace

Selection range_between(const Nets& nets, PointIndex from, PointIndex to) {
  const Selection both{from, to};
  if (from.net != to.net) return both;
  const Net& net = nets.of(from);
  if (net.form() != nullptr) return way_between(net, from, to);
  for (int d = 0; d < net.directions(); ++d) {
    if (with_place(from, d, 0) != with_place(to, d, 0)) continue;
    const int count = net.count(d);
    const int a = place_along(from, d);
    const int b = place_along(to, d);
    int step = b >= a ? 1 : -1;
    if (net.closed(d) && std::abs(b - a) * 2 > count) step = -step;
    Selection result = both;
    for (int k = a; k != b; k = (k + step + count) % count) result.insert(with_place(from, d, k));
    return result;
  }
  return both;
}

Selection with_united(const Nets& nets, const Selection& selection) {
  Selection result = selection;
  for (const PointIndex& p : selection)
    if (const auto found = nets.united_of.find(p); found != nets.united_of.end()) {
      const auto& all = nets.united[found->second];
      result.insert(all.begin(), all.end());
    }
  return result;
}

std::optional<int> row_direction(const Selection& picked) {
  if (picked.size() < 2) return std::nullopt;
  for (int d = 0; d < 3; ++d) {
    std::map<int, PointIndex> begins;  // of each net; a row may go on in the next surface
    if (std::all_of(picked.begin(), picked.end(), [&](const PointIndex& p) {
          const PointIndex begin = with_place(p, d, 0);
          return begins.try_emplace(p.net, begin).first->second == begin;
        }))
      return d;
  }
  return std::nullopt;
}

}  // namespace evenclay
