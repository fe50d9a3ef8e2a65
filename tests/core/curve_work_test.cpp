// Work on curves: against closed forms and the curves themselves.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/check/curve_measures.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/hermite.h"
#include "core/source/compatible.h"
#include "core/source/curve_work.h"
#include "core/source/outlines.h"
#include "core/source/profile.h"
#include "core/source/swept.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

Curve wave() {
  return make_curve({{0, 0, 0}, {10, 12, 0}, {22, -9, 0}, {31, 7, 0}, {40, 0, 0}, {52, 4, 0}}, 3,
                    false);
}

Vec3 end_of(const Curve& c) {
  return evaluate(c, c.knots.last());
}

}  // namespace

TEST_CASE("a curve through points runs through each of them, open and closed") {
  const std::vector<Vec3> places{{0, 0, 0}, {9, 5, 1}, {14, -3, 4}, {25, 2, 2}, {22, 14, 0}};
  for (const bool closed : {false, true})
    for (const std::size_t count : {2UL, 3UL, 4UL, 5UL}) {
      if (closed && count < 3) continue;
      const std::vector<Vec3> some(places.begin(), places.begin() + static_cast<long>(count));
      const Curve c = curve_through(some, closed);
      check(c);
      CHECK(c.knots.periodic == closed);
      for (const Vec3& p : some) CHECK(closest_place(CurveEvaluator(c), p).distance < 1e-9);
    }
  CHECK_THROWS_WITH(curve_through(std::vector<Vec3>{{1, 2, 3}, {1, 2, 3}}, false),
                    Contains("are one"));
  CHECK_THROWS_AS(curve_through(std::vector<Vec3>{{1, 2, 3}}, false), Error);
}

TEST_CASE("a closed curve begun elsewhere is the same curve") {
  for (const Curve& c :
       {make_circle({}, 9), make_curve({{0, 0, 0}, {9, 1, 0}, {8, 9, 3}, {-2, 7, 0}}, 3, true)})
    for (const double share : {0.1, 0.25, 0.6, 0.99}) {
      const Curve turned = with_start(c, share);
      check(turned);
      CHECK(turned.knots.periodic);
      CHECK(distance(evaluate(turned, turned.knots.first()), evaluate(c, share)) < 1e-12 * 20);
      for (double t = 0.0; t < 1.0; t += 0.03)
        CHECK(distance(evaluate(turned, turned.knots.first() + t),
                       evaluate(c, into_domain(c.knots, share + t))) < 1e-12 * 20);
    }
}

TEST_CASE("curves joined end to end are each a part of the chain, rational or not") {
  const Curve a = line_curve({0, 0, 0}, {10, 0, 0});
  const Curve b = make_arc({10, 0, 0}, {14, 2, 0}, {16, 6, 0});
  const Curve c = make_curve({{16, 6, 0}, {17, 12, 0}, {22, 14, 5}, {30, 10, 0}}, 3, false);
  const Curve chain = chained(std::array{a, b, c});
  check(chain);
  for (const Curve& part : {a, b, c})
    for (int k = 0; k <= 40; ++k)
      CHECK(closest_place(CurveEvaluator(chain),
                          evaluate(part, part.knots.first() + part.knots.length() * k / 40))
                .distance < 1e-9);
  CHECK(arc_length(chain) == Approx(arc_length(a) + arc_length(b) + arc_length(c)).epsilon(1e-6));
}

TEST_CASE("a curve is longer by just what is asked, and the old part stays") {
  for (const bool straight : {false, true}) {
    const Curve longer = extended(wave(), CurveEnd::End, 7.5, straight);
    CHECK(arc_length(longer) == Approx(arc_length(wave()) + 7.5).epsilon(1e-4));
    for (int k = 0; k <= 50; ++k)
      CHECK(closest_place(CurveEvaluator(longer), evaluate(wave(), k / 50.0)).distance < 1e-9);
  }
  const Curve shorter = extended(wave(), CurveEnd::Begin, -5.0, false);
  CHECK(arc_length(shorter) == Approx(arc_length(wave()) - 5.0).epsilon(1e-4));
  CHECK(distance(end_of(shorter), end_of(wave())) < 1e-12 * 60);
  CHECK_THROWS_WITH(extended(wave(), CurveEnd::End, -500.0, false),
                    Contains("nothing would be left"));
  CHECK_THROWS_WITH(extended(make_circle({}, 4), CurveEnd::End, 2.0, false),
                    Contains("closed curve"));
}

