// Deviation from what is watched, maps and fairing: against brute force and closed formulas.
#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/body/body_mesh.h"
#include "core/display/maps.h"
#include "core/display/worker.h"
#include "core/grid/fair.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/fitted.h"
#include "core/operations/watching.h"
#include "core/source/curve_work.h"

using namespace evenclay;

namespace {

constexpr double kPi = std::numbers::pi;

// Closest point of a triangle by trying its plane, its sides and its corners one after the other.
double to_triangle(const Vec3& p, const Vec3& a, const Vec3& b, const Vec3& c) {
  const auto to_side = [&](const Vec3& s, const Vec3& e) {
    const double t = std::clamp(dot(p - s, e - s) / dot(e - s, e - s), 0.0, 1.0);
    return distance(p, s + (e - s) * t);
  };
  double best = std::min({to_side(a, b), to_side(b, c), to_side(c, a)});
  const Vec3 n = normalized(cross(b - a, c - a));
  const Vec3 q = p - n * dot(p - a, n);
  if (dot(cross(b - a, q - a), n) >= 0 && dot(cross(c - b, q - b), n) >= 0 &&
      dot(cross(a - c, q - c), n) >= 0)
    best = std::min(best, std::abs(dot(p - a, n)));
  return best;
}

TriangleMesh bumpy_plate(int cells, double high, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> share(-1.0, 1.0);
  TriangleMesh m;
  for (int i = 0; i <= cells; ++i)
    for (int j = 0; j <= cells; ++j)
      m.points.push_back(
          {i * 2.0 + 0.3 * share(random), j * 2.0 + 0.3 * share(random), high * share(random)});
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * (cells + 1) + j); };
  for (int i = 0; i < cells; ++i)
    for (int j = 0; j < cells; ++j) {
      m.triangles.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1)});
      m.triangles.push_back({at(i, j), at(i + 1, j + 1), at(i, j + 1)});
    }
  return m;
}

ShapePtr shape_of(Shape s) {
  return std::make_shared<const Shape>(std::move(s));
}

// z = hill + a ripple, interpolated well on a fine cubic grid over 100 × 80 mm.
Surface wavy(double ripple, double wave, int points_u = 40, int points_v = 32) {
  Progress progress;
  Surface plane{uniform_knots(points_u, 3, false),
                uniform_knots(points_v, 3, false),
                Grid<Vec3>(points_u, points_v),
                {}};
  return fitted_surface(
      [&](double u, double v) {
        const double x = 100.0 * u - 50.0, y = 80.0 * v - 40.0;
        const double hill = 15.0 * std::cos(x / 45.0) * std::cos(y / 40.0);
        return Vec3{x, y,
                    hill + ripple * std::sin(2 * kPi * x / wave) * std::sin(2 * kPi * y / wave)};
      },
      plane.u, plane.v, plane, progress);
}

double greatest_apart(const Surface& a, const Surface& b) {
  double most = 0.0;
  for (int i = 0; i <= 90; ++i)
    for (int j = 0; j <= 90; ++j)
      most = std::max(most,
                      distance(evaluate(a, i / 90.0, j / 90.0), evaluate(b, i / 90.0, j / 90.0)));
  return most;
}

}  // namespace

TEST_CASE("the deviation of two meshes is that of brute force") {
  Progress progress;
  const TriangleMesh a = bumpy_plate(9, 0.6, 3), b = bumpy_plate(11, 0.9, 8);
  const WatchPlaces w = watch_places(a, b, progress);
  REQUIRE(w.at.size() == a.points.size());  // both are open: the part's own points are measured
  double most = 0.0, mean = 0.0;
  for (std::size_t k = 0; k < w.at.size(); ++k) {
    double best = 1e300;
    for (const auto& t : b.triangles)
      best = std::min(best, to_triangle(w.at[k], b.points[t[0]], b.points[t[1]], b.points[t[2]]));
    CHECK(std::abs(w.off[k]) == Approx(best).margin(1e-9));
    most = std::max(most, best);
    mean += best / static_cast<double>(w.at.size());
  }
  const WatchReport r = watched(a, b, 0.5, progress);
  CHECK(r.max == Approx(most).margin(1e-9));
  CHECK(r.mean == Approx(mean).margin(1e-9));
}

