// Curves by their measures, surfaces made from curves, mirror and array: against closed formulas.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <set>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/curve_measures.h"
#include "core/check/measures.h"
#include "core/cut/trim.h"
#include "core/nurbs/conics.h"
#include "core/operations/copies.h"
#include "core/operations/outlines.h"
#include "core/operations/report.h"
#include "core/operations/solids.h"
#include "core/operations/swept.h"
#include "core/source/compatible.h"
#include "core/source/copies.h"
#include "core/source/outlines.h"
#include "core/source/swept.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

Shape made(const Operation& o, const Shape& before = CurveSet{}) {
  Progress progress;
  Inputs inputs;
  inputs.step = 7;
  return o.apply(before, inputs, progress).shape;
}

Report measured(const Shape& shape) {
  Progress progress;
  return report(shape, nullptr, {}, progress);
}

double length_of(const Curve& c) {
  return *measured(CurveSet{{c}}).length;
}

// Greatest distance between a curve and the row of a surface, at equal shares of their domains.
double apart(const Curve& c, const Curve& row) {
  double worst = 0.0;
  for (int k = 0; k <= 200; ++k) {
    const double s = k / 200.0;
    worst = std::max(worst, distance(evaluate(c, c.knots.first() + s * c.knots.length()),
                                     evaluate(row, row.knots.first() + s * row.knots.length())));
  }
  return worst;
}

}  // namespace

TEST_CASE("cylinder, cone, torus and box have the areas and volumes of the formulas") {
  CylinderOperation cylinder;
  cylinder.radius = 12;
  cylinder.height = 30;
  CHECK(measured(made(cylinder)).area == Approx(2 * kPi * 12 * 30).epsilon(1e-9));
  ConeOperation cone;
  cone.radius = 9;
  cone.height = 40;
  CHECK(measured(made(cone)).area == Approx(kPi * 9 * std::hypot(9, 40)).epsilon(1e-8));
  cone.top = 4;
  CHECK(measured(made(cone)).area == Approx(kPi * (9 + 4) * std::hypot(5, 40)).epsilon(1e-9));
  TorusOperation torus;
  torus.ring = 40;
  torus.tube = 12;
  const Report ring = measured(made(torus));
  CHECK(ring.area == Approx(4 * kPi * kPi * 40 * 12).epsilon(1e-8));
  REQUIRE(ring.volume);
  CHECK(*ring.volume == Approx(2 * kPi * kPi * 40 * 12 * 12).epsilon(1e-8));
  BoxOperation box;
  box.length_x = 60;
  box.length_y = 40;
  box.length_z = 30;
  box.centre = {5, -7, 11};
  const Report cube = measured(made(box));
  CHECK(cube.area == Approx(2 * (60 * 40 + 40 * 30 + 60 * 30)).epsilon(1e-12));
  CHECK(cube.watertight.value_or(false));
  REQUIRE(cube.volume);
  CHECK(*cube.volume == Approx(60.0 * 40 * 30).epsilon(1e-12));
  CHECK(distance(cube.box.centre(), {5, -7, 11}) < 1e-12);
}

TEST_CASE("an arc goes through its three points on one circle, the way round over the middle one") {
  // On the circle of radius 10 about (3, -2, 5), in a slanted plane.
  Frame f;
  f.origin = {3, -2, 5};
  f.z = normalized(Vec3{1, 2, 2});
  f.x = normalized(cross(f.z, Vec3{0, 0, 1}));
  f.y = cross(f.z, f.x);
  const auto on = [&](double degrees) {
    const double a = degrees * kPi / 180.0;
    return f.to_world({10 * std::cos(a), 10 * std::sin(a), 0});
  };
  for (const auto& [over, to] :
       {std::pair{40.0, 75.0}, {120.0, 200.0}, {180.0, 300.0}, {-50.0, -100.0}, {250.0, 359.0}}) {
    const Curve arc = make_arc(on(0), on(over), on(to));
    check(arc);
    CHECK(distance(evaluate(arc, 0.0), on(0)) < 1e-12);
    CHECK(distance(evaluate(arc, 1.0), on(to)) < 1e-12);
    double nearest = 1e9;
    for (int k = 0; k <= 4000; ++k) {
      const Vec3 p = evaluate(arc, k / 4000.0);
      CHECK(distance(p, f.origin) == Approx(10.0).epsilon(1e-11));
      nearest = std::min(nearest, distance(p, on(over)));
    }
    CHECK(nearest < 0.02);
    CHECK(length_of(arc) == Approx(10 * std::abs(to) * kPi / 180.0).epsilon(1e-8));
  }
  CHECK_THROWS_WITH(make_arc({0, 0, 0}, {1, 1, 1}, {2, 2, 2}), Contains("on one line"));
  CHECK_THROWS_AS(make_arc({0, 0, 0}, {1, 1, 1}, {0, 0, 0}), Error);
}