TEST_CASE("pieces of a split curve make up the curve") {
  const std::vector<Curve> pieces = split(wave(), std::array{0.7, 0.3});
  REQUIRE(pieces.size() == 3);
  double sum = 0.0;
  for (const Curve& p : pieces) sum += arc_length(p);
  CHECK(sum == Approx(arc_length(wave())).epsilon(1e-9));
  const std::vector<Curve> halves = split(make_circle({}, 10), std::array{0.25, 0.75});
  REQUIRE(halves.size() == 2);
  for (const Curve& h : halves) CHECK(arc_length(h) == Approx(kPi * 10).epsilon(1e-9));
}

TEST_CASE("join measures the gap it closes and the one it leaves, and tells corners") {
  const std::vector<Curve> near{line_curve({0, 0, 0}, {10, 0, 0}),
                                line_curve({10, 10, 0}, {10, 0.006, 0}),
                                line_curve({10, 10.3, 0}, {0, 10, 0})};
  const JoinedCurves some = joined(near, 0.01);
  CHECK(some.curves.size() == 2);
  CHECK(some.worst_gap == Approx(0.006));
  CHECK(some.left_gap == Approx(0.3));
  CHECK(some.corners == 1);
  const JoinedCurves all = joined(near, 0.5);
  CHECK(all.curves.size() == 1);
  // Four sides of a square close without a seam.
  const std::vector<Curve> square{
      line_curve({0, 0, 0}, {10, 0, 0}), line_curve({10, 10, 0}, {10, 0, 0}),
      line_curve({0, 10, 0}, {10, 10, 0}), line_curve({0, 0, 0}, {0, 10, 0})};
  const JoinedCurves closed = joined(square, 1e-6);
  REQUIRE(closed.curves.size() == 1);
  CHECK(closed.curves[0].knots.periodic);
  CHECK(closed.corners == 4);
  CHECK(arc_length(closed.curves[0]) == Approx(40.0));
}

TEST_CASE(
    "offsets of circle, square and wave lie at the distance, with sharp corners where there were") {
  const Curve circle = offset_in_plane(make_circle({}, 10), {0, 0, 1}, 3.0, 1e-3);
  for (double t = 0.0; t < 1.0; t += 0.02)
    CHECK(length(evaluate(circle, t)) == Approx(13.0).margin(1e-3));
  for (const double by : {2.0, -2.0}) {
    const Curve square = offset_in_plane(make_rectangle({}, 20, 10, 0.0), {0, 0, 1}, by, 1e-3);
    CHECK(square.knots.periodic);
    const Box3 b = tight_box(square);
    CHECK(b.max.x - b.min.x == Approx(20 + 2 * by).margin(1e-6));
    CHECK(b.max.y - b.min.y == Approx(10 + 2 * by).margin(1e-6));
    CHECK(arc_length(square) == Approx(60 + 8 * by).margin(1e-5));
  }
  const Curve beside = offset_in_plane(wave(), {0, 0, 1}, 0.8, 1e-3);
  for (int k = 0; k <= 60; ++k)
    CHECK(closest_place(CurveEvaluator(wave()), evaluate(beside, k / 60.0)).distance ==
          Approx(0.8).margin(2e-3));
  CHECK_THROWS_WITH(offset_in_plane(make_circle({}, 10), {0, 0, 1}, -11.0, 1e-3),
                    Contains("radius of 10"));
  CHECK_THROWS_WITH(offset_in_plane(make_helix({}, 5, 3, 1), {0, 0, 1}, 1.0, 1e-3),
                    Contains("flat"));
}

