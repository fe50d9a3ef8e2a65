#include "core/grid/rebuild.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/grid/counts.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

void check_counts(int points, int most, int degree, bool periodic, const char* where) {
  if (degree < 1 || degree > kMaxDegree)
    throw Error(say("Degree {}{} cannot be used; choose 1 to {}.", degree, where, kMaxDegree));
  if (points < 2 || points > most)
    throw Error(say("{} control points{} cannot be used; choose 2 to {}.", points, where, most));
  if (points < fewest_points(degree, periodic))
    throw Error(
        say("Degree {}{} needs at least {} control points, but {} are asked for. Take more "
            "points or a lower degree.",
            degree, where, fewest_points(degree, periodic), points));
}

}  // namespace

Surface rebuild(const Surface& s, const RebuildOptions& o, Progress& progress) {
  check_counts(o.points_u, 200, o.degree_u, s.u.periodic, " in u");
  check_counts(o.points_v, 200, o.degree_v, s.v.periodic, " in v");
  return refit(s, uniform_knots(o.points_u, o.degree_u, s.u.periodic),
               uniform_knots(o.points_v, o.degree_v, s.v.periodic),
               {.even_u = o.even, .even_v = o.even, .pole_tolerance = o.pole_tolerance}, progress);
}

Curve rebuild(const Curve& c, const CurveRebuildOptions& o, Progress& progress) {
  check_counts(o.points, 500, o.degree, c.knots.periodic, "");
  // As the border of a strip; its two rows are fitted alike and apart from each other.
  const Surface strip = strip_of(c, Vec3{0, 0, 1} * std::max(size(c), 1e-3));
  return first_row(refit(strip, uniform_knots(o.points, o.degree, c.knots.periodic), strip.v,
                         {.even_u = o.even}, progress));
}

}  // namespace evenclay
