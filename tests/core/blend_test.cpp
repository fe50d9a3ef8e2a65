// Blends between edges: against the shape they must continue, and their continuity measured another way.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/error.h"
#include "core/check/joints.h"
#include "core/cut/blend.h"
#include "core/cut/thicken.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;

namespace {

Progress progress;

struct Pair {
  Body a, b;
  ChainPair chains;
};

Pair with_nearest(const Body& a, const Body& b) {
  Pair p{with_explicit_borders(a, 1e-9), with_explicit_borders(b, 1e-9), {}};
  p.chains = nearest_chains(p.a, p.b, false);
  return p;
}

BlendedSurface blend_of(const Pair& p, BlendOptions o) {
  const EdgeChain a(p.a, p.chains.a), b(p.b, p.chains.b);
  return blended(a, p.a, b, p.b, o, progress);
}

// Measured from the blend's own border against the nearest places of the neighbour.
Continuity independent(const Surface& blend, bool at_a, const Body& neighbour) {
  const Body body = with_explicit_borders(body_of({blend}, 9), 1e-9);
  std::vector<std::size_t> edges;
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const Curve& c = body.edges[e].curve;
    const Vec3 middle = evaluate(c, 0.5 * (c.knots.first() + c.knots.last()));
    const Vec3 wanted = evaluate(blend, 0.5 * (blend.u.first() + blend.u.last()), at_a ? 0.0 : 1.0);
    if (distance(middle, wanted) < 1e-6) edges.push_back(e);
  }
  REQUIRE(edges.size() == 1);
  return joint_with(body, edges, neighbour, 40, progress).measured;
}

// A sheet of 60 × 40 whose middle is raised, with its edge u = 1 towards +x.
Body crowned(double mm) {
  Surface s = make_plane({{-40, 0, 0}}, 60.0, 40.0, 5, 5, 3, 3);
  for (int i = 0; i < 5; ++i)
    for (int j = 0; j < 5; ++j) {
      const double x = i / 4.0, y = j / 4.0;
      s.points(i, j).z += mm * 16.0 * x * (1.0 - 0.8 * x) * y * (1.0 - y);
    }
  return body_of({s}, 1);
}

}  // namespace

TEST_CASE("between two cylinders on one axis the blend is the cylinder") {
  const Pair p = with_nearest(body_of({make_cylinder({}, 10.0, 10.0)}, 1),
                              body_of({make_cylinder({{0, 0, 25}}, 10.0, 10.0)}, 2));
  for (const int g : {1, 2, 3}) {
    const BlendedSurface s = blend_of(p, {{g, 1.0}, {g, 1.0}});
    CHECK(s.at_a.level >= g);
    CHECK(s.at_b.level >= g);
    const SurfaceEvaluator e(s.surface);
    double off = 0.0;
    for (int k = 0; k < 200; ++k)
      for (int m = 0; m <= 10; ++m) {
        const Vec3 q = e.point(k / 200.0, m / 10.0);
        off = std::max(off, std::abs(std::hypot(q.x, q.y) - 10.0));
      }
    CHECK(off < 1e-3);
    CHECK(s.shortest == Approx(15.0).epsilon(1e-6));
    CHECK(s.longest == Approx(15.0).epsilon(1e-4));
  }
}

TEST_CASE("a G3 blend between two bands of a ball keeps its radius of curvature at the joints") {
  // Two caps of one ball of radius 20, cut at z = ±5 off the middle.
  const Surface whole = make_sphere({}, 20.0);
  const auto [lower, rest] = split(whole, Direction::V, 0.35);
  const auto [middle, upper] = split(rest, Direction::V, 0.65);
  const Pair p = with_nearest(body_of({lower}, 1), body_of({upper}, 2));
  const BlendedSurface s = blend_of(p, {{3, 1.0}, {3, 1.0}});
  CHECK(s.at_a.level == 3);
  CHECK(s.at_b.level == 3);
  const Continuity a = independent(s.surface, true, p.a);
  CHECK(a.level == 3);
  CHECK(independent(s.surface, false, p.b).level == 3);
}

TEST_CASE("an opening in a sheet is blended to a collar with what was asked for on each side") {
  const Body hole = with_explicit_borders(sheet(60.0), 1e-9);
  // An annular sheet: the disc's border at radius 20, the collar of radius 8 above.
  Surface ring;
  ring.u = make_cylinder({}, 20.0, 1.0).u;
  const Surface outer = make_cylinder({}, 30.0, 1.0), inner = make_cylinder({}, 20.0, 1.0);
  ring.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
  ring.points = Grid<Vec3>(8, 2);
  ring.weights = Grid<double>(8, 2);
  for (int i = 0; i < 8; ++i) {
    ring.points(i, 0) = outer.points(i, 0);
    ring.points(i, 1) = inner.points(i, 0);
    ring.weights(i, 0) = ring.weights(i, 1) = outer.weights(i, 0);
  }
  const Pair p =
      with_nearest(body_of({ring}, 1), body_of({make_cylinder({{0, 0, 12}}, 8.0, 10.0)}, 2));
  for (const auto& [ga, gb] : {std::pair{0, 1}, {1, 1}, {2, 1}, {1, 2}, {2, 2}, {3, 3}}) {
    const BlendedSurface s = blend_of(p, {{ga, 1.0}, {gb, 1.0}});
    INFO("G" << ga << " to G" << gb);
    CHECK(s.at_a.level >= ga);
    CHECK(s.at_b.level >= gb);
    CHECK(independent(s.surface, true, p.a).level >= ga);
    CHECK(independent(s.surface, false, p.b).level >= gb);
  }
  // A ring's chain is closed, a corner of the sheet is refused by name.
  CHECK_THROWS_WITH(EdgeChain(hole, {0, 1}), Contains("corner") || Contains("hang together"));
}

