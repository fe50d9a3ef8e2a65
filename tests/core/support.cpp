#include "core/support.h"

#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColStd_Array2OfReal.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <cmath>

#include "core/nurbs/clamped.h"
#include "core/nurbs/conics.h"

namespace evenclay::testing {

namespace {

using Random = std::mt19937;

double between(Random& r, double a, double b) {
  return std::uniform_real_distribution<double>(a, b)(r);
}
int whole_between(Random& r, int a, int b) {
  return std::uniform_int_distribution<int>(a, b)(r);
}

KnotVector random_knots(Random& r, int most_points) {
  const int degree = whole_between(r, 0, 9) == 0 ? 11 : whole_between(r, 1, 7);
  const bool periodic = whole_between(r, 0, 3) == 0;
  const int points = whole_between(r, degree + 1, std::max(degree + 2, most_points));
  KnotVector k = uniform_knots(points, degree, periodic);
  const int kind = whole_between(r, 0, 2);
  const double scale = std::pow(10.0, between(r, -1.0, 1.5));
  const double start = between(r, -3.0, 3.0);
  double at = start;
  double previous = k.knots.front();
  std::vector<double> fresh;
  for (const double t : k.knots) {
    // kind 0 even, 1 uneven by up to 1 : 1000, 2 with double knots now and then
    double step = (t - previous) * scale;
    if (step > 0.0 && kind == 1) step *= std::pow(10.0, between(r, -3.0, 0.0));
    const bool inner = !fresh.empty() && t > k.knots.front() && t < k.knots.back();
    if (step > 0.0 && kind == 2 && degree > 1 && inner && whole_between(r, 0, 3) == 0) step = 0.0;
    at += step;
    previous = t;
    fresh.push_back(at);
  }
  k.knots = fresh;
  try {
    check(k, "random");
  } catch (const std::exception&) {
    return uniform_knots(points, degree, periodic);  // doubles piled up beyond the degree
  }
  return k;
}

}  // namespace

std::vector<NamedSurface> random_surfaces(std::size_t count, unsigned seed, int most_points) {
  Random r(seed);
  std::vector<NamedSurface> result;
  while (result.size() < count) {
    Surface s{random_knots(r, most_points), random_knots(r, most_points), {}, {}};
    const int nu = s.u.point_count();
    const int nv = s.v.point_count();
    s.points = Grid<Vec3>(nu, nv);
    for (Vec3& p : s.points.values())
      p = {between(r, -50, 50), between(r, -50, 50), between(r, -50, 50)};
    std::string name = "random " + std::to_string(result.size());
    if (whole_between(r, 0, 1) == 0) {
      s.weights = Grid<double>(nu, nv);
      for (double& w : s.weights.values()) w = between(r, 0.2, 5.0);
      name += " rational";
    }
    if (!s.v.periodic && whole_between(r, 0, 3) == 0) {
      for (int i = 0; i < nu; ++i) s.points(i, 0) = s.points(0, 0);
      name += " pole";
    }
    if (s.u.periodic || s.v.periodic) name += " periodic";
    result.push_back({name, s});
  }
  return result;
}

std::vector<NamedSurface> conic_surfaces() {
  Frame tilted;
  tilted.origin = {3, -7, 11};
  tilted.z = normalized(Vec3{1, 2, 2});
  tilted.x = normalized(cross({0, 1, 0}, tilted.z));
  tilted.y = cross(tilted.z, tilted.x);
  return {{"sphere 52", make_sphere({}, 52)},      {"sphere 0.5 tilted", make_sphere(tilted, 0.5)},
          {"cylinder", make_cylinder({}, 20, 60)}, {"cone", make_cone(tilted, 15, 40)},
          {"torus", make_torus(tilted, 40, 9)},    {"plane", make_plane({}, 80, 50, 6, 5, 3, 2)}};
}

namespace {
struct Knots {
  TColStd_Array1OfReal values;
  TColStd_Array1OfInteger counts;
};
Knots knots(const KnotVector& k) {
  std::vector<double> values;
  std::vector<int> counts;
  for (const double t : k.knots) {
    if (values.empty() || t > values.back()) {
      values.push_back(t);
      counts.push_back(0);
    }
    ++counts.back();
  }
  Knots result{TColStd_Array1OfReal(1, static_cast<int>(values.size())),
               TColStd_Array1OfInteger(1, static_cast<int>(values.size()))};
  for (std::size_t i = 0; i < values.size(); ++i) {
    result.values.SetValue(static_cast<int>(i) + 1, values[i]);
    result.counts.SetValue(static_cast<int>(i) + 1, counts[i]);
  }
  return result;
}
}  // namespace

Handle(Geom_BSplineSurface) kernel_surface(const Surface& original) {
  const Surface s = clamped(original);
  TColgp_Array2OfPnt poles(1, s.points.rows(), 1, s.points.columns());
  TColStd_Array2OfReal weights(1, s.points.rows(), 1, s.points.columns());
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      const Vec3& p = s.points(i, j);
      poles.SetValue(i + 1, j + 1, gp_Pnt(p.x, p.y, p.z));
      weights.SetValue(i + 1, j + 1, s.weight(i, j));
    }
  const Knots u = knots(s.u);
  const Knots v = knots(s.v);
  return new Geom_BSplineSurface(poles, weights, u.values, v.values, u.counts, v.counts, s.u.degree,
                                 s.v.degree);
}

std::vector<std::pair<double, double>> places(const Surface& s, int count) {
  Random r(7);
  std::vector<std::pair<double, double>> result;
  for (const double u : {s.u.first(), s.u.last()})
    for (const double v : {s.v.first(), s.v.last()}) result.emplace_back(u, v);
  while (static_cast<int>(result.size()) < count)
    result.emplace_back(between(r, s.u.first(), s.u.last()), between(r, s.v.first(), s.v.last()));
  return result;
}

}  // namespace evenclay::testing