TEST_CASE("points off a sphere by known amounts are told so") {
  Progress progress;
  const Surface sphere = make_sphere({}, 40.0);
  std::mt19937 random(6);
  std::normal_distribution<double> g(0.0, 1.0);
  PointCloud cloud;
  std::vector<double> truth;
  for (int k = 0; k < 4000; ++k) {
    const Vec3 d = normalized({g(random), g(random), g(random)});
    const double off = k < 3600 ? 0.3 * (k % 7 - 3) / 3.0 : (k % 2 == 0 ? 0.9 : -1.4);
    truth.push_back(off);
    cloud.points.push_back(d * (40.0 + off));
  }
  const WatchReport r = watched(body_of({sphere}), cloud, 0.5, progress);
  CHECK(r.max == Approx(1.4).margin(1e-6));
  CHECK(r.inside == Approx(0.9).margin(1e-9));
  CHECK(r.bias == Approx((200 * 0.9 - 200 * 1.4) / 4000.0).margin(1e-3));
  double share = 0.0;
  for (const double h : r.histogram) share += h;
  CHECK(share == Approx(1.0).margin(1e-9));
  CHECK(r.histogram[0] == Approx(0.05).margin(1e-9));  // the 200 below −1 mm
  REQUIRE(r.worst.size() == 5);
  for (const WorstPlace& p : r.worst) CHECK(p.off == Approx(-1.4).margin(1e-6));
  CHECK(distance(r.worst[0].at, r.worst[1].at) > 4.0);
  // The other way round the scan is the part: the same numbers.
  CHECK(watched(cloud, body_of({sphere}), 0.5, progress).max == Approx(1.4).margin(1e-6));
}

TEST_CASE("places are spread by area over a body and lie on it") {
  Progress progress;
  const Body tube = body_of({make_sphere({}, 20.0)});
  const Body larger = body_of({make_sphere({}, 20.5)});
  const WatchPlaces w = watch_places(larger, tube, progress);
  CHECK(w.at.size() == Approx(20000.0).margin(200.0));
  double upper = 0.0;
  for (std::size_t k = 0; k < w.at.size(); ++k) {
    CHECK(length(w.at[k]) == Approx(20.5).margin(1e-9));
    CHECK(w.off[k] == Approx(0.5).margin(1e-6));
    upper += w.at[k].z > 10.25 ? 1.0 : 0.0;
  }
  // Archimedes: the cap above half the radius has a quarter of the area.
  CHECK(upper / static_cast<double>(w.at.size()) == Approx(0.25).margin(0.01));
}

TEST_CASE("curves are watched by their places") {
  Progress progress;
  const CurveSet small{{make_circle({}, 20.0)}}, large{{make_circle({}, 21.0)}};
  CHECK(watched(small, large, 0.5, progress).max == Approx(1.0).margin(2e-3));
  const WatchReport r = watched(body_of({make_sphere({}, 20.0)}), large, 0.5, progress);
  CHECK(r.max == Approx(1.0).margin(1e-6));
  CHECK(r.bias == Approx(1.0).margin(1e-6));
  CHECK_THROWS_AS(watched(CurveSet{}, large, 0.5, progress), Error);
  CHECK_THROWS_AS(watched(small, large, 0.0, progress), Error);
}

TEST_CASE("a scan that is watched while its part moves keeps its numbers right") {
  Progress progress;
  std::mt19937 random(16);
  std::uniform_real_distribution<double> share(0.0, 1.0);
  Surface s = wavy(0.0, 20.0, 12, 10);
  std::vector<Vec3> points;
  for (int k = 0; k < 5000; ++k)
    points.push_back(evaluate(s, share(random), share(random)) +
                     Vec3{0, 0, 0.4 * (share(random) - 0.5)});
  ScanWatch watch(points);
  (void)watch.measure(body_of({s}), false, progress);
  for (int step = 0; step < 20; ++step) {
    s.points(5, 4).z += 0.15;
    s.points(6, 5).x += 0.1;
    const std::vector<double> quick = watch.measure(body_of({s}), true, progress);
    const std::vector<double> exact = signed_distances(points, body_of({s}), progress);
    double apart = 0.0;
    for (std::size_t k = 0; k < points.size(); ++k)
      apart = std::max(apart, std::abs(quick[k] - exact[k]));
    CHECK(apart < 1e-3);
  }
  // Another grid is not followed but measured anew.
  const Surface other = wavy(0.0, 20.0, 9, 9);
  const std::vector<double> anew = watch.measure(body_of({other}), true, progress);
  const std::vector<double> exact = signed_distances(points, body_of({other}), progress);
  for (std::size_t k = 0; k < points.size(); k += 50)
    CHECK(anew[k] == Approx(exact[k]).margin(1e-6));
  CHECK_THROWS_AS(watch.measure({}, true, progress), Error);
}

