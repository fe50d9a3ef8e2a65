#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/support.h"

using namespace evenclay;
using evenclay::testing::conic_surfaces;
using evenclay::testing::kernel_surface;
using evenclay::testing::random_surfaces;

namespace {

double kernel_gap(const Vec3& a, const gp_Vec& b) {
  return distance(a, {b.X(), b.Y(), b.Z()});
}

// How large a derivative can be at the narrowest span: size × degree ÷ width × ratio of the
// weights (the quotient rule divides by the smaller ones). Rounding is measured against this, since derivatives of one surface differ by orders of magnitude on uneven knots.
double steepest(const Surface& s, const KnotVector& k) {
  const std::vector<double> breaks = breakpoints(k);
  double narrowest = k.length();
  for (std::size_t i = 1; i < breaks.size(); ++i)
    narrowest = std::min(narrowest, breaks[i] - breaks[i - 1]);
  double ratio = 1.0;
  if (s.rational()) {
    const auto [low, high] =
        std::minmax_element(s.weights.values().begin(), s.weights.values().end());
    ratio = *high / *low;
  }
  return size(s) * k.degree / narrowest * ratio;
}

std::vector<testing::NamedSurface> corpus() {
  auto all = random_surfaces(60);
  for (auto& s : conic_surfaces()) all.push_back(s);
  return all;
}

}  // namespace

TEST_CASE("basis values of the book's example are 1/8, 6/8, 1/8") {
  // L. Piegl, W. Tiller, The NURBS Book, 2nd ed. 1997, Ex2.3 (from memory).
  const FlatKnots k = flatten({2, false, {0, 0, 0, 1, 2, 3, 4, 4, 5, 5, 5}});
  const int span = find_span(k, 2.5);
  REQUIRE(span == 4);
  const auto n = basis_values(k, span, 2.5);
  CHECK(n[0] == Approx(1.0 / 8.0).epsilon(1e-15));
  CHECK(n[1] == Approx(6.0 / 8.0).epsilon(1e-15));
  CHECK(n[2] == Approx(1.0 / 8.0).epsilon(1e-15));
}

TEST_CASE("basis values sum to one and derivatives to zero across the domain") {
  const auto all = corpus();
  REQUIRE(all.size() >= 60);
  for (const auto& [name, s] : all) {
    const FlatKnots k = flatten(s.u);
    for (int i = 0; i <= 50; ++i) {
      const double u = s.u.first() + s.u.length() * i / 50.0;
      const auto d = basis_derivatives(k, find_span(k, u), u, 1);
      double sum = 0.0;
      double slope = 0.0;
      double size = 0.0;
      for (std::size_t f = 0; f <= static_cast<std::size_t>(s.u.degree); ++f) {
        sum += d[0][f];
        slope += d[1][f];
        size += std::abs(d[1][f]);
      }
      INFO(name << " at " << u);
      CHECK(std::abs(sum - 1.0) < 1e-14 * (1 + s.u.degree));
      CHECK(std::abs(slope) <= 1e-12 * size);
    }
  }
}

TEST_CASE("points and derivatives agree with the B-rep kernel on random rational surfaces") {
  const auto all = corpus();
  REQUIRE(all.size() >= 60);
  std::size_t periodic = 0;
  for (const auto& [name, s] : all) {
    periodic += s.u.periodic || s.v.periodic ? 1U : 0U;
    const auto kernel = kernel_surface(s);
    for (const auto& [u, v] : testing::places(s, 24)) {
      // At a periodic end the two sides' derivatives may differ at a multiple knot.
      const bool end = u == s.u.last() || v == s.v.last() || u == s.u.first() || v == s.v.first();
      if (end && (s.u.periodic || s.v.periodic)) continue;
      gp_Pnt p;
      gp_Vec du, dv, duu, dvv, duv;
      kernel->D2(u, v, p, du, dv, duu, dvv, duv);
      const SurfaceDerivatives d = derivatives(s, u, v, 2);
      INFO(name << " at " << u << ", " << v);
      const double su = steepest(s, s.u);
      const double sv = steepest(s, s.v);
      CHECK(distance(d.p(), {p.X(), p.Y(), p.Z()}) <= 1e-12 * size(s));
      CHECK(kernel_gap(d.du(), du) <= 1e-12 * su);
      CHECK(kernel_gap(d.dv(), dv) <= 1e-12 * sv);
      CHECK(kernel_gap(d.duu(), duu) <= 1e-12 * su * su / size(s));
      CHECK(kernel_gap(d.dvv(), dvv) <= 1e-12 * sv * sv / size(s));
      CHECK(kernel_gap(d.duv(), duv) <= 1e-12 * su * sv / size(s));
    }
  }
  REQUIRE(periodic >= 10);
}

