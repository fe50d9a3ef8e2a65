// Half spheres, and planes from a corner and through three places.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/check/measures.h"
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
