#include "core/nurbs/refit.h"

#include <Eigen/Eigenvalues>
#include <cmath>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/fit.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// Where the new parameter reads the old surface along one direction. `border` holds the maps of
// the two borders of the other direction, which are spaced by their own length.
struct Reading {
  std::vector<double> places, weights;                    // new parameters
  std::vector<double> share;                              // of the new domain
  std::vector<double> inside, first_border, last_border;  // old parameters
};

std::optional<ArcLengthMap> border_map(const Surface& s, Direction direction, bool last,
                                       double mean_length) {
  const KnotVector& across = direction == Direction::U ? s.v : s.u;
  if (across.periodic) return std::nullopt;
  Region r = whole(s);
  const double end = last ? across.last() : across.first();
  (direction == Direction::U ? r.v_begin : r.u_begin) = end;
  (direction == Direction::U ? r.v_end : r.u_end) = end;
  try {
    ArcLengthMap map(s, direction, r);
    if (map.mean_length() > 1e-6 * mean_length) return map;
  } catch (const Error&) {
    // below
  }
  return std::nullopt;  // a pole has no length of its own
}

Reading read_direction(const Surface& s, Direction direction, const KnotVector& target, bool even) {
  const KnotVector& old = direction == Direction::U ? s.u : s.v;
  std::optional<ArcLengthMap> map;
  if (even) map.emplace(s, direction, whole(s));
  // Where even, old spans land elsewhere on each neighbour, but a common border needs common
  // samples: places that depend on the number of old spans only.
  const std::vector<double> old_breaks = breakpoints(old);
  const double spans = static_cast<double>(old_breaks.size() - 1);
  std::vector<double> breaks;
  for (std::size_t k = 0; k < old_breaks.size(); ++k) {
    const double share =
        even ? static_cast<double>(k) / spans : (old_breaks[k] - old.first()) / old.length();
    breaks.push_back(target.first() + share * target.length());
  }
  FitSamples samples = fit_samples(target, breaks);
  Reading r{std::move(samples.places), std::move(samples.weights), {}, {}, {}, {}};
  for (const double t : r.places) r.share.push_back((t - target.first()) / target.length());
  const auto read = [&](const std::optional<ArcLengthMap>& m) {
    std::vector<double> result;
    for (const double t : r.share)
      result.push_back(m ? m->at_share(t).parameter : old.first() + t * old.length());
    if (!target.periodic) {
      result.front() = old.first();
      result.back() = old.last();
    }
    return result;
  };
  r.inside = read(map);
  if (!even) return r;
  const auto first = border_map(s, direction, false, map->mean_length());
  const auto last = border_map(s, direction, true, map->mean_length());
  if (first) r.first_border = read(first);
  if (last) r.last_border = read(last);
  return r;
}

// The old parameter at sample k, at that share of the other direction: the mean inside, going over
// to the border's own spacing at the borders. Convex, so it stays monotone in k.
double old_parameter(const Reading& r, std::size_t k, double across) {
  double result = r.inside[k];
  const auto pull = [&](const std::vector<double>& border, double nearness) {
    if (!border.empty()) result += nearness * nearness * nearness * (border[k] - r.inside[k]);
  };
  pull(r.first_border, 1.0 - across);
  pull(r.last_border, across);
  return result;
}