TEST_CASE("the watcher keeps what has not changed") {
  Progress progress;
  Watcher watcher;
  const ShapePtr part = shape_of(body_of({make_sphere({}, 20.0)})),
                 scan = shape_of(PointCloud{{{0, 0, 21}, {0, 20.2, 0}}, {}});
  const auto first = watcher.measure(part, scan, 0.5, false, progress).report;
  CHECK(watcher.measure(part, scan, 0.5, false, progress).report == first);
  CHECK(first->max == Approx(1.0).margin(1e-6));
  CHECK(first->inside == Approx(0.5));
  const auto& wider = watcher.measure(part, scan, 2.0, false, progress);
  CHECK(wider.report->inside == Approx(1.0));
  const ShapePtr moved = shape_of(body_of({make_sphere({}, 20.5)}));
  CHECK(watcher.measure(moved, scan, 2.0, true, progress).report->max == Approx(0.5).margin(1e-3));
}

TEST_CASE(
    "colours of what is watched are the mean about a place, and none where nothing was seen") {
  Progress progress;
  const Surface plane = wavy(0.0, 20.0);
  DisplayMesh mesh = display_mesh(body_of({plane}), {}, progress);
  WatchPlaces w;
  w.spacing = 1.0;
  for (double x = -45.0; x < 5.0; x += 1.0)
    for (double y = -35.0; y < 35.0; y += 1.0) {
      const double z = 15.0 * std::cos(x / 45.0) * std::cos(y / 40.0);
      w.at.push_back({x, y, z + 0.02 * x});
      w.off.push_back(0.02 * x);
    }
  const auto values = watch_values(mesh, w, progress);
  REQUIRE(values);
  std::size_t seen = 0;
  for (std::size_t k = 0; k < values->values.size(); ++k) {
    const double x = static_cast<double>(mesh.vertices[6 * k]),
                 y = static_cast<double>(mesh.vertices[6 * k + 1]);
    if (x > 10.0) CHECK(values->values[k] == kNoValue);
    if (x > -43.0 && x < 3.0 && std::abs(y) < 33.0) {
      CHECK(static_cast<double>(values->values[k]) == Approx(0.02 * x).margin(0.03));
      ++seen;
    }
  }
  CHECK(seen > 100);
}

