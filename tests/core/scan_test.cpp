// Scanner, clipping and fitting: against closed formulas, statistics and brute force.
#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/select.h"
#include "core/mesh/repair.h"
#include "core/mesh/tessellate.h"
#include "core/operations/fit_steps.h"
#include "core/scan/clip.h"
#include "core/scan/fit_scan.h"
#include "core/stand_ins/scanner.h"

using namespace evenclay;

namespace {

constexpr double kPi = std::numbers::pi;

// A hill over 80 × 60 mm, 10 mm high; a polynomial of degree 2 each way, so that any cubic grid holds it exactly.
double hill(double x, double y) {
  return 10.0 * (1.0 - x * x / 1600.0) * (1.0 - y * y / 900.0);
}

std::vector<Vec3> hill_points(std::size_t count, double noise, unsigned seed) {
  std::mt19937_64 random(seed);
  std::uniform_real_distribution<double> share(-1.0, 1.0);
  std::normal_distribution<double> error(0.0, noise);
  std::vector<Vec3> points{{-40, -30, hill(-40, -30)},
                           {40, 30, hill(40, 30)},
                           {-40, 30, hill(-40, 30)},
                           {40, -30, hill(40, -30)}};
  while (points.size() < count) {
    const double x = 40.0 * share(random), y = 30.0 * share(random);
    points.push_back({x, y, hill(x, y) + (noise > 0.0 ? error(random) : 0.0)});
  }
  return points;
}

ScanFitPlan upright_plan() {
  ScanFitPlan plan;
  plan.frame = {};
  plan.smoothing = 0.0;
  return plan;
}

// Root mean square distance of the surface from the hill, at places that no point of a scan knows of.
double miss(const Surface& s, const std::function<bool(const Vec3&)>& counts = {}) {
  double sum = 0.0;
  int n = 0;
  for (int i = 0; i <= 60; ++i)
    for (int j = 0; j <= 60; ++j) {
      const Vec3 p = evaluate(s, 0.02 + 0.96 * i / 60.0, 0.02 + 0.96 * j / 60.0);
      if (counts && !counts(p)) continue;
      sum += (p.z - hill(p.x, p.y)) * (p.z - hill(p.x, p.y));
      ++n;
    }
  return std::sqrt(sum / n);
}

TriangleMesh grid_mesh(int cells, const std::function<double(double, double)>& z) {
  TriangleMesh m;
  for (int i = 0; i <= cells; ++i)
    for (int j = 0; j <= cells; ++j) {
      const double x = -40.0 + 80.0 * i / cells, y = -30.0 + 60.0 * j / cells;
      m.points.push_back({x, y, z(x, y)});
    }
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * (cells + 1) + j); };
  for (int i = 0; i < cells; ++i)
    for (int j = 0; j < cells; ++j) {
      m.triangles.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1)});
      m.triangles.push_back({at(i, j), at(i + 1, j + 1), at(i, j + 1)});
    }
  return m;
}

Lasso ring(double x, double y, double radius, int places = 40) {
  Lasso l;
  for (int k = 0; k < places; ++k)
    l.outline.push_back({x + radius * std::cos(2 * kPi * k / places),
                         y + radius * std::sin(2 * kPi * k / places), 0.0});
  return l;
}

// Inside by the turns of the outline around the place: another way than counting crossings.
bool inside_by_turns(const std::vector<Vec3>& outline, double x, double y) {
  double turned = 0.0;
  for (std::size_t k = 0; k < outline.size(); ++k) {
    const Vec3 a = outline[k] - Vec3{x, y, 0},
               b = outline[(k + 1) % outline.size()] - Vec3{x, y, 0};
    turned += std::atan2(a.x * b.y - a.y * b.x, a.x * b.x + a.y * b.y);
  }
  return std::abs(turned) > kPi;
}

