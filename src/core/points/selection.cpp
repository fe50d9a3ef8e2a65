#include "core/points/selection.h"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <vector>

namespace evenclay {

Selection row_through(const Surface& s, PointIndex at, bool along_u) {
  Selection result;
  const int count = along_u ? s.points.rows() : s.points.columns();
  for (int k = 0; k < count; ++k)
    result.insert(along_u ? PointIndex{at.surface, k, at.j} : PointIndex{at.surface, at.i, k});
  return result;
}

Selection points_where(const Surface& s, int number,
                       const std::function<bool(const Vec3&)>& inside) {
  Selection result;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j)
      if (inside(s.points(i, j))) result.insert({number, i, j});
  return result;
}

namespace {

// The neighbour a step away; nothing beyond an edge.
std::optional<PointIndex> neighbour(const Surface& s, PointIndex p, int di, int dj) {
  const int rows = s.points.rows();
  const int columns = s.points.columns();
  int i = p.i + di;
  int j = p.j + dj;
  if (s.u.periodic) i = (i + rows) % rows;
  if (s.v.periodic) j = (j + columns) % columns;
  if (i < 0 || i >= rows || j < 0 || j >= columns) return std::nullopt;
  return PointIndex{p.surface, i, j};
}

constexpr std::array<std::pair<int, int>, 4> kAround{{{1, 0}, {-1, 0}, {0, 1}, {0, -1}}};

}  // namespace

Selection grown(const Surface& s, const Selection& picked) {
  Selection result = picked;
  for (const PointIndex& p : picked)
    for (const auto& [di, dj] : kAround)
      if (const auto q = neighbour(s, p, di, dj)) result.insert(*q);
  return result;
}

Selection shrunk(const Surface& s, const Selection& picked) {
  Selection result;
  for (const PointIndex& p : picked) {
    const bool inner = std::all_of(kAround.begin(), kAround.end(), [&](const auto& step) {
      const auto q = neighbour(s, p, step.first, step.second);
      return !q || picked.contains(*q);
    });
    if (inner) result.insert(p);
  }
  return result;
}

Selection every_nth(const Selection& picked, bool along_u, int n, int start) {
  std::map<std::pair<int, int>, std::vector<int>> rows;  // surface and row → places along it
  for (const PointIndex& p : picked)
    rows[{p.surface, along_u ? p.j : p.i}].push_back(along_u ? p.i : p.j);
  Selection result;
  for (const auto& [row, places] : rows) {
    const auto add = [&](int k) {
      result.insert(along_u ? PointIndex{row.first, k, row.second}
                            : PointIndex{row.first, row.second, k});
    };
    if (places.size() == 1) add(places.front());
    if (places.size() > 1)
      for (const int k : places)
        if (k - places.front() >= start && (k - places.front() - start) % n == 0) add(k);
  }
  return result;
}

Selection checker(const Selection& picked, bool other) {
  Selection result;
  for (const PointIndex& p : picked)
    if (((p.i + p.j) % 2 == 1) == other) result.insert(p);
  return result;
}

Selection range_between(const Surface& s, PointIndex from, PointIndex to) {
  Selection result{from, to};
  if (from.surface != to.surface || (from.i != to.i && from.j != to.j)) return result;
  const bool along_u = from.j == to.j;
  const int count = along_u ? s.points.rows() : s.points.columns();
  const bool closed = along_u ? s.u.periodic : s.v.periodic;
  const int a = along_u ? from.i : from.j;
  const int b = along_u ? to.i : to.j;
  int step = b >= a ? 1 : -1;
  if (closed && std::abs(b - a) * 2 > count) step = -step;
  for (int k = a; k != b; k = (k + step + count) % count)
    result.insert(along_u ? PointIndex{from.surface, k, from.j}
                          : PointIndex{from.surface, from.i, k});
  return result;
}

Selection with_whole_poles(const Surface& s, const Selection& selection, double tolerance) {
  Selection result = selection;
  for (const Edge edge : kEdges) {
    if (!is_pole(s, edge, tolerance)) continue;
    const bool of_u = edge == Edge::UMin || edge == Edge::UMax;
    const int last = of_u ? s.points.rows() - 1 : s.points.columns() - 1;
    const int fixed = edge == Edge::UMax || edge == Edge::VMax ? last : 0;
    for (const PointIndex& p : selection)
      if ((of_u ? p.i : p.j) == fixed) {
        const Selection row = row_through(s, p, !of_u);
        result.insert(row.begin(), row.end());
      }
  }
  return result;
}

}  // namespace evenclay