TEST_CASE("fast evaluation agrees with the reference route in both compilations") {
  for (const kernels::Table* table : {&kernels::kBaseline, &kernels::best()})
    for (const auto& [name, s] : corpus()) {
      const SurfaceEvaluator e(s, *table);
      std::vector<Parameter> at;
      for (const auto& [u, v] : testing::places(s, 40)) at.push_back({u, v});
      std::vector<PointSecond> out(at.size());
      e.seconds(at, out);
      for (std::size_t k = 0; k < at.size(); ++k) {
        const SurfaceDerivatives d = derivatives(s, at[k].u, at[k].v, 2);
        INFO(name << " with " << table->name << " at " << at[k].u << ", " << at[k].v);
        const double su = steepest(s, s.u);
        CHECK(distance(out[k].p, d.p()) <= 1e-12 * size(s));
        CHECK(distance(out[k].du, d.du()) <= 1e-12 * su);
        CHECK(distance(out[k].dv, d.dv()) <= 1e-12 * steepest(s, s.v));
        CHECK(distance(out[k].duu, d.duu()) <= 1e-12 * su * su / size(s));
      }
    }
}

// Each of them has a loop of its own in the quick evaluation, or shares one with others.
TEST_CASE("fast evaluation agrees with the reference route for every pair of degrees") {
  std::mt19937 r(4);
  std::uniform_real_distribution<double> x(-1.0, 1.0), weight(0.3, 3.0);
  for (int p = 1; p <= 6; ++p)
    for (int q = 1; q <= 6; ++q)
      for (const bool rational : {false, true}) {
        Surface s = make_plane({}, 60, 50, 9, 8, p, q);
        for (Vec3& point : s.points.values()) point += Vec3{x(r), x(r), 5.0 * x(r)};
        if (rational) {
          s.weights = Grid<double>(9, 8);
          for (double& w : s.weights.values()) w = weight(r);
        }
        std::vector<Parameter> at;
        for (int k = 0; k < 70; ++k) at.push_back({0.5 + 0.5 * x(r), 0.5 + 0.5 * x(r)});
        for (const kernels::Table* table : {&kernels::kBaseline, &kernels::best()}) {
          const SurfaceEvaluator e(s, *table);
          std::vector<PointSecond> out(at.size());
          std::vector<PointTangents> tangents(at.size());
          e.seconds(at, out);
          e.tangents(at, tangents);
          for (std::size_t k = 0; k < at.size(); ++k) {
            const SurfaceDerivatives d = derivatives(s, at[k].u, at[k].v, 2);
            INFO(p << " × " << q << (rational ? " rational" : "") << " with " << table->name);
            const double steep = std::max(steepest(s, s.u), steepest(s, s.v));
            CHECK(distance(out[k].p, d.p()) <= 1e-12 * size(s));
            CHECK(distance(tangents[k].p, d.p()) <= 1e-12 * size(s));
            CHECK(distance(tangents[k].du, d.du()) <= 1e-12 * steep);
            CHECK(distance(tangents[k].dv, d.dv()) <= 1e-12 * steep);
            CHECK(distance(out[k].duu, d.duu()) <= 1e-12 * steep * steep / size(s));
            CHECK(distance(out[k].duv, d.duv()) <= 1e-12 * steep * steep / size(s));
            CHECK(distance(out[k].dvv, d.dvv()) <= 1e-12 * steep * steep / size(s));
          }
        }
      }
}

TEST_CASE("grid evaluation agrees with scattered evaluation") {
  Progress progress;
  for (const kernels::Table* table : {&kernels::kBaseline, &kernels::best()})
    for (const auto& [name, s] : corpus()) {
      const SurfaceEvaluator e(s, *table);
      std::vector<double> us, vs;
      for (int i = 0; i <= 37; ++i) us.push_back(s.u.first() + s.u.length() * i / 37.0);
      for (int j = 0; j <= 23; ++j) vs.push_back(s.v.first() + s.v.length() * j / 23.0);
      GridSamples<double> grid;
      GridSamples<float> coarse;
      e.grid(us, vs, grid, progress);
      e.grid(us, vs, coarse, progress);
      INFO(name << " with " << table->name);
      for (std::size_t i = 0; i < us.size(); ++i)
        for (std::size_t j = 0; j + (s.v.periodic ? 1 : 0) < vs.size(); ++j) {
          const PointTangents t = e.tangents(us[i], vs[j]);
          const std::size_t q = i * vs.size() + j;
          const Vec3 p{grid.p[0][q], grid.p[1][q], grid.p[2][q]};
          const Vec3 du{grid.du[0][q], grid.du[1][q], grid.du[2][q]};
          const Vec3 dv{grid.dv[0][q], grid.dv[1][q], grid.dv[2][q]};
          const Vec3 f{coarse.p[0][q], coarse.p[1][q], coarse.p[2][q]};
          REQUIRE(distance(p, t.p) <= 1e-12 * size(s));
          REQUIRE(distance(du, t.du) <= 1e-12 * steepest(s, s.u));
          REQUIRE(distance(dv, t.dv) <= 1e-12 * steepest(s, s.v));
          REQUIRE(distance(f, t.p) <= 5e-5 * size(s));
        }
    }
}

