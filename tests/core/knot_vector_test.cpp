// Knot vectors: counts and places worked by hand; basis functions against the recursion of the definition.
#include "core/nurbs/knot_vector.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <limits>
#include <numeric>

#include "core/base/error.h"

using namespace evenclay;
using Catch::Contains;

namespace {

// N(i, p) at u by its definition (C. de Boor 1972, M. Cox 1972), 0 / 0 being 0; slow and plain.
double by_definition(const std::vector<double>& t, std::size_t i, int p, double u) {
  if (p == 0) return t[i] <= u && u < t[i + 1] ? 1.0 : 0.0;
  const auto q = static_cast<std::size_t>(p);
  const double left = t[i + q] - t[i], right = t[i + q + 1] - t[i + 1];
  double sum = 0.0;
  if (left > 0.0) sum += (u - t[i]) / left * by_definition(t, i, p - 1, u);
  if (right > 0.0) sum += (t[i + q + 1] - u) / right * by_definition(t, i + 1, p - 1, u);
  return sum;
}

std::vector<KnotVector> some_vectors() {
  return {uniform_knots(7, 3, false),
          uniform_knots(6, 2, false),
          uniform_knots(5, 1, false),
          uniform_knots(9, 5, false),
          uniform_knots(8, 3, true),
          uniform_knots(7, 2, true),
          {2, false, {0, 0, 0, 1, 2, 3, 4, 4, 5, 5, 5}},
          {3, false, {-1, -1, -1, -1, 0, 0, 0, 2.5, 7, 7, 7, 7}},
          {3, true, {0, 1, 1, 2, 4, 5}}};
}

}  // namespace

TEST_CASE("even knots run from 0 to 1 in equal steps, clamped and closed") {
  const KnotVector clamped = uniform_knots(7, 3, false);
  CHECK(clamped.knots == std::vector<double>{0, 0, 0, 0, 0.25, 0.5, 0.75, 1, 1, 1, 1});
  CHECK(clamped.point_count() == 7);
  CHECK(clamped.first() == 0.0);
  CHECK(clamped.last() == 1.0);
  const KnotVector closed = uniform_knots(8, 3, true);
  REQUIRE(closed.knots.size() == 9);
  for (std::size_t k = 0; k < 9; ++k)
    CHECK(closed.knots[k] == Approx(static_cast<double>(k) / 8.0));
  CHECK(closed.point_count() == 8);
  // The fewest points of a degree leave one span.
  CHECK(breakpoints(uniform_knots(6, 5, false)) == std::vector<double>{0, 1});
  CHECK_THROWS_WITH(uniform_knots(3, 3, false), Contains("Degree 3 needs at least 4"));
}

TEST_CASE("a closed direction goes round, an open one stops at its ends") {
  const KnotVector closed{3, true, {0, 1, 2, 3, 4, 5}};
  CHECK(into_domain(closed, 5.0) == 0.0);
  CHECK(into_domain(closed, 7.25) == Approx(2.25));
  CHECK(into_domain(closed, -0.5) == Approx(4.5));
  CHECK(into_domain(closed, -10.5) == Approx(4.5));
  const KnotVector open{2, false, {1, 1, 1, 2, 4, 4, 4}};
  CHECK(into_domain(open, 0.0) == 1.0);
  CHECK(into_domain(open, 9.0) == 4.0);
  CHECK(into_domain(open, 3.5) == 3.5);
}

TEST_CASE("breaks are the different knots, and samples stand between them in equal parts") {
  const KnotVector k{3, false, {0, 0, 0, 0, 1, 1, 3, 3, 3, 3}};
  CHECK(breakpoints(k) == std::vector<double>{0, 1, 3});
  CHECK(sample_places(k, 2) == std::vector<double>{0, 0.5, 1, 2, 3});
  CHECK(sample_places(k, 1) == std::vector<double>{0, 1, 3});
  // One turn has no end of its own.
  CHECK(sample_places({3, true, {0, 1, 2, 3, 4, 5}}, 1) == std::vector<double>{0, 1, 2, 3, 4});
}

