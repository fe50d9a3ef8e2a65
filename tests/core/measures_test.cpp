#include <BRepBuilderAPI_MakeFace.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <GeomLProp_SLProps.hxx>
#include <TopoDS_Face.hxx>
#include <catch2/catch.hpp>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/grid/rebuild.h"
#include "core/mesh/closest_point.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/support.h"

using namespace evenclay;
using std::numbers::pi;

TEST_CASE("area and volume of exact shapes agree with the closed formulas to 1e-8") {
  const Surface sphere = make_sphere({}, 52);
  CHECK(area(sphere) == Approx(4 * pi * 52 * 52).epsilon(1e-8));
  CHECK(volume(sphere) == Approx(4.0 / 3.0 * pi * 52 * 52 * 52).epsilon(1e-8));
  const Surface torus = make_torus({}, 40, 9);
  CHECK(area(torus) == Approx(4 * pi * pi * 40 * 9).epsilon(1e-8));
  CHECK(volume(torus) == Approx(2 * pi * pi * 40 * 81).epsilon(1e-8));
  CHECK(area(make_cylinder({}, 20, 60)) == Approx(2 * pi * 20 * 60).epsilon(1e-8));
  CHECK(area(make_plane({}, 80, 50, 4, 4, 3, 3)) == Approx(4000).epsilon(1e-10));
}

TEST_CASE("area of a shaped surface agrees with the B-rep kernel") {
  Progress progress;
  Surface s = rebuild(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, progress);
  for (int i = 0; i < 10; ++i) s.points(i, 2).z += 5;
  GProp_GProps properties;
  BRepGProp::SurfaceProperties(BRepBuilderAPI_MakeFace(testing::kernel_surface(s), 1e-6).Face(),
                               properties, 1e-9);
  CHECK(area(s) == Approx(properties.Mass()).epsilon(1e-7));
}

TEST_CASE("the box is tight: it touches the surface, not the control points") {
  const Box3 b = tight_box(make_sphere({}, 52));
  for (std::size_t a = 0; a < 3; ++a) {
    CHECK(b.min[a] == Approx(-52).epsilon(1e-8));
    CHECK(b.max[a] == Approx(52).epsilon(1e-8));
  }
  const Box3 t = tight_box(make_torus({}, 40, 9));
  CHECK(t.max.x == Approx(49).epsilon(1e-8));
  CHECK(t.max.z == Approx(9).epsilon(1e-8));
}

TEST_CASE("a plane with uniform knots has evenness 100 and a crowded one less") {
  Surface s = make_plane({}, 80, 50, 6, 5, 3, 2);
  CHECK(evenness(s).u_percent == Approx(100).epsilon(1e-9));
  CHECK(evenness(s).v_percent == Approx(100).epsilon(1e-9));
  for (int j = 0; j < 5; ++j) s.points(1, j).x -= 5;
  CHECK(evenness(s).u_percent < 95);
  CHECK(evenness(s).v_percent == Approx(100).epsilon(1e-6));
}

TEST_CASE("evenness of a known uneven line is what the definition gives by hand") {
  // x(u) = u²: steps of length (2k + 1)/64², k = 0..63. mean 1/64,
  // standard deviation √((64² − 1)/3)/64² = 0.0090200; 100 (1 − 0.57728) = 42.27.
  // Worked by hand; see tests/reference/measures.md.
  Surface s{{2, false, {0, 0, 0, 1, 1, 1}}, {1, false, {0, 0, 1, 1}}, Grid<Vec3>(3, 2), {}};
  for (int j = 0; j < 2; ++j) {
    s.points(0, j) = {0, 10.0 * j, 0};
    s.points(1, j) = {0, 10.0 * j, 0};
    s.points(2, j) = {1, 10.0 * j, 0};
  }
  const double deviation = std::sqrt((64.0 * 64.0 - 1.0) / 3.0) / (64.0 * 64.0);
  CHECK(evenness(s).u_percent == Approx(100 * (1 - deviation * 64)).epsilon(1e-9));
}

TEST_CASE("curvature of sphere and torus is that of the closed formulas") {
  const Surface sphere = make_sphere({}, 52);
  for (const double v : {0.1, 0.37, 0.8}) {
    const auto c = curvature(sphere, 0.2, v);
    REQUIRE(c);
    CHECK(c->gaussian() == Approx(1.0 / (52.0 * 52.0)).epsilon(1e-9));
    CHECK(std::abs(c->mean()) == Approx(1.0 / 52.0).epsilon(1e-9));
  }
  // Torus: cos θ / (r (R + r cos θ)); do Carmo, Differential Geometry, 1976 (from memory).
  const Surface torus = make_torus({}, 40, 9);
  for (const double v : {0.02, 0.13, 0.3, 0.5, 0.77}) {
    const Vec3 p = evaluate(torus, 0.0, v);
    const double cosine = (std::hypot(p.x, p.y) - 40) / 9;
    const auto c = curvature(torus, 0.0, v);
    REQUIRE(c);
    CHECK(c->gaussian() == Approx(cosine / (9 * (40 + 9 * cosine))).margin(1e-12));
  }
}

