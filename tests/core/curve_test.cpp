// Curves: evaluation, circle, rebuilding, closest places, measures.
#include <Geom_BSplineCurve.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <catch2/catch.hpp>
#include <cmath>
#include <gp_Vec.hxx>
#include <limits>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/check/curve_measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/curve.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Curve random_curve(std::mt19937& r, int points, int degree, bool closed, bool rational) {
  std::uniform_real_distribution<double> x(-50, 50);
  std::uniform_real_distribution<double> w(0.2, 5);
  std::vector<Vec3> p;
  for (int i = 0; i < points; ++i) p.push_back({x(r), x(r), x(r)});
  Curve c = make_curve(std::move(p), degree, closed);
  if (rational)
    for (int i = 0; i < points; ++i) c.weights.push_back(w(r));
  return c;
}

Handle(Geom_BSplineCurve) kernel_curve(const Curve& c) {
  TColgp_Array1OfPnt poles(1, c.point_count());
  TColStd_Array1OfReal weights(1, c.point_count());
  for (int i = 0; i < c.point_count(); ++i) {
    const Vec3& p = c.points[static_cast<std::size_t>(i)];
    poles.SetValue(i + 1, gp_Pnt(p.x, p.y, p.z));
    weights.SetValue(i + 1, c.weight(i));
  }
  std::vector<double> values;
  std::vector<int> counts;
  for (const double t : c.knots.knots) {
    if (values.empty() || t > values.back()) {
      values.push_back(t);
      counts.push_back(0);
    }
    ++counts.back();
  }
  const int n = static_cast<int>(values.size());
  TColStd_Array1OfReal knots(1, n);
  TColStd_Array1OfInteger multiplicities(1, n);
  for (int k = 0; k < n; ++k) {
    knots.SetValue(k + 1, values[static_cast<std::size_t>(k)]);
    multiplicities.SetValue(k + 1, counts[static_cast<std::size_t>(k)]);
  }
  return new Geom_BSplineCurve(poles, weights, knots, multiplicities, c.knots.degree);
}

double radius_gap(const Curve& c, double radius) {
  const CurveEvaluator e(c);
  double worst = 0.0;
  for (int k = 0; k <= 400; ++k)
    worst = std::max(
        worst, std::abs(length(e.point(c.knots.first() + c.knots.length() * k / 400)) - radius));
  return worst;
}

}  // namespace

TEST_CASE("curve points and derivatives to the third agree with the kernel's B-spline curve") {
  std::mt19937 r(41);
  int compared = 0;
  for (int degree = 1; degree <= 7; ++degree)
    for (const bool rational : {false, true}) {
      const Curve c = random_curve(r, degree + 6, degree, false, rational);
      const auto k = kernel_curve(c);
      for (int n = 0; n <= 20; ++n) {
        const double t = (n + 0.37) / 21.4;
        const CurveDerivatives d = derivatives(c, t, 3);
        gp_Pnt p;
        gp_Vec v1, v2, v3;
        k->D3(t, p, v1, v2, v3);
        const double scale = size(c) * std::pow(5.0, rational ? 3 : 0) * std::pow(degree + 6, 3);
        CHECK(distance(d.p, {p.X(), p.Y(), p.Z()}) < 1e-12 * size(c));
        CHECK(distance(d.d1, {v1.X(), v1.Y(), v1.Z()}) < 1e-12 * scale);
        CHECK(distance(d.d2, {v2.X(), v2.Y(), v2.Z()}) < 1e-11 * scale);
        CHECK(distance(d.d3, {v3.X(), v3.Y(), v3.Z()}) < 1e-9 * scale);
        ++compared;
      }
    }
  REQUIRE(compared >= 20);
}

TEST_CASE("the circle is exact, and its length, radius and evenness are those of a circle") {
  const double r = 17.0;
  const Curve c = make_circle({}, r);
  CHECK(radius_gap(c, r) < 1e-12 * r);
  CHECK(arc_length(c) == Approx(2 * std::numbers::pi * r).epsilon(1e-10));
  REQUIRE(least_radius(c));
  CHECK(least_radius(c)->radius == Approx(r).epsilon(1e-9));
  CHECK(comb(c, 12).inflections.empty());
  CHECK(comb(c, 12).greatest == Approx(1.0 / r).epsilon(1e-9));
  const Box3 box = tight_box(c);
  CHECK(distance(box.max, {r, r, 0}) < 1e-9);
  CHECK_THROWS_AS(make_circle({}, 0.0), Error);
  CHECK_THROWS_AS(make_circle({}, NAN), Error);
}

