#include "core/nurbs/fitted.h"

#include <algorithm>

#include "core/nurbs/fit.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/refit.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

KnotVector averaged_knots(std::span<const double> parameters, int degree) {
  const auto d = static_cast<std::size_t>(degree);
  KnotVector k{degree, false, std::vector<double>(d + 1, 0.0)};
  for (std::size_t j = 1; j + d < parameters.size(); ++j) {
    double sum = 0.0;
    for (std::size_t i = j; i < j + d; ++i) sum += parameters[i];
    k.knots.push_back(sum / static_cast<double>(degree));
  }
  k.knots.insert(k.knots.end(), d + 1, 1.0);
  return k;
}

KnotVector refined_cubic(const KnotVector& k, int halvings) {
  Surface line{k, uniform_knots(2, 1, false), Grid<Vec3>(k.point_count(), 2), {}};
  line = raise_degree(line, Direction::U, std::max(3, k.degree));
  for (int n = 0; n < halvings; ++n) line = insert_halfway(line, Direction::U);
  return line.u;
}

Surface fitted_surface(const SurfaceFunction& place, const KnotVector& ku, const KnotVector& kv,
                       const Surface& like, Progress& progress) {
  const FitSamples u = fit_samples(ku, breakpoints(like.u));
  const FitSamples v = fit_samples(kv, breakpoints(like.v));
  std::vector<double> values;
  values.reserve(u.places.size() * v.places.size() * 3);
  for (const double a : u.places) {
    progress.check();
    for (const double b : v.places) {
      const Vec3 p = place(a, b);
      values.insert(values.end(), {p.x, p.y, p.z});
    }
  }
  const std::vector<double> x =
      fit_grid(ku, kv, {u.places, u.weights, v.places, v.weights}, values, 3, progress);
  Surface s{ku, kv, Grid<Vec3>(ku.point_count(), kv.point_count()), {}};
  for (std::size_t k = 0; k < s.points.values().size(); ++k)
    s.points.values()[k] = {x[3 * k], x[3 * k + 1], x[3 * k + 2]};
  return s;
}

double greatest_miss(const Surface& s, const SurfaceFunction& place) {
  const auto inside = [](const KnotVector& k) {
    std::vector<double> result;
    const std::vector<double> b = breakpoints(k);
    for (std::size_t i = 0; i + 1 < b.size(); ++i)
      for (const double share : {0.21, 0.5, 0.79})
        result.push_back(b[i] + share * (b[i + 1] - b[i]));
    return result;
  };
  const SurfaceEvaluator fitted(s);
  double worst = 0.0;
  for (const double u : inside(s.u))
    for (const double v : inside(s.v))
      worst = std::max(worst, distance(fitted.point(u, v), place(u, v)));
  return worst;
}

}  // namespace evenclay
