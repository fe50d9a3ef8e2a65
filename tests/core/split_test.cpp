// Parts split by planes, curves and other parts: areas and volumes by formula.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/split.h"
#include "core/cut/thicken.h"
#include "core/cut/trim.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;
constexpr double kPi = std::numbers::pi;

namespace {

Progress progress;

Body open_ball(double radius) {  // the skin of the upper half of a ball, so an open part
  const Body ball = body_of({make_sphere({}, radius)}, 1);
  const Body half =
      split(ball, {.plane = Frame{}}, {.keep = SplitKeep::First, .step = 2}, progress).body;
  std::vector<std::size_t> flat;
  for (std::size_t f = 0; f < half.faces.size(); ++f)
    if (face_with_tag(ball, half.faces[f].tag) < 0) flat.push_back(f);
  return without_faces(half, flat);
}
}  // namespace

TEST_CASE("a plane splits a ball into two solids whose volumes are those of its caps") {
  // Cap of height h: π h² (3 R − h) / 3.
  const double r = 10.0, h = 4.0;
  const Body ball = body_of({make_sphere({}, r)}, 1);
  const Frame plane{{0, 0, r - h}};
  const Split upper =
      split(ball, {.plane = plane}, {.keep = SplitKeep::First, .step = 4}, progress);
  const Split lower =
      split(ball, {.plane = plane}, {.keep = SplitKeep::Second, .step = 4}, progress);
  const double cap = kPi * h * h * (3.0 * r - h) / 3.0;
  CHECK(volume_of(upper.body) == Approx(cap).epsilon(1e-7));
  CHECK(volume_of(lower.body) == Approx(4.0 / 3.0 * kPi * r * r * r - cap).epsilon(1e-8));
  CHECK(is_closed_solid(upper.body));
  CHECK(is_closed_solid(lower.body));
  // Area of the cap's skin 2 π R h, and the circle.
  CHECK(area_of(upper.body) == Approx(2.0 * kPi * r * h + kPi * (r * r - 36.0)).epsilon(1e-7));
  const Split both = split(ball, {.plane = plane}, {.step = 4}, progress);
  CHECK(both.pieces == 2);
  CHECK(topology(with_explicit_borders(both.body, 1e-6)).shells.size() == 2);
  CHECK(volume_of(both.body) == Approx(4.0 / 3.0 * kPi * r * r * r).epsilon(1e-8));
}

TEST_CASE("areas before and after a split add up, and pieces stay joined") {
  const Body half = open_ball(20.0);
  const double whole = area_of(half);
  const Curve circle = make_circle({{2, 1, 0}}, 6.0);
  const Split s = split(half, {.curves = {circle}}, {.step = 5}, progress);
  CHECK(area_of(s.body) == Approx(whole).epsilon(1e-8));
  CHECK(s.pieces > static_cast<int>(half.faces.size()));
  CHECK(topology(s.body).shells.size() == 1);
}

TEST_CASE("a straight line goes on over the whole sheet, and its left side is the first") {
  const Body flat = sheet(40.0);
  const Curve line = line_curve({5, -3, 9}, {5, 3, 9});  // along +y: left is −x
  const Split first =
      split(flat, {.curves = {line}}, {.keep = SplitKeep::First, .step = 3}, progress);
  CHECK(area_of(first.body) == Approx(25.0 * 40.0).epsilon(1e-9));
  const Split second =
      split(flat, {.curves = {line}}, {.keep = SplitKeep::Second, .step = 3}, progress);
  CHECK(area_of(second.body) == Approx(15.0 * 40.0).epsilon(1e-9));
}

TEST_CASE("a gap takes the strip it is wide, on the side that is asked for") {
  const Body flat = sheet(40.0);
  const Curve line = line_curve({5, -3, 9}, {5, 3, 9});
  const double w = 0.6;
  const Split centred = split(flat, {.curves = {line}}, {.gap = w, .step = 3}, progress);
  CHECK(area_of(centred.body) == Approx(1600.0 - 40.0 * w).epsilon(1e-9));
  CHECK(centred.narrowest == Approx(w).epsilon(1e-6));
  CHECK(centred.widest == Approx(w).epsilon(1e-6));
  for (const auto& [side, left, right] :
       {std::tuple{GapSide::First, 25.0 - w, 15.0}, {GapSide::Second, 25.0, 15.0 - w}}) {
    SplitOptions o{.gap = w, .gap_side = side, .step = 3};
    o.keep = SplitKeep::First;
    CHECK(area_of(split(flat, {.curves = {line}}, o, progress).body) ==
          Approx(40.0 * left).epsilon(1e-9));
    o.keep = SplitKeep::Second;
    CHECK(area_of(split(flat, {.curves = {line}}, o, progress).body) ==
          Approx(40.0 * right).epsilon(1e-9));
  }
}

