// Bodies at a distance: areas and volumes of parallel surfaces by formula (J. Steiner 1840: of a smooth closed body the volume
// at a distance t is V + A t + M t² + 4π/3 t³, M the integral of the mean curvature).
#include "core/cut/offset_body.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/cut/edge_edit.h"
#include "core/nurbs/knot_operations.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

constexpr double kPi = std::numbers::pi;
Progress progress;

}  // namespace

TEST_CASE("a torus at a distance has Steiner's volume, inside and outside") {
  const double ring = 30.0, tube = 8.0;
  const Body torus = with_explicit_borders(body_of({make_torus({}, ring, tube)}, 1), 1e-9);
  for (const double t : {-3.0, -0.5, 1.0, 4.0}) {
    INFO(t);
    const Body moved = offset_body(torus, t, offset_by, progress);
    CHECK(volume_of(moved) ==
          Approx(2.0 * kPi * kPi * ring * (tube + t) * (tube + t)).epsilon(1e-5));
    CHECK(area_of(moved) == Approx(4.0 * kPi * kPi * ring * (tube + t)).epsilon(1e-5));
    CHECK(greatest_gap(moved) < 1e-4);
    // Names, edges and loops are those of before.
    REQUIRE(moved.faces.size() == torus.faces.size());
    CHECK(moved.faces[0].tag == torus.faces[0].tag);
    CHECK(moved.edges.size() == torus.edges.size());
    CHECK(topology(moved).closed);
  }
  CHECK(offset_body(torus, 0.0, offset_by, progress).faces[0].surface == torus.faces[0].surface);
}

TEST_CASE("faces of a ball that meet smoothly still meet, and those of a box come apart by √2 t") {
  const Surface whole = opened(make_sphere({}, 20.0), Direction::U, 0.0);
  const auto [left, right] = split(whole, Direction::U, 0.4 * whole.u.last());
  const Body ball = with_explicit_borders(body_of({left, right}, 1), 1e-9);
  const Body larger = offset_body(ball, 2.0, offset_by, progress);
  CHECK(greatest_gap(larger) < 1e-4);
  CHECK(volume_of(larger) == Approx(4.0 / 3.0 * kPi * 22.0 * 22.0 * 22.0).epsilon(1e-5));
  const Body block = box({0, 0, 0}, {10, 10, 10}, 1);
  for (const double t : {0.5, 2.0}) {
    const Body apart = offset_body(block, t, offset_by, progress);
    // Each edge lies half-way between the two faces that left it.
    CHECK(greatest_gap(apart) == Approx(t * std::sqrt(2.0) / 2.0).epsilon(1e-6));
  }
}

TEST_CASE("a face that is turned over moves along its own outside") {
  Body sheet = with_explicit_borders(body_of({patch({}, {10, 0, 0}, {0, 10, 0})}, 1), 1e-9);
  CHECK(evaluate(*offset_body(sheet, 1.5, offset_by, progress).faces[0].surface, 0.5, 0.5).z ==
        Approx(1.5));
  sheet.faces[0].flipped = true;
  CHECK(evaluate(*offset_body(sheet, 1.5, offset_by, progress).faces[0].surface, 0.5, 0.5).z ==
        Approx(-1.5));
}

TEST_CASE("pieces of one surface share what is made of it, and Cancel ends the work") {
  const Body block = with_explicit_borders(body_of({patch({}, {10, 0, 0}, {0, 10, 0})}, 1), 1e-9);
  Body twice = block;
  twice.faces.push_back(twice.faces[0]);
  int asked = 0;
  const OffsetSurface counted_offset = [&](const Surface& s, double mm) {
    ++asked;
    return offset_by(s, mm);
  };
  (void)offset_body(twice, 1.0, counted_offset, progress);
  CHECK(asked == 1);
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(offset_body(block, 1.0, offset_by, cancelled), Cancelled);
}
