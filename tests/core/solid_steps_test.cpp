// The steps of cutting and joining, as a designer puts them together.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/cut/split.h"
#include "core/document/document.h"
#include "core/document/evaluator.h"
#include "core/operations/blend_parts.h"
#include "core/operations/catalogue.h"
#include "core/operations/circle.h"
#include "core/operations/combine_parts.h"
#include "core/operations/joining.h"
#include "core/operations/solid_steps.h"
#include "core/operations/trim_away.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;
constexpr double kPi = std::numbers::pi;

namespace {

Progress progress;

Outcome applied(const Operation& step, const Body& before, std::map<PartRef, ShapePtr> parts = {}) {
  Inputs inputs;
  inputs.step = 40;
  inputs.parts = std::move(parts);
  return step.apply(Shape(before), inputs, progress);
}

Body applied_body(const Operation& step, const Body& before,
                  std::map<PartRef, ShapePtr> parts = {}) {
  return std::get<Body>(applied(step, before, std::move(parts)).shape);
}

ShapePtr shape_of(Body body) {
  return std::make_shared<const Shape>(std::move(body));
}
ShapePtr shape_of(Curve curve) {
  return std::make_shared<const Shape>(CurveSet{{std::move(curve)}});
}

std::string said(const Outcome& o) {
  std::string all;
  for (const std::string& n : o.notes) all += n + "\n";
  return all;
}

}  // namespace

TEST_CASE("an open cylinder closes to a solid, whichever way it looks") {
  for (const bool flipped : {false, true}) {
    Body open = body_of({make_cylinder({}, 5.0, 12.0)}, 1);
    open.faces[0].flipped = flipped;
    const Body solid = applied_body(CloseSolidOperation(), open);
    CHECK(is_closed_solid(solid));
    CHECK(volume_of(solid) == Approx(kPi * 300.0).epsilon(1e-6));
  }
  CloseSolidOperation no_fill;
  no_fill.fill = false;
  CHECK_THROWS_WITH(applied(no_fill, body_of({make_cylinder({}, 5.0, 12.0)}, 1)),
                    Contains("2 edges stay open"));
}

TEST_CASE("two mirrored halves enclose a solid") {
  // Half a tube and its image, with the ends between them.
  const auto half = [](double sign, int step) {
    return body_of({patch({0, 0, 0}, {0, 0, 10}, {sign * 6, 0, 0}),
                    patch({sign * 6, 0, 0}, {0, 0, 10}, {0, 8, 0}),
                    patch({sign * 6, 8, 0}, {0, 0, 10}, {-sign * 6, 0, 0})},
                   step);
  };
  CloseSolidOperation close;
  close.others = {PartRef(2)};
  const Body solid = applied_body(close, half(1.0, 1), {{PartRef(2), shape_of(half(-1.0, 2))}});
  CHECK(is_closed_solid(solid));
  CHECK(volume_of(solid) == Approx(12.0 * 8.0 * 10.0).epsilon(1e-9));
}