TriangleMesh ball(double radius, int around = 64) {
  TriangleMesh m;
  for (int i = 0; i <= around / 2; ++i)
    for (int j = 0; j < around; ++j) {
      const double a = kPi * i / (around / 2), b = 2 * kPi * j / around;
      m.points.push_back({radius * std::sin(a) * std::cos(b), radius * std::sin(a) * std::sin(b),
                          radius * std::cos(a)});
    }
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * around + j % around); };
  for (int i = 0; i < around / 2; ++i)
    for (int j = 0; j < around; ++j) {
      if (i > 0) m.triangles.push_back({at(i, j), at(i + 1, j), at(i, j + 1)});
      if (i + 1 < around / 2) m.triangles.push_back({at(i, j + 1), at(i + 1, j), at(i + 1, j + 1)});
    }
  return m;
}

}  // namespace

TEST_CASE("a fit averages noise out as least squares does") {
  // Theory of linear least squares: the mean square error of the fit is σ² p / N (p coefficients, N observations);
  // N. Draper, H. Smith, Applied Regression Analysis, 1998, section 1.4.
  Progress progress;
  ScanFitPlan plan = upright_plan();
  plan.leave_out_stray = false;
  plan.corrections = 0;
  const double sigma = 0.15, p = 8.0 * 6.0;
  for (const std::size_t count : {2000UL, 8000UL, 32000UL}) {
    double square = 0.0;
    constexpr int kRounds = 6;
    for (unsigned seed = 0; seed < kRounds; ++seed) {
      const double m =
          miss(fit_scan(hill_points(count, sigma, 100 + seed), plan, progress).surface);
      square += m * m / kRounds;
    }
    const double expected = sigma * std::sqrt(p / static_cast<double>(count));
    CAPTURE(count, std::sqrt(square), expected);
    CHECK(std::sqrt(square) < 1.25 * expected);
    CHECK(std::sqrt(square) > 0.75 * expected);
  }
}

TEST_CASE("a scan without noise gives the surface itself") {
  Progress progress;
  const ScanFit fit = fit_scan(hill_points(3000, 0.0, 5), upright_plan(), progress);
  CHECK(miss(fit.surface) < 1e-5);
  CHECK(fit.max < 1e-4);
  CHECK(fit.strays == 0);
  CHECK(fit.seen > 0.99);
}

TEST_CASE("a fit is not biased at torn borders and over holes") {
  Progress progress;
  std::vector<Vec3> torn;
  for (const Vec3& p : hill_points(20000, 0.15, 9)) {
    const bool hole = std::hypot(p.x - 8.0, p.y + 4.0) < 6.0;
    const bool away =
        p.x > 30.0 + 4.0 * std::sin(0.7 * p.y) || p.y > 24.0 + 2.0 * std::sin(0.9 * p.x);
    if (!hole && !away) torn.push_back(p);
  }
  ScanFitPlan plan = upright_plan();
  plan.smoothing = 0.2;
  const ScanFit fit = fit_scan(torn, plan, progress);
  // Mean of the signed error in a strip along the torn border, where there are still points.
  double sum = 0.0;
  int n = 0;
  for (int i = 0; i <= 200; ++i)
    for (int j = 0; j <= 200; ++j) {
      const Vec3 p = evaluate(fit.surface, i / 200.0, j / 200.0);
      if (p.x < 22.0 || p.x > 26.0 || std::abs(p.y) > 20.0) continue;
      sum += p.z - hill(p.x, p.y);
      ++n;
    }
  REQUIRE(n > 100);
  CHECK(std::abs(sum / n) < 0.02);
  CHECK(miss(fit.surface, [](const Vec3& p) { return std::hypot(p.x - 8.0, p.y + 4.0) < 5.0; }) <
        0.03);
}

TEST_CASE("stray points do not pull") {
  Progress progress;
  std::vector<Vec3> points = hill_points(10000, 0.1, 3);
  for (std::size_t k = 10; k < points.size(); k += 100) points[k].z += 7.0;
  const ScanFit with = fit_scan(points, upright_plan(), progress);
  CHECK(with.strays == 100);
  CHECK(miss(with.surface) < 0.02);
  CHECK(with.max < 1.0);
  ScanFitPlan all = upright_plan();
  all.leave_out_stray = false;
  CHECK(miss(fit_scan(points, all, progress).surface) > 0.05);
}

