#include "core/grid/rebuild.h"

#include <fmt/format.h>

#include <Eigen/Eigenvalues>
#include <cmath>
#include <optional>

#include "core/base/error.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/fit.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// Where the new parameter in [0, 1] reads the old surface.
struct Reading {
  std::vector<double> places, weights;  // new parameters
  std::vector<double> old_parameter;
};

Reading read_direction(const Surface& s, Direction direction, const KnotVector& target, bool even) {
  const KnotVector& old = direction == Direction::U ? s.u : s.v;
  std::optional<ArcLengthMap> map;
  if (even) map.emplace(s, direction, whole(s));
  std::vector<double> breaks;
  for (const double b : breakpoints(old))
    breaks.push_back(even ? map->share_of(b) : (b - old.first()) / old.length());
  FitSamples samples = fit_samples(target, breaks);
  Reading reading{std::move(samples.places), std::move(samples.weights), {}};
  for (const double t : reading.places)
    reading.old_parameter.push_back(even ? map->at_share(t).parameter
                                         : old.first() + t * old.length());
  if (!target.periodic) {
    reading.old_parameter.front() = old.first();
    reading.old_parameter.back() = old.last();
  }
  return reading;
}

// The tangent plane of a pole where the surface is smooth, else nothing.
struct Plane {
  Vec3 origin, normal;
};

std::optional<Plane> smooth_pole(const Surface& s, Edge edge, double tolerance) {
  if (!is_pole(s, edge, tolerance)) return std::nullopt;
  const bool of_u = edge == Edge::UMin || edge == Edge::UMax;
  const KnotVector& across = of_u ? s.u : s.v;
  const KnotVector& around = of_u ? s.v : s.u;
  const double end = edge == Edge::UMin || edge == Edge::VMin ? across.first() : across.last();
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

// One direction: samples[s][width] → coefficients[points][width].
std::vector<double> fit_direction(const KnotVector& target, const Reading& reading,
                                  const std::vector<double>& samples, std::size_t width,
                                  const std::optional<Plane>& first_pole,
                                  const std::optional<Plane>& last_pole) {
  const int n = target.point_count();
  std::vector<double> x(at(n) * width);
  const auto row = [&](int i) { return std::span(x).subspan(at(i) * width, width); };
  std::vector<int> fixed;
  if (!target.periodic) {
    fixed = {0, n - 1};
    std::copy_n(samples.begin(), width, row(0).begin());
    std::copy_n(samples.end() - static_cast<long>(width), width, row(n - 1).begin());
  }
  LineFit(target, reading.places, reading.weights, fixed).solve(samples, width, x);
  // With fewer than 4 points a row would belong to both poles; then smoothness has to yield.
  const bool first = first_pole && n >= 4;
  const bool last = last_pole && n >= 4;
  if (!first && !last) return x;
  if (first) {
    project(row(1), *first_pole);
    fixed.push_back(1);
  }
  if (last) {
    project(row(n - 2), *last_pole);
    fixed.push_back(n - 2);
  }
  LineFit(target, reading.places, reading.weights, fixed).solve(samples, width, x);
  return x;
}

void check_options(const Surface& s, const RebuildOptions& o) {
  const auto one = [](int points, int degree, bool periodic, const char* name) {
    if (degree < 1 || degree > kMaxDegree)
      throw Error(
          fmt::format("Degree {} in {} cannot be used; choose 1 to {}.", degree, name, kMaxDegree));
    if (points < 2 || points > 200)
      throw Error(
          fmt::format("{} control points in {} cannot be used; choose 2 to 200.", points, name));
    if (points < degree + 1 || (periodic && points < 3))
      throw Error(fmt::format(
          "Degree {} in {} needs at least {} control points, but {} are asked for. Take more "
          "points or a lower degree.",
          degree, name, std::max(degree + 1, periodic ? 3 : 2), points));
  };
  one(o.points_u, o.degree_u, s.u.periodic, "u");
  one(o.points_v, o.degree_v, s.v.periodic, "v");
}

// Rounding must not open a pole.
void close_pole(Surface& s, Edge edge) {
  const bool of_u = edge == Edge::UMin || edge == Edge::UMax;
  const int last = of_u ? s.points.rows() - 1 : s.points.columns() - 1;
  const int fixed = edge == Edge::UMin || edge == Edge::VMin ? 0 : last;
  const int count = of_u ? s.points.columns() : s.points.rows();
  const Vec3 p = of_u ? s.points(fixed, 0) : s.points(0, fixed);
  for (int k = 0; k < count; ++k) (of_u ? s.points(fixed, k) : s.points(k, fixed)) = p;
}

}  // namespace

Surface rebuild(const Surface& s, const RebuildOptions& o, Progress& progress) {
  check_options(s, o);
  Surface result{uniform_knots(o.points_u, o.degree_u, s.u.periodic),
                 uniform_knots(o.points_v, o.degree_v, s.v.periodic),
                 Grid<Vec3>(o.points_u, o.points_v),
                 {}};
  const Reading ru = read_direction(s, Direction::U, result.u, o.even);
  const Reading rv = read_direction(s, Direction::V, result.v, o.even);
  progress.report(0.1);
  const std::size_t mu = ru.places.size();
  const std::size_t mv = rv.places.size();
  std::vector<Parameter> places;
  places.reserve(mu * mv);
  for (const double u : ru.old_parameter)
    for (const double v : rv.old_parameter) places.push_back({u, v});
  std::vector<Vec3> points(places.size());
  SurfaceEvaluator(s).points(places, points);
  progress.report(0.4);
  std::vector<double> samples(points.size() * 3);
  for (std::size_t k = 0; k < points.size(); ++k)
    for (std::size_t c = 0; c < 3; ++c) samples[3 * k + c] = points[k][c];

  const auto plane = [&](Edge e) { return smooth_pole(s, e, o.pole_tolerance); };
  const std::vector<double> along_u =
      fit_direction(result.u, ru, samples, 3 * mv, plane(Edge::UMin), plane(Edge::UMax));
  progress.report(0.7);
  const int nu = o.points_u;
  const int nv = o.points_v;
  std::vector<double> turned(mv * at(nu) * 3);
  for (std::size_t i = 0; i < at(nu); ++i)
    for (std::size_t j = 0; j < mv; ++j)
      for (std::size_t c = 0; c < 3; ++c)
        turned[(j * at(nu) + i) * 3 + c] = along_u[(i * mv + j) * 3 + c];
  const std::vector<double> net =
      fit_direction(result.v, rv, turned, 3 * at(nu), plane(Edge::VMin), plane(Edge::VMax));
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j) {
      const double* p = &net[(at(j) * at(nu) + at(i)) * 3];
      result.points(i, j) = {p[0], p[1], p[2]};
    }
  for (const Edge e : kEdges)
    if (is_pole(s, e, o.pole_tolerance)) close_pole(result, e);
  progress.report(1.0);
  return result;
}

}  // namespace evenclay
