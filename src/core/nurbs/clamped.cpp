#include "core/nurbs/clamped.h"

#include <array>
#include <vector>

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

using Homogeneous = std::array<double, 4>;

// Blossom of the spline at p arguments, on the span k of the flat knots (de Boor's triangle).
Homogeneous blossom(const FlatKnots& f, int k, const std::vector<Homogeneous>& points,
                    const std::vector<double>& arguments) {
  const int p = f.degree;
  std::vector<Homogeneous> d;
  for (int i = k - p; i <= k; ++i) d.push_back(points[at(f.point(i))]);
  for (int r = 1; r <= p; ++r)
    for (int j = p; j >= r; --j) {
      const int i = k - p + j;
      const double a = f.t[at(i)];
      const double b = f.t[at(i + p - r + 1)];
      const double share = (arguments[at(r - 1)] - a) / (b - a);
      for (std::size_t c = 0; c < 4; ++c)
        d[at(j)][c] = (1.0 - share) * d[at(j - 1)][c] + share * d[at(j)][c];
    }
  return d[at(p)];
}

// New control points of one row of a periodic direction on the clamped vector `target`.
std::vector<Homogeneous> clamp_row(const FlatKnots& f, const KnotVector& target,
                                   const std::vector<Homogeneous>& row) {
  const int p = f.degree;
  std::vector<Homogeneous> result;
  for (int i = 0; i < target.point_count(); ++i) {
    // Control point i is the blossom at target knots i+1 .. i+p, taken on any span inside.
    std::vector<double> arguments(target.knots.begin() + i + 1, target.knots.begin() + i + 1 + p);
    double place = 0.5 * (target.knots[at(i)] + target.knots[at(i + p + 1)]);
    for (int j = i; j <= i + p; ++j)  // some span of positive length in the support
      if (target.knots[at(j)] < target.knots[at(j + 1)])
        place = 0.5 * (target.knots[at(j)] + target.knots[at(j + 1)]);
    result.push_back(blossom(f, find_span(f, place), row, arguments));
  }
  result.back() = result.front();  // the seam closes exactly
  return result;
}

KnotVector clamped_knots(const KnotVector& k) {
  KnotVector result{k.degree, false, {}};
  const double a = k.first();
  const double b = k.last();
  result.knots.assign(at(k.degree + 1), a);
  for (const double t : k.knots)
    if (t > a && t < b) result.knots.push_back(t);
  result.knots.insert(result.knots.end(), at(k.degree + 1), b);
  return result;
}

Surface clamp_u(const Surface& s) {
  if (!s.u.periodic) return s;
  const FlatKnots f = flatten(s.u);
  Surface result{clamped_knots(s.u), s.v, {}, {}};
  const int n = result.u.point_count();
  result.points = Grid<Vec3>(n, s.points.columns());
  if (s.rational()) result.weights = Grid<double>(n, s.points.columns());
  for (int j = 0; j < s.points.columns(); ++j) {
    std::vector<Homogeneous> row;
    for (int i = 0; i < s.points.rows(); ++i) {
      const double w = s.weight(i, j);
      const Vec3 p = s.points(i, j) * w;
      row.push_back({p.x, p.y, p.z, w});
    }
    const std::vector<Homogeneous> fresh = clamp_row(f, result.u, row);
    for (int i = 0; i < n; ++i) {
      const Homogeneous& h = fresh[at(i)];
      result.points(i, j) = Vec3{h[0], h[1], h[2]} / (s.rational() ? h[3] : 1.0);
      if (s.rational()) result.weights(i, j) = h[3];
    }
  }
  return result;
}

}  // namespace

Surface clamped(const Surface& s) {
  return transposed(clamp_u(transposed(clamp_u(s))));
}

}  // namespace evenclay
