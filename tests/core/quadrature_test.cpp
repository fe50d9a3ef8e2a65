// Quadrature and the integrals of basis functions that energies are made of: polynomials integrated by hand.
#include "core/nurbs/quadrature.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/nurbs/gram.h"
#include "core/nurbs/hermite.h"

using namespace evenclay;

TEST_CASE("eight points integrate polynomials of degree 15 exactly, and four those of degree 7") {
  double weights = 0.0;
  for (const GaussPoint& g : kGauss8) weights += g.weight;
  CHECK(weights == Approx(2.0).epsilon(1e-14));
  for (int n = 0; n <= 15; ++n) {
    INFO("x to the " << n);
    const double a = -0.7, b = 2.1;
    const double exact = (std::pow(b, n + 1) - std::pow(a, n + 1)) / (n + 1);
    CHECK(integrate(a, b, [n](double x) { return std::pow(x, n); }) ==
          Approx(exact).epsilon(1e-13));
  }
  // One degree more is not exact any more, or the rule would be another one.
  const double sixteen = integrate(-1.0, 1.0, [](double x) { return std::pow(x, 16); });
  CHECK(std::abs(sixteen - 2.0 / 17.0) > 1e-9);
  for (int n = 0; n <= 7; ++n) {
    double sum = 0.0;
    for (const GaussPoint& g : kGauss4OfUnit) sum += g.weight * std::pow(g.place, n);
    CHECK(sum == Approx(1.0 / (n + 1)).epsilon(1e-13));
  }
  CHECK(integrate(0.0, std::numbers::pi, [](double x) { return std::sin(x); }) ==
        Approx(2.0).epsilon(1e-12));
}

TEST_CASE("products of Bernstein polynomials have the integrals of the beta function") {
  // ∫ B(i, p) B(j, p) = C(p, i) C(p, j) / (C(2p, i + j) (2p + 1)).
  const auto choose = [](int n, int k) {
    return std::round(std::exp(std::lgamma(n + 1) - std::lgamma(k + 1) - std::lgamma(n - k + 1)));
  };
  for (const int p : {1, 2, 3, 5, 7}) {
    const KnotVector bezier = uniform_knots(p + 1, p, false);
    const double length = 12.5;
    const Grid<double> g = gram(bezier, length, 0);
    for (int i = 0; i <= p; ++i)
      for (int j = 0; j <= p; ++j)
        CHECK(g(i, j) ==
              Approx(length * choose(p, i) * choose(p, j) / (choose(2 * p, i + j) * (2 * p + 1)))
                  .epsilon(1e-12));
  }
}

TEST_CASE("the energy of a straight line is nothing, and of a parabola what calculus says") {
  for (const KnotVector& k : {uniform_knots(9, 3, false), uniform_knots(7, 2, false),
                              KnotVector{3, false, {0, 0, 0, 0, 1, 1, 4, 6, 6, 6, 6}}}) {
    const double length = 20.0;
    const std::vector<double> at = greville_places(k);
    const auto energy = [&](const Grid<double>& g, const std::vector<double>& c) {
      double sum = 0.0;
      for (std::size_t i = 0; i < c.size(); ++i)
        for (std::size_t j = 0; j < c.size(); ++j)
          sum += c[i] * c[j] * g(static_cast<int>(i), static_cast<int>(j));
      return sum;
    };
    std::vector<double> line;
    for (const double u : at) line.push_back(3.0 + 0.5 * length * (u - k.first()) / k.length());
    CHECK(energy(gram(k, length, 2), line) == Approx(0.0).margin(1e-9));
    CHECK(energy(gram(k, length, 3), line) == Approx(0.0).margin(1e-9));
    // Slope 1/2 over 20 mm.
    CHECK(energy(gram(k, length, 1), line) == Approx(0.25 * length));
    // ∫ (3 + x / 2)² over 0..20.
    CHECK(energy(gram(k, length, 0), line) == Approx((std::pow(13.0, 3) - 27.0) / 1.5));
  }
  // x² as a Bézier curve of degree 2 over 0..L: coefficients 0, 0, L²; its second derivative is 2.
  const double length = 6.0;
  const Grid<double> g = gram(uniform_knots(3, 2, false), length, 2);
  CHECK(g(2, 2) * std::pow(length, 4) == Approx(4.0 * length));
  CHECK(gram(uniform_knots(3, 2, false), length, 3)(2, 2) == 0.0);
}