TEST_CASE("the comparison notices a control point moved by a millionth", "[!shouldfail]") {
  Surface s = random_surfaces(1).front().surface;
  const Vec3 before = evaluate(s, s.u.first(), s.v.first());
  s.points(0, 0).x += 1e-6 * size(s);
  CHECK(distance(before, evaluate(s, s.u.first(), s.v.first())) <= 1e-12 * size(s));
}

TEST_CASE("clamped form has the shape of the periodic one and closes exactly") {
  std::size_t seen = 0;
  for (const auto& [name, s] : corpus()) {
    if (!s.u.periodic && !s.v.periodic) continue;
    ++seen;
    const Surface c = clamped(s);
    INFO(name);
    CHECK_FALSE(c.u.periodic);
    CHECK_FALSE(c.v.periodic);
    for (const auto& [u, v] : testing::places(s, 30))
      CHECK(distance(evaluate(c, u, v), evaluate(s, u, v)) <= 1e-12 * size(s));
    if (s.u.periodic)
      for (int j = 0; j < c.points.columns(); ++j)
        CHECK(c.points(0, j) == c.points(c.points.rows() - 1, j));
  }
  REQUIRE(seen >= 10);
}

TEST_CASE("exact conics keep their radius to 1e-12") {
  // Closed formulas: |S - centre| = r for the sphere, distance to the axis for the cylinder,
  // distance to the ring for the torus.
  const Surface sphere = make_sphere({}, 52);
  const Surface cylinder = make_cylinder({}, 20, 60);
  const Surface torus = make_torus({}, 40, 9);
  for (int i = 0; i <= 60; ++i)
    for (int j = 0; j <= 60; ++j) {
      const double u = i / 60.0;
      const double v = j / 60.0;
      CHECK(std::abs(length(evaluate(sphere, u, v)) - 52) <= 1e-12 * 52);
      const Vec3 c = evaluate(cylinder, u, v);
      CHECK(std::abs(std::hypot(c.x, c.y) - 20) <= 1e-12 * 20);
      const Vec3 t = evaluate(torus, u, v);
      CHECK(std::abs(std::hypot(std::hypot(t.x, t.y) - 40, t.z) - 9) <= 1e-12 * 50);
    }
}

TEST_CASE("conics have outward normals, poles and periodic directions where they should") {
  const Surface sphere = make_sphere({}, 52);
  CHECK(sphere.u.periodic);
  CHECK(is_pole(sphere, Border::VMin, 1e-9));
  CHECK(is_pole(sphere, Border::VMax, 1e-9));
  CHECK_FALSE(is_pole(sphere, Border::UMin, 1e-9));
  CHECK(is_closed(sphere, 1e-9));
  CHECK(is_closed(make_torus({}, 40, 9), 1e-9));
  CHECK_FALSE(is_closed(make_cylinder({}, 20, 60), 1e-9));
  CHECK(is_pole(make_cone({}, 20, 60), Border::VMax, 1e-9));
  for (const double v : {0.0, 0.3, 1.0})
    CHECK(distance(normal(sphere, 0.2, v), normalized(evaluate(sphere, 0.2, v))) < 1e-6);
}

TEST_CASE("bad surfaces are refused with the numbers in the sentence") {
  CHECK_THROWS_WITH(check(KnotVector{2, false, {0, 0, 1}}, "u direction"),
                    Catch::Contains("3 knots; degree 2 needs at least 6"));
  CHECK_THROWS_AS(check(KnotVector{0, false, {0, 1}}, "u"), Error);
  CHECK_THROWS_AS(check(KnotVector{2, false, {0, 0, 0, 0, 0, 0}}, "u"), Error);
  CHECK_THROWS_AS(check(KnotVector{1, false, {0, 0, 2, 1, 3, 3}}, "u"), Error);
  CHECK_THROWS_AS(check(KnotVector{1, false, {0, 0, NAN, 1, 1}}, "u"), Error);
  CHECK_THROWS_AS(check(KnotVector{1, false, {0, 0, .5, .5, .5, 1, 1}}, "u"), Error);
  Surface s = make_sphere({}, 5);
  s.weights(0, 0) = -1;
  CHECK_THROWS_WITH(check(s), Catch::Contains("greater than 0"));
  s = make_sphere({}, 5);
  s.points(0, 0).x = NAN;
  CHECK_THROWS_AS(check(s), Error);
  CHECK_THROWS_AS(make_sphere({}, -1), Error);
  CHECK_THROWS_AS(make_torus({}, 5, 9), Error);
  CHECK_THROWS_AS(uniform_knots(3, 3, false), Error);
}
