#include "core/grid/rebuild.h"

#include <fmt/format.h>

#include "core/base/error.h"
#include "core/grid/counts.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

void check_options(const Surface& s, const RebuildOptions& o) {
  const auto one = [](int points, int degree, bool periodic, const char* name) {
    if (degree < 1 || degree > kMaxDegree)
      throw Error(
          fmt::format("Degree {} in {} cannot be used; choose 1 to {}.", degree, name, kMaxDegree));
    if (points < 2 || points > 200)
      throw Error(
          fmt::format("{} control points in {} cannot be used; choose 2 to 200.", points, name));
    if (points < fewest_points(degree, periodic))
      throw Error(fmt::format(
          "Degree {} in {} needs at least {} control points, but {} are asked for. Take more "
          "points or a lower degree.",
          degree, name, fewest_points(degree, periodic), points));
  };
  one(o.points_u, o.degree_u, s.u.periodic, "u");
  one(o.points_v, o.degree_v, s.v.periodic, "v");
}

}  // namespace

Surface rebuild(const Surface& s, const RebuildOptions& o, Progress& progress) {
  check_options(s, o);
  return refit(s, uniform_knots(o.points_u, o.degree_u, s.u.periodic),
               uniform_knots(o.points_v, o.degree_v, s.v.periodic),
               {.even_u = o.even, .even_v = o.even, .pole_tolerance = o.pole_tolerance}, progress);
}

}  // namespace evenclay