TEST_CASE("curves projected onto a sphere lie on it, above and below where they were") {
  Progress progress;
  const Body ball = body_of({make_sphere({}, 20)}, 1);
  const Curve high = make_curve({{-8, -3, 40}, {-2, 6, 40}, {5, -4, 40}, {9, 4, 40}}, 3, false);
  const std::vector<Curve> on =
      projected(high, ball, ProjectionWay::Along, {0, 0, 1}, 1e-3, progress);
  REQUIRE(on.size() == 1);
  for (int k = 0; k <= 60; ++k) {
    const double t = k / 60.0;
    const Vec3 p = evaluate(on[0], t);
    CHECK(length(p) == Approx(20.0).margin(2e-3));
    CHECK(p.z > 0.0);
    const Vec3 above = evaluate(high, t);
    CHECK(std::hypot(p.x - above.x, p.y - above.y) < 2e-3);
  }
  // A line across: only the piece over the sphere stays, nearly a half circle.
  const std::vector<Curve> over = projected(line_curve({-50, 0, 30}, {50, 0, 30}), ball,
                                            ProjectionWay::Along, {0, 0, 1}, 1e-3, progress);
  REQUIRE(over.size() == 1);
  CHECK(arc_length(over[0]) > 0.6 * kPi * 20);
  CHECK(arc_length(over[0]) < kPi * 20 + 0.01);
  CHECK_THROWS_WITH(projected(line_curve({90, 0, 0}, {90, 9, 0}), ball, ProjectionWay::Along,
                              {0, 0, 1}, 1e-3, progress),
                    Contains("misses"));
  // The closest places of a greater circle make a circle of the sphere's radius.
  const std::vector<Curve> near =
      projected(make_circle({}, 30), ball, ProjectionWay::Closest, {}, 1e-3, progress);
  REQUIRE(near.size() == 1);
  CHECK(arc_length(near[0]) == Approx(2 * kPi * 20).epsilon(1e-4));
}

TEST_CASE("sections of sphere, torus and box are the circles and the rectangle of the formulas") {
  Progress progress;
  const Body ball = body_of({make_sphere({}, 20)}, 1);
  const std::vector<Curve> cut = section_curves(ball, {0, 0, 12}, {0, 0, 1}, 1e-3, progress);
  REQUIRE(cut.size() == 1);
  CHECK(arc_length(cut[0]) == Approx(2 * kPi * 16).epsilon(1e-4));  // √(20² − 12²) = 16
  const Body ring = body_of({make_torus({}, 30, 8)}, 1);
  const std::vector<Curve> two = section_curves(ring, {}, {0, 0, 1}, 1e-3, progress);
  REQUIRE(two.size() == 2);
  CHECK(arc_length(two[0]) + arc_length(two[1]) == Approx(2 * kPi * (38 + 22)).epsilon(1e-4));
  CHECK_THROWS_WITH(section_curves(ball, {0, 0, 25}, {0, 0, 1}, 1e-3, progress),
                    Contains("does not meet"));
}

TEST_CASE(
    "iso-curves lie on the surface to rounding, at borders, inside and on closed directions") {
  const Surface s = make_torus({}, 30, 8);
  const Surface sheet = extrude(wave(), {}, {0, 0, 9}, 5);
  for (const double at : {0.0, 0.17, 0.5, 1.0}) {
    const Curve u = iso_curve(s, Direction::U, s.u.first() + at * s.u.length());
    for (double t = 0.0; t < 1.0; t += 0.05)
      CHECK(distance(evaluate(u, u.knots.first() + t * u.knots.length()),
                     evaluate(s, s.u.first() + at * s.u.length(), s.v.first() + t * s.v.length())) <
            1e-11);
    const Curve v = iso_curve(sheet, Direction::V, at);
    for (double t = 0.0; t <= 1.0; t += 0.05)
      CHECK(distance(evaluate(v, t), evaluate(sheet, t, at)) < 1e-12 * 60);
  }
}