TEST_CASE("a closed row of points sees each neighbour alike") {
  const KnotVector k = uniform_knots(8, 3, true);
  for (int order = 0; order <= 3; ++order) {
    const Grid<double> g = gram(k, 16.0, order);
    for (int i = 0; i < 8; ++i)
      for (int j = 0; j < 8; ++j) {
        CHECK(g(i, j) == Approx(g(j, i)).margin(1e-12));
        CHECK(g(i, j) == Approx(g((i + 1) % 8, (j + 1) % 8)).margin(1e-10));
      }
    double row = 0.0;
    for (int j = 0; j < 8; ++j) row += g(0, j);
    // The sum of all functions is 1: its integral against one of them is 16 / 8, its derivatives are 0.
    CHECK(row == Approx(order == 0 ? 2.0 : 0.0).margin(1e-10));
  }
}

TEST_CASE("a curve through places and tangents is a cubic where the function is one") {
  const auto cubic = [](double t) {
    CurveDerivatives d;
    d.p = {t, t * t - 2.0 * t, 0.5 * t * t * t};
    d.d1 = {1.0, 2.0 * t - 2.0, 1.5 * t * t};
    return d;
  };
  const std::array<double, 3> breaks{0.0, 1.0, 4.0};
  const Curve c = hermite_curve(cubic, breaks, 1e-9);
  CHECK(c.knots.degree == 3);
  CHECK(breakpoints(c.knots) == std::vector<double>{0, 1, 4});
  for (int n = 0; n <= 40; ++n) CHECK(distance(evaluate(c, 0.1 * n), cubic(0.1 * n).p) < 1e-12);
  // A circle needs more pieces the closer it is wanted: sixteen times the pieces for 65536 times less.
  const auto circle = [](double t) {
    CurveDerivatives d;
    d.p = {10 * std::cos(t), 10 * std::sin(t), 0};
    d.d1 = {-10 * std::sin(t), 10 * std::cos(t), 0};
    return d;
  };
  const std::array<double, 2> turn{0.0, 2.0 * std::numbers::pi};
  std::size_t before = 0;
  for (const double tolerance : {1e-2, 1e-4, 1e-6}) {
    const Curve round = hermite_curve(circle, turn, tolerance);
    double off = 0.0;
    for (int n = 0; n <= 500; ++n)
      off = std::max(off, std::abs(length(evaluate(round, turn[1] * n / 500.0)) - 10.0));
    CHECK(off <= 1.05 * tolerance);
    CHECK(breakpoints(round.knots).size() > before);
    before = breakpoints(round.knots).size();
  }
  CHECK(breakpoints(hermite_curve(circle, turn, 1e-300, 50).knots).size() <= 101);
}

TEST_CASE("lines and other domains keep their places") {
  const Curve line = line_curve({1, 2, 3}, {5, 2, -1}, 2.0, 6.0);
  CHECK(distance(evaluate(line, 3.0), {2, 2, 2}) < 1e-12);
  const Curve other = reparameterised(line, -1.0, 1.0);
  CHECK(other.knots.first() == -1.0);
  CHECK(other.knots.last() == 1.0);
  for (const double s : {0.0, 0.3, 1.0})
    CHECK(distance(evaluate(other, -1.0 + 2.0 * s), evaluate(line, 2.0 + 4.0 * s)) < 1e-12);
}