TEST_CASE("the orientation that is asked for is kept") {
  Progress progress;
  const std::vector<Vec3> points = hill_points(8000, 0.15, 21);
  for (const double turn : {0.0, 30.0, -75.0}) {
    ScanFitPlan plan = upright_plan();
    const Vec3 along{std::cos(radians(turn)), std::sin(radians(turn)), 0.0};
    plan.frame = frame_facing(points, {0, 0, 1}, along);
    CHECK(degrees_between(plan.frame.x, along) < 1e-9);
    const Surface s = fit_scan(points, plan, progress).surface;
    // The iso-curve through the middle, as seen along z.
    const Vec3 way = evaluate(s, 0.75, 0.5) - evaluate(s, 0.25, 0.5);
    CHECK(degrees_between({way.x, way.y, 0.0}, along) < 0.1);
  }
}

TEST_CASE("the best frame finds the axes of a slab") {
  // A slab of 60 × 30 × 2 mm turned about a known axis: its principal axes are known.
  std::mt19937 random(4);
  std::uniform_real_distribution<double> share(-0.5, 0.5);
  const Vec3 z = normalized({0.3, -0.2, 1.0}), x = normalized(cross({0, 1, 0}, z)), y = cross(z, x);
  std::vector<Vec3> points;
  for (int k = 0; k < 20000; ++k)
    points.push_back(Vec3{5, 6, 7} + x * (60.0 * share(random)) + y * (30.0 * share(random)) +
                     z * (2.0 * share(random)));
  const Frame f = best_frame(points, {});
  CHECK(degrees_between(f.z, z) < 0.2);
  CHECK(std::min(degrees_between(f.x, x), degrees_between(f.x, -x)) < 1.0);
  const std::vector<Vec3> down(1, Vec3{0, 0, -1});
  CHECK(dot(best_frame(points, down).z, z) < -0.99);
  std::vector<Vec3> line(50);
  for (int k = 0; k < 50; ++k) line[static_cast<std::size_t>(k)] = {1.0 * k, 2.0 * k, 0.0};
  CHECK_THROWS_AS(best_frame(line, {}), Error);
}

TEST_CASE("the order of the points does not matter to a fit") {
  Progress progress;
  std::vector<Vec3> points = hill_points(300000, 0.1, 77);  // more than are corrected on
  const ScanFit a = fit_scan(points, upright_plan(), progress);
  std::mt19937 random(1);
  std::shuffle(points.begin(), points.end(), random);
  const ScanFit b = fit_scan(points, upright_plan(), progress);
  double apart = 0.0;
  for (std::size_t k = 0; k < a.surface.points.values().size(); ++k)
    apart = std::max(apart, distance(a.surface.points.values()[k], b.surface.points.values()[k]));
  CHECK(apart < 1e-7);
}

TEST_CASE("smoothing bends less, and counts for a tolerance are the fewest") {
  Progress progress;
  const auto wavy = [](double x, double y) { return 2.0 * std::sin(0.15 * x) * std::cos(0.1 * y); };
  std::vector<Vec3> points;
  for (const Vec3& p : hill_points(20000, 0.0, 8)) points.push_back({p.x, p.y, wavy(p.x, p.y)});
  ScanFitPlan plan = upright_plan();
  plan.points_u = 14;
  plan.points_v = 10;
  double last = 0.0;
  for (const double smoothing : {0.0, 0.5, 0.8, 1.0}) {
    plan.smoothing = smoothing;
    const double off = fit_scan(points, plan, progress).mean;
    CHECK(off >= last);
    last = off;
  }
  plan.smoothing = 0.0;
  const ScanFit within = fit_scan_within(points, plan, 0.05, 40, progress);
  CHECK(within.percentile95 < 0.05);
  CHECK(within.surface.points.rows() > within.surface.points.columns());  // shorter waves along x
  // One less in either direction does not hold it.
  for (const int u : {0, 1}) {
    ScanFitPlan fewer = plan;
    fewer.points_u = within.surface.points.rows() - u;
    fewer.points_v = within.surface.points.columns() - (1 - u);
    CHECK(fit_scan(points, fewer, progress).percentile95 > 0.05);
  }
  CHECK_THROWS_WITH(fit_scan_within(hill_points(5000, 0.3, 2), plan, 0.01, 12, progress),
                    Catch::Contains("roughness"));
}