TEST_CASE("maps of curvature follow the closed formulas of torus, ellipsoid and catenoid") {
  // M. do Carmo, Differential Geometry of Curves and Surfaces, 1976, section 3-3 (torus), exercise 3-3.5 (catenoid: mean
  // curvature 0), and the Gaussian curvature of the ellipsoid 1 / (a²b²c² (x²/a⁴ + y²/b⁴ + z²/c⁴)²), from memory.
  Progress progress;
  const auto each = [&](const Surface& s, MapKind kind,
                        const std::function<void(const Vec3&, double)>& look) {
    const DisplayMesh mesh = display_mesh(body_of({s}), {}, progress);
    const auto values = map_values(kind, mesh, body_of({s}), {0, 0, 1}, progress);
    REQUIRE(values);
    for (std::size_t k = 0; k < values->values.size(); k += 7)
      look(
          {static_cast<double>(mesh.vertices[6 * k]), static_cast<double>(mesh.vertices[6 * k + 1]),
           static_cast<double>(mesh.vertices[6 * k + 2])},
          static_cast<double>(values->values[k]));
  };
  const Surface torus = make_torus({}, 30.0, 8.0);
  each(torus, MapKind::Gaussian, [](const Vec3& p, double k) {
    const double cosine = (std::hypot(p.x, p.y) - 30.0) / 8.0;
    CHECK(k == Approx(cosine / (8.0 * (30.0 + 8.0 * cosine))).margin(2e-6));
  });
  each(torus, MapKind::Mean, [](const Vec3& p, double h) {
    const double cosine = (std::hypot(p.x, p.y) - 30.0) / 8.0;
    CHECK(std::abs(h) ==
          Approx(std::abs(0.5 * (1.0 / 8.0 + cosine / (30.0 + 8.0 * cosine)))).margin(1e-5));
  });
  const double a = 30.0, b = 20.0, c = 12.0;
  Surface ellipsoid = make_sphere({}, 1.0);
  for (Vec3& p : ellipsoid.points.values()) p = {a * p.x, b * p.y, c * p.z};
  each(ellipsoid, MapKind::Gaussian, [&](const Vec3& p, double k) {
    if (std::abs(p.z) > 0.98 * c) return;  // the poles of the parameters
    const double q =
        p.x * p.x / (a * a * a * a) + p.y * p.y / (b * b * b * b) + p.z * p.z / (c * c * c * c);
    CHECK(k == Approx(1.0 / (a * a * b * b * c * c * q * q)).epsilon(1e-4));
  });
  const Surface grid = wavy(0.0, 10.0);
  const Surface catenoid = fitted_surface(
      [](double u, double v) {
        const double t = 2.0 * (v - 0.5), w = 2.0 * u;
        return Vec3{10.0 * std::cosh(t) * std::cos(w), 10.0 * std::cosh(t) * std::sin(w), 10.0 * t};
      },
      grid.u, grid.v, grid, progress);
  each(catenoid, MapKind::Mean, [](const Vec3&, double h) { CHECK(std::abs(h) < 1e-3); });
  each(catenoid, MapKind::Gaussian, [](const Vec3& p, double k) {
    const double cosh2 = std::pow(std::cosh(p.z / 10.0), 4.0);
    CHECK(k == Approx(-1.0 / (100.0 * cosh2)).margin(2e-4));
  });
}

TEST_CASE("draft of a cone is its half angle, and thickness of a hollow ball its wall") {
  Progress progress;
  // A cone whose wall leans 5° from the pull.
  const double lean = 5.0 * kPi / 180.0;
  Surface cone = make_torus({}, 30.0, 8.0);
  cone = fitted_surface(
      [&](double u, double v) {
        const double r = 40.0 - 20.0 * std::tan(lean) * v;
        return Vec3{r * std::cos(2.0 * u), r * std::sin(2.0 * u), 20.0 * v};
      },
      uniform_knots(16, 3, false), uniform_knots(4, 3, false), wavy(0.0, 10.0, 16, 4), progress);
  const DisplayMesh wall = display_mesh(body_of({cone}), {}, progress);
  const auto draft = map_values(MapKind::Draft, wall, body_of({cone}), {0, 0, 1}, progress);
  REQUIRE(draft);
  for (const float d : draft->values) CHECK(static_cast<double>(d) == Approx(5.0).margin(0.02));
  const auto below = map_values(MapKind::Draft, wall, body_of({cone}), {0, 0, -1}, progress);
  for (const float d : below->values) CHECK(static_cast<double>(d) == Approx(-5.0).margin(0.02));

  Body ball = body_of({make_sphere({}, 30.0), make_sphere({}, 27.0)});
  ball.faces[1].flipped = true;
  DisplayMesh hollow = display_mesh(ball, {}, progress);
  hollow.closed = true;
  const auto thick = map_values(MapKind::Thickness, hollow, ball, {0, 0, 1}, progress);
  REQUIRE(thick);
  std::size_t outer = 0;
  for (std::size_t k = 0; k < thick->values.size(); ++k) {
    const double r = std::sqrt(std::pow(hollow.vertices[6 * k], 2.0) +
                               std::pow(hollow.vertices[6 * k + 1], 2.0) +
                               std::pow(hollow.vertices[6 * k + 2], 2.0));
    if (r < 29.0) continue;
    CHECK(static_cast<double>(thick->values[k]) == Approx(3.0).margin(0.05));
    ++outer;
  }
  CHECK(outer > 100);
  DisplayMesh open = wall;
  CHECK(map_values(MapKind::Thickness, open, body_of({cone}), {0, 0, 1}, progress) == nullptr);
  CHECK(map_values(MapKind::Gaussian, open, TriangleMesh{}, {0, 0, 1}, progress) == nullptr);
}

