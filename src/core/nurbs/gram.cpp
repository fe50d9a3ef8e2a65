#include "core/nurbs/gram.h"

#include <cmath>

#include "core/nurbs/quadrature.h"

namespace evenclay {

Grid<double> gram(const KnotVector& k, double length, int order) {
  const FlatKnots flat = flatten(k);
  const std::vector<double> breaks = breakpoints(k);
  Grid<double> g(flat.points, flat.points, 0.0);
  if (order > k.degree) return g;
  const double rate = std::pow(k.length() / length, 2 * order - 1);
  for (std::size_t c = 0; c + 1 < breaks.size(); ++c) {
    const double half = 0.5 * (breaks[c + 1] - breaks[c]),
                 middle = 0.5 * (breaks[c + 1] + breaks[c]);
    const int span = find_span(flat, middle);
    for (const GaussPoint& q : kGauss8) {
      const auto n = basis_derivatives(flat, span, middle + half * q.place,
                                       order)[static_cast<std::size_t>(order)];
      for (int i = 0; i <= k.degree; ++i)
        for (int j = 0; j <= k.degree; ++j)
          g(flat.point(span - k.degree + i), flat.point(span - k.degree + j)) +=
              rate * half * q.weight * n[static_cast<std::size_t>(i)] *
              n[static_cast<std::size_t>(j)];
    }
  }
  return g;
}

}  // namespace evenclay