TEST_CASE("points that are held stay when a surface is fitted again") {
  Progress progress;
  const std::vector<Vec3> points = hill_points(8000, 0.05, 31);
  Surface s = fit_scan(points, upright_plan(), progress).surface;
  Surface pushed = s;
  for (Vec3& p : pushed.points.values()) p.z += 0.8;
  std::vector<char> held(pushed.points.values().size(), 0);
  held[0] = held[10] = held[25] = 1;
  const ScanFit again = fit_again(pushed, points, held, 0.0, 3.0, progress);
  for (const std::size_t k : {0UL, 10UL, 25UL})
    CHECK(again.surface.points.values()[k] == pushed.points.values()[k]);
  CHECK(again.mean < 0.3);
  CHECK(fit_again(pushed, points, {}, 0.0, 3.0, progress).mean < 0.06);
  CHECK_THROWS_WITH(fit_again(pushed, points, {}, 0.0, 1e-6, progress), Catch::Contains("too far"));
}

TEST_CASE("a fit refuses what it cannot do, with a sentence") {
  Progress progress;
  const std::vector<Vec3> few = hill_points(20, 0.0, 1);
  CHECK_THROWS_WITH(fit_scan(few, upright_plan(), progress), Catch::Contains("20 points"));
  ScanFitPlan plan = upright_plan();
  plan.points_u = 3;
  CHECK_THROWS_AS(fit_scan(hill_points(500, 0.0, 1), plan, progress), Error);
  plan = upright_plan();
  plan.margin = -50.0;
  CHECK_THROWS_WITH(fit_scan(hill_points(500, 0.0, 1), plan, progress), Catch::Contains("margin"));
  std::vector<Vec3> flat_on_edge;
  for (const Vec3& p : hill_points(500, 0.0, 1)) flat_on_edge.push_back({p.x, 0.0, p.y});
  CHECK_THROWS_WITH(fit_scan(flat_on_edge, upright_plan(), progress), Catch::Contains("no area"));
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(fit_scan(hill_points(5000, 0.0, 1), upright_plan(), cancelled), Cancelled);
}

TEST_CASE("what a scanner sees lies on the form, but for its noise") {
  Progress progress;
  const TriangleMesh form = grid_mesh(80, hill);
  ScanPlan plan{.spacing = 0.5, .noise = 0.0, .torn = 0.0};
  const TriangleMesh clean = scanned(form, plan, progress);
  CHECK(clean.points.size() > 160U * 120U * 95 / 100);
  double off = 0.0;
  for (const Vec3& p : clean.points) off = std::max(off, std::abs(p.z - hill(p.x, p.y)));
  CHECK(off < 0.01);  // a cell of 1 mm of this hill leaves it by no more than h²·|z''| / 8
  plan.noise = 0.2;
  const TriangleMesh noisy = scanned(form, plan, progress);
  REQUIRE(noisy.points.size() == clean.points.size());
  double mean = 0.0, square = 0.0, fourth = 0.0;
  const auto n = static_cast<double>(clean.points.size());
  for (std::size_t k = 0; k < clean.points.size(); ++k) {
    const double d = noisy.points[k].z - clean.points[k].z;
    CHECK(std::abs(noisy.points[k].x - clean.points[k].x) < 1e-9);
    mean += d / n;
    square += d * d / n;
    fourth += d * d * d * d / n;
  }
  CHECK(std::abs(mean) < 4.0 * 0.2 / std::sqrt(n));
  CHECK(std::sqrt(square) == Approx(0.2).epsilon(0.02));
  CHECK(fourth / (square * square) ==
        Approx(3.0).epsilon(0.06));  // the kurtosis of the normal distribution
  CHECK(scanned(form, plan, progress) == noisy);
  plan.seed = 2;
  CHECK_FALSE(scanned(form, plan, progress) == noisy);
}