TEST_CASE("a blend follows a neighbour that is crowned by 0 to 20 mm, and its numbers are true") {
  const Body other = body_of({make_plane({{50, 0, 12}}, 40.0, 40.0, 4, 4, 3, 3)}, 2);
  for (int mm = 0; mm <= 20; ++mm) {
    INFO("crowned by " << mm);
    Pair p{with_explicit_borders(crowned(mm), 1e-9), with_explicit_borders(other, 1e-9), {}};
    const auto at_x = [](const Body& b, double x) {
      for (std::size_t e = 0; e < b.edges.size(); ++e) {
        const Curve& c = b.edges[e].curve;
        if (std::abs(evaluate(c, c.knots.first()).x - x) < 1e-6 &&
            std::abs(evaluate(c, c.knots.last()).x - x) < 1e-6)
          return e;
      }
      return std::size_t{0};
    };
    p.chains = {{at_x(p.a, -10.0)}, {at_x(p.b, 30.0)}};
    const BlendedSurface s = blend_of(p, {{2, 1.0}, {2, 1.0}});
    const Continuity a = independent(s.surface, true, p.a);
    CHECK(s.at_a.level >= 2);
    CHECK(a.level >= 2);
    CHECK(std::abs(a.gap - s.at_a.gap) < 1e-3);
    CHECK(std::abs(a.angle - s.at_a.angle) < 0.02);
    CHECK(std::abs(a.curvature - s.at_a.curvature) < 0.02);
  }
}

TEST_CASE("matched seams are turned to where they twist least, and by hand") {
  Frame turned;
  turned.origin = {0, 0, 25};
  turned.x = {0, 1, 0};
  turned.y = {-1, 0, 0};
  const Pair p = with_nearest(body_of({make_cylinder({}, 10.0, 10.0)}, 1),
                              body_of({make_cylinder(turned, 10.0, 10.0)}, 2));
  const BlendedSurface straight = blend_of(p, {{1, 1.0}, {1, 1.0}});
  CHECK(straight.longest == Approx(15.0).epsilon(1e-4));
  // A quarter turn by hand: each line crosses a chord of 10 √2 on its way up 15.
  const BlendedSurface twisted = blend_of(p, {{1, 1.0}, {1, 1.0}, false, 0.25});
  CHECK(twisted.longest == Approx(std::sqrt(225.0 + 200.0)).epsilon(1e-3));
}

TEST_CASE("a section changes the bulge where it lies and nowhere else") {
  const Pair p = with_nearest(body_of({make_cylinder({}, 20.0, 10.0)}, 1),
                              body_of({make_cylinder({{0, 0, 30}}, 10.0, 10.0)}, 2));
  const BlendOptions plain{{1, 1.0}, {1, 1.0}};
  BlendOptions held = plain;
  held.sections = {{0.25, 2.0, 2.0}, {0.5, 1.0, 1.0}, {0.75, 1.0, 1.0}, {0.0, 1.0, 1.0}};
  const BlendedSurface a = blend_of(p, plain), b = blend_of(p, held);
  CHECK(distance(evaluate(a.surface, 0.25, 0.3), evaluate(b.surface, 0.25, 0.3)) > 0.5);
  CHECK(distance(evaluate(a.surface, 0.625, 0.3), evaluate(b.surface, 0.625, 0.3)) < 0.02);
}

TEST_CASE("blends that cannot be are refused with what to do") {
  const Pair mixed{with_explicit_borders(body_of({make_cylinder({}, 10.0, 10.0)}, 1), 1e-9),
                   with_explicit_borders(sheet(40.0, 2), 1e-9),
                   {}};
  const EdgeChain ring(mixed.a, {nearest_chains(mixed.a, mixed.a, true).a});
  const EdgeChain side(mixed.b, {0});
  CHECK_THROWS_WITH(blended(ring, mixed.a, side, mixed.b, {}, progress),
                    Contains("closed and the other is open"));
  const Pair folded = with_nearest(body_of({make_cylinder({}, 20.0, 10.0)}, 1),
                                   body_of({make_cylinder({{0, 0, 12}}, 10.0, 10.0)}, 2));
  // Walked against each other the lines all cross at the axis.
  CHECK_THROWS_WITH(blend_of(folded, {{1, 1.0}, {1, 1.0}, true}),
                    Contains("folds over") && Contains("Reverse"));
  CHECK_THROWS_WITH(blend_of(folded, {{7, 1.0}, {1, 1.0}}), Contains("G0 to G3"));
}