TEST_CASE("a ripple is faired out, and the form beneath it stays") {
  Progress progress;
  const Surface clean = wavy(0.0, 16.0), rippled = wavy(0.05, 16.0);
  CHECK(greatest_apart(clean, rippled) > 0.045);
  FairPlan plan;
  plan.tolerance = 0.06;
  plan.shorter_than = 30.0;
  plan.rows_held = {0, 0, 0, 0};
  FairReport report;
  const Surface faired_one = faired(rippled, plan, progress, &report);
  CHECK(greatest_apart(clean, faired_one) < 0.01);
  CHECK(report.greatest <= plan.tolerance);
  CHECK(report.turns_after < report.turns_before / 2);
  CHECK(report.energy_after < 0.05 * report.energy_before);
  CHECK_FALSE(report.at_limit);
}

TEST_CASE("no place moves farther than the tolerance, however great the wobble") {
  Progress progress;
  const Surface rippled = wavy(0.4, 16.0);
  FairPlan plan;
  plan.tolerance = 0.05;
  plan.shorter_than = 30.0;
  FairReport report;
  const Surface f = faired(rippled, plan, progress, &report);
  CHECK(report.at_limit);
  CHECK(greatest_apart(rippled, f) <
        0.05 * 1.02);  // between the 6 × 6 places a span at which it is kept
  CHECK(greatest_apart(rippled, f) > 0.045);
  CHECK(report.energy_after < report.energy_before);
  // The borders were held.
  for (int i = 0; i < f.points.rows(); ++i) CHECK(f.points(i, 0) == rippled.points(i, 0));
  std::vector<char> held(rippled.points.values().size(), 0);
  held[17 * 32 + 9] = 1;
  plan.held = held;
  CHECK(faired(rippled, plan, progress).points(17, 9) == rippled.points(17, 9));
}

TEST_CASE("what is fair already does not change") {
  Progress progress;
  FairPlan plan;
  plan.tolerance = 0.05;
  plan.shorter_than = 30.0;
  plan.rows_held = {0, 0, 0, 0};
  const Surface clean = wavy(0.0, 16.0);
  CHECK(greatest_apart(clean, faired(clean, plan, progress)) < 0.01);
  // Poles and closed directions.
  const Surface like{
      uniform_knots(24, 3, true), uniform_knots(20, 3, false), Grid<Vec3>(24, 20), {}};
  const Surface even = fitted_surface(
      [](double u, double v) {
        const double a = 2 * kPi * u, b = kPi * (v - 0.5);
        return Vec3{30.0 * std::cos(b) * std::cos(a), 30.0 * std::cos(b) * std::sin(a),
                    30.0 * std::sin(b)};
      },
      like.u, like.v, like, progress);
  CHECK(greatest_apart(even, faired(even, plan, progress)) < 0.01);
}

TEST_CASE("a curve is faired like a surface") {
  Progress progress;
  const auto line = [](double ripple) {
    return fitted_curve(
        [=](double t) {
          return Vec3{100.0 * t, 12.0 * std::sin(2.2 * t), ripple * std::sin(2 * kPi * t * 7.0)};
        },
        0.0, 1.0, 40, 1e-4);
  };
  const Curve clean = line(0.0), rippled = line(0.05);
  FairPlan plan;
  plan.tolerance = 0.08;
  plan.shorter_than = 30.0;
  FairReport report;
  const Curve f = faired(rippled, plan, progress, &report);
  for (int k = 0; k <= 100; ++k)
    CHECK(distance(evaluate(f, k / 100.0), evaluate(clean, k / 100.0)) < 0.012);
  CHECK(f.points.front() == rippled.points.front());
  CHECK(report.greatest < 0.08);
}

TEST_CASE("fair says what it cannot do") {
  Progress progress;
  const Surface coarse = wavy(0.0, 16.0, 6, 5);
  FairPlan plan;
  plan.shorter_than = 10.0;
  CHECK_THROWS_WITH(faired(coarse, plan, progress), Catch::Contains("too far apart"));
  plan.tolerance = 0.0;
  CHECK_THROWS_AS(faired(coarse, plan, progress), Error);
  Surface flat{uniform_knots(5, 1, false), uniform_knots(5, 1, false), Grid<Vec3>(5, 5), {}};
  for (int i = 0; i < 5; ++i)
    for (int j = 0; j < 5; ++j) flat.points(i, j) = {10.0 * i, 10.0 * j, 0.0};
  CHECK_THROWS_WITH(faired(flat, {}, progress), Catch::Contains("degree 1"));
}
