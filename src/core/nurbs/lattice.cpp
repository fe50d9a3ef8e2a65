#include "core/nurbs/lattice.h"

#include <algorithm>

#include "core/nurbs/fit.h"

namespace evenclay {

Vec3 bending(const FlatKnots& u, const FlatKnots& v, const FlatKnots& w, const Grid<Vec3>& moves,
             const Vec3& at) {
  const int su = find_span(u, at.x);
  const int sv = find_span(v, at.y);
  const int sw = find_span(w, at.z);
  const auto bu = basis_values(u, su, at.x);
  const auto bv = basis_values(v, sv, at.y);
  const auto bw = basis_values(w, sw, at.z);
  Vec3 sum;
  for (int i = 0; i <= u.degree; ++i)
    for (int j = 0; j <= v.degree; ++j)
      for (int k = 0; k <= w.degree; ++k)
        sum += moves(su - u.degree + i, sv - v.degree + j, sw - w.degree + k) *
               (bu[static_cast<std::size_t>(i)] * bv[static_cast<std::size_t>(j)] *
                bw[static_cast<std::size_t>(k)]);
  return sum;
}

namespace {

// Control values so that the spline takes `values` at the Greville places, along one direction at a time.
void interpolate(const KnotVector& knots, std::vector<double>& values, std::size_t outer,
                 std::size_t count, std::size_t inner) {
  const std::vector<double> at = greville_places(knots);
  const std::vector<double> even(at.size(), 1.0);
  const LineFit fit(knots, at, even, {});
  std::vector<double> from(count * inner);
  std::vector<double> to(count * inner);
  for (std::size_t o = 0; o < outer; ++o) {
    std::copy_n(values.begin() + static_cast<long>(o * count * inner), count * inner, from.begin());
    fit.solve(from, inner, to);
    std::copy(to.begin(), to.end(), values.begin() + static_cast<long>(o * count * inner));
  }
}

}  // namespace

Grid<Vec3> on_lattice(const KnotVector& old_u, const KnotVector& old_v, const KnotVector& old_w,
                      const Grid<Vec3>& moves, const Lattice& lattice) {
  const FlatKnots fu = flatten(old_u);
  const FlatKnots fv = flatten(old_v);
  const FlatKnots fw = flatten(old_w);
  const std::vector<double> u = greville_places(lattice.u);
  const std::vector<double> v = greville_places(lattice.v);
  const std::vector<double> w = greville_places(lattice.w);
  std::vector<double> values;
  for (const double a : u)
    for (const double b : v)
      for (const double c : w) {
        const Vec3 d = bending(fu, fv, fw, moves, {a, b, c});
        values.insert(values.end(), {d.x, d.y, d.z});
      }
  interpolate(lattice.w, values, u.size() * v.size(), w.size(), 3);
  interpolate(lattice.v, values, u.size(), v.size(), w.size() * 3);
  interpolate(lattice.u, values, 1, u.size(), v.size() * w.size() * 3);
  Grid<Vec3> result = Grid<Vec3>::layered(static_cast<int>(u.size()), static_cast<int>(v.size()),
                                          static_cast<int>(w.size()));
  for (std::size_t k = 0; k < result.values().size(); ++k)
    result.values()[k] = {values[3 * k], values[3 * k + 1], values[3 * k + 2]};
  return result;
}

}  // namespace evenclay