TEST_CASE("a straight run of evenly spaced points is perfectly even and has no radius") {
  const Curve line = make_curve({{0, 0, 0}, {10, 0, 0}}, 1, false);
  CHECK(evenness(line) == Approx(100.0).epsilon(1e-12));
  CHECK_FALSE(least_radius(line));
  CHECK(arc_length(line) == Approx(10.0).epsilon(1e-14));
  // Speed 1 : 3 over the halves: lengths 1/2 and 3/2 of the mean, so the standard deviation is half
  // the mean and evenness 50, worked by hand.
  const Curve bent = make_curve({{0, 0, 0}, {10, 0, 0}, {40, 0, 0}}, 1, false);
  CHECK(evenness(bent) == Approx(50.0).epsilon(1e-9));
}

TEST_CASE("a circle rebuilt to 36 points stays round, closed and even") {
  Progress progress;
  const Curve circle = make_circle({}, 22.0);
  const Curve c = rebuild(circle, {.points = 36}, progress);
  CHECK(c.point_count() == 36);
  CHECK(c.knots.periodic);
  CHECK_FALSE(c.rational());
  CHECK(radius_gap(c, 22.0) < 1e-4 * 22.0);
  CHECK(rebuild(circle, {.points = 36, .degree = 5}, progress).knots.degree == 5);
  const Curve even = rebuild(circle, {.points = 36, .even = true}, progress);
  CHECK(evenness(even) > 99.9);
  CHECK(radius_gap(even, 22.0) < 1e-4 * 22.0);
  // What is in the space already is reproduced.
  const Curve again = rebuild(c, {.points = 36}, progress);
  for (std::size_t k = 0; k < 36; ++k) CHECK(distance(again.points[k], c.points[k]) < 1e-10 * 44);
  CHECK_THROWS_WITH(rebuild(circle, {.points = 3}, progress), Contains("at least"));
  CHECK_THROWS_WITH(rebuild(circle, {.points = 501}, progress), Contains("2 to 500"));
  CHECK_THROWS_WITH(rebuild(circle, {.points = 20, .degree = 12}, progress), Contains("Degree 12"));
}

TEST_CASE("an open curve keeps its ends exactly when it is rebuilt") {
  Progress progress;
  std::mt19937 r(7);
  for (const bool rational : {false, true}) {
    const Curve c = random_curve(r, 9, 3, false, rational);
    const Curve b = rebuild(c, {.points = 14, .degree = 3}, progress);
    CHECK(distance(b.points.front(), c.points.front()) < 1e-12 * size(c));
    CHECK(distance(b.points.back(), c.points.back()) < 1e-12 * size(c));
    const CurveDeviation d = deviation(b, c, progress);
    // The measure against a plain search over many places of both.
    double worst = 0.0;
    const CurveEvaluator eb(b);
    const CurveEvaluator ec(c);
    for (int k = 0; k <= 300; ++k) {
      double nearest = std::numeric_limits<double>::infinity();
      for (int l = 0; l <= 4000; ++l)
        nearest = std::min(nearest, distance(eb.point(k / 300.0), ec.point(l / 4000.0)));
      worst = std::max(worst, nearest);
    }
    CHECK(d.max >= worst - 0.05);
    CHECK(d.mean <= d.max);
    CHECK(d.percentile95 <= d.max);
  }
}

TEST_CASE("the closest place on a curve is as close as a dense search finds") {
  std::mt19937 r(13);
  std::uniform_real_distribution<double> x(-70, 70);
  for (const bool closed : {false, true}) {
    const CurveEvaluator c(random_curve(r, 11, 3, closed, true));
    for (int n = 0; n < 60; ++n) {
      const Vec3 p{x(r), x(r), x(r)};
      const CurvePlace found = closest_place(c, p);
      double nearest = std::numeric_limits<double>::infinity();
      for (int k = 0; k <= 20000; ++k)
        nearest = std::min(nearest, distance(c.point(k / 20000.0), p));
      CHECK(found.distance <= nearest + 1e-9);
      CHECK(distance(c.point(found.t), found.p) < 1e-12 * size(c.curve()));
    }
  }
}

TEST_CASE("curves that cannot be are refused with the numbers") {
  CHECK_THROWS_WITH(make_curve({{0, 0, 0}, {1, 0, 0}}, 3, false), Contains("at least 4"));
  Curve c = make_curve({{0, 0, 0}, {1, 0, 0}, {2, 1, 0}, {3, 0, 0}}, 3, false);
  c.points.pop_back();
  CHECK_THROWS_WITH(check(c), Contains("3 control points"));
  c.points.push_back({NAN, 0, 0});
  CHECK_THROWS_AS(check(c), Error);
  c.points.back() = {3, 0, 0};
  c.weights = {1, 1, 0, 1};
  CHECK_THROWS_WITH(check(c), Contains("greater than 0"));
}