TEST_CASE("a scan is torn, holed, strays and drifts as it is told") {
  Progress progress;
  const TriangleMesh form = grid_mesh(40, [](double, double) { return 0.0; });
  const auto scan = [&](ScanPlan plan) {
    plan.spacing = 0.5;
    plan.noise = 0.0;
    return scanned(form, plan, progress);
  };
  const TriangleMesh whole = scan({.torn = 0.0});
  const TriangleMesh torn = scan({.torn = 4.0});
  CHECK(torn.points.size() < whole.points.size());
  for (const Vec3& p : whole.points)
    if (std::abs(p.x) < 35.0 && std::abs(p.y) < 25.0)
      CHECK(std::find(torn.points.begin(), torn.points.end(), p) != torn.points.end());
  const TriangleMesh holed = scan({.torn = 0.0, .holes = 3, .hole_size = 8.0});
  const double lost = static_cast<double>(whole.points.size() - holed.points.size()) * 0.25;
  CHECK(lost > 2.0 * kPi * 2.8 * 2.8);
  CHECK(lost < 3.0 * kPi * 6.5 * 6.5);
  const TriangleMesh stray = scan({.outliers = 0.05, .torn = 0.0});
  const auto off = std::count_if(stray.points.begin(), stray.points.end(),
                                 [](const Vec3& p) { return std::abs(p.z) > 2.9; });
  CHECK(static_cast<double>(off) / static_cast<double>(stray.points.size()) ==
        Approx(0.05).margin(0.01));
  const TriangleMesh two = scan({.passes = 2, .turn = 0.0, .torn = 0.0, .drift = 0.7});
  REQUIRE(two.points.size() == 2 * whole.points.size());
  for (std::size_t k = 0; k < whole.points.size(); k += 97)
    CHECK(distance(two.points[k], two.points[k + whole.points.size()]) == Approx(0.7).margin(1e-9));
}

TEST_CASE("the scanner sees one side, and no walls") {
  Progress progress;
  const TriangleMesh sphere = ball(20.0, 128);
  const TriangleMesh seen = scanned(sphere, {.spacing = 0.4, .noise = 0.0, .torn = 0.0}, progress);
  for (const Vec3& p : seen.points) CHECK(p.z > 20.0 * std::cos(radians(82.0)));
  for (const auto& t : seen.triangles) {
    const Vec3 n =
        cross(seen.points[t[1]] - seen.points[t[0]], seen.points[t[2]] - seen.points[t[0]]);
    CHECK(dot(n, seen.points[t[0]]) > 0.0);
  }
  CHECK_THROWS_AS(scanned(sphere, {.spacing = 0.0}, progress), Error);
  CHECK_THROWS_AS(scanned({}, {}, progress), Error);
  CHECK_THROWS_WITH(scanned(sphere, {.spacing = 1e-4}, progress), Catch::Contains("coarsely"));
  CHECK_THROWS_WITH(scanned(sphere, {.torn = 100.0}, progress), Catch::Contains("saw nothing"));
}

TEST_CASE("the palm rest is a closed form of the size that is said") {
  const TriangleMesh rest = palm_rest();
  CHECK(check_edges(rest).watertight());
  CHECK(volume(rest) > 0.0);
  const Vec3 size = box(rest).max - box(rest).min;
  CHECK(size.x == Approx(100.0).margin(1.0));
  CHECK(size.y == Approx(72.0).margin(8.0));
  CHECK(size.z == Approx(31.0).margin(2.0));
  CHECK(box(rest).min.z == Approx(0.0).margin(1e-9));
}