TEST_CASE("a door with corners has a gap of even width with mitred corners") {
  // A rectangle of 16 × 10 with a gap of w outside leaves the sheet without (16 + 2 w)(10 + 2 w).
  const Body flat = sheet(40.0);
  Curve door;
  door.knots = {1, false, {0, 0, 1, 2, 3, 4, 4}};
  door.points = {{-8, -5, 3}, {8, -5, 3}, {8, 5, 3}, {-8, 5, 3}, {-8, -5, 3}};
  const double w = 0.5;
  const Split s =
      split(flat, {.curves = {door}}, {.gap = w, .gap_side = GapSide::First, .step = 3}, progress);
  CHECK(area_of(s.body) == Approx(1600.0 - (17.0 * 11.0 - 160.0)).epsilon(1e-9));
  const Split inner = split(
      flat, {.curves = {door}},
      {.keep = SplitKeep::Second, .gap = w, .gap_side = GapSide::Second, .step = 3}, progress);
  CHECK(area_of(inner.body) == Approx(15.0 * 9.0).epsilon(1e-9));
}

TEST_CASE("a round door on a dome: the gap along the skin is never narrower than asked") {
  const Body half = open_ball(40.0);
  const Split s =
      split(half, {.curves = {make_circle({}, 15.0)}}, {.gap = 0.6, .step = 5}, progress);
  CHECK(s.narrowest >= 0.6 - 1e-6);
  // On the slope at radius 15 of 40 the strip is longer by 1 / cos(asin(15 / 40)).
  CHECK(s.widest == Approx(0.6 / std::cos(std::asin(15.0 / 40.0))).epsilon(0.01));
  const Split normal =
      split(half, {.curves = {make_circle({{0, 0, 40}}, 15.0)}, .along_normals = true},
            {.gap = 0.6, .step = 5}, progress);
  CHECK(normal.narrowest == Approx(0.6).epsilon(0.01));
  CHECK(normal.widest == Approx(0.6).epsilon(0.01));
}

TEST_CASE("another part splits a sheet, inside is the second side") {
  const Split s = split(sheet(40.0), {.bodies = {body_of({make_sphere({}, 6.0)}, 9)}},
                        {.keep = SplitKeep::Second, .step = 3}, progress);
  CHECK(area_of(s.body) == Approx(kPi * 36.0).epsilon(1e-7));
}

TEST_CASE("a gap along another part is taken out between two sheets beside it") {
  const OffsetSurface nearly = [](const Surface& s, double mm) {
    return offset(s, mm, 2e-3, progress).surface;
  };
  const Body skin = sheet(40.0);
  const Body ball = body_of({make_sphere({}, 6.0)}, 9);
  // Spheres of 5.5 and 6.5 about the middle of a sheet leave a disc and a sheet without one.
  const Split ring =
      split(skin, {.bodies = {ball}, .offset = nearly}, {.gap = 1.0, .step = 3}, progress);
  CHECK(ring.pieces == 2);
  CHECK(area_of(ring.body) == Approx(1600.0 - kPi * (6.5 * 6.5 - 5.5 * 5.5)).margin(0.2));
  CHECK(ring.narrowest == Approx(1.0).margin(5e-3));
  CHECK(ring.widest == Approx(1.0).margin(5e-3));
  // So do those of a ball made of two faces that meet smoothly.
  const Surface whole = opened(make_sphere({}, 6.0), Direction::U, 0.0);
  const auto [left, right] = split(whole, Direction::U, 0.5 * (whole.u.first() + whole.u.last()));
  const Body halves = with_explicit_borders(body_of({left, right}, 9), 1e-9);
  REQUIRE(halves.faces.size() == 2);
  const Split same =
      split(skin, {.bodies = {halves}, .offset = nearly}, {.gap = 1.0, .step = 3}, progress);
  CHECK(same.pieces == 2);
  CHECK(area_of(same.body) == Approx(area_of(ring.body)).margin(0.02));
  CHECK(same.narrowest == Approx(1.0).margin(5e-3));
  // The first side is outside: all of the strip is taken there.
  const Split outside = split(
      skin, {.bodies = {ball}, .offset = nearly},
      {.keep = SplitKeep::First, .gap = 1.0, .gap_side = GapSide::First, .step = 3}, progress);
  CHECK(area_of(outside.body) == Approx(1600.0 - kPi * 49.0).margin(0.1));
  // A ball by a tube through its middle: a ring, and what the tube holds. A ball of radius R without a round hole of
  // radius r through its middle has the volume 4π/3 (R² − r²)^(3/2).
  const double r = 20.0;
  const auto without_hole = [&](double hole) {
    return 4.0 / 3.0 * kPi * std::pow(r * r - hole * hole, 1.5);
  };
  Body tube = body_of({make_cylinder({{0, 0, -30}}, 10.0, 60.0)}, 9);
  const Split cored = split(body_of({make_sphere({}, r)}, 1), {.bodies = {tube}, .offset = nearly},
                            {.gap = 2.0, .step = 3}, progress);
  CHECK(cored.pieces == 2);
  CHECK(is_closed_solid(cored.body));
  CHECK(volume_of(cored.body) ==
        Approx(without_hole(11.0) + without_hole(0.0) - without_hole(9.0)).epsilon(1e-3));
}

