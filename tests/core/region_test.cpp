// Which places belong to a trimmed face: squares, circles and rings in the parameter plane, by formula.
#include "core/body/region.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/body/topology.h"
#include "core/nurbs/hermite.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

constexpr double kPi = std::numbers::pi;

// A round loop in the parameter plane, walked counter-clockwise or clockwise.
Loop round_loop(double u, double v, double r, bool clockwise = false) {
  const auto place = [=](double t) {
    const double a = clockwise ? -t : t;
    CurveDerivatives d;
    d.p = {u + r * std::cos(a), v + r * std::sin(a), 0};
    d.d1 = {-r * std::sin(a) * (clockwise ? -1 : 1), r * std::cos(a) * (clockwise ? -1 : 1), 0};
    return d;
  };
  const std::array<double, 2> turn{0.0, 2.0 * kPi};
  return {{0, true, hermite_curve(place, turn, 1e-9)}};
}

Loop square_loop(double low, double high) {
  const std::array<Vec3, 4> c{Vec3{low, low, 0}, {high, low, 0}, {high, high, 0}, {low, high, 0}};
  Loop loop;
  for (std::size_t k = 0; k < 4; ++k)
    loop.push_back({static_cast<std::uint32_t>(k), true, line_curve(c[k], c[(k + 1) % 4])});
  return loop;
}

Face face_with(std::vector<Loop> loops) {
  Face f;
  f.tag = 1;
  f.surface = std::make_shared<const Surface>(patch({}, {1, 0, 0}, {0, 1, 0}));
  f.loops = std::move(loops);
  return f;
}

}  // namespace

TEST_CASE("a face without loops is all of its domain") {
  const FaceRegion whole(face_with({}));
  CHECK(whole.whole());
  CHECK(whole.contains(0.0, 0.0));
  CHECK(whole.contains(0.5, 1.0));
  CHECK(whole.u_low() == 0.0);
  CHECK(whole.v_high() == 1.0);
}

TEST_CASE("places in a circle with an island and a lake are those that the circles say") {
  // Inside the outer one, outside the second, inside the third: an odd number of them.
  const Face f = face_with(
      {round_loop(0.5, 0.5, 0.4), round_loop(0.5, 0.5, 0.25, true), round_loop(0.5, 0.5, 0.1)});
  const FaceRegion region(f);
  std::mt19937 random(12);
  std::uniform_real_distribution<double> x(0.0, 1.0);
  for (int k = 0; k < 4000; ++k) {
    const double u = x(random), v = x(random);
    const double r = std::hypot(u - 0.5, v - 0.5);
    bool near = false;
    for (const double edge : {0.1, 0.25, 0.4}) near = near || std::abs(r - edge) < 2e-5;
    if (near) continue;
    CHECK(region.contains(u, v) == (r < 0.1 || (r > 0.25 && r < 0.4)));
  }
  CHECK(region.u_low() == Approx(0.1).margin(1e-4));
  CHECK(region.v_high() == Approx(0.9).margin(1e-4));
  // Twice the area that the face takes of its parameters.
  CHECK(parameter_area(f) ==
        Approx(2.0 * kPi * (0.4 * 0.4 - 0.25 * 0.25 + 0.1 * 0.1)).epsilon(1e-3));
}

TEST_CASE("a line of constant v meets the loops where its chord ends") {
  const FaceRegion region(face_with({round_loop(0.5, 0.5, 0.4), round_loop(0.5, 0.5, 0.2)}));
  for (const double v : {0.5, 0.55, 0.68, 0.75, 0.89}) {
    const std::vector<double> at = region.crossings(v);
    const double h = std::abs(v - 0.5);
    std::vector<double> expected;
    for (const double r : {0.4, 0.2})
      if (h < r) {
        expected.push_back(0.5 - std::sqrt(r * r - h * h));
        expected.push_back(0.5 + std::sqrt(r * r - h * h));
      }
    std::sort(expected.begin(), expected.end());
    REQUIRE(at.size() == expected.size());
    for (std::size_t k = 0; k < at.size(); ++k) CHECK(at[k] == Approx(expected[k]).margin(1e-4));
  }
  CHECK(region.crossings(0.95).empty());
}

