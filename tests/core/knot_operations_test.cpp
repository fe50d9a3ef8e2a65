// Knot insertion, removal, degree raising, splitting, opening, closing, reversing: against the
// B-rep kernel's own operations and against the shape before, over random surfaces (RapidCheck).
#include <rapidcheck/catch.h>
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/line_matrix.h"
#include "core/support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Matchers::Contains;

namespace {

// Greatest distance of the shapes at equal places of `a`'s domain.
double worst(const Surface& a, const Surface& b, int count = 60) {
  double result = 0.0;
  for (const auto& [u, v] : places(a, count))
    result = std::max(result, distance(evaluate(a, u, v), evaluate(b, u, v)));
  return result;
}

// Rapidcheck draws a seed; the surface comes from the same generator as every other corpus.
Surface random_surface() {
  const auto seed = *rc::gen::inRange<unsigned>(1, 1000000);
  return random_surfaces(1, seed, 40).front().surface;
}

double random_place(const KnotVector& k) {
  return k.first() + k.length() * (*rc::gen::inRange(1, 1000)) / 1000.0;
}

Direction random_direction() {
  return *rc::gen::element(Direction::U, Direction::V);
}

}  // namespace

TEST_CASE("knot insertion keeps the shape and agrees with the kernel's control points") {
  rc::prop("shape kept to 1e-12 of the size", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    const KnotVector& k = knots_of(s, d);
    std::vector<double> fresh;
    for (int n = *rc::gen::inRange(1, 6); n > 0; --n) fresh.push_back(random_place(k));
    std::sort(fresh.begin(), fresh.end());
    RC_PRE(std::adjacent_find(fresh.begin(), fresh.end()) == fresh.end());
    for (const double t : fresh) RC_PRE(std::count(k.knots.begin(), k.knots.end(), t) < k.degree);
    const Surface finer = insert_knots(s, d, fresh);
    RC_ASSERT(knots_of(finer, d).point_count() == k.point_count() + static_cast<int>(fresh.size()));
    RC_ASSERT(worst(s, finer) <= 1e-12 * size(s));
  });
  // Source: Open CASCADE's Geom_BSplineSurface::InsertUKnot, an independent implementation.
  std::size_t compared = 0;
  for (const auto& [name, original] : random_surfaces(40)) {
    INFO(name);
    const Surface s = clamped(original);
    const double at = s.u.first() + 0.37 * s.u.length();
    const Surface finer = insert_knots(s, Direction::U, std::array<double, 1>{at});
    const Handle(Geom_BSplineSurface) kernel = kernel_surface(s);
    kernel->InsertUKnot(at, 1, 1e-15);
    if (kernel->NbUPoles() != finer.points.rows()) continue;  // a knot within 1e-15 was there
    ++compared;
    for (int i = 0; i < finer.points.rows(); ++i)
      for (int j = 0; j < finer.points.columns(); ++j) {
        const gp_Pnt p = kernel->Pole(i + 1, j + 1);
        REQUIRE(distance(finer.points(i, j), {p.X(), p.Y(), p.Z()}) <= 1e-11 * size(s));
        REQUIRE(finer.weight(i, j) / finer.weight(0, 0) ==
                Approx(kernel->Weight(i + 1, j + 1) / kernel->Weight(1, 1)).epsilon(1e-11));
      }
  }
  REQUIRE(compared >= 35);
}

TEST_CASE("degree raising keeps the shape and agrees with the kernel's control points") {
  rc::prop("shape kept to 1e-12 of the size", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    const int up = *rc::gen::inRange(1, 4);
    RC_PRE(knots_of(s, d).degree + up <= kMaxDegree);
    const Surface raised = raise_degree(s, d, knots_of(s, d).degree + up);
    RC_ASSERT(knots_of(raised, d).degree == knots_of(s, d).degree + up);
    RC_ASSERT(worst(s, raised) <= 1e-12 * size(s));
  });
  std::size_t compared = 0;
  for (const auto& [name, original] : random_surfaces(40)) {
    INFO(name);
    const Surface s = clamped(original);
    if (s.u.degree + 1 > 7) continue;
    ++compared;
    const Surface raised = raise_degree(s, Direction::U, s.u.degree + 1);
    const Handle(Geom_BSplineSurface) kernel = kernel_surface(s);
    kernel->IncreaseDegree(s.u.degree + 1, s.v.degree);
    REQUIRE(kernel->NbUPoles() == raised.points.rows());
    // The kernel raises by an interpolation, which loses digits on uneven knots.
    for (int i = 0; i < raised.points.rows(); ++i)
      for (int j = 0; j < raised.points.columns(); ++j) {
        const gp_Pnt p = kernel->Pole(i + 1, j + 1);
        REQUIRE(distance(raised.points(i, j), {p.X(), p.Y(), p.Z()}) <= 1e-8 * size(s));
      }
  }
  REQUIRE(compared >= 20);
}