TEST_CASE("a lasso keeps what its outline turns around, near and far") {
  Progress progress;
  const TriangleMesh sphere = ball(20.0, 96);
  std::mt19937 random(12);
  std::uniform_real_distribution<double> share(-1.0, 1.0);
  for (int round = 0; round < 12; ++round) {
    Lasso l;
    for (int k = 0; k < 14; ++k) {
      const double a = 2 * kPi * k / 14, r = 9.0 + 5.0 * share(random);
      l.outline.push_back({2.0 + r * std::cos(a), -1.0 + r * std::sin(a), 0.0});
    }
    const TriangleMesh kept = clipped(sphere, {{l}}, progress);
    std::size_t expected = 0;
    for (const auto& t : sphere.triangles)
      expected += std::all_of(t.begin(), t.end(), [&](std::uint32_t p) {
        return inside_by_turns(l.outline, sphere.points[p].x, sphere.points[p].y);
      });
    CHECK(kept.triangles.size() == expected);
    const auto above = std::count_if(kept.points.begin(), kept.points.end(),
                                     [](const Vec3& p) { return p.z > 0.5; });
    const auto below = std::count_if(kept.points.begin(), kept.points.end(),
                                     [](const Vec3& p) { return p.z < -0.5; });
    CHECK(std::abs(above - below) <= 2);  // the ball is symmetric but for rounding
    l.visible_only = true;
    for (const Vec3& p : clipped(sphere, {{l}}, progress).points) CHECK(p.z > 0.0);
  }
}

TEST_CASE("an eye at a distance sees a cone") {
  Progress progress;
  PointCloud cloud;
  for (int k = 0; k < 60; ++k)
    for (int m = 0; m < 60; ++m) cloud.points.push_back({0.5 * k, 0.0, -1.0 * m});
  Lasso l = ring(0, 0, 5.0, 200);
  l.eye = 100.0;
  for (const Vec3& p : clipped(cloud, {{l}}, progress).points)
    CHECK(p.x <= 5.0 * (100.0 - p.z) / 100.0 + 1e-9);
  // By similar triangles the region is 5 · 160/100 = 8 mm wide at the far end.
  const PointCloud kept = clipped(cloud, {{l}}, progress);
  CHECK(std::count_if(kept.points.begin(), kept.points.end(),
                      [](const Vec3& p) { return p.z < -58.5; }) == 16);
  CHECK(std::count_if(kept.points.begin(), kept.points.end(),
                      [](const Vec3& p) { return p.z > -0.5; }) == 10);
}

TEST_CASE("regions are kept and taken away in their order") {
  Progress progress;
  const TriangleMesh flat = grid_mesh(160, [](double, double) { return 0.0; });
  Lasso hole = ring(0, 0, 5.0, 100);
  hole.remove = true;
  const double each = 80.0 * 60.0 / (160.0 * 160.0);
  const auto area_kept = [&](std::vector<Lasso> lassos) {
    return area(clipped(flat, {std::move(lassos)}, progress));
  };
  const double band =
      2 * kPi * 20.0 * std::sqrt(each) * 1.5;  // what whole triangles leave over along an outline
  CHECK(area_kept({ring(0, 0, 20.0, 200)}) == Approx(kPi * 400.0).margin(band));
  CHECK(area_kept({ring(0, 0, 20.0, 200), hole}) == Approx(kPi * 375.0).margin(2 * band));
  CHECK(area_kept({hole}) == Approx(4800.0 - kPi * 25.0).margin(band));
  CHECK(area_kept({hole, ring(0, 0, 2.0, 100)}) > area_kept({hole}));
  CHECK(area_kept({}) == Approx(4800.0));
}