TEST_CASE(
    "an ellipse fulfils its equation, and a rectangle has the length of its sides and corners") {
  const Curve e = make_ellipse({}, 30, 18);
  for (int k = 0; k < 500; ++k) {
    const Vec3 p = evaluate(e, k / 500.0);
    CHECK(p.x * p.x / 900 + p.y * p.y / 324 == Approx(1.0).epsilon(1e-12));
  }
  CHECK(length_of(make_rectangle({}, 60, 40, 0)) == Approx(200.0).epsilon(1e-9));
  const Curve rounded = make_rectangle({}, 60, 40, 8);
  check(rounded);
  CHECK(length_of(rounded) == Approx(200.0 - 8 * 8 + 2 * kPi * 8).epsilon(1e-8));
  // Every place lies on a side or on one of the corner circles.
  for (int k = 0; k < 2000; ++k) {
    const Vec3 p = evaluate(rounded, k / 2000.0);
    const double cx = std::max(0.0, std::abs(p.x) - 22);
    const double cy = std::max(0.0, std::abs(p.y) - 12);
    const double off = std::hypot(cx, cy);
    CHECK(off == Approx(8.0).epsilon(1e-9));
  }
  CHECK_THROWS_WITH(make_rectangle({}, 60, 40, 20), Contains("corner radius"));
  CHECK_THROWS_AS(make_rectangle({}, 0, 40, 0), Error);
  CHECK_THROWS_AS(make_ellipse({}, -1, 4), Error);
}

TEST_CASE("a helix stays at its radius, rises evenly and has the length of the formula") {
  const Curve h = make_helix({}, 20, 8, 3.25);
  check(h);
  CHECK(length_of(h) == Approx(3.25 * std::hypot(2 * kPi * 20, 8)).epsilon(1e-6));
  for (int k = 0; k <= 3000; ++k) {
    const Vec3 p = evaluate(h, k / 3000.0);
    CHECK(std::abs(std::hypot(p.x, p.y) - 20) < 20 * 2e-7);
    double turn = 360.0 * (p.z / 8);  // where it is by its height
    turn -= 360.0 * std::floor(turn / 360.0);
    double angle = std::atan2(p.y, p.x) * 180 / kPi;
    if (angle < 0) angle += 360;
    const double off = std::abs(std::remainder(turn - angle, 360.0));
    CHECK(off < 0.02);
  }
  CHECK_THROWS_WITH(make_helix({}, 20, 0, 3), Contains("rise"));
  CHECK_THROWS_AS(make_helix({}, 0, 5, 3), Error);
  CHECK_THROWS_AS(make_helix({}, 20, 5, 1000), Error);
}

TEST_CASE("an extruded circle is the cylinder, and both ways is symmetric to the last digit") {
  const Curve circle = make_circle({}, 17);
  const Surface side = extrude(circle, {}, {0, 0, 25});
  CHECK((side == make_cylinder({}, 17, 25)));
  ExtrudeOperation both;
  both.length = 31.7;
  both.both_ways = true;
  both.rows = 5;
  const Shape shape = made(both, CurveSet{{circle}});
  const Surface& s = *std::get<Body>(shape).faces.front().surface;
  REQUIRE(s.points.columns() == 5);
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < 5; ++j)
      CHECK(s.points(i, j).z + s.points(i, 4 - j).z == Approx(0.0).margin(1e-12));
  CHECK(measured(shape).area == Approx(2 * kPi * 17 * 31.7).epsilon(1e-9));
  CHECK_THROWS_WITH(extrude(circle, {1, 1, 1}, {1, 1, 1}), Contains("no length"));
}