TEST_CASE(
    "Greville places are means of inner knots, and a straight net over them is a straight line") {
  // By hand: degree 3 over 0 0 0 0 1 2 3 3 3 3.
  const std::vector<double> g = greville_places({3, false, {0, 0, 0, 0, 1, 2, 3, 3, 3, 3}});
  const std::vector<double> expected{0, 1.0 / 3.0, 1.0, 2.0, 8.0 / 3.0, 3.0};
  REQUIRE(g.size() == expected.size());
  for (std::size_t k = 0; k < g.size(); ++k) CHECK(g[k] == Approx(expected[k]));
  // Linear precision: Σ g N(u) = u.
  for (const KnotVector& k : some_vectors()) {
    if (k.periodic) continue;
    const std::vector<double> at = greville_places(k);
    const FlatKnots flat = flatten(k);
    for (int n = 0; n <= 40; ++n) {
      const double u = k.first() + k.length() * n / 40.0;
      const int span = find_span(flat, u);
      const auto basis = basis_values(flat, span, u);
      double sum = 0.0;
      for (int i = 0; i <= k.degree; ++i)
        sum += basis[static_cast<std::size_t>(i)] *
               at[static_cast<std::size_t>(flat.point(span - k.degree + i))];
      CHECK(sum == Approx(u).margin(1e-13 * (1.0 + std::abs(u))));
    }
  }
}

TEST_CASE("basis functions are those of their definition, wherever knots repeat") {
  for (const KnotVector& k : some_vectors()) {
    const FlatKnots flat = flatten(k);
    for (int n = 0; n < 50; ++n) {
      const double u = k.first() + k.length() * (n + 0.37) / 50.0;
      const int span = find_span(flat, u);
      CHECK(flat.t[static_cast<std::size_t>(span)] <= u);
      CHECK(u < flat.t[static_cast<std::size_t>(span) + 1]);
      const auto basis = basis_values(flat, span, u);
      for (int i = 0; i <= k.degree; ++i)
        CHECK(basis[static_cast<std::size_t>(i)] ==
              Approx(
                  by_definition(flat.t, static_cast<std::size_t>(span - k.degree + i), k.degree, u))
                  .margin(1e-13));
    }
  }
}

TEST_CASE("derivatives of basis functions are those of narrow differences") {
  for (const KnotVector& k : some_vectors()) {
    const FlatKnots flat = flatten(k);
    const double h = 1e-5 * k.length();
    for (int n = 0; n < 30; ++n) {
      const double u = k.first() + k.length() * (n + 0.41) / 30.0;
      const int span = find_span(flat, u);
      if (find_span(flat, u - h) != span || find_span(flat, u + h) != span) continue;
      const BasisDerivatives d = basis_derivatives(flat, span, u, 3);
      const auto left = basis_derivatives(flat, span, u - h, 2);
      const auto right = basis_derivatives(flat, span, u + h, 2);
      for (std::size_t order = 1; order <= 3; ++order)
        for (int i = 0; i <= k.degree; ++i) {
          const auto f = static_cast<std::size_t>(i);
          const double difference = (right[order - 1][f] - left[order - 1][f]) / (2.0 * h);
          const double scale = std::pow(10.0 / k.length(), static_cast<double>(order));
          CHECK(d[order][f] == Approx(difference).margin(1e-4 * scale));
        }
      if (k.degree < 3)
        for (int i = 0; i <= k.degree; ++i) CHECK(d[3][static_cast<std::size_t>(i)] == 0.0);
    }
  }
}

TEST_CASE("what is no knot vector is refused with the numbers") {
  const auto refused = [](const KnotVector& k) {
    try {
      check(k, "u direction");
    } catch (const Error& e) {
      return std::string(e.what());
    }
    return std::string();
  };
  for (const KnotVector& k : some_vectors()) CHECK(refused(k).empty());
  CHECK_THAT(refused({12, false, std::vector<double>(30, 0.0)}), Contains("degree 12"));
  CHECK_THAT(refused({0, false, {0, 1}}), Contains("degree 0"));
  CHECK_THAT(refused({3, false, {0, 0, 0, 1, 1, 1}}), Contains("needs at least 8"));
  CHECK_THAT(refused({1, false, {0, 0, 2, 1, 3, 3}}), Contains("decreasing"));
  CHECK_THAT(refused({1, false, {5, 5, 5, 5}}), Contains("no length"));
  CHECK_THAT(refused({1, false, {0, 0, std::numeric_limits<double>::quiet_NaN(), 1, 1}}),
             Contains("not a number"));
  CHECK_THAT(refused({2, false, {0, 0, 0, 1, 1, 1, 2, 2, 2}}), Contains("3 times"));
  std::vector<double> huge(5002);
  std::iota(huge.begin(), huge.end(), 0.0);
  CHECK_THAT(refused({3, true, huge}), Contains("at most"));
}