TEST_CASE("a curve inside a ball carried one way splits one side only") {
  const Body ball = body_of({make_sphere({}, 20.0)}, 1);
  const std::vector<Curve> circle{make_circle({{0, 0, 2}}, 6.0)};
  // The cap over a circle of radius a on a ball of radius R has the height R − √(R² − a²); area 2 π R h.
  const double cap = 2.0 * kPi * 20.0 * (20.0 - std::sqrt(400.0 - 36.0));
  Body open =
      split(ball, {.plane = Frame{{0, 0, -5}}}, {.keep = SplitKeep::First, .step = 2}, progress)
          .body;
  std::vector<std::size_t> flat;
  for (std::size_t f = 0; f < open.faces.size(); ++f)
    if (face_with_tag(ball, open.faces[f].tag) < 0) flat.push_back(f);
  open = without_faces(open, flat);
  const Split up = split(open, {.curves = circle, .reach = SplitReach::Forwards},
                         {.keep = SplitKeep::Second, .step = 3}, progress);
  CHECK(area_of(up.body) == Approx(cap).epsilon(1e-6));
  CHECK_THROWS_WITH(
      split(open, {.curves = {make_circle({{0, 0, 90}}, 6.0)}, .reach = SplitReach::Forwards},
            {.step = 3}, progress),
      Contains("beyond the part"));
}

TEST_CASE("cuts that separate nothing are refused") {
  const Body flat = sheet(40.0);
  CHECK_THROWS_WITH(split(flat, {.plane = Frame{{0, 0, 5}}}, {.step = 3}, progress),
                    Contains("separates nothing"));
  CHECK_THROWS_WITH(split(flat, {}, {.step = 3}, progress), Contains("Nothing splits yet"));
  CHECK_THROWS_WITH(
      split(flat, {.curves = {make_circle({{100, 0, 0}}, 5.0)}}, {.step = 3}, progress),
      Contains("separates nothing"));
  CHECK_THROWS_WITH(split(flat, {.curves = {make_circle({}, 5.0)}, .direction = {1, 0, 0}},
                          {.step = 3}, progress),
                    Contains("no inside"));
  CHECK_THROWS_WITH(
      split(flat, {.curves = {make_circle({}, 5.0)}}, {.gap = 14.0, .step = 3}, progress),
      Contains("radius of 5.00 mm"));
  CHECK_THROWS_WITH(
      split(flat, {.bodies = {box({-5, -5, -5}, {10, 10, 10}, 9)}, .offset = offset_by},
            {.gap = 1.0, .step = 3}, progress),
      Contains("meet at angles"));
  CHECK_THROWS_WITH(split(flat, {.bodies = {ball({}, 5.0, 8), ball({9, 0, 0}, 2.0, 9)}},
                          {.gap = 1.0, .step = 3}, progress),
                    Contains("one other part at a time"));
}

TEST_CASE("an opening is trimmed into a box whose faces are joined by their borders only") {
  const Body loose =
      body_of({patch({0, 0, 0}, {0, 10, 0}, {10, 0, 0}), patch({0, 0, 10}, {10, 0, 0}, {0, 10, 0}),
               patch({0, 0, 0}, {10, 0, 0}, {0, 0, 10}), patch({0, 10, 0}, {0, 0, 10}, {10, 0, 0}),
               patch({0, 0, 0}, {0, 0, 10}, {0, 10, 0}), patch({10, 0, 0}, {0, 10, 0}, {0, 0, 10})},
              1);
  const Trimmed t =
      trim(loose, std::vector<Curve>{make_circle({{5, 5, 20}}, 2.0)}, {.step = 3}, progress);
  CHECK(t.pieces_taken == 2);
  CHECK(area_of(t.body) == Approx(600.0 - 2.0 * kPi * 4.0).epsilon(1e-8));
  CHECK(tags_of_faces(t.body) == tags_of_faces(loose));
}
