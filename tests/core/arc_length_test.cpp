#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/quadrature.h"
#include "core/nurbs/search.h"

using namespace evenclay;
using std::numbers::pi;

TEST_CASE("the 8-point rule integrates polynomials of degree 15 exactly") {
  // ∫ x^n over [0, 2] = 2^(n+1) / (n+1)
  for (int n = 0; n <= 15; ++n)
    CHECK(integrate(0.0, 2.0, [&](double x) { return std::pow(x, n); }) ==
          Approx(std::pow(2.0, n + 1) / (n + 1)).epsilon(1e-13));
}

TEST_CASE("arc length around a circle is proportional to the angle") {
  // Closed formula: the share of the length is angle ÷ 2π, whatever the rational parameter does.
  const Surface cylinder = make_cylinder({}, 20, 60);
  const ArcLengthMap map(cylinder, Direction::U, whole(cylinder));
  CHECK(map.mean_length() == Approx(2 * pi * 20).epsilon(1e-10));
  for (int k = 0; k < 97; ++k) {
    const double share = k / 97.0;
    const ArcLengthMap::Place place = map.at_share(share);
    const Vec3 p = evaluate(cylinder, place.parameter, 0.5);
    double angle = std::atan2(p.y, p.x);
    if (angle < -1e-12) angle += 2 * pi;
    CHECK(angle / (2 * pi) == Approx(share).margin(1e-9));
    CHECK(map.share_of(place.parameter) == Approx(share).margin(1e-9));
    // dw/ds is the inverse of the relative speed.
    const double h = 1e-5;
    const double numeric =
        (map.at_share(share + h).parameter - map.at_share(share - h).parameter) / (2 * h);
    if (k > 0) CHECK(place.slope == Approx(numeric).epsilon(1e-3));
  }
}

TEST_CASE("arc length from pole to pole of a sphere is proportional to the latitude") {
  const Surface sphere = make_sphere({}, 52);
  const ArcLengthMap map(sphere, Direction::V, whole(sphere));
  CHECK(map.mean_length() == Approx(pi * 52).epsilon(1e-10));
  for (const double share : {0.1, 0.25, 0.5, 0.8})
    CHECK(std::asin(evaluate(sphere, 0.3, map.at_share(share).parameter).z / 52) ==
          Approx((share - 0.5) * pi).margin(1e-9));
}

TEST_CASE("a region may run over the seam of a closed direction") {
  const Surface cylinder = make_cylinder({}, 20, 60);
  const ArcLengthMap map(cylinder, Direction::U, {0.75, 1.25, 0, 1});
  CHECK(map.mean_length() == Approx(pi * 20).epsilon(1e-10));
  CHECK(map.at_share(0.5).parameter == Approx(1.0).margin(1e-9));
  CHECK_THROWS_AS(ArcLengthMap(cylinder, Direction::U, {0.5, 0.5, 0, 1}), Error);
}

TEST_CASE("a fit returns the coefficients its samples came from") {
  for (const bool periodic : {false, true}) {
    const KnotVector k = uniform_knots(9, 3, periodic);
    const FlatKnots flat = flatten(k);
    std::vector<double> truth;
    for (int i = 0; i < 9; ++i) truth.push_back(std::sin(1.7 * i));
    const FitSamples s = fit_samples(k, std::vector<double>{0.0, 0.33, 1.0});
    REQUIRE(s.places.size() >= 4 * 6);
    std::vector<double> samples;
    for (const double u : s.places) {
      const int span = find_span(flat, u);
      const auto n = basis_values(flat, span, u);
      double value = 0.0;
      for (int f = 0; f <= 3; ++f)
        value += n[static_cast<std::size_t>(f)] *
                 truth[static_cast<std::size_t>(flat.point(span - 3 + f))];
      samples.push_back(value);
    }
    std::vector<double> found(9, 0.0);
    LineFit(k, s.places, s.weights, {}).solve(samples, 1, found);
    for (std::size_t i = 0; i < 9; ++i) CHECK(found[i] == Approx(truth[i]).margin(1e-12));
  }
}

TEST_CASE("a fit without enough samples meets those there are and stays small elsewhere") {
  const KnotVector k = uniform_knots(9, 3, false);
  const std::vector<double> places{0.1, 0.2};
  const std::vector<double> weights{1.0, 1.0};
  const std::vector<double> samples{2.0, -1.0};
  std::vector<double> x(9, 0.0);
  LineFit(k, places, weights, {}).solve(samples, 1, x);
  Curve curve{k, {}, {}};
  for (const double value : x) curve.points.push_back({value, 0, 0});
  CHECK(evaluate(curve, 0.1).x == Approx(2.0).margin(1e-6));
  CHECK(evaluate(curve, 0.2).x == Approx(-1.0).margin(1e-6));
  for (int i = 5; i < 9; ++i)
    CHECK(x[static_cast<std::size_t>(i)] == 0.0);  // no sample reaches them
}

TEST_CASE("Greville places of a uniform closed direction are its knots") {
  const std::vector<double> g = greville_places(uniform_knots(10, 3, true));
  REQUIRE(g.size() == 10);
  for (std::size_t i = 0; i < 10; ++i)
    CHECK(g[i] == Approx(0.1 * static_cast<double>(i)).margin(1e-15));
  const std::vector<double> c = greville_places(uniform_knots(5, 3, false));
  CHECK(c.front() == 0.0);
  CHECK(c[1] == Approx(1.0 / 6.0));
  CHECK(c.back() == 1.0);
}

TEST_CASE("the search finds the highest place of a sphere") {
  const Surface sphere = make_sphere({}, 52);
  const Vec3 up = normalized(Vec3{1, 2, 3});
  const SearchResult r =
      search_maximum(sphere, 8, [&](Parameter p) { return dot(evaluate(sphere, p.u, p.v), up); });
  CHECK(r.value == Approx(52).epsilon(1e-12));
}
