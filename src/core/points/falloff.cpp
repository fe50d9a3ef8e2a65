#include "core/points/falloff.h"

#include <algorithm>
#include <cmath>

#include "core/points/poles.h"

namespace evenclay {

namespace {

int steps_between(int a, int b, int count, bool closed) {
  const int d = std::abs(a - b);
  return closed ? std::min(d, count - d) : d;
}

// True when all picked points lie in one row along v (the same i), more than one of them.
bool row_along_v(const Selection& picked) {
  if (picked.size() < 2) return false;
  const int i = picked.begin()->i;
  return std::all_of(picked.begin(), picked.end(), [&](const PointIndex& p) { return p.i == i; });
}

}  // namespace

double falloff(FalloffShape shape, double t, double k) {
  if (t >= 1.0) return 0.0;
  t = std::max(t, 0.0);
  switch (shape) {
    case FalloffShape::Rigid:
      return 1.0;
    case FalloffShape::Ramp:
      return 1.0 - t;
    case FalloffShape::Scoop:
      return std::pow(1.0 - t, 1.0 + k);
    case FalloffShape::Dome:
      return 1.0 - std::pow(t, 1.0 + k);
    case FalloffShape::Bell:
      return std::pow(1.0 - t * t * t * (t * (6.0 * t - 15.0) + 10.0), k);
  }
  return 0.0;
}

Grid<double> shares(const Surface& s, const Selection& picked, const Falloff& f) {
  const int rows = s.points.rows();
  const int columns = s.points.columns();
  Grid<double> result(rows, columns);
  const bool v_along = row_along_v(picked);
  const int reach_u = v_along ? f.reach_across : f.reach_along;
  const int reach_v = v_along ? f.reach_along : f.reach_across;
  const auto value = [&](int steps, bool along) {
    const int reach = along ? f.reach_along : f.reach_across;
    return falloff(along ? f.along : f.across, static_cast<double>(steps) / (reach + 1),
                   along ? f.strength_along : f.strength_across);
  };
  for (const PointIndex& p : picked)
    for (int di = -reach_u; di <= reach_u; ++di)
      for (int dj = -reach_v; dj <= reach_v; ++dj) {
        int i = p.i + di;
        int j = p.j + dj;
        if (s.u.periodic) i = ((i % rows) + rows) % rows;
        if (s.v.periodic) j = ((j % columns) + columns) % columns;
        if (i < 0 || i >= rows || j < 0 || j >= columns) continue;
        const int steps_u = steps_between(i, p.i, rows, s.u.periodic);
        const int steps_v = steps_between(j, p.j, columns, s.v.periodic);
        const double share = value(steps_u, !v_along) * value(steps_v, v_along);
        result(i, j) = std::max(result(i, j), share);
      }
  for (const auto& row : pole_rows(s)) {
    double greatest = 0.0;
    for (const PointIndex& p : row) greatest = std::max(greatest, result(p.i, p.j));
    for (const PointIndex& p : row) result(p.i, p.j) = greatest;
  }
  return result;
}

}  // namespace evenclay