TEST_CASE("curvature agrees with the B-rep kernel on random surfaces") {
  std::size_t compared = 0;
  for (const auto& [name, s] : testing::random_surfaces(30)) {
    if (s.u.degree < 3 || s.v.degree < 3 || s.u.periodic || s.v.periodic) continue;
    const auto kernel = testing::kernel_surface(s);
    for (const auto& [u, v] : testing::places(s, 8)) {
      const auto c = curvature(s, u, v);
      GeomLProp_SLProps properties(kernel, u, v, 2, 1e-12);
      if (!c || !properties.IsCurvatureDefined()) continue;
      INFO(name);
      // The kernel's own greater curvature says how large the numbers are that are subtracted.
      const double bend =
          std::max(std::abs(properties.MaxCurvature()), std::abs(properties.MinCurvature()));
      CHECK(std::abs(c->gaussian() - properties.GaussianCurvature()) <= 1e-7 * bend * bend);
      CHECK(std::abs(std::abs(c->mean()) - std::abs(properties.MeanCurvature())) <= 1e-7 * bend);
      CHECK(std::abs(std::max(std::abs(c->k1), std::abs(c->k2)) - bend) <= 1e-6 * bend);
      ++compared;
    }
  }
  REQUIRE(compared > 20);
}

TEST_CASE("least radius of torus, cylinder and plane") {
  const auto torus = least_radius(make_torus({}, 40, 9));
  REQUIRE(torus);
  CHECK(torus->radius == Approx(9).epsilon(1e-9));
  CHECK(least_radius(make_cylinder({}, 20, 60))->radius == Approx(20).epsilon(1e-9));
  CHECK_FALSE(least_radius(make_plane({}, 80, 50, 4, 4, 3, 3)));
}

TEST_CASE("every measure of a face gives up when it is cancelled") {
  Progress progress;
  const Body body = body_of({make_torus({}, 40, 9)});
  const Face& face = body.faces.front();
  CHECK(area(face, progress) == Approx(4 * pi * pi * 40 * 9).epsilon(1e-8));
  CHECK(volume(face, progress) == Approx(2 * pi * pi * 40 * 81).epsilon(1e-8));
  CHECK(least_radius(face, 10, progress)->radius == Approx(9).epsilon(1e-9));
  CHECK(tight_box(face, body, progress).max.x == Approx(49).epsilon(1e-8));
  progress.cancel();
  CHECK_THROWS_AS(area(face, progress), Cancelled);
  CHECK_THROWS_AS(volume(face, progress), Cancelled);
  CHECK_THROWS_AS(least_radius(face, 10, progress), Cancelled);
  CHECK_THROWS_AS(tight_box(face, body, progress), Cancelled);
}

TEST_CASE("deviation of two spheres is the difference of their radii, with its sign") {
  Progress progress;
  const Surface a = make_sphere({}, 52);
  const Surface b = make_sphere({}, 50);
  const Deviation d = deviation(a, b, progress);
  CHECK(d.max == Approx(2).epsilon(1e-9));
  CHECK(d.mean == Approx(2).epsilon(1e-9));
  CHECK(d.percentile95 == Approx(2).epsilon(1e-9));
  CHECK(d.signed_at == Approx(2).epsilon(1e-9));
  const Deviation back = deviation(b, a, progress);
  CHECK(back.signed_at == Approx(-2).epsilon(1e-9));
}

TEST_CASE("deviation is two-sided: a missing half is seen from the other side") {
  Progress progress;
  const Surface whole = make_cylinder({}, 20, 60);
  const Surface half = make_cylinder({}, 20, 30);
  const Deviation d = deviation(half, whole, progress);
  CHECK(d.max == Approx(30).epsilon(1e-6));
  CHECK(d.at.z == Approx(60).epsilon(1e-6));
}

TEST_CASE("deviation of a mesh from its surface is the height of its chords") {
  Progress progress;
  const Surface sphere = make_sphere({}, 52);
  const TriangleMesh mesh = tessellate(sphere, {.per_span_u = 16, .per_span_v = 16}, progress);
  const Deviation d = deviation(mesh, sphere, progress);
  // Sagitta of a chord: r (1 − cos(half angle)); the steps are 90/16 degrees both ways.
  const double sagitta = 52 * (1 - std::cos(pi / 4 / 16));
  CHECK(d.max > sagitta);
  CHECK(d.max < 2.6 * sagitta);
  CHECK_THROWS_AS(deviation(Measurable(), sphere, progress), Error);
}

TEST_CASE("a closed surface tessellates to a watertight mesh with its volume") {
  Progress progress;
  for (const Surface& s : {make_sphere({}, 52), make_torus({}, 40, 9)}) {
    const TriangleMesh mesh = tessellate(s, for_tolerance(s, 0.01), progress);
    CHECK(check_edges(mesh).watertight());
    CHECK(volume(mesh) == Approx(volume(s)).epsilon(2e-3));
    CHECK(deviation(mesh, s, progress).max <= 0.0105);
  }
}

