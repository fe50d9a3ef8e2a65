#include "core/cage/cage.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/smooth_step.h"
#include "core/nurbs/fitted.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

KnotVector direction(int count) {
  return uniform_knots(count, std::min(3, count - 1), false);
}

}  // namespace

Cage make_cage(const Frame& frame, const Vec3& size, int n, int m, int k, double band) {
  for (std::size_t a = 0; a < 3; ++a)
    if (!(size[a] > 0.0) || !std::isfinite(size[a]))
      throw Error(
          say("The cage has no size along one of its directions. Give it a length above 0."));
  for (const int count : {n, m, k})
    if (count < 2 || count > 12)
      throw Error(say("A cage has 2 to 12 points along each direction, not {}.", count));
  if (!(band >= 0.0 && band <= 0.5))
    throw Error(say("The transition of a cage reaches over 0 to half of its box."));
  Cage c{frame, size, {direction(n), direction(m), direction(k), {}}, {}, band};
  c.rest.points = Grid<Vec3>::layered(n, m, k);
  const std::vector<double> u = greville_places(c.rest.u);
  const std::vector<double> v = greville_places(c.rest.v);
  const std::vector<double> w = greville_places(c.rest.w);
  for (int a = 0; a < n; ++a)
    for (int b = 0; b < m; ++b)
      for (int d = 0; d < k; ++d)
        c.rest.points(a, b, d) = frame.to_world({size.x * u[static_cast<std::size_t>(a)],
                                                 size.y * v[static_cast<std::size_t>(b)],
                                                 size.z * w[static_cast<std::size_t>(d)]});
  c.now = c.rest;
  return c;
}

CageMap::CageMap(const Cage& cage)
    : cage_(cage),
      u_(flatten(cage.rest.u)),
      v_(flatten(cage.rest.v)),
      w_(flatten(cage.rest.w)),
      moves_(cage.rest.points) {
  for (std::size_t k = 0; k < moves_.values().size(); ++k) {
    moves_.values()[k] = cage.now.points.values()[k] - cage.rest.points.values()[k];
    idle_ = idle_ && moves_.values()[k] == Vec3{};
  }
}

Vec3 CageMap::operator()(const Vec3& place) const {
  if (idle_) return place;
  const Vec3 local = cage_.frame.to_local(place);
  Vec3 at{local.x / cage_.size.x, local.y / cage_.size.y, local.z / cage_.size.z};
  double share = 1.0;
  for (std::size_t a = 0; a < 3; ++a) {
    if (cage_.band > 0.0) share *= smooth_step(std::min(at[a], 1.0 - at[a]) / cage_.band);
    at[a] = std::clamp(at[a], 0.0, 1.0);
  }
  if (share == 0.0) return place;
  return place + bending(u_, v_, w_, moves_, at) * share;
}

CarriedSurface carried(const Surface& s, const CageMap& map, int halvings, Progress& progress) {
  const SurfaceEvaluator evaluator(s);
  const auto place = [&](double u, double v) { return map(evaluator.point(u, v)); };
  Surface bent = fitted_surface(place, refined_cubic(s.u, halvings), refined_cubic(s.v, halvings),
                                s, progress);
  const double worst = greatest_miss(bent, place);
  return {std::move(bent), worst};
}

}  // namespace evenclay
