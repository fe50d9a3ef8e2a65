// Properties of sources on many random inputs, against theorems: Pappus of Alexandria's two theorems on
// solids and surfaces of revolution, lengths and areas that must not change when things are moved.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/nurbs/conics.h"
#include "core/operations/report.h"
#include "core/source/compatible.h"
#include "core/source/copies.h"
#include "core/source/swept.h"

using namespace evenclay;

namespace {

constexpr double kPi = std::numbers::pi;

struct Random {
  explicit Random(unsigned seed) : engine(seed) {}
  double in(double a, double b) { return std::uniform_real_distribution<double>(a, b)(engine); }
  int whole(int a, int b) { return std::uniform_int_distribution<int>(a, b)(engine); }
  Vec3 place(double reach) { return {in(-reach, reach), in(-reach, reach), in(-reach, reach)}; }
  std::mt19937 engine;
};

Curve random_curve(Random& r, bool closed, bool rational) {
  const int degree = r.whole(1, 5);
  const int count = degree + 1 + r.whole(closed ? 2 : 0, 7);
  std::vector<Vec3> points;
  for (int k = 0; k < count; ++k) points.push_back(r.place(30.0));
  Curve c = make_curve(std::move(points), degree, closed);
  if (rational)
    for (int k = 0; k < count; ++k) c.weights.push_back(r.in(0.3, 4.0));
  return c;
}

double share_of(const Curve& c, double s) {
  return c.knots.first() + s * c.knots.length();
}

// Length of a curve by Simpson's rule over its speed, fine enough for smooth pieces.
double length_by_speed(const Curve& c) {
  double sum = 0.0;
  const std::vector<double> knots = breakpoints(c.knots);
  for (std::size_t k = 0; k + 1 < knots.size(); ++k) {
    const int parts = 400;
    const double h = (knots[k + 1] - knots[k]) / parts;
    for (int n = 0; n < parts; ++n) {
      const double a = knots[k] + n * h;
      const auto speed = [&](double t) {
        return length(derivatives(c, std::clamp(t, knots[k] + 1e-13, knots[k + 1] - 1e-13), 1).d1);
      };
      sum += h / 6.0 * (speed(a) + 4.0 * speed(a + 0.5 * h) + speed(a + h));
    }
  }
  return sum;
}

}  // namespace

TEST_CASE("compatible curves have one degree and one knot vector, and their shapes unchanged") {
  Random r(41);
  for (int trial = 0; trial < 60; ++trial) {
    const bool closed = trial % 3 == 0;
    const Curve a = random_curve(r, closed, trial % 2 == 0);
    const Curve b = random_curve(r, trial % 5 == 0, trial % 4 == 0);
    const std::vector<Curve> both = made_compatible(std::array{a, b}, Alignment{.turn = false});
    const Curve& x = both[0];
    const Curve& y = both[1];
    check(x);
    check(y);
    CHECK((x.knots == y.knots));
    CHECK(x.points.size() == y.points.size());
    CHECK(x.knots.degree == std::max(a.knots.degree, b.knots.degree));
    for (int k = 0; k <= 40; ++k) {
      const double s = k / 40.0;
      CHECK(distance(evaluate(x, s), evaluate(a, share_of(a, s))) < 1e-9);
      const Vec3 there = evaluate(y, s);
      const double along = distance(there, evaluate(b, share_of(b, s)));
      const double against = distance(there, evaluate(b, share_of(b, 1.0 - s)));
      CHECK(std::min(along, against) < 1e-9);
    }
  }
}

TEST_CASE(
    "a surface of revolution keeps the distance from the axis and the height of its profile") {
  Random r(42);
  for (int trial = 0; trial < 40; ++trial) {
    const Curve profile = random_curve(r, trial % 3 == 0, trial % 2 == 0);
    Frame axis;
    axis.origin = r.place(10.0);
    axis.z = normalized(r.place(1.0));
    axis.x = normalized(cross(axis.z, std::abs(axis.z.x) < 0.7 ? Vec3{1, 0, 0} : Vec3{0, 1, 0}));
    axis.y = cross(axis.z, axis.x);
    const double degrees = trial % 4 == 0 ? 360.0 : r.in(1.0, 359.0);
    const Surface s = revolve(profile, axis, degrees);
    check(s);
    for (int k = 0; k < 60; ++k) {
      const double u = r.in(0.0, 1.0);
      const double v = share_of(profile, r.in(0.0, 1.0));
      const Vec3 p = axis.to_local(evaluate(s, u, v));
      const Vec3 q = axis.to_local(evaluate(profile, v));
      CHECK(std::hypot(p.x, p.y) == Approx(std::hypot(q.x, q.y)).margin(1e-9));
      CHECK(p.z == Approx(q.z).margin(1e-9));
    }
    // It begins at the profile and ends where the angle says.
    for (const double share : {0.0, 0.37, 1.0}) {
      const double v = share_of(profile, share);
      const Vec3 q = axis.to_local(evaluate(profile, v));
      CHECK(distance(axis.to_local(evaluate(s, 0.0, v)), q) < 1e-9);
      const double a = degrees * kPi / 180.0;
      const Vec3 end{q.x * std::cos(a) - q.y * std::sin(a), q.x * std::sin(a) + q.y * std::cos(a),
                     q.z};
      CHECK(distance(axis.to_local(evaluate(s, 1.0, v)), end) < 1e-8);
    }
  }
}