TEST_CASE(
    "a line that was added is removed exactly, one that is needed changes only its surroundings") {
  rc::prop("insertion undone", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    const KnotVector& k = knots_of(s, d);
    const double at = k.first() + k.length() * (*rc::gen::inRange(1, 999)) / 1000.0;
    RC_PRE(std::count(k.knots.begin(), k.knots.end(), at) < k.degree);  // else no line fits there
    const Surface finer = insert_knots(s, d, std::array<double, 1>{at});
    const Surface back = remove_knot(finer, d, at);
    RC_ASSERT(knots_of(back, d).point_count() == k.point_count());
    // Solving for the points loses digits where neighbouring spans differ by a thousand.
    RC_ASSERT(worst(s, back) <= 1e-8 * size(s));
  });
  // Worked by hand: degree 1, points at 0 1 4 6 with the knot in the middle of the last two left
  // out leaves the points 0 1 6, whatever the middle one was.
  Surface line{{1, false, {0, 0, 1, 2, 3, 3}}, uniform_knots(2, 1, false), Grid<Vec3>(4, 2), {}};
  const double x[4] = {0, 1, 4, 6};
  for (int i = 0; i < 4; ++i)
    for (int j = 0; j < 2; ++j) line.points(i, j) = {x[i], 0, static_cast<double>(j)};
  const Surface fewer = remove_knot(line, Direction::U, 2.1);
  REQUIRE(fewer.points.rows() == 3);
  CHECK(fewer.points(1, 0).x == 1.0);
  CHECK(fewer.points(2, 1).x == 6.0);
  const Surface plane = make_plane({}, 10, 10, 2, 2, 1, 1);
  CHECK_THROWS_WITH(remove_knot(plane, Direction::U, 0.5), Contains("one span only"));

  // Far from the removed line nothing moves.
  const Surface big = [] {
    Surface s{uniform_knots(12, 3, false), uniform_knots(9, 3, false), Grid<Vec3>(12, 9), {}};
    for (int i = 0; i < 12; ++i)
      for (int j = 0; j < 9; ++j)
        s.points(i, j) = {10.0 * i, 10.0 * j, 5.0 * std::sin(i * 1.3) * std::cos(j * 0.9)};
    return s;
  }();
  const Surface local = remove_knot(big, Direction::U, 0.5);
  for (int j = 0; j < 9; ++j) {
    CHECK(local.points(0, j) == big.points(0, j));
    CHECK(local.points(10, j) == big.points(11, j));
  }
  CHECK(worst(big, local) > 0.01);
}

TEST_CASE("split parts together are the surface") {
  rc::prop("both sides", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    RC_PRE(!knots_of(s, d).periodic);
    const KnotVector k = knots_of(s, d);
    const double at = k.first() + k.length() * (*rc::gen::inRange(1, 999)) / 1000.0;
    const auto [left, right] = split(s, d, at);
    check(left);
    check(right);
    RC_ASSERT(knots_of(left, d).last() == at);
    RC_ASSERT(knots_of(right, d).first() == at);
    RC_ASSERT(worst(left, s) <= 1e-12 * size(s));
    RC_ASSERT(worst(right, s) <= 1e-12 * size(s));
  });
  CHECK_THROWS_WITH(split(make_sphere({}, 5), Direction::U, 0.5), Contains("Open it first"));
  CHECK_THROWS_WITH(split(make_sphere({}, 5), Direction::V, 1.0), Contains("inside v"));
}

TEST_CASE("a closed direction opens anywhere and closes again with its smoothness") {
  rc::prop("opened shape", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    RC_PRE(knots_of(s, d).periodic);
    const KnotVector k = knots_of(s, d);
    const double at = k.first() + k.length() * (*rc::gen::inRange(0, 999)) / 1000.0;
    const Surface open = opened(s, d, at);
    check(open);
    RC_ASSERT(!knots_of(open, d).periodic);
    RC_ASSERT(knots_of(open, d).first() == into_domain(k, at));
    for (const auto& [u, v] : places(open, 40))
      RC_ASSERT(distance(evaluate(open, u, v), evaluate(s, u, v)) <= 1e-12 * size(s));
    const Surface again = closed(open, d, 1e-6 * size(s));
    check(again);
    RC_ASSERT(knots_of(again, d).periodic);
    for (const auto& [u, v] : places(open, 40))
      RC_ASSERT(distance(evaluate(open, u, v), evaluate(again, u, v)) <= 1e-6 * size(s));
  });
  Surface s{uniform_knots(8, 3, true), uniform_knots(5, 3, false), Grid<Vec3>(8, 5), {}};
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 5; ++j)
      s.points(i, j) = {20 * std::cos(i * 0.785398), 20 * std::sin(i * 0.785398), 7.0 * j};
  const Surface open = opened(s, Direction::U, 0.0);
  REQUIRE(open.points.rows() == 11);
  const Surface back = closed(open, Direction::U, 0.01);
  CHECK(back.points.rows() == 8);  // the smooth seam needs no extra knots
  CHECK(worst(s, back) <= 1e-12 * size(s));
  CHECK_THROWS_WITH(closed(make_plane({}, 10, 10, 5, 5, 3, 3), Direction::U, 0.01),
                    Contains("10 mm apart"));
}