TEST_CASE("borders, holes and crumbs of a scan are left out") {
  Progress progress;
  TriangleMesh scan = grid_mesh(160, [](double, double) { return 0.0; });
  std::erase_if(scan.triangles, [&](const auto& t) {
    return length(scan.points[t[0]] - Vec3{10, 5, 0}) < 4.0;
  });
  TriangleMesh crumb = grid_mesh(4, [](double, double) { return 30.0; });
  append(scan, crumb);
  ClipReport report;
  const TriangleMesh kept = clipped(scan, {{}, 3.0, 0.05}, progress, &report);
  CHECK(report.borders == 3);  // around the plate, the hole, the crumb
  CHECK(report.pieces == 1);
  for (const Vec3& p : kept.points) {
    CHECK(p.z == 0.0);
    CHECK(std::abs(p.x) <= 37.0);
    CHECK(std::abs(p.y) <= 27.0);
    CHECK(length(p - Vec3{10, 5, 0}) > 6.0);
  }
  PointCloud cloud{scan.points, {}};
  std::erase_if(cloud.points, [](const Vec3& p) {
    return p.z > 1.0 || length(p - Vec3{10, 5, 0}) < 4.0;
  });
  const PointCloud inner = clipped(cloud, {{}, 3.0, 0.0}, progress, &report);
  CHECK(report.torn > 1000);
  for (const Vec3& p : inner.points)
    CHECK((std::abs(p.x) < 38.0 && std::abs(p.y) < 28.0 && length(p - Vec3{10, 5, 0}) > 5.5));
  CHECK(inner.points.size() > cloud.points.size() * 3 / 4);
}

TEST_CASE("a lasso that cannot be used says why, and nothing left is said") {
  Progress progress;
  const TriangleMesh sphere = ball(20.0, 32);
  CHECK_THROWS_WITH(clipped(sphere, {{Lasso{}}}, progress), Catch::Contains("3 to"));
  Lasso line;
  line.outline = {{0, 0, 0}, {1, 1, 0}, {2, 2, 0}};
  CHECK_THROWS_WITH(clipped(sphere, {{line}}, progress), Catch::Contains("no area"));
  Lasso nan = ring(0, 0, 5);
  nan.outline[2].x = std::nan("");
  CHECK_THROWS_AS(clipped(sphere, {{nan}}, progress), Error);
  Lasso skewed = ring(0, 0, 5);
  skewed.view.x = {1, 1, 0};
  CHECK_THROWS_AS(clipped(sphere, {{skewed}}, progress), Error);
  CHECK_THROWS_WITH(clipped(sphere, {{ring(500, 0, 5)}}, progress), Catch::Contains("Nothing"));
  CHECK_THROWS_WITH(clipped(PointCloud{{{0, 0, 0}}, {}}, {{ring(500, 0, 5)}}, progress),
                    Catch::Contains("Nothing"));
}

TEST_CASE("normals of points are those of the surface they lie on") {
  PointCloud cloud;
  const TriangleMesh sphere = ball(20.0, 64);
  for (const Vec3& p : sphere.points)
    if (p.z > -12.0 && std::abs(p.z) < 19.9) cloud.points.push_back(p);
  const std::vector<Vec3> normals = normals_of(cloud);
  std::size_t good = 0;
  for (std::size_t k = 0; k < normals.size(); ++k)
    good += degrees_between(normals[k], cloud.points[k]) < 8.0 ? 1U : 0U;
  CHECK(good > normals.size() * 95 / 100);
  CHECK(spacing(std::vector<Vec3>{{0, 0, 0}, {2, 0, 0}, {4, 0, 0}, {6, 0, 0}}) == Approx(2.0));
}

namespace {

// A bent sheet of triangles, some of them turned round by chance; without normals, as scanners hand them over.
TriangleMesh bent_sheet(double share_turned, unsigned seed) {
  TriangleMesh m;
  constexpr int kAcross = 40;
  for (int i = 0; i <= kAcross; ++i)
    for (int j = 0; j <= kAcross; ++j) {
      const double x = 2.0 * i - 40.0, y = 1.5 * j - 30.0;
      m.points.push_back({x, y, 4.0 * std::cos(0.05 * x) + 0.002 * x * y});
    }
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> chance(0.0, 1.0);
  const auto at = [](int i, int j) { return static_cast<std::uint32_t>(i * (kAcross + 1) + j); };
  for (int i = 0; i < kAcross; ++i)
    for (int j = 0; j < kAcross; ++j)
      for (std::array<std::uint32_t, 3> t :
           {std::array{at(i, j), at(i + 1, j), at(i + 1, j + 1)},
            std::array{at(i, j), at(i + 1, j + 1), at(i, j + 1)}}) {
        if (chance(random) < share_turned) std::swap(t[1], t[2]);
        m.triangles.push_back(t);
      }
  return m;
}

}  // namespace