TEST_CASE("an opening that is not flat is filled smoothly and closes the part") {
  // A ball with a bite of another ball has a flat rim; one drilled by a cylinder across does not.
  const Body ball_skin = body_of({make_cylinder({}, 10.0, 40.0)}, 1);
  TrimAwayOperation cut;
  cut.curve = PartRef(2);
  cut.carried.way = Carry::X;
  cut.reach = TrimReach::Forwards;
  Frame f{{0, 0, 20}, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  const Body open = applied_body(cut, ball_skin, {{PartRef(2), shape_of(make_circle(f, 5.0))}});
  REQUIRE(topology(with_explicit_borders(open, 1e-6)).open_edges.size() >= 3);
  FillOpeningsOperation fill;
  const Outcome filled = applied(fill, open);
  INFO(said(filled));
  const Body& body = std::get<Body>(filled.shape);
  CHECK(is_closed_solid(body));
  for (const Edge& e : body.edges) CHECK(e.gap < 0.05);
  fill.puff = 3.0;
  const Body puffed = applied_body(fill, open);
  CHECK(is_closed_solid(puffed));
  CHECK(std::abs(volume_of(puffed)) >
        std::abs(volume_of(body)) + 20.0);  // to the outside at every opening
  // The bite is nearly the skin that was there: the rim's own, bent as little as it can be.
  CHECK(std::abs(volume_of(body)) == Approx(kPi * 100.0 * 40.0).epsilon(0.02));
}

TEST_CASE("holes: round, to a depth, a slot, from a curve outside, and in a skin") {
  const Body block = box({0, 0, 0}, {40, 30, 20}, 1);
  HoleOperation hole;
  hole.on = {{{PickKind::Face, block.faces[1].tag, {}}}, 2, 0.5, 0.5};
  hole.diameter = 6.0;
  const Body through_all = applied_body(hole, block);
  CHECK(volume_of(through_all) == Approx(24000.0 - kPi * 9.0 * 20.0).epsilon(1e-7));
  hole.through = false;
  hole.depth = 7.0;
  CHECK(volume_of(applied_body(hole, block)) == Approx(24000.0 - kPi * 9.0 * 7.0).epsilon(1e-7));
  hole.shape = HoleShape::Slot;
  hole.length = 16.0;
  // A slot of length l and width d: (l − d) d + π d² / 4.
  CHECK(volume_of(applied_body(hole, block)) ==
        Approx(24000.0 - (10.0 * 6.0 + kPi * 9.0) * 7.0).epsilon(1e-5));
  hole.length = 5.0;
  CHECK_THROWS_WITH(applied(hole, block), Contains("longer than it is wide"));
  HoleOperation outside;
  outside.shape = HoleShape::Curve;
  outside.curve = PartRef(2);
  CHECK(volume_of(applied_body(outside, block,
                               {{PartRef(2), shape_of(make_circle({{20, 15, 90}}, 4.0))}})) ==
        Approx(24000.0 - kPi * 16.0 * 20.0).epsilon(1e-7));
  CHECK_THROWS_WITH(
      applied(outside, block, {{PartRef(2), shape_of(make_circle({{200, 15, 90}}, 4.0))}}),
      Contains("misses the part"));
  // The walls' own surfaces, whose nets are seen, reach little farther than the part.
  const Body bored =
      applied_body(outside, block, {{PartRef(2), shape_of(make_circle({{20, 15, 90}}, 4.0))}});
  for (const Body* b : {&bored, &through_all})
    for (const Face& f : b->faces)
      for (const Vec3& p : f.surface->points.values()) {
        CHECK(p.z > -5.0);
        CHECK(p.z < 25.0);
      }
  HoleOperation in_skin;
  in_skin.on = {{}, 1, 0.5, 0.5};
  in_skin.diameter = 10.0;
  CHECK(area_of(applied_body(in_skin, sheet(40.0))) == Approx(1600.0 - kPi * 25.0).epsilon(1e-7));
}

TEST_CASE("joining says what lies apart, where, and within what it would close") {
  JoinPartsOperation join;
  join.others = {PartRef(2)};
  const Body left = body_of({patch({0, 0, 0}, {10, 0, 0}, {0, 10, 0})}, 1);
  const auto right = [](double gap) {
    return shape_of(body_of({patch({10 + gap, 0, 0}, {10, 0, 0}, {0, 10, 0})}, 2));
  };
  CHECK_THROWS_WITH(applied(join, left, {{PartRef(2), right(0.3)}}),
                    Contains("0.300 mm wide") && Contains("within 0.315 mm"));
  const Outcome met = applied(join, left, {{PartRef(2), right(0.004)}});
  CHECK(topology(std::get<Body>(met.shape)).shells.size() == 1);
  CHECK_THAT(said(met), Contains("2 edges joined"));
  CHECK_FALSE(met.marks.empty());
  CHECK_THROWS_WITH(applied(join, left, {{PartRef(2), right(50.0)}}), Contains("nothing to join"));
}

TEST_CASE(
    "a blend is made between picked chains, keeps to them, and its badges tell a neighbour that "
    "moved too far") {
  const auto lower = shape_of(body_of({make_cylinder({}, 10.0, 10.0)}, 1));
  const auto upper = shape_of(body_of({make_cylinder({{0, 0, 22}}, 6.0, 10.0)}, 2));
  BlendOperation blend;
  blend.first = PartRef(1);
  blend.second = PartRef(2);
  const std::map<PartRef, ShapePtr> parts{{PartRef(1), lower}, {PartRef(2), upper}};
  const Outcome nearest = applied(blend, {}, parts);
  REQUIRE(nearest.joints.size() == 2);
  for (const JointBadge& j : nearest.joints) CHECK(j.level >= 2);
  // The far edge of the upper tube is picked instead: the blend must reach it, at z = 32.
  const Body edged_upper = edged(std::get<Body>(*upper));
  for (std::size_t e = 0; e < edged_upper.edges.size(); ++e) {
    const Pick pick = pick_of_body_edge(edged_upper, e);
    if (std::abs(pick.near.z - 32.0) < 1e-6) blend.second_edges = {pick};
  }
  REQUIRE(blend.second_edges.size() == 1);
  const Body far = std::get<Body>(applied(blend, {}, parts).shape);
  CHECK(evaluate(*far.faces[0].surface, 0.0, 1.0).z == Approx(32.0).margin(1e-3));
  // Parts of the project file and the settings read back.
  OperationPtr copy = with_parameter(blend, "sections", "0.25, 1.5, 1, 0.75, 0.8, 1");
  CHECK(dynamic_cast<const BlendOperation&>(*copy).sections.size() == 2);
  CHECK_THROWS_WITH(with_parameter(blend, "sections", "0.25, 1.5"), Contains("three numbers"));
}