TEST_CASE("an inner place lies inside and off the border, also of a thin ring") {
  for (const double inner : {0.0, 0.2, 0.35, 0.39}) {
    std::vector<Loop> loops{round_loop(0.5, 0.5, 0.4)};
    if (inner > 0.0) loops.push_back(round_loop(0.5, 0.5, inner));
    const FaceRegion region(face_with(loops));
    const Parameter p = inner_place(region);
    CHECK(region.contains(p.u, p.v));
    const double r = std::hypot(p.u - 0.5, p.v - 0.5);
    CHECK(r < 0.4 - 1e-3);
    if (inner > 0.0) CHECK(r > inner + 1e-3);
  }
}

TEST_CASE("polygons of loops have the area and the turn of what they walk round") {
  const Surface plane = patch({}, {1, 0, 0}, {0, 1, 0});
  const auto square = loop_polygon(square_loop(0.2, 0.7), plane);
  CHECK(square.size() == 4);
  CHECK(doubled_area(square) == Approx(0.5));
  CHECK(winds_round(square, {0.45, 0.3}));
  CHECK_FALSE(winds_round(square, {0.1, 0.3}));
  CHECK_FALSE(winds_round(square, {0.9, 0.3}));
  const auto against = loop_polygon(round_loop(0.5, 0.5, 0.3, true), plane);
  CHECK(doubled_area(against) == Approx(-2.0 * kPi * 0.09).epsilon(1e-3));
  // Finer polygons come closer.
  const auto coarse = loop_polygon(round_loop(0.5, 0.5, 0.3), plane, 1e-2);
  const auto fine = loop_polygon(round_loop(0.5, 0.5, 0.3), plane, 1e-6);
  CHECK(coarse.size() < fine.size());
  CHECK(std::abs(doubled_area(fine) - 2.0 * kPi * 0.09) <
        std::abs(doubled_area(coarse) - 2.0 * kPi * 0.09));
}

TEST_CASE("loops are turned so that the face lies at their left") {
  const Face wrong = face_with({round_loop(0.5, 0.5, 0.4, true), round_loop(0.5, 0.5, 0.2)});
  CHECK(loops_turned(wrong) == std::vector<bool>{true, true});
  const Face right = face_with({round_loop(0.5, 0.5, 0.4), round_loop(0.5, 0.5, 0.2, true)});
  CHECK(loops_turned(right) == std::vector<bool>{false, false});
  // An island in a lake is an outer loop again.
  const Face island = face_with({round_loop(0.5, 0.5, 0.4), round_loop(0.5, 0.5, 0.2, true),
                                 round_loop(0.5, 0.5, 0.1, true)});
  CHECK(loops_turned(island) == std::vector<bool>{false, false, true});
}

TEST_CASE("in a closed direction a place is also looked for one turn on") {
  Face f;
  f.surface = std::make_shared<const Surface>(make_cylinder({}, 10.0, 20.0));
  const KnotVector &u = f.surface->u, &v = f.surface->v;
  REQUIRE(u.periodic);
  // A window over the seam: from nine tenths of the turn to eleven tenths.
  const double a = u.first() + 0.9 * u.length(), b = u.first() + 1.1 * u.length();
  const double low = v.first() + 0.25 * v.length(), high = v.first() + 0.75 * v.length();
  const std::array<Vec3, 4> c{Vec3{a, low, 0}, {b, low, 0}, {b, high, 0}, {a, high, 0}};
  Loop loop;
  for (std::size_t k = 0; k < 4; ++k)
    loop.push_back({static_cast<std::uint32_t>(k), true, line_curve(c[k], c[(k + 1) % 4])});
  f.loops = {loop};
  const FaceRegion region(f);
  const double middle = 0.5 * (low + high);
  CHECK(region.contains(u.first() + 0.95 * u.length(), middle));
  CHECK(region.contains(u.first() + 0.05 * u.length(), middle));
  CHECK_FALSE(region.contains(u.first() + 0.5 * u.length(), middle));
  CHECK_FALSE(region.contains(u.first() + 0.05 * u.length(), v.first() + 0.1 * v.length()));
}