TEST_CASE("a revolved circle is a torus, and part of a turn is that part of the whole") {
  Frame upright;  // the circle stands in x–z, 40 from the axis
  upright.origin = {40, 0, 0};
  upright.x = {1, 0, 0};
  upright.y = {0, 0, 1};
  upright.z = {0, -1, 0};
  const Curve circle = make_circle(upright, 12);
  for (const double angle : {360.0, 360.0 - 1e-9, 270.0, 90.0, 37.0}) {
    const Surface s = revolve(circle, {}, angle);
    check(s);
    for (double u = 0.0; u <= 1.0; u += 0.05)
      for (double v = 0.0; v <= 1.0; v += 0.05) {
        const Vec3 p = evaluate(s, u, v);
        CHECK(std::hypot(std::hypot(p.x, p.y) - 40, p.z) == Approx(12.0).epsilon(1e-11));
      }
    CHECK(area(s) == Approx(4 * kPi * kPi * 40 * 12 * angle / 360).epsilon(1e-7));
  }
  // Its curvature: 1/12 across the tube everywhere; around it 1/52 at the outside.
  const auto c = curvature(revolve(circle, {}, 360), 0.3, 0.0);
  REQUIRE(c);
  CHECK(std::max(std::abs(c->k1), std::abs(c->k2)) == Approx(1.0 / 12).epsilon(1e-9));
  CHECK(std::min(std::abs(c->k1), std::abs(c->k2)) == Approx(1.0 / 52).epsilon(1e-9));
  RevolveOperation whole;
  const Report r = measured(made(whole, CurveSet{{circle}}));
  REQUIRE(r.volume);
  CHECK(*r.volume == Approx(2 * kPi * kPi * 40 * 144).epsilon(1e-8));
}

TEST_CASE("a half circle turned about its diameter is a closed sphere with poles") {
  const Curve half = make_arc({0, 0, -30}, {30, 0, 0}, {0, 0, 30});
  RevolveOperation turn;
  const Shape ball = made(turn, CurveSet{{half}});
  const Report r = measured(ball);
  CHECK(r.watertight.value_or(false));
  REQUIRE(r.volume);
  CHECK(*r.volume == Approx(4.0 / 3 * kPi * 27000).epsilon(1e-8));
  CHECK(r.area == Approx(4 * kPi * 900).epsilon(1e-8));
}

TEST_CASE("profiles that cannot be turned are refused with what to do") {
  CHECK_THROWS_WITH(revolve(make_curve({{-5, 0, 0}, {10, 0, 8}}, 1, false), {}, 360),
                    Contains("crosses the axis"));
  CHECK_THROWS_WITH(revolve(make_curve({{0, 0, 0}, {0, 0, 8}}, 1, false), {}, 360),
                    Contains("lies on the axis"));
  CHECK_THROWS_WITH(revolve(make_curve({{5, 0, 0}, {5, 0, 8}}, 1, false), {}, 0),
                    Contains("angle"));
  CHECK_THROWS_AS(revolve(make_curve({{5, 0, 0}, {5, 0, 8}}, 1, false), {}, 400), Error);
  CHECK_THROWS_WITH(made(ExtrudeOperation(), body_of({make_sphere({}, 5)})), Contains("curve"));
  CHECK_THROWS_WITH(made(RuledOperation(), CurveSet{{make_circle({}, 5)}}),
                    Contains("other curve"));
}