// Samples of the surface at all pairs of places, `width` numbers each.
std::vector<double> sample(const Surface& s, const Reading& ru, const Reading& rv, bool even,
                           std::size_t width, Progress& progress) {
  const std::size_t mu = ru.places.size();
  const std::size_t mv = rv.places.size();
  std::vector<double> samples(mu * mv * width);
  Surface plain = s;
  Surface weight{s.u, s.v, Grid<Vec3>(s.points.rows(), s.points.columns()), {}};
  if (width == 4) {  // homogeneous: weighted points, and the weight as another surface's x
    plain.weights = {};
    for (std::size_t k = 0; k < plain.points.values().size(); ++k) {
      plain.points.values()[k] *= s.weights.values()[k];
      weight.points.values()[k].x = s.weights.values()[k];
    }
  }
  const auto take = [&](const Surface& from, std::size_t first, std::size_t count) {
    const SurfaceEvaluator evaluator(from);
    if (even) {
      std::vector<Parameter> places;
      places.reserve(mu * mv);
      for (std::size_t a = 0; a < mu; ++a)
        for (std::size_t b = 0; b < mv; ++b)
          places.push_back({old_parameter(ru, a, rv.share[b]), old_parameter(rv, b, ru.share[a])});
      std::vector<Vec3> points(places.size());
      evaluator.points(places, points);
      for (std::size_t k = 0; k < points.size(); ++k)
        for (std::size_t c = 0; c < count; ++c) samples[k * width + first + c] = points[k][c];
      return;
    }
    GridSamples<double> grid;
    evaluator.grid(ru.inside, rv.inside, grid, progress);
    for (std::size_t k = 0; k < mu * mv; ++k)
      for (std::size_t c = 0; c < count; ++c) samples[k * width + first + c] = grid.p[c][k];
  };
  take(plain, 0, 3);
  if (width == 4) take(weight, 3, 1);
  return samples;
}

// The tangent plane of a pole where the surface is smooth, else nothing.
struct Plane {
  Vec3 origin, normal;
};

std::optional<Plane> smooth_pole(const Surface& s, Border edge, double tolerance) {
  if (!is_pole(s, edge, tolerance)) return std::nullopt;
  const bool of_u = edge == Border::UMin || edge == Border::UMax;
  const KnotVector& across = of_u ? s.u : s.v;
  const KnotVector& around = of_u ? s.v : s.u;
  const double end = edge == Border::UMin || edge == Border::VMin ? across.first() : across.last();
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  std::vector<Vec3> rays;
  for (int k = 0; k < 24; ++k) {
    const double w = around.first() + around.length() * (k + 0.37) / 24;
    const SurfaceDerivatives d = of_u ? derivatives(s, end, w, 1) : derivatives(s, w, end, 1);
    const Vec3 ray = of_u ? d.du() : d.dv();
    rays.push_back(ray);
    const Eigen::Vector3d e(ray.x, ray.y, ray.z);
    spread += e * e.transpose();
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> solver(spread);
  const Eigen::Vector3d n = solver.eigenvectors().col(0);
  const Vec3 normal{n.x(), n.y(), n.z()};
  double longest = 0.0;
  double off = 0.0;
  for (const Vec3& r : rays) {
    longest = std::max(longest, length(r));
    off = std::max(off, std::abs(dot(r, normal)));
  }
  if (!(longest > 0.0) || off > 1e-9 * longest) return std::nullopt;
  return Plane{of_u ? evaluate(s, end, around.first()) : evaluate(s, around.first(), end), normal};
}

void project(std::span<double> row, const Plane& plane) {
  for (std::size_t c = 0; c + 2 < row.size(); c += 3) {
    const Vec3 p{row[c], row[c + 1], row[c + 2]};
    const Vec3 q = p - plane.normal * dot(p - plane.origin, plane.normal);
    row[c] = q.x;
    row[c + 1] = q.y;
    row[c + 2] = q.z;
  }
}

struct Poles {
  std::optional<Plane> first, last;
};

// One direction: samples[s][width] → coefficients[points][width].
std::vector<double> fit_direction(const KnotVector& target, const std::vector<double>& places,
                                  const std::vector<double>& weights,
                                  std::span<const double> samples, std::size_t width,
                                  const Poles& poles) {
  const int n = target.point_count();
  std::vector<double> x(at(n) * width);
  const auto row = [&](int i) { return std::span(x).subspan(at(i) * width, width); };
  std::vector<int> fixed;
  if (!target.periodic) {
    fixed = {0, n - 1};
    std::copy_n(samples.begin(), width, row(0).begin());
    std::copy_n(samples.end() - static_cast<long>(width), width, row(n - 1).begin());
  }
  LineFit(target, places, weights, fixed).solve(samples, width, x);
  // With fewer than 4 points a row would belong to both poles; then smoothness has to yield.
  const bool first = poles.first && n >= 4;
  const bool last = poles.last && n >= 4;
  if (!first && !last) return x;
  if (first) {
    project(row(1), *poles.first);
    fixed.push_back(1);
  }
  if (last) {
    project(row(n - 2), *poles.last);
    fixed.push_back(n - 2);
  }
  LineFit(target, places, weights, fixed).solve(samples, width, x);
  return x;
}

std::vector<double> fit_both(const KnotVector& u, const KnotVector& v, const GridFit& g,
                             std::span<const double> values, std::size_t width,
                             const Poles& u_poles, const Poles& v_poles, Progress& progress) {
  const std::size_t mv = g.places_v.size();
  const std::size_t nu = at(u.point_count());
  const std::size_t nv = at(v.point_count());
  const std::vector<double> along_u =
      fit_direction(u, g.places_u, g.weights_u, values, width * mv, u_poles);
  progress.report(0.7);
  std::vector<double> turned(mv * nu * width);
  for (std::size_t i = 0; i < nu; ++i)
    for (std::size_t j = 0; j < mv; ++j)
      for (std::size_t c = 0; c < width; ++c)
        turned[(j * nu + i) * width + c] = along_u[(i * mv + j) * width + c];
  const std::vector<double> net =
      fit_direction(v, g.places_v, g.weights_v, turned, width * nu, v_poles);
  progress.report(0.95);
  std::vector<double> result(nu * nv * width);
  for (std::size_t i = 0; i < nu; ++i)
    for (std::size_t j = 0; j < nv; ++j)
      for (std::size_t c = 0; c < width; ++c)
        result[(i * nv + j) * width + c] = net[(j * nu + i) * width + c];
  return result;
}

// Rounding must not open a pole.
void close_pole(Surface& s, Border edge) {
  const bool of_u = edge == Border::UMin || edge == Border::UMax;
  const int last = of_u ? s.points.rows() - 1 : s.points.columns() - 1;
  const int fixed = edge == Border::UMin || edge == Border::VMin ? 0 : last;
  const int count = of_u ? s.points.columns() : s.points.rows();
  const Vec3 p = of_u ? s.points(fixed, 0) : s.points(0, fixed);
  for (int k = 0; k < count; ++k) (of_u ? s.points(fixed, k) : s.points(k, fixed)) = p;
}

}  // namespace

