// Curves offset beside themselves in a plane: circles, lines and corners, where the offset is known.
#include "core/cut/flat_offset.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/check/curve_measures.h"
#include "core/nurbs/curve.h"

using namespace evenclay;
using Catch::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

Curve polyline(std::vector<Vec3> points, bool closed = false) {
  if (closed) points.push_back(points.front());
  const int n = static_cast<int>(points.size());
  Curve c{{1, false, {0}}, std::move(points), {}};
  for (int k = 0; k < n; ++k) c.knots.knots.push_back(k);
  c.knots.knots.push_back(n - 1);
  return c;
}

double length_of(const std::vector<Curve>& pieces) {
  double sum = 0.0;
  for (const Curve& c : pieces) sum += arc_length(c);
  return sum;
}

Vec3 begin_of(const Curve& c) {
  return evaluate(c, c.knots.first());
}
Vec3 end_of(const Curve& c) {
  return evaluate(c, c.knots.last());
}

}  // namespace

TEST_CASE(
    "beside a circle runs a circle, larger to the right of its walk and smaller to the left") {
  const Frame plane;
  const FlatCurve circle(make_circle({}, 10.0), plane, 5.0);
  CHECK(circle.closed());
  const double inward = circle.counter_clockwise() ? 1.0 : -1.0;
  for (const double d : {-4.0, -0.5, 0.5, 3.0}) {
    const std::vector<Curve> pieces = circle.beside(inward * d);
    CHECK(length_of(pieces) == Approx(2.0 * kPi * (10.0 - d)).margin(1e-3));
    for (const Curve& c : pieces)
      for (int n = 0; n <= 20; ++n) {
        const Vec3 p = evaluate(c, c.knots.first() + c.knots.length() * n / 20.0);
        CHECK(std::hypot(p.x, p.y) == Approx(10.0 - d).margin(2e-4));  // laid within that
        CHECK(p.z == Approx(0.0).margin(1e-12));
      }
  }
  CHECK_THROWS_WITH(circle.beside(inward * 12.0), Contains("radius of 10.00 mm"));
}

TEST_CASE("an open line goes on straight at both ends and keeps its distance") {
  const FlatCurve line(polyline({{0, 0, 3}, {20, 0, 3}}), {}, 7.0);
  CHECK_FALSE(line.closed());
  const std::vector<Curve> left = line.beside(2.0);
  CHECK(length_of(left) == Approx(20.0 + 2.0 * 7.0));
  CHECK(begin_of(left.front()).x == Approx(-7.0));
  CHECK(end_of(left.back()).x == Approx(27.0));
  for (const Curve& c : left) CHECK(begin_of(c).y == Approx(2.0));
  for (const Curve& c : line.beside(-2.0)) CHECK(begin_of(c).y == Approx(-2.0));
}

TEST_CASE("corners are mitred: the offset of a square is a square") {
  const FlatCurve square(polyline({{0, 0, 0}, {10, 0, 0}, {10, 10, 0}, {0, 10, 0}}, true), {}, 0.0);
  CHECK(square.closed());
  CHECK(square.counter_clockwise());
  for (const double d : {-3.0, -1.0, 1.0, 3.0}) {
    INFO(d);
    const std::vector<Curve> pieces = square.beside(d);
    REQUIRE(pieces.size() >= 4);
    CHECK(length_of(pieces) == Approx(4.0 * (10.0 - 2.0 * d)));
    // One behind the other, and closed.
    for (std::size_t k = 0; k < pieces.size(); ++k)
      CHECK(distance(end_of(pieces[k]), begin_of(pieces[(k + 1) % pieces.size()])) < 1e-9);
  }
  const FlatCurve back(polyline({{0, 0, 0}, {0, 10, 0}, {10, 10, 0}, {10, 0, 0}}, true), {}, 0.0);
  CHECK_FALSE(back.counter_clockwise());
  CHECK(length_of(back.beside(1.0)) == Approx(4.0 * 12.0));
}

TEST_CASE("a bend to the left is longer on its right by the angle times the distance") {
  // Two lines at 60°: the mitre adds 2 d tan(30°) on the outer side and takes as much on the inner one.
  const double a = kPi / 3.0;
  const FlatCurve bend(
      polyline({{0, 0, 0}, {30, 0, 0}, {30 + 30 * std::cos(a), 30 * std::sin(a), 0}}), {}, 0.0);
  const double d = 2.0;
  CHECK(length_of(bend.beside(-d)) == Approx(60.0 + 2.0 * d * std::tan(0.5 * a)));
  CHECK(length_of(bend.beside(d)) == Approx(60.0 - 2.0 * d * std::tan(0.5 * a)));
}

TEST_CASE("a curve is seen along the frame's z, and one without extent there is refused") {
  // A circle seen at 60° is an ellipse of half axes 10 and 5; seen from its side it is a line.
  Frame tilted;
  tilted.z = {0, std::sin(kPi / 3), std::cos(kPi / 3)};
  tilted.y = {0, std::cos(kPi / 3), -std::sin(kPi / 3)};
  const FlatCurve seen(make_circle({}, 10.0), tilted, 1.0);
  double wide = 0.0, high = 0.0;
  for (const Parameter& p : seen.polygon()) {
    wide = std::max(wide, std::abs(p.u));
    high = std::max(high, std::abs(p.v));
  }
  CHECK(wide == Approx(10.0).epsilon(1e-3));
  CHECK(high == Approx(5.0).epsilon(1e-3));
  CHECK_THROWS_AS(FlatCurve(polyline({{0, 0, 0}, {0, 0, 9}}), {}, 1.0), Error);
}

TEST_CASE("distances from polygons and lines are signed by the left") {
  const std::vector<Parameter> square{{0, 0}, {10, 0}, {10, 10}, {0, 10}};
  const FlatDistance inside = signed_distance(square, true, {4, 3});
  CHECK(inside.distance == Approx(3.0));
  CHECK(inside.left);
  const FlatDistance beyond = signed_distance(square, true, {13, 14});
  CHECK(beyond.distance == Approx(5.0));
  CHECK_FALSE(beyond.left);
  CHECK(signed_distance(square, true, {5, -2}).distance == Approx(2.0));
  CHECK_FALSE(signed_distance(square, true, {5, -2}).left);
  const std::vector<Parameter> line{{0, 0}, {10, 0}};
  CHECK(signed_distance(line, false, {5, 2}).left);
  CHECK_FALSE(signed_distance(line, false, {5, -2}).left);
  CHECK(signed_distance(line, false, {5, -2}).distance == Approx(2.0));
  CHECK(signed_distance(line, false, {13, 4}).distance == Approx(5.0));
}
