// Which repeats of a pattern lie whole on trimmed faces.
#include <algorithm>
#include <cmath>

#include "core/body/region.h"
#include "core/pattern/flow.h"

namespace evenclay {

namespace {

// Whether a segment has a place inside the open rectangle. Source: clipping of the parameter along it
// (C. Cyrus, J. Beck 1978, from memory).
bool enters(const Parameter& a, const Parameter& b, const Region& r) {
  double from = 0.0;
  double to = 1.0;
  const auto clip = [&](double start, double way, double low, double high) {
    if (way == 0.0) return start > low && start < high;
    double x = (low - start) / way;
    double y = (high - start) / way;
    if (x > y) std::swap(x, y);
    from = std::max(from, x);
    to = std::min(to, y);
    return from < to;
  };
  return clip(a.u, b.u - a.u, r.u_begin, r.u_end) && clip(a.v, b.v - a.v, r.v_begin, r.v_end);
}

// The seam of a closed face is in its loops, but is no border: a tile may lie across it.
bool on_seam(const KnotVector& k, double a, double b) {
  const double hair = 1e-9 * k.length();
  const auto at = [&](double x, double end) { return std::abs(x - end) < hair; };
  return k.periodic &&
         ((at(a, k.first()) && at(b, k.first())) || (at(a, k.last()) && at(b, k.last())));
}

// A face with its loops as polygons.
struct Bordered {
  const Surface* surface;
  FaceRegion inside;
  std::vector<std::vector<Parameter>> loops;

  explicit Bordered(const ChartCell& cell) : surface(cell.surface.get()), inside(cell.face) {
    for (const Loop& loop : cell.face.loops) loops.push_back(loop_polygon(loop, *cell.surface));
  }
  bool crossed(const Region& r) const {
    const Surface& s = *surface;
    for (const auto& loop : loops)
      for (std::size_t k = 0; k < loop.size(); ++k) {
        const Parameter& a = loop[k];
        const Parameter& b = loop[(k + 1) % loop.size()];
        if (on_seam(s.u, a.u, b.u) || on_seam(s.v, a.v, b.v)) continue;
        // Loops may be written one turn on in a closed direction.
        for (const double du : {0.0, s.u.length(), -s.u.length()})
          for (const double dv : {0.0, s.v.length(), -s.v.length()}) {
            if ((du != 0.0 && !s.u.periodic) || (dv != 0.0 && !s.v.periodic)) continue;
            if (enters({a.u + du, a.v + dv}, {b.u + du, b.v + dv}, r)) return true;
          }
      }
    return false;
  }
  bool holds(const Region& r) const {
    if (loops.empty()) return true;
    return inside.contains(0.5 * (r.u_begin + r.u_end), 0.5 * (r.v_begin + r.v_end)) && !crossed(r);
  }
};

// A repeat along one direction, cut where one column ends and the next begins.
struct Stretch {
  int cell;
  double begin, end;
};
std::vector<Stretch> stretches(const Spread& spread, double from, double to) {
  std::vector<double> ends{from};
  for (const double e : spread.inner_ends())
    if (e > from + 1e-12 && e < to - 1e-12) ends.push_back(e);
  ends.push_back(to);
  std::vector<Stretch> result;
  for (std::size_t k = 0; k + 1 < ends.size(); ++k) {
    // Both ends in the parameters of the column in between.
    const Spread::Place middle = spread.at(0.5 * (ends[k] + ends[k + 1]));
    const double hair = 1e-12 * (ends[k + 1] - ends[k]);
    result.push_back({middle.cell, spread.at(ends[k] + hair).parameter,
                      spread.at(ends[k + 1] - hair).parameter});
  }
  return result;
}

}  // namespace

std::vector<bool> whole_tiles(const Chart& chart, const FlowOptions& o) {
  bool trimmed = false;
  for (const ChartCell& c : chart.cells.values()) trimmed = trimmed || c.face.trimmed();
  if (!trimmed) return {};
  const Spread along_s(chart, Direction::U, o.region, o.even);
  const Spread along_t(chart, Direction::V, o.region, o.even);
  std::vector<Bordered> faces;
  for (const ChartCell& c : chart.cells.values()) faces.emplace_back(c);
  std::vector<bool> made;
  for (int a = 0; a < o.count_u; ++a)
    for (int b = 0; b < o.count_v; ++b) {
      bool whole = true;
      for (const Stretch& u : stretches(along_s, static_cast<double>(a) / o.count_u,
                                        static_cast<double>(a + 1) / o.count_u))
        for (const Stretch& v : stretches(along_t, static_cast<double>(b) / o.count_v,
                                          static_cast<double>(b + 1) / o.count_v))
          whole = whole &&
                  faces[static_cast<std::size_t>(u.cell * chart.cells.columns() + v.cell)].holds(
                      {u.begin, u.end, v.begin, v.end});
      made.push_back(whole);
    }
  return made;
}

}  // namespace evenclay
