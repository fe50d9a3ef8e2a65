#include <catch2/catch.hpp>
#include <cmath>

#include "core/check/comb.h"
#include "core/display/display.h"
#include "core/nurbs/conics.h"

using namespace evenclay;

TEST_CASE("the comb of a circle has equal teeth of one over the radius, and no inflection") {
  const Surface cylinder = make_cylinder({}, 20, 60);
  const Comb c = comb(cylinder, Direction::U, 0.4, 12);
  REQUIRE(c.teeth.size() == 4 * 12 + 1 + 3);  // both sides of the three inner knots
  for (const Tooth& t : c.teeth) {
    CHECK(length(t.curvature) == Approx(1.0 / 20).epsilon(1e-11));
    // It points to the axis.
    CHECK(distance(t.at + t.curvature * 400.0, {0, 0, t.at.z}) < 1e-9);
  }
  CHECK(c.inflections.empty());
  CHECK(comb(cylinder, Direction::V, 0.1, 8).greatest < 1e-12);  // straight
}

TEST_CASE("the inflection of a cubic is where its second derivative vanishes") {
  // z = x³ − 3x² over 0..2 as a Bézier cubic: second derivative 6x − 6, inflection at x = 1, z = −2.
  // Points by hand: x 0, 2/3, 4/3, 2 and z 0, 0, −4, −4.
  Surface s{uniform_knots(4, 3, false), uniform_knots(2, 1, false), Grid<Vec3>(4, 2), {}};
  const double x[4] = {0, 2.0 / 3, 4.0 / 3, 2};
  const double z[4] = {0, 0, -4, -4};
  for (int i = 0; i < 4; ++i)
    for (int j = 0; j < 2; ++j) s.points(i, j) = {x[i], static_cast<double>(j), z[i]};
  const Comb c = comb(s, Direction::U, 0.5, 13);
  REQUIRE(c.inflections.size() == 1);
  CHECK(c.inflections[0].x == Approx(1.0).margin(1e-3));
  CHECK(c.inflections[0].z == Approx(-2.0).margin(4e-3));
}

TEST_CASE("along a pole there is no comb") {
  CHECK(comb(make_sphere({}, 10), Direction::U, 0.0, 8).greatest < 1e9);
  const Comb around = comb(make_sphere({}, 10), Direction::V, 0.2, 8);  // a meridian
  for (const Tooth& t : around.teeth) CHECK(length(t.curvature) == Approx(0.1).epsilon(1e-9));
}

TEST_CASE("curvature colours of a torus lie between its two known bends") {
  // Principal curvatures of a torus: 1/r and cos θ / (R + r cos θ); the greater by size is 1/r
  // everywhere (closed formula).
  const Shape torus = body_of({make_torus({}, 40, 9)});
  Progress p;
  const DisplayMesh mesh = display_mesh(torus, kCoarse, p);
  const auto values = map_values(MapKind::Bend, mesh, torus, {0, 0, 1}, p);
  REQUIRE(values);
  REQUIRE(values->values.size() == mesh.vertices.size() / 6);
  for (const float v : values->values) CHECK(v == Approx(1.0 / 9).epsilon(1e-4));
  CHECK(values->reach == Approx(1.0 / 9).epsilon(1e-4));
}

TEST_CASE("where the curvature jumps at a knot the comb has a tooth from each side") {
  // Two parabolas that meet with a common tangent at x = 1: z'' is 2 before it and -1 behind it, so
  // there κ = z'' / (1 + z'²)^1.5 with z' = 2 jumps.
  Surface s;
  s.u = {2, false, {0, 0, 0, 1, 2, 2, 2}};
  s.v = {1, false, {0, 0, 1, 1}};
  s.points = Grid<Vec3>(4, 2);
  // Bézier points of z = x² on [0, 1] and z = 1 + 2 (x − 1) − (x − 1)² / 2 on [1, 2].
  const double z[4] = {0.0, 0.0, 2.0, 2.5};
  const double x[4] = {0.0, 0.5, 1.5, 2.0};
  for (int i = 0; i < 4; ++i)
    for (int j = 0; j < 2; ++j) s.points(i, j) = {x[i], 5.0 * j, z[i]};
  const Comb c = comb(s, Direction::U, 0.5, 4);
  std::vector<double> at_knot;
  for (const Tooth& t : c.teeth)
    if (std::abs(t.at.x - 1.0) < 1e-6)
      at_knot.push_back(t.curvature.z < 0.0 ? -length(t.curvature) : length(t.curvature));
  REQUIRE(at_knot.size() == 2);
  const double slope = std::pow(1.0 + 4.0, 1.5);
  CHECK(at_knot[0] == Approx(2.0 / slope).epsilon(1e-6));
  CHECK(at_knot[1] == Approx(-1.0 / slope).epsilon(1e-6));
}
