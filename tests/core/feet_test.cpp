// Many closest points at once on shapes whose closest points are known by formula.
#include "core/nurbs/feet.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/nurbs/conics.h"

using namespace evenclay;

namespace {

Progress progress;

struct Around {
  std::vector<Vec3> places;
  std::vector<Parameter> at;
};

// Places off random places of a surface along its normal, and parameters a little beside their feet.
Around around(const Surface& s, double from, double to, double v_low, double v_high) {
  std::mt19937 random(31);
  const auto number = [&](double low, double high) {
    return std::uniform_real_distribution<double>(low, high)(random);
  };
  Around a;
  for (int k = 0; k < 3000; ++k) {
    const double u = s.u.first() + s.u.length() * number(0, 1);
    const double v = s.v.first() + s.v.length() * number(v_low, v_high);
    a.places.push_back(evaluate(s, u, v) + normal(s, u, v) * number(from, to));
    a.at.push_back(
        {u + 0.01 * s.u.length() * number(-1, 1), v + 0.01 * s.v.length() * number(-1, 1)});
  }
  return a;
}

}  // namespace

TEST_CASE(
    "feet on a sphere lie on the line to its centre, and distances are those to it less the "
    "radius") {
  const double r = 25.0;
  const Surface s = make_sphere({}, r);
  const SurfaceEvaluator e(s);
  Around a = around(s, -8.0, 12.0, 0.15, 0.85);
  improve_feet(s, e, a.places, a.at, 6, progress);
  std::vector<double> d(a.places.size());
  distances_to_feet(e, a.places, a.at, d, progress);
  for (std::size_t k = 0; k < d.size(); ++k) {
    CHECK(distance(e.point(a.at[k].u, a.at[k].v), normalized(a.places[k]) * r) < 1e-7);
    CHECK(d[k] == Approx(length(a.places[k]) - r).margin(1e-7));
  }
}

TEST_CASE("feet on a tube go round its seam and stop at its ends") {
  const double r = 10.0, h = 30.0;
  const Surface s = make_cylinder({}, r, h);
  const SurfaceEvaluator e(s);
  Around a = around(s, -3.0, 5.0, 0.0, 1.0);
  improve_feet(s, e, a.places, a.at, 8, progress);
  std::vector<double> d(a.places.size());
  distances_to_feet(e, a.places, a.at, d, progress);
  for (std::size_t k = 0; k < d.size(); ++k) {
    const Vec3& p = a.places[k];
    CHECK(d[k] == Approx(std::hypot(p.x, p.y) - r).margin(1e-7));
  }
  // Beyond the end the foot stays on the end.
  std::vector<Vec3> beyond{{r + 2.0, 0.0, h + 4.0}};
  std::vector<Parameter> at{{s.u.first() + 0.01 * s.u.length(), s.v.last() - 0.05 * s.v.length()}};
  improve_feet(s, e, beyond, at, 20, progress);
  const Vec3 foot = e.point(at[0].u, at[0].v);
  CHECK(foot.z == Approx(h));
  CHECK(std::hypot(foot.x, foot.y) == Approx(r));
}

TEST_CASE("no step leaves the foot farther away, and the order of places does not matter") {
  const Surface s = make_torus({}, 30.0, 8.0);
  const SurfaceEvaluator e(s);
  Around a = around(s, -4.0, 6.0, 0.0, 1.0);
  std::vector<Parameter> before = a.at;
  improve_feet(s, e, a.places, a.at, 5, progress);
  for (std::size_t k = 0; k < a.at.size(); ++k) {
    const double was = distance(e.point(before[k].u, before[k].v), a.places[k]);
    CHECK(distance(e.point(a.at[k].u, a.at[k].v), a.places[k]) <= was + 1e-12);
    // On a torus the distance is that to the ring less the tube's radius.
    const Vec3& p = a.places[k];
    const double ring = std::hypot(std::hypot(p.x, p.y) - 30.0, p.z);
    CHECK(distance(e.point(a.at[k].u, a.at[k].v), p) == Approx(std::abs(ring - 8.0)).margin(1e-6));
  }
  std::vector<Vec3> places(a.places.rbegin(), a.places.rend());
  std::vector<Parameter> at(before.rbegin(), before.rend());
  improve_feet(s, e, places, at, 5, progress);
  for (std::size_t k = 0; k < at.size(); ++k) CHECK(at[k] == a.at[at.size() - 1 - k]);
}