TEST_CASE("Pappus: the volume and the area of a turned polygon are those of its centroids") {
  Random r(43);
  for (int trial = 0; trial < 12; ++trial) {
    // A convex polygon about (40, 0) in x–z.
    const int corners = r.whole(3, 8);
    std::vector<Vec3> polygon;
    for (int k = 0; k < corners; ++k) {
      const double a = 2 * kPi * (k + r.in(0.0, 0.6)) / corners;
      polygon.push_back({40 + 15 * std::cos(a), 0, 15 * std::sin(a)});
    }
    double twice = 0.0, moment = 0.0, around = 0.0, edge_moment = 0.0;
    for (int k = 0; k < corners; ++k) {
      const Vec3& p = polygon[static_cast<std::size_t>(k)];
      const Vec3& q = polygon[static_cast<std::size_t>((k + 1) % corners)];
      const double c = p.x * q.z - q.x * p.z;
      twice += c;
      moment += (p.x + q.x) * c / 3.0;
      around += distance(p, q);
      edge_moment += distance(p, q) * 0.5 * (p.x + q.x);
    }
    const Surface s = revolve(make_curve(polygon, 1, true), {}, 360.0);
    Progress progress;
    const Report m = report(body_of({s}), nullptr, {}, progress);
    REQUIRE(m.volume);
    CHECK(std::abs(*m.volume) == Approx(2 * kPi * std::abs(moment) / 2.0).epsilon(1e-7));
    CHECK(m.area == Approx(2 * kPi * edge_moment).epsilon(1e-7));
    CHECK(around > 0.0);
    CHECK(twice > 0.0);
  }
}

TEST_CASE("an upright wall over a flat curve has the area of its length times its height") {
  Random r(44);
  for (int trial = 0; trial < 12; ++trial) {
    Curve c = random_curve(r, trial % 2 == 0, false);
    for (Vec3& p : c.points) p.z = 0.0;
    const double height = r.in(1.0, 50.0);
    const Surface s = extrude(c, {0, 0, -3}, {0, 0, height - 3}, r.whole(2, 9));
    check(s);
    CHECK(area(s) == Approx(length_by_speed(c) * height).epsilon(2e-4));
  }
}

TEST_CASE("placements keep distances, and a mirror done twice is nothing") {
  Random r(45);
  for (int trial = 0; trial < 60; ++trial) {
    const Vec3 through = r.place(20.0);
    const Vec3 axis = normalized(r.place(1.0));
    const Placement turn = turned_about(through, axis, r.in(-720.0, 720.0));
    const Placement mirror = mirrored_in(through, axis);
    const Vec3 a = r.place(50.0);
    const Vec3 b = r.place(50.0);
    for (const Placement& p : {turn, mirror, moved_by(r.place(9.0))})
      CHECK(distance(p(a), p(b)) == Approx(distance(a, b)).epsilon(1e-12));
    CHECK_FALSE(turn.mirrors());
    CHECK(mirror.mirrors());
    CHECK(distance(mirror(mirror(a)), a) < 1e-12 * 100);
    // What lies on the axis, or in the plane, stays.
    CHECK(distance(turn(through + axis * 7.0), through + axis * 7.0) < 1e-11);
    const Vec3 in_plane = a - axis * dot(axis, a - through);
    CHECK(distance(mirror(in_plane), in_plane) < 1e-11);
    CHECK(dot(mirror(a) - through, axis) == Approx(-dot(a - through, axis)).margin(1e-10));
  }
  // Six times sixty degrees is a whole turn.
  const Placement sixth = turned_about({3, 4, 5}, {0, 0, 1}, 60);
  Vec3 p{10, 0, 0};
  for (int k = 0; k < 6; ++k) p = sixth(p);
  CHECK(distance(p, {10, 0, 0}) < 1e-12);
}

TEST_CASE("the outside of swept forms is away from their middle, whichever way the curve runs") {
  const Curve circle = make_circle({}, 10);
  std::vector<Vec3> other(circle.points.rbegin(), circle.points.rend());
  const Curve backwards = make_curve(other, 2, true);
  CHECK_FALSE(looks_inward(extrude(circle, {}, {0, 0, 20}), {0, 0, 10}));
  CHECK(looks_inward(extrude(backwards, {}, {0, 0, 20}), {0, 0, 10}));
  CHECK(looks_inward(extrude(circle, {}, {0, 0, -20}), {0, 0, -10}));
  CHECK_FALSE(looks_inward(make_sphere({}, 7), {}));
}
