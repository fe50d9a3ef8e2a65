// Half spheres, and planes from a corner and through three places.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/operations/circle.h"
#include "core/operations/outlines.h"
#include "core/operations/plane.h"
#include "core/operations/sphere.h"

using namespace evenclay;

namespace {

Surface made(const Operation& o) {
  Progress progress;
  return *std::get<Body>(o.apply(CurveSet{}, {}, progress).shape).faces[0].surface;
}

}  // namespace

TEST_CASE("a half sphere has half the area, on its side of the centre") {
  SphereOperation o;
  o.radius = 20;
  o.centre = {1, 2, 3};
  const double whole = area(made(o));
  for (const SpherePart part : {SpherePart::Upper, SpherePart::Lower}) {
    o.part = part;
    const Surface half = made(o);
    CHECK(area(half) == Approx(2 * std::numbers::pi * 400).epsilon(1e-8));
    CHECK(area(half) == Approx(0.5 * whole).epsilon(1e-8));
    const Box3 b = tight_box(half);
    CHECK((part == SpherePart::Upper ? b.min.z : b.max.z) == Approx(3.0).margin(1e-9));
    CHECK(b.max.z - b.min.z == Approx(20.0));
  }
}

TEST_CASE("planes stand at a corner, or run through three places that need not be square") {
  PlaneOperation o;
  o.by = PlaneBy::Corner;
  o.length_x = 30;
  o.length_y = 20;
  o.centre = {5, 6, 7};
  CHECK(evaluate(made(o), 0, 0) == Vec3{5, 6, 7});
  CHECK(distance(evaluate(made(o), 1, 1), {35, 26, 7}) < 1e-12);
  o.by = PlaneBy::Points;
  o.along_u = {25, 6, 7};
  o.along_v = {9, 18, 7};
  const Surface s = made(o);
  CHECK(distance(evaluate(s, 1, 0), o.along_u) < 1e-12);
  CHECK(distance(evaluate(s, 0, 1), o.along_v) < 1e-12);
  CHECK(area(s) == Approx(20.0 * 12.0));  // the parallelogram's base and height
  o.along_v = {45, 6, 7};
  CHECK_THROWS_AS(made(o), Error);
}

// A frame turned about z, then y, then x is the product of those three rotations (right-hand rule), worked here by hand:
// 90° about z takes x to y and y to −x; then −30° about the new y lifts the x axis by 30°.
TEST_CASE("flat sources lie in planes turned by angles") {
  CircleOperation circle;
  circle.radius = 10.0;
  circle.centre = {1, 2, 3};
  circle.plane = FlatPlane::Turned;
  circle.angles = {90.0, -30.0, 0.0};
  const Frame f = frame_in(circle.plane, circle.centre, circle.angles);
  const double c = std::sqrt(3.0) / 2.0;
  CHECK(distance(f.x, {0, c, 0.5}) < 1e-12);
  CHECK(distance(f.y, {-1, 0, 0}) < 1e-12);
  CHECK(distance(f.z, {0, -0.5, c}) < 1e-12);
  Progress none;
  const Curve made = std::get<CurveSet>(circle.apply({}, {}, none).shape).curves[0];
  for (double t = 0.0; t < 1.0; t += 0.07) {
    const Vec3 p = evaluate(made, t) - circle.centre;
    CHECK(length(p) == Approx(10.0).epsilon(1e-12));
    CHECK(std::abs(dot(p, f.z)) < 1e-12 * 10);
  }
  // Begun with a work plane, a source lies in it: a world plane by its name, any other by its angles.
  Beginning beginning;
  beginning.plane = frame_in(FlatPlane::XZ, {0, 5, 0});
  circle.suit(beginning);
  CHECK(circle.plane == FlatPlane::XZ);
  CHECK(circle.centre.y == 5.0);
  beginning.plane = turned_frame({20.0, 10.0, 5.0});
  RectangleOperation rectangle;
  rectangle.suit(beginning);
  CHECK(rectangle.plane == FlatPlane::Turned);
  const Frame again = frame_in(rectangle.plane, {}, rectangle.angles);
  CHECK(distance(again.z, beginning.plane->z) < 1e-5);
  CHECK(distance(again.x, beginning.plane->x) < 1e-5);
  // Two corners clicked in it stay in it; clicked elsewhere they leave it.
  const auto clicked =
      rectangle.with_drawn_points({again.to_world({0, 0, 0}), again.to_world({8, 6, 0})});
  const auto& in_it = dynamic_cast<const RectangleOperation&>(*clicked);
  CHECK(in_it.plane == FlatPlane::Turned);
  CHECK(in_it.length == Approx(8.0).epsilon(1e-9));
  CHECK(in_it.width == Approx(6.0).epsilon(1e-9));
  const auto front = rectangle.with_drawn_points({{0, 0, 0}, {8, 0, 6}});
  CHECK(dynamic_cast<const RectangleOperation&>(*front).plane == FlatPlane::XZ);
}
