#include "core/grid/set_degree.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

// The same breakpoints; a knot of multiplicity m keeps its continuity old degree − m.
KnotVector lowered(const KnotVector& k, int degree) {
  if (degree >= k.degree) return k;
  KnotVector result{degree, k.periodic, {}};
  const int drop = k.degree - degree;
  const std::vector<double> breaks = breakpoints(k);
  for (std::size_t b = 0; b < breaks.size(); ++b) {
    const auto range = std::equal_range(k.knots.begin(), k.knots.end(), breaks[b]);
    int count = std::max(1, static_cast<int>(range.second - range.first) - drop);
    const bool end = b == 0 || b + 1 == breaks.size();
    if (end && !k.periodic) count = degree + 1;
    if (b + 1 == breaks.size() && k.periodic) count = 1;  // the first one again
    result.knots.insert(result.knots.end(), static_cast<std::size_t>(count), breaks[b]);
  }
  return result;
}

}  // namespace

Surface set_degree(const Surface& s, int degree_u, int degree_v, Progress& progress) {
  for (const int degree : {degree_u, degree_v})
    if (degree < 1 || degree > kMaxDegree)
      throw Error(say("Degree {} cannot be used; choose 1 to {}.", degree, kMaxDegree));
  Surface result = s;
  if (degree_u < s.u.degree || degree_v < s.v.degree) {
    const KnotVector u = lowered(s.u, degree_u);
    const KnotVector v = lowered(s.v, degree_v);
    check(u, "u direction with the lower degree");
    check(v, "v direction with the lower degree");
    result = refit(s, u, v, {.keep_weights = true}, progress);
  }
  const int u = std::max(degree_u, result.u.degree);
  const int v = std::max(degree_v, result.v.degree);
  return raise_degree(raise_degree(std::move(result), Direction::V, v), Direction::U, u);
}

}  // namespace evenclay