TEST_CASE("the box of a sheet whose edges are straight is found without creeping along them") {
  // Along the edge x = 30 the coordinate is flat up to rounding, which the search once followed for
  // ever; two raised corners make the rounding uneven.
  Progress progress;
  Surface s = rebuild(make_plane({}, 60, 60, 2, 2, 1, 1), {.points_u = 7, .points_v = 7}, progress);
  s.points(0, 0).z += 2.0;
  s.points(6, 0).z += 5.0;
  const Box3 box = tight_box(s);
  CHECK(distance(box.min, {-30, -30, 0}) < 1e-12);
  CHECK(distance(box.max, {30, 30, 5}) < 1e-12);
}

TEST_CASE("the quick deviation of a drag is close to the defined one, and knows its limits") {
  Progress progress;
  const Surface before = rebuild(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, progress);
  for (const double mm : {0.5, 4.0, 12.0}) {
    Surface now = before;
    for (int i = 1; i < 4; ++i) now.points(i, 4) += normalized(before.points(i, 4)) * mm;
    const Deviation exact = deviation(now, before, progress);
    const auto quick = quick_deviation(body_of({now}), body_of({before}), 1200, progress);
    REQUIRE(quick);
    CHECK(quick->max == Approx(exact.max).epsilon(0.05));
    CHECK(quick->mean == Approx(exact.mean).epsilon(0.1));
    CHECK(quick->signed_at > 0.0);
    CHECK(distance(quick->at, exact.at) < 12.0);
  }
  const auto same = quick_deviation(body_of({before}), body_of({before}), 1200, progress);
  REQUIRE(same);
  CHECK(same->max < 1e-12);
  Surface other = before;
  for (double& t : other.v.knots) t *= 2.0;
  CHECK_FALSE(quick_deviation(body_of({before}), body_of({other}), 1200, progress));
  CHECK_FALSE(quick_deviation({}, {}, 1200, progress));
  const std::vector<Surface> two{before, before};
  CHECK_FALSE(quick_deviation(body_of({before}), body_of(two), 1200, progress));
}

namespace {

// Greatest distance of dense samples of a sphere from a fine mesh of the other surface, and of dense
// samples of that one from the sphere by its formula: no projection onto surfaces is in it.
double dense_distance(const Surface& sphere, const Vec3& centre, double radius, const Surface& r) {
  Progress progress;
  const MeshProjector projector(tessellate(r, {.per_span_u = 40, .per_span_v = 40}, progress));
  double worst = 0.0;
  const SurfaceEvaluator e(sphere);
  for (const double u : sample_places(sphere.u, 150))
    for (const double v : sample_places(sphere.v, 150))
      worst = std::max(worst, projector.closest(e.point(u, v)).distance);
  const SurfaceEvaluator o(r);
  for (const double u : sample_places(r.u, 30))
    for (const double v : sample_places(r.v, 30))
      worst = std::max(worst, std::abs(distance(o.point(u, v), centre) - radius));
  return worst;
}

}  // namespace

TEST_CASE("the greatest deviation is not under-reported at any degree, size and place") {
  struct Case {
    double radius;
    int degree, points_u, points_v;
    Vec3 centre;
  };
  const Case cases[] = {{52.0, 1, 16, 18, {}},
                        {52.0, 1, 9, 7, {}},
                        {52.0, 2, 8, 7, {}},
                        {52.0, 3, 10, 8, {}},
                        {0.01, 1, 12, 10, {}},
                        {0.01, 3, 10, 8, {}},
                        {1e5, 1, 16, 12, {}},
                        {1e5, 3, 10, 8, {}},
                        {52.0, 3, 10, 8, {1e4, -2e4, 5e3}},
                        {52.0, 1, 12, 9, {1e4, -2e4, 5e3}}};
  for (const Case& c : cases) {
    INFO("radius " << c.radius << ", degree " << c.degree << ", at " << c.centre.x);
    Progress progress;
    Frame frame;
    frame.origin = c.centre;
    const Surface sphere = make_sphere(frame, c.radius);
    const Surface r = rebuild(sphere,
                              {.points_u = c.points_u,
                               .points_v = c.points_v,
                               .degree_u = c.degree,
                               .degree_v = c.degree},
                              progress);
    const double dense = dense_distance(sphere, c.centre, c.radius, r);
    const Deviation d = deviation(r, sphere, progress);
    // The dense search samples: it may miss a little, and its mesh is a little off the surface.
    CHECK(d.max >= dense * 0.99);
    // On facets the foot may still be taken on the wrong side of a hollow crease: never too little, and
    // up to 2.5 % too much.
    CHECK(d.max <= dense * (c.degree == 1 ? 1.025 : 1.01));
  }
}