TEST_CASE("blends have the direction and curvature of both curves at their ends") {
  const Curve a = wave();
  const Curve b = make_arc({80, 10, 6}, {90, 22, 9}, {84, 35, 4});
  const auto curvature = [](const Curve& c, double t) {
    const CurveDerivatives d = derivatives(c, t, 2);
    const double speed = length(d.d1);
    const Vec3 along = d.d1 / speed;
    return (d.d2 - along * dot(d.d2, along)) / (speed * speed);
  };
  for (const BlendContinuity kind :
       {BlendContinuity::Position, BlendContinuity::Tangent, BlendContinuity::Curvature}) {
    const Curve c = blend(a, {CurveEnd::End, kind, 1.3}, b, {CurveEnd::Begin, kind, 0.8});
    CHECK(distance(evaluate(c, 0.0), end_of(a)) < 1e-12 * 60);
    CHECK(distance(evaluate(c, 1.0), evaluate(b, b.knots.first())) < 1e-12 * 60);
    if (kind == BlendContinuity::Position) continue;
    const auto angle = [](const Vec3& x, const Vec3& y) {
      return std::atan2(length(cross(x, y)), dot(x, y));
    };
    CHECK(angle(derivatives(a, 1.0, 1).d1, derivatives(c, 0.0, 1).d1) < 1e-9);
    CHECK(angle(derivatives(b, 0.0, 1).d1, derivatives(c, 1.0, 1).d1) < 1e-9);
    if (kind == BlendContinuity::Tangent) continue;
    CHECK(distance(curvature(a, 1.0), curvature(c, 0.0)) < 1e-9);
    CHECK(distance(curvature(b, 0.0), curvature(c, 1.0)) < 1e-9);
  }
  CHECK_THROWS_WITH(blend(make_circle({}, 3), {}, a, {}), Contains("closed curve"));
}

TEST_CASE("profiles keep lines straight, arcs round and tangent, whatever place is moved") {
  std::vector<ProfilePlace> places{{{0, 0, 0}, Leg::Line},    {{20, 0, 0}, Leg::Line},
                                   {{30, 10, 0}, Leg::Arc},   {{30, 25, 0}, Leg::Line},
                                   {{20, 32, 0}, Leg::Curve}, {{5, 30, 0}, Leg::Curve}};
  for (const double moved : {0.0, 4.0}) {
    places[2].place.y = 10 + moved;
    const Curve c = profile_curve(places, false);
    check(c);
    const CurveEvaluator e(c);
    for (const ProfilePlace& p : places) CHECK(closest_place(e, p.place).distance < 1e-9);
    CHECK(closest_place(e, {11, 0, 0}).distance < 1e-9);  // on the first line
    // Tangent where the arc begins: no jump of direction there.
    const double t = closest_place(e, places[1].place).t;
    const Vec3 before = normalized(e.derivatives(t - 1e-7, 1).d1);
    const Vec3 after = normalized(e.derivatives(t + 1e-7, 1).d1);
    CHECK(distance(before, after) < 1e-4);
    const double t4 = closest_place(e, places[3].place).t;
    CHECK(distance(normalized(e.derivatives(t4 - 1e-7, 1).d1),
                   normalized(e.derivatives(t4 + 1e-7, 1).d1)) < 1e-4);
  }
  // The arc that leaves (0,0) along x and ends at (10,10) is a quarter circle of radius 10.
  const Curve quarter = tangent_arc({0, 0, 0}, {1, 0, 0}, {10, 10, 0});
  CHECK(arc_length(quarter) == Approx(5 * kPi).epsilon(1e-9));
  for (double t = 0.0; t <= 1.0; t += 0.1)
    CHECK(distance(evaluate(quarter, t), {0, 10, 0}) == Approx(10.0));
  CHECK(arc_length(tangent_arc({0, 0, 0}, {1, 0, 0}, {10, 0, 0})) == Approx(10.0));
  CHECK_THROWS_WITH(tangent_arc({0, 0, 0}, {1, 0, 0}, {-10, 0, 0}), Contains("turn round"));
}

TEST_CASE("closed profiles come back to their beginning: a stadium has its length") {
  // Two straights of 30 and two half circles of radius 8.
  const std::vector<ProfilePlace> stadium{{{0, 0, 0}, Leg::Arc},
                                          {{30, 0, 0}, Leg::Line},
                                          {{30, 16, 0}, Leg::Arc},
                                          {{0, 16, 0}, Leg::Line}};
  const Curve c = profile_curve(stadium, true);
  CHECK(c.knots.periodic);
  CHECK(arc_length(c) == Approx(60 + 2 * kPi * 8).epsilon(1e-9));
  CHECK_THROWS_WITH(profile_curve(std::vector<ProfilePlace>{{{0, 0, 0}}, {{0, 0, 0}}}, false),
                    Contains("are one"));
}