TEST_CASE("a ruled surface meets both its curves, whatever their degrees, directions and knots") {
  // Between two circles: the band of a cone.
  Frame up;
  up.origin = {0, 0, 40};
  const Surface band = ruled(make_circle({}, 9), make_circle(up, 4));
  CHECK(area(band) == Approx(kPi * 13 * std::hypot(5, 40)).epsilon(1e-9));
  // Between two lines: the bilinear surface.
  const Vec3 a{0, 0, 0}, b{30, 2, 1}, c{-3, 25, 4}, d{28, 30, -9};
  const Surface patch = ruled(make_curve({a, b}, 1, false), make_curve({c, d}, 1, false));
  for (double u = 0.0; u <= 1.0; u += 0.1)
    for (double v = 0.0; v <= 1.0; v += 0.1)
      CHECK(distance(evaluate(patch, u, v),
                     (a * (1 - u) + b * u) * (1 - v) + (c * (1 - u) + d * u) * v) < 1e-12);
  // An arc, a spline that runs the other way, and an unlike pair of closed and open.
  const Curve arc = make_arc({-20, 0, 0}, {0, 14, 0}, {20, 0, 0});
  const Curve spline =
      make_curve({{22, 0, 30}, {9, 18, 33}, {1, -4, 28}, {-8, 20, 31}, {-19, 1, 30}}, 3, false);
  const Surface mixed = ruled(arc, spline);
  check(mixed);
  CHECK(apart(arc, border_of(mixed, Border::VMin)) < 1e-9);
  const Curve far = border_of(mixed, Border::VMax);
  CHECK(distance(evaluate(far, far.knots.first()), {-19, 1, 30}) < 1e-9);  // turned round
  const std::vector<Curve> pair =
      made_compatible(std::array{make_circle({}, 6), arc}, Alignment{.turn = false});
  const Curve& closed_one = pair[0];
  const Curve& open_one = pair[1];
  CHECK_FALSE(closed_one.knots.periodic);
  CHECK((closed_one.knots == open_one.knots));
  CHECK(apart(make_circle({}, 6), closed_one) < 1e-9);
  CHECK(apart(arc, open_one) < 1e-9);
  CHECK_THROWS_WITH(ruled(arc, arc), Contains("same place"));
}

TEST_CASE("mirror and array keep measures, put the outside outside and name every copy") {
  BoxOperation box;
  box.centre = {100, 50, 0};
  const Shape one = made(box);
  MirrorOperation mirror;
  mirror.plane = FlatPlane::XZ;
  const Shape both = made(mirror, one);
  const Body& body = std::get<Body>(both);
  REQUIRE(body.faces.size() == 12);
  Progress progress;
  double inside = 0.0;
  for (const Face& f : body.faces) inside += volume(f, progress);
  CHECK(inside == Approx(2 * 60.0 * 40 * 30).epsilon(1e-12));  // both halves count positive
  std::set<Tag> tags;
  for (const Face& f : body.faces) tags.insert(f.tag);
  CHECK(tags.size() == 12);
  const Report r = measured(both);
  CHECK(r.box.min.y == Approx(-70.0));
  mirror.keep = false;
  CHECK(std::get<Body>(made(mirror, one)).faces.size() == 6);
  ArrayOperation ring;
  ring.way = ArrayWay::Ring;
  ring.count = 6;
  const Report six = measured(made(ring, one));
  CHECK(six.area == Approx(6 * measured(one).area).epsilon(1e-12));
  // Copies every 60° have the axis for their centre.
  CHECK(length(six.box.centre()) < 1e-9);
  ArrayOperation row;
  row.count = 5;
  row.step = {70, 0, 0};
  const Report line = measured(made(row, one));
  CHECK(line.box.max.x - line.box.min.x == Approx(4 * 70 + 60));
  // Curves and triangles alike.
  CHECK(std::get<CurveSet>(made(row, CurveSet{{make_circle({}, 4)}})).curves.size() == 5);
  TriangleMesh t{{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}},
                 {},
                 {{0, 2, 1}, {0, 1, 3}, {0, 3, 2}, {1, 2, 3}}};
  MirrorOperation side;
  side.plane = FlatPlane::YZ;
  side.place = -5;
  CHECK(volume(std::get<TriangleMesh>(made(side, t))) == Approx(2.0 / 6));
  CHECK_THROWS_AS(made(MirrorOperation(), Body{}), Error);
}

