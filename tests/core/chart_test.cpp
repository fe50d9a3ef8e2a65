// Targets of patterns as rectangles of faces: how they are laid out, and shares along them by lengths known by formula.
#include "core/pattern/chart.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;

namespace {

Body joined_patches(std::vector<Surface> surfaces) {
  return with_explicit_borders(body_of(std::move(surfaces), 1), 1e-9);
}

// A surface with its directions exchanged or turned round, in one of eight ways.
Surface turned(Surface s, int way) {
  if ((way & 4) != 0) s = transposed(s);
  if ((way & 1) != 0) s = reversed(s, Direction::U);
  if ((way & 2) != 0) s = reversed(s, Direction::V);
  return s;
}

}  // namespace

TEST_CASE("faces are laid out beside the first one, however their own directions run") {
  const Surface first = patch({0, 0, 0}, {10, 0, 0}, {0, 20, 0});
  const Surface second = patch({10, 0, 0}, {30, 0, 0}, {0, 20, 0});
  for (int way = 0; way < 8; ++way) {
    INFO(way);
    const Body body = joined_patches({first, turned(second, way)});
    const std::array<std::size_t, 2> both{0, 1};
    const Chart chart = chart_of(body, both, 1e-6);
    REQUIRE(chart.cells.rows() == 2);
    REQUIRE(chart.cells.columns() == 1);
    CHECK_FALSE(chart.around_s);
    // u of both runs along x, v along y.
    for (const double u : {0.0, 0.5, 1.0})
      for (const double v : {0.0, 0.25, 1.0}) {
        CHECK(distance(evaluate(chart.surface(0, 0), u, v), {10 * u, 20 * v, 0}) < 1e-12);
        CHECK(distance(evaluate(chart.surface(1, 0), u, v), {10 + 30 * u, 20 * v, 0}) < 1e-12);
      }
    // The first face says where outside is, also of one that is turned over.
    CHECK(chart.cells(0, 0).outward);
    CHECK(chart.cells(1, 0).outward);
  }
}

TEST_CASE("shares of a row of faces follow their lengths") {
  const Body body = joined_patches(
      {patch({0, 0, 0}, {10, 0, 0}, {0, 20, 0}), patch({10, 0, 0}, {30, 0, 0}, {0, 20, 0})});
  const std::array<std::size_t, 2> both{0, 1};
  const Chart chart = chart_of(body, both, 1e-6);
  const Spread along(chart, Direction::U, {}, false);
  REQUIRE(along.inner_ends().size() == 1);
  CHECK(along.inner_ends()[0] == Approx(0.25));  // 10 of 40 mm
  for (const double x : {0.0, 0.1, 0.2499, 0.2501, 0.6, 1.0}) {
    const Spread::Place p = along.at(x);
    INFO(x);
    CHECK(p.cell == (x < 0.25 ? 0 : 1));
    const double mm = p.cell == 0 ? 10.0 * p.parameter : 10.0 + 30.0 * p.parameter;
    CHECK(mm == Approx(40.0 * x).margin(1e-9));
    CHECK(p.slope == Approx(40.0 / (p.cell == 0 ? 10.0 : 30.0)));
    CHECK(along.share(p.cell, p.parameter).value() == Approx(x).margin(1e-12));
  }
  CHECK(length_along(chart, Direction::U, {}) == Approx(40.0));
  CHECK(length_along(chart, Direction::V, {}) == Approx(20.0));
  // Half of the way: from 5 to 25 mm, a quarter of which is on the first face.
  const ChartRegion part{0.125, 0.625, 0.0, 1.0};
  const Spread half(chart, Direction::U, part, false);
  CHECK(half.inner_ends()[0] == Approx(0.25));
  CHECK(half.at(0.0).parameter == Approx(0.5));
  CHECK(half.at(1.0).parameter == Approx(0.5));
  CHECK(length_along(chart, Direction::U, part) == Approx(20.0));
  // A region on one face says nothing about the other.
  const Spread first(chart, Direction::U, {0.0, 0.2, 0.0, 1.0}, false);
  CHECK(first.share(0, 0.4).value() == Approx(0.5));
  CHECK_FALSE(first.share(1, 0.5));
}

TEST_CASE("evened out, shares are those of arc length: a half circle by its angle") {
  // The standard quarter of a rational circle is slower in the middle than at its ends; arc length is not.
  const double r = 12.0, h = 7.0;
  const Surface tube = opened(make_cylinder({}, r, h), Direction::U, 0.0);
  const Chart chart = chart_of(tube);
  const Spread even(chart, Direction::U, {}, true);
  for (const double x : {0.0, 0.1, 0.25, 0.4, 0.7, 1.0}) {
    const Vec3 p = evaluate(tube, even.at(x).parameter, tube.v.first());
    const Vec3 q{r * std::cos(2 * std::numbers::pi * x), r * std::sin(2 * std::numbers::pi * x),
                 p.z};
    CHECK(distance(p, q) < 1e-5 * r);
    CHECK(even.share(0, even.at(x).parameter).value() == Approx(x).margin(1e-6));
  }
  CHECK(length_along(chart, Direction::U, {}) == Approx(2 * std::numbers::pi * r).epsilon(1e-7));
}

TEST_CASE("the four walls of a box go round, and its six faces do not") {
  const Body b = box({0, 0, 0}, {10, 20, 30}, 1);
  const std::array<std::size_t, 4> walls{2, 3, 4, 5};
  const Chart chart = chart_of(b, walls, 1e-6);
  const bool along_s = chart.cells.rows() == 4;
  REQUIRE((along_s || chart.cells.columns() == 4));
  CHECK((along_s ? chart.around_s : chart.around_t));
  CHECK_FALSE((along_s ? chart.around_t : chart.around_s));
  CHECK(length_along(chart, along_s ? Direction::U : Direction::V, {}) == Approx(60.0));
  CHECK(length_along(chart, along_s ? Direction::V : Direction::U, {}) == Approx(30.0));
  for (const ChartCell& c : chart.cells.values()) {
    // Each face's own outside is kept.
    const Vec3 p = evaluate(*c.surface, 0.5, 0.5);
    const Vec3 out = normal(*c.surface, 0.5, 0.5) * (c.outward ? 1.0 : -1.0);
    CHECK(dot(out, p - Vec3{5, 10, 15}) > 0.0);
  }
  const std::array<std::size_t, 6> all{0, 1, 2, 3, 4, 5};
  CHECK_THROWS_WITH(chart_of(b, all, 1e-6), Contains("rectangle"));
  CHECK_THROWS_AS(chart_of(b, std::span<const std::size_t>{}, 1e-6), Error);
}

TEST_CASE("poles and closed directions of one face are known") {
  const Chart ball = chart_of(make_sphere({}, 10.0));
  CHECK(ball.around_s);
  CHECK_FALSE(ball.around_t);
  CHECK_FALSE(ball.pole[0]);
  CHECK_FALSE(ball.pole[1]);
  CHECK(ball.pole[2]);
  CHECK(ball.pole[3]);
  const Chart ring = chart_of(make_torus({}, 20.0, 5.0));
  CHECK(ring.around_s);
  CHECK(ring.around_t);
  CHECK(std::none_of(ring.pole.begin(), ring.pole.end(), [](bool p) { return p; }));
  const Chart sheet = chart_of(make_plane({}, 5, 5, 4, 4, 3, 3));
  CHECK_FALSE(sheet.around_s);
  CHECK_FALSE(sheet.around_t);
  CHECK_THROWS_AS(Spread(sheet, Direction::U, {0.5, 0.5, 0.0, 1.0}, false), Error);
}