TEST_CASE("reversing mirrors the parameter and turns the normal over") {
  rc::prop("mirrored parameter", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    const Surface r = reversed(s, d);
    check(r);
    const KnotVector& k = knots_of(s, d);
    for (const auto& [u, v] : places(s, 30)) {
      const double mirrored = k.first() + k.last() - (d == Direction::U ? u : v);
      const Vec3 p = d == Direction::U ? evaluate(r, mirrored, v) : evaluate(r, u, mirrored);
      // The mirrored parameter is rounded, and uneven spans make the surface steep in it.
      RC_ASSERT(distance(p, evaluate(s, u, v)) <= 1e-9 * size(s));
    }
    RC_ASSERT(worst(reversed(r, d), s) <= 1e-12 * size(s));
  });
  const Surface sphere = make_sphere({}, 10);
  const Vec3 n = normal(sphere, 0.1, 0.4);
  const Vec3 turned = normal(reversed(sphere, Direction::U), 0.9, 0.4);
  CHECK(dot(n, turned) == Approx(-1.0).epsilon(1e-12));
}

TEST_CASE("a new domain keeps the shape") {
  rc::prop("affine parameter", [] {
    const Surface s = random_surface();
    const Direction d = random_direction();
    const Surface r = reparameterised(s, d, -2.0, 5.0);
    check(r);
    const KnotVector& k = knots_of(s, d);
    for (const auto& [u, v] : places(s, 30)) {
      const double w = -2.0 + 7.0 * ((d == Direction::U ? u : v) - k.first()) / k.length();
      const Vec3 p = d == Direction::U ? evaluate(r, w, v) : evaluate(r, u, w);
      RC_ASSERT(distance(p, evaluate(s, u, v)) <= 1e-9 * size(s));
    }
  });
  CHECK_THROWS_WITH(reparameterised(make_sphere({}, 5), Direction::U, 1, 1), Contains("greater"));
}

TEST_CASE("the last span's polynomial is carried on") {
  // Source: a parabola z = x² is the quadratic with points (0,0) (1,0) (2,4) over [0, 2] (worked by
  // hand); carried on to x = 3 it must still be z = x².
  Surface s{{2, false, {0, 0, 0, 2, 2, 2}}, uniform_knots(2, 1, false), Grid<Vec3>(3, 2), {}};
  for (int j = 0; j < 2; ++j) {
    s.points(0, j) = {0, 1.0 * j, 0};
    s.points(1, j) = {1, 1.0 * j, 0};
    s.points(2, j) = {2, 1.0 * j, 4};
  }
  KnotVector to = s.u;
  to.knots = {0, 0, 0, 3, 3, 3};
  const Surface longer = applied(end_moved(s.u, 3.0), s, Direction::U, to);
  for (const double x : {0.5, 1.7, 2.0, 2.6, 3.0}) {
    const Vec3 p = evaluate(longer, x, 0.3);
    CHECK(p.x == Approx(x).margin(1e-13));
    CHECK(p.z == Approx(x * x).margin(1e-12));
  }
}

TEST_CASE("knots that do not fit are refused with a sentence") {
  const Surface s = make_plane({}, 10, 10, 5, 5, 3, 3);
  const auto insert = [&](std::vector<double> k) { return insert_knots(s, Direction::U, k); };
  CHECK_THROWS_WITH(insert({1.5}), Contains("There is no place 1.5 in u"));
  CHECK_THROWS_WITH(insert({std::nan("")}), Contains("no place"));
  CHECK_THROWS_WITH(insert({0.3, 0.3, 0.3, 0.3}), Contains("4 times"));
  CHECK_THROWS_WITH(raise_degree(s, Direction::V, 12), Contains("1 to 11"));
  CHECK_THROWS_WITH(raise_degree(s, Direction::V, 2), Contains("degree 3 already"));
  CHECK_THROWS_WITH(insert(std::vector<double>(5000, 0.5)), Contains("direction has"));
}

TEST_CASE("the comparison of shapes notices a moved point", "[!shouldfail]") {
  Surface s = make_plane({}, 10, 10, 5, 5, 3, 3);
  Surface finer = insert_halfway(s, Direction::U);
  finer.points(2, 2).z += 1e-6;
  REQUIRE(worst(s, finer) <= 1e-12 * size(s));
}