TEST_CASE("triangles that look the other way by chance are taken as their neighbours") {
  for (const double share : {0.1, 0.35, 0.49}) {
    INFO(share);
    TriangleMesh mesh = bent_sheet(share, 3);
    const TriangleMesh whole = bent_sheet(0.0, 3);
    std::size_t different = 0;
    for (std::size_t t = 0; t < mesh.triangles.size(); ++t)
      different += mesh.triangles[t] != whole.triangles[t] ? 1 : 0;
    REQUIRE(different > 0);
    CHECK(turn_alike(mesh) == different);
    // A turned triangle may begin at another corner; all look up.
    for (const auto& t : mesh.triangles)
      CHECK(cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]).z >
            0.0);
    CHECK(turn_alike(mesh) == 0);
  }
  // Two pieces are each turned as most of their own triangles look.
  TriangleMesh two = bent_sheet(0.0, 1);
  const std::size_t first = two.triangles.size();
  const TriangleMesh down = bent_sheet(0.0, 1);
  const auto offset = static_cast<std::uint32_t>(two.points.size());
  for (const Vec3& p : down.points) two.points.push_back(p + Vec3{0, 0, 100});
  for (const auto& t : down.triangles)
    two.triangles.push_back({t[0] + offset, t[2] + offset, t[1] + offset});
  std::swap(two.triangles[first + 5][1], two.triangles[first + 5][2]);
  CHECK(turn_alike(two) == 1);
}

TEST_CASE("a fit does not mind triangles that look the other way, and says how many did") {
  Progress progress;
  FitSurfaceOperation fit;
  fit.points_u = 7;
  fit.points_v = 6;
  const Outcome right = fit.apply(Shape{bent_sheet(0.0, 5)}, {}, progress);
  const Outcome mixed = fit.apply(Shape{bent_sheet(0.45, 5)}, {}, progress);
  const Surface &a = *std::get<Body>(right.shape).faces[0].surface,
                &b = *std::get<Body>(mixed.shape).faces[0].surface;
  REQUIRE(a.points.values().size() == b.points.values().size());
  for (std::size_t k = 0; k < a.points.values().size(); ++k)
    CHECK(distance(a.points.values()[k], b.points.values()[k]) < 1e-9);
  const auto says = [](const Outcome& o, const char* words) {
    return std::any_of(o.notes.begin(), o.notes.end(),
                       [&](const std::string& n) { return n.find(words) != std::string::npos; });
  };
  CHECK(says(mixed, "looked to the other side than their neighbours"));
  CHECK_FALSE(says(right, "looked to the other side"));
  CHECK_FALSE(says(mixed, "folded over"));
}

TEST_CASE("the n-th of many numbers is what sorting puts there") {
  std::mt19937 random(3);
  for (const std::size_t count : {1UL, 7UL, 1000UL, 200'000UL}) {
    std::vector<double> values;
    for (std::size_t k = 0; k < count; ++k) {
      const double x = static_cast<double>(random() % 5000) * 1e-3;
      // Many that are alike, some far out, and zeros of both signs.
      values.push_back(k % 11 == 0 ? -0.0 : (k % 17 == 0 ? 1e6 * x : (k % 5 == 0 ? 1e-9 * x : x)));
    }
    std::vector<double> sorted = values;
    std::sort(sorted.begin(), sorted.end());
    for (const std::size_t n :
         {std::size_t{0}, count / 20, count / 2, (count * 19) / 20, count - 1})
      CHECK(nth_smallest(values, n) == sorted[n]);
  }
}
