#include <catch2/catch.hpp>
#include <random>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/support.h"

using namespace evenclay;

namespace {

Surface random_uniform(int nu, int nv, int pu, int pv, bool closed_u, unsigned seed) {
  std::mt19937 r(seed);
  std::uniform_real_distribution<double> x(-30, 30);
  Surface s{uniform_knots(nu, pu, closed_u), uniform_knots(nv, pv, false), Grid<Vec3>(nu, nv), {}};
  for (Vec3& p : s.points.values()) p = {x(r), x(r), x(r)};
  return s;
}

}  // namespace

TEST_CASE("rebuild reproduces a surface that lies in the new space to 1e-10") {
  Progress progress;
  unsigned seed = 1;
  for (const int degree : {1, 2, 3, 5, 7, 11})
    for (const bool closed : {false, true}) {
      const Surface s = random_uniform(degree + 7, degree + 4, degree, 3, closed, seed++);
      if (s.v.point_count() < 4) continue;
      const Surface r = rebuild(s,
                                {.points_u = s.points.rows(),
                                 .points_v = s.points.columns(),
                                 .degree_u = degree,
                                 .degree_v = 3},
                                progress);
      INFO("degree " << degree << (closed ? " closed" : ""));
      for (std::size_t k = 0; k < s.points.values().size(); ++k)
        CHECK(distance(r.points.values()[k], s.points.values()[k]) <= 1e-10 * size(s));
    }
}

TEST_CASE("a sphere of radius 52 rebuilt 10 × 8 stays closed and keeps smooth poles") {
  Progress progress;
  const Surface sphere = make_sphere({}, 52);
  const Surface r = rebuild(sphere, {.points_u = 10, .points_v = 8}, progress);
  CHECK(r.points.rows() == 10);
  CHECK(r.points.columns() == 8);
  CHECK(r.u.periodic);
  CHECK(is_closed(r, 0.0));
  CHECK(distance(r.points(0, 0), {0, 0, -52}) < 1e-9);
  CHECK(distance(r.points(0, 7), {0, 0, 52}) < 1e-9);
  for (int i = 0; i < 10; ++i) {
    CHECK(r.points(i, 0) == r.points(0, 0));
    CHECK(std::abs(r.points(i, 1).z + 52) < 1e-9);  // in the pole's tangent plane
    CHECK(std::abs(r.points(i, 6).z - 52) < 1e-9);
    // mirror image in x-z, and turned by a tenth: nothing prefers a direction
    const Vec3 m = r.points((10 - i) % 10, 3);
    CHECK(distance(r.points(i, 3), {m.x, -m.y, m.z}) < 1e-10);
  }
}

TEST_CASE("the gauge's deviation agrees with an independent dense check to 1 percent") {
  Progress progress;
  const Surface sphere = make_sphere({}, 52);
  const Surface r = rebuild(sphere, {.points_u = 10, .points_v = 8}, progress);
  const Deviation d = deviation(sphere, r, progress);
  // The distance of a point to the sphere is | |p| - 52 |; no projection is needed.
  double worst = 0.0;
  double sum = 0.0;
  double area = 0.0;
  const SurfaceEvaluator evaluator(r);
  for (int i = 0; i < 1000; ++i)
    for (int j = 0; j < 1000; ++j) {
      const PointTangents t = evaluator.tangents((i + 0.5) / 1000, (j + 0.5) / 1000);
      const double off = std::abs(length(t.p) - 52);
      const double a = length(cross(t.du, t.dv));
      worst = std::max(worst, off);
      sum += a * off;
      area += a;
    }
  CHECK(d.max == Approx(worst).epsilon(0.01));
  CHECK(d.mean == Approx(sum / area).epsilon(0.01));
  CHECK(d.max > 0.4);
}

TEST_CASE("more control points bring the rebuilt sphere closer") {
  Progress progress;
  const Surface sphere = make_sphere({}, 52);
  double before = 1e9;
  for (const int n : {6, 8, 12, 18, 30}) {
    const Surface r = rebuild(sphere, {.points_u = n, .points_v = n}, progress);
    const double d = deviation(sphere, r, progress, 6).max;
    CHECK(d < before);
    before = d;
  }
  CHECK(before < 0.01);
}

TEST_CASE("two surfaces that share a border and are rebuilt alike still share it") {
  Progress progress;
  Surface a = random_uniform(9, 6, 3, 3, false, 4);
  Surface b = random_uniform(9, 7, 3, 3, false, 5);
  for (int i = 0; i < 9; ++i) b.points(i, 0) = a.points(i, 5);
  const Surface ra = rebuild(a, {.points_u = 7, .points_v = 5}, progress);
  const Surface rb = rebuild(b, {.points_u = 7, .points_v = 9}, progress);
  for (int i = 0; i < 7; ++i) CHECK(distance(ra.points(i, 4), rb.points(i, 0)) < 1e-11);
}

TEST_CASE("even spacing makes an uneven plane even") {
  Progress progress;
  Surface s = make_plane({}, 60, 40, 8, 8, 3, 3);
  for (Vec3& p : s.points.values()) p.x = p.x * std::abs(p.x) / 30;  // crowded at the middle
  const double before = evenness(s).u_percent;
  const Surface r = rebuild(s, {.points_u = 8, .points_v = 8, .even = true}, progress);
  CHECK(before < 70);
  CHECK(evenness(r).u_percent > 95);
}

TEST_CASE("rebuild refuses what cannot be done with a sentence") {
  Progress progress;
  const Surface s = make_sphere({}, 52);
  CHECK_THROWS_WITH(rebuild(s, {.points_u = 3, .points_v = 8}, progress),
                    Catch::Contains("needs at least 4 control points"));
  CHECK_THROWS_AS(rebuild(s, {.points_u = 100000, .points_v = 8}, progress), Error);
  CHECK_THROWS_AS(rebuild(s, {.points_u = 8, .points_v = 8, .degree_u = 0}, progress), Error);
  CHECK_THROWS_AS(rebuild(s, {.points_u = 8, .points_v = 8, .degree_u = 12}, progress), Error);
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(rebuild(s, {}, cancelled), Cancelled);
}

TEST_CASE("degree 1 on 2 × 2 points of a plane is the plane") {
  Progress progress;
  const Surface s = make_plane({}, 60, 40, 6, 6, 3, 3);
  const Surface r =
      rebuild(s, {.points_u = 2, .points_v = 2, .degree_u = 1, .degree_v = 1}, progress);
  CHECK(deviation(s, r, progress).max < 1e-9);
}