std::vector<double> fit_grid(const KnotVector& u, const KnotVector& v, const GridFit& g,
                             std::span<const double> values, std::size_t width,
                             Progress& progress) {
  return fit_both(u, v, g, values, width, {}, {}, progress);
}

Surface refit(const Surface& s, const KnotVector& u, const KnotVector& v, const RefitOptions& o,
              Progress& progress) {
  if (u.periodic != s.u.periodic || v.periodic != s.v.periodic)
    throw Error(say(
        "The new grid is closed in another direction than the surface. Open or close it first."));
  const std::size_t width = o.keep_weights && s.rational() ? 4 : 3;
  Reading ru = read_direction(s, Direction::U, u, o.even_u);
  Reading rv = read_direction(s, Direction::V, v, o.even_v);
  progress.report(0.1);
  const std::vector<double> samples = sample(s, ru, rv, o.even_u || o.even_v, width, progress);
  progress.report(0.4);
  const auto plane = [&](Border e) {
    return width == 3 ? smooth_pole(s, e, o.pole_tolerance) : std::nullopt;
  };
  const std::vector<double> net =
      fit_both(u, v, {ru.places, ru.weights, rv.places, rv.weights}, samples, width,
               {plane(Border::UMin), plane(Border::UMax)},
               {plane(Border::VMin), plane(Border::VMax)}, progress);
  const int nu = u.point_count();
  const int nv = v.point_count();
  Surface result{u, v, Grid<Vec3>(nu, nv), {}};
  if (width == 4) result.weights = Grid<double>(nu, nv);
  for (std::size_t k = 0; k < result.points.values().size(); ++k) {
    const double* p = &net[k * width];
    const double w = width == 4 ? std::max(p[3], 1e-3) : 1.0;
    result.points.values()[k] = Vec3{p[0], p[1], p[2]} / w;
    if (width == 4) result.weights.values()[k] = w;
  }
  for (const Border e : kBorders)
    if (is_pole(s, e, o.pole_tolerance)) close_pole(result, e);
  progress.report(1.0);
  return result;
}

}  // namespace evenclay