TEST_CASE("a cut body is mirrored with its opening") {
  Progress progress;
  Body ball = body_of({make_sphere({}, 30)}, 3);
  TrimOptions options;
  options.direction = {0, 0, 1};
  options.reach = TrimReach::Forwards;
  const std::vector<Curve> circle{make_circle({}, 10)};
  ball = trim(ball, circle, options, progress).body;
  REQUIRE(is_trimmed(ball));
  const double before = area(ball.faces.front(), progress);
  const Placement at = mirrored_in({50, 0, 0}, {1, 0, 0});
  const Body image = placed(ball, at, 9, 1);
  check(image);
  CHECK(area(image.faces.front(), progress) == Approx(before).epsilon(1e-9));
  CHECK(image.faces.front().tag != ball.faces.front().tag);
  Body two = ball;
  append(two, image);
  check(two);
  CHECK(topology(two).shells.size() == 2);
}

TEST_CASE("arrays in a grid and along a curve put every copy in its place") {
  BoxOperation box;
  box.length_x = box.length_y = box.length_z = 2;
  const Shape one = made(box);
  ArrayOperation grid;
  grid.way = ArrayWay::Grid;
  grid.count = 4;
  grid.rows = 3;
  grid.step = {10, 0, 0};
  grid.row_step = {0, 20, 0};
  const Report r = measured(made(grid, one));
  CHECK(r.area == Approx(12 * 24.0));
  CHECK(r.box.max.x - r.box.min.x == Approx(32.0));
  CHECK(r.box.max.y - r.box.min.y == Approx(42.0));
  grid.count = 300;
  CHECK_THROWS_WITH(made(grid, one), Contains("at most"));
  // Along a circle of radius 40 that begins at the box: eight copies, turned with it, lie at 40 all round.
  box.centre = {40, 0, 0};
  const Shape on_ring = made(box);
  ArrayOperation along;
  along.way = ArrayWay::Curve;
  along.count = 8;
  along.along = 3;
  Inputs inputs;
  inputs.step = 7;
  inputs.parts[PartRef{3}] = std::make_shared<const Shape>(CurveSet{{make_circle({}, 40)}});
  Progress progress;
  const Shape eight = along.apply(on_ring, inputs, progress).shape;
  const Body& body = std::get<Body>(eight);
  REQUIRE(body.faces.size() == 48);
  for (std::size_t k = 0; k < 8; ++k) {
    Vec3 middle;
    for (std::size_t f = 0; f < 6; ++f)
      middle += evaluate(*body.faces[6 * k + f].surface, 0.5, 0.5) / 6.0;
    CHECK(std::hypot(middle.x, middle.y) == Approx(40.0).margin(1e-6));
    const double a = 2 * kPi * static_cast<double>(k) / 8;
    CHECK(distance(middle, {40 * std::cos(a), 40 * std::sin(a), 0}) < 1e-3);
  }
}

TEST_CASE(
    "draft narrows an extruded rectangle by the tangent of its angle, and refuses open curves") {
  ExtrudeOperation o;
  o.length = 10;
  o.draft = 5;
  o.rows = 4;
  const Shape wall = made(o, CurveSet{{make_rectangle({}, 40, 30, 0.0)}});
  const Surface& s = *std::get<Body>(wall).faces[0].surface;
  CHECK(s.points.columns() == 4);
  const double in = 10 * std::tan(5 * kPi / 180);
  const Box3 top = tight_box(border_of(s, Border::VMax));
  CHECK(top.max.x - top.min.x == Approx(40 - 2 * in).margin(1e-4));
  CHECK(top.max.y - top.min.y == Approx(30 - 2 * in).margin(1e-4));
  CHECK_THROWS_WITH(made(o, CurveSet{{make_arc({0, 0, 0}, {5, 3, 0}, {10, 0, 0})}}),
                    Contains("closed flat"));
}
