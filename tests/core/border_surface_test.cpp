// Surfaces inside borders: against closed forms, the borders themselves and their neighbours.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/body/projector.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/border_surface.h"
#include "core/operations/control_curve.h"
#include "core/operations/curves.h"
#include "core/operations/point_script.h"
#include "core/operations/skinned.h"
#include "core/source/outlines.h"
#include "core/source/swept.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

Curve line(const Vec3& a, const Vec3& b) {
  return make_curve({a, b}, 1, false);
}

// Four borders that bow, in mixed order and direction.
std::vector<Curve> bowed() {
  return {make_curve({{0, 0, 0}, {15, -4, 6}, {30, 2, 4}, {45, 0, 0}}, 3, false),
          make_curve({{45, 30, 8}, {30, 34, 2}, {16, 28, 9}, {0, 30, 5}}, 3, false),
          make_curve({{45, 0, 0}, {49, 14, 7}, {45, 30, 8}}, 2, false),
          make_curve({{0, 30, 5}, {-5, 20, 3}, {-3, 8, -2}, {0, 0, 0}}, 3, false)};
}

double off_border(const Curve& c, const Surface& s) {
  double worst = 0.0;
  for (int k = 0; k <= 60; ++k) {
    const Vec3 p = evaluate(c, c.knots.first() + c.knots.length() * k / 60);
    double least = 1e9;
    for (const Border b : kBorders)
      least = std::min(least, closest_place(CurveEvaluator(border_of(s, b)), p).distance);
    worst = std::max(worst, least);
  }
  return worst;
}

}  // namespace

TEST_CASE("the Coons patch of straight borders is the bilinear surface") {
  const Vec3 a{0, 0, 0};
  const Vec3 b{40, 5, 3};
  const Vec3 c{-3, 30, 9};
  const Vec3 d{44, 28, -6};
  const FourBorders borders =
      four_borders(std::vector<Curve>{line(a, b), line(d, c), line(b, d), line(c, a)}, 1e-6);
  const Surface s = coons(borders);
  for (double u = 0.0; u <= 1.0; u += 0.1)
    for (double v = 0.0; v <= 1.0; v += 0.1)
      CHECK(distance(evaluate(s, u, v),
                     (a * (1 - u) + b * u) * (1 - v) + (c * (1 - u) + d * u) * v) < 1e-12 * 60);
}

TEST_CASE("a border surface meets its four curves, also exact arcs") {
  const Surface s = coons(four_borders(bowed(), 1e-6));
  for (const Curve& c : bowed()) CHECK(off_border(c, s) < 1e-9);
  // Arcs over the sides of a square.
  const std::vector<Curve> arcs{
      make_arc({0, 0, 0}, {20, 0, 8}, {40, 0, 0}), make_arc({40, 0, 0}, {40, 20, 6}, {40, 40, 0}),
      make_arc({40, 40, 0}, {20, 40, 8}, {0, 40, 0}), make_arc({0, 40, 0}, {0, 20, 6}, {0, 0, 0})};
  const Surface dome = coons(four_borders(arcs, 1e-6));
  CHECK(dome.rational());
  for (const Curve& c : arcs) CHECK(off_border(c, dome) < 1e-9);
}

TEST_CASE("an open or wrong border is refused with its gap") {
  std::vector<Curve> open = bowed();
  open[2].points.back().z += 0.25;
  CHECK_THROWS_WITH(four_borders(open, 0.01), Contains("0.25 mm"));
  CHECK_NOTHROW(four_borders(open, 0.3));
  CHECK_THROWS_WITH(four_borders(std::vector<Curve>{bowed()[0], make_circle({}, 5)}, 0.01),
                    Contains("closed curve"));
  CHECK_THROWS_WITH(
      four_borders(std::vector<Curve>{line({0, 0, 0}, {10, 0, 0}), line({10, 0, 0}, {5, 8, 0}),
                                      line({5, 8, 0}, {0, 0, 0})},
                   0.01),
      Contains("needs four curves, not 3"));
  CHECK_THROWS_AS(border_loop({}, 0.01), Error);
}

TEST_CASE(
    "a push raises the middle by its amount and leaves place and direction along the borders") {
  const Surface s = coons(four_borders(bowed(), 1e-6));
  const Surface p = pushed(s, 5.0);
  const Vec3 n = normal(s, 0.5, 0.5);
  CHECK(distance(evaluate(p, 0.5, 0.5), evaluate(s, 0.5, 0.5) + n * 5.0) < 1e-9);
  for (double t = 0.0; t <= 1.0; t += 0.05)
    for (const auto& [u, v] : {std::pair{t, 0.0}, {t, 1.0}, {0.0, t}, {1.0, t}}) {
      CHECK(distance(evaluate(p, u, v), evaluate(s, u, v)) < 1e-10);
      const SurfaceDerivatives a = derivatives(s, u, v, 1);
      const SurfaceDerivatives b = derivatives(p, u, v, 1);
      CHECK(distance(a.du(), b.du()) < 1e-8);
      CHECK(distance(a.dv(), b.dv()) < 1e-8);
    }
}

TEST_CASE("each rib moves the surface by its curve, and crossing ribs add up") {
  const Surface s = coons(four_borders(bowed(), 1e-6));
  const Curve none = make_curve(std::vector<Vec3>(5), 3, false);
  Curve up = none;
  up.points[2] = {0, 0, 4};
  Curve aside = none;
  aside.points[1] = {0, 2, 0};
  const RibMoves moves{{none, up, none}, {none, aside, none}};
  const Surface r = with_ribs(s, moves);
  for (double t = 0.0; t <= 1.0; t += 0.1) {
    // Rib 2 across u stands at u = 1/2; where the ribs across v are zero on it, it moves by its own curve.
    const Vec3 crossing = evaluate(aside, 0.5);
    const Vec3 there = evaluate(r, 0.5, t) - evaluate(s, 0.5, t) - evaluate(up, t);
    // What the crossing rib adds is along y only, and all of it where they cross.
    CHECK(std::abs(there.x) < 1e-10);
    CHECK(std::abs(there.z) < 1e-10);
    if (std::abs(t - 0.5) < 1e-9) CHECK(distance(there, crossing) < 1e-10);
    // The ribs beside stay: only the crossing one moves them.
    const Vec3 beside = evaluate(r, 0.25, t) - evaluate(s, 0.25, t);
    CHECK(std::abs(beside.z) < 1e-10);
    for (const auto& [u, v] : {std::pair{t, 0.0}, {t, 1.0}, {0.0, t}, {1.0, t}})
      CHECK(distance(evaluate(r, u, v), evaluate(s, u, v)) < 1e-10);
  }
}

TEST_CASE("a border surface goes on from what lies around it within a tenth of a degree") {
  // The middle is cut out of a bowed sheet of 5 x 5 points; what is left are four strips around it.
  Surface sheet{uniform_knots(5, 3, false), uniform_knots(5, 3, false), Grid<Vec3>(5, 5), {}};
  for (int i = 0; i < 5; ++i)
    for (int j = 0; j < 5; ++j)
      sheet.points(i, j) = {20.0 * i, 20.0 * j, 22.0 * std::sin(1.7 * i) * std::cos(1.4 * j)};
  const auto [left, rest] = split(sheet, Direction::U, 0.3);
  const auto [middle, right] = split(rest, Direction::U, 0.7);
  const auto [below, upper] = split(middle, Direction::V, 0.3);
  const auto [hole, above] = split(upper, Direction::V, 0.7);
  const Body around = body_of({left, right, below, above}, 1);
  std::vector<Curve> border;
  for (const Border b : kBorders) border.push_back(border_of(hole, b));
  const Onward onward = onward_from({&around}, 1e-3);
  const Surface blend_only = coons(four_borders(border, 1e-6));
  const MadeTangent t = made_tangent(blend_only, onward);
  CHECK(t.borders == 4);
  CHECK(t.worst_degrees < 0.1);
  for (const Curve& c : border) CHECK(off_border(c, t.surface) < 1e-9);
  // Measured by another way: against the normals of the sheet itself.
  const BodyProjector whole(body_of({sheet}, 1));
  double worst = 0.0;
  double before = 0.0;
  for (double s = 0.01; s < 1.0; s += 0.02)
    for (const auto& [u, v] : {std::pair{s, 0.0}, {s, 1.0}, {0.0, s}, {1.0, s}})
      for (const bool after : {false, true}) {
        const Surface& made = after ? t.surface : blend_only;
        const BodyProjection at = whole.closest(evaluate(made, u, v));
        const Vec3 n = normal(made, u, v);
        const Vec3 m = normal(sheet, at.u, at.v);
        double& greatest = after ? worst : before;
        greatest =
            std::max(greatest, std::atan2(length(cross(n, m)), std::abs(dot(n, m))) * 180 / kPi);
      }
  CHECK(worst < 0.1);
  CHECK(before > 0.5);  // the plain blend does not do it
}

TEST_CASE("a fill of a flat round border is flat and has its area") {
  Progress progress;
  const std::vector<Curve> loop{make_circle({}, 25.0)};
  const Filled f = fill(loop, {}, 3, progress);
  REQUIRE(f.body.faces.size() == 1);
  CHECK(f.body.faces[0].trimmed());
  CHECK(f.gap < 1e-6);
  CHECK(area(f.body.faces[0], progress) == Approx(kPi * 625).epsilon(1e-6));
  for (const Edge& e : f.body.edges) CHECK(e.gap < 1e-6);
}

TEST_CASE("puff raises the middle by its amount, and the border stays") {
  Progress progress;
  const std::vector<Curve> loop{make_circle({}, 25.0)};
  const Filled f = fill(loop, {.puff = 6.0}, 3, progress);
  CHECK(f.gap < 1e-3);
  const BodyProjector onto(f.body);
  CHECK(onto.closest({0, 0, 100}).point.z == Approx(6.0).margin(0.05));
}

TEST_CASE("a fill goes on from a collar within a tenth of a degree") {
  // An upright collar: the dome begins straight up. The least bending shape with these ends is, along the
  // radius, r (3 - r²) / 2 and (1 - r²) / 2 of radius and reach (biharmonic functions of the disc, worked by hand).
  Progress progress;
  Body collar = body_of({extrude(make_circle({}, 30.0), {}, {0, 0, -10})}, 1);
  const std::vector<Curve> loop{make_circle({}, 30.0)};
  FillOptions o;
  o.onward = onward_from({&collar}, 1e-3);
  const Filled f = fill(loop, o, 3, progress);
  CHECK(f.tangent);
  CHECK(f.gap < 1e-3);
  CHECK(f.worst_degrees < 0.1);
  const BodyProjector onto(f.body);
  CHECK(onto.closest({0, 0, 100}).point.z == Approx(15.0).margin(0.05));
  const double r = 0.5;
  const Vec3 wanted{30 * r * (3 - r * r) / 2, 0, 15 * (1 - r * r)};
  CHECK(onto.closest(wanted).distance < 0.05);
}

TEST_CASE("borders of three and five edges are filled and trimmed, four are not trimmed") {
  Progress progress;
  std::vector<Curve> five;
  for (int k = 0; k < 5; ++k) {
    const double a = 2 * kPi * k / 5;
    const double b = 2 * kPi * (k + 1) / 5;
    const Vec3 p{20 * std::cos(a), 20 * std::sin(a), k % 2 == 0 ? 0.0 : 3.0};
    const Vec3 q{20 * std::cos(b), 20 * std::sin(b), (k + 1) % 5 % 2 == 0 ? 0.0 : 3.0};
    five.push_back(make_curve({p, (p + q) * 0.5 + Vec3{0, 0, 1}, q}, 2, false));
  }
  const Filled f = fill(border_loop(five, 1e-6), {.points_u = 16, .points_v = 16}, 3, progress);
  CHECK(f.body.faces[0].loops.size() == 1);
  CHECK(f.body.edges.size() == 5);
  CHECK(f.gap < 0.05);
  const Filled four = fill(border_loop(bowed(), 1e-6), {}, 3, progress);
  CHECK_FALSE(four.body.faces[0].trimmed());
  CHECK(four.gap < 0.02);
  CHECK_THROWS_WITH(
      fill(std::vector<Curve>{line({0, 0, 0}, {10, 0, 0}), line({10, 0, 0}, {2, 5, 0}),
                              line({2, 5, 0}, {8, 6, 0}), line({8, 6, 0}, {3, -4, 0}),
                              line({3, -4, 0}, {0, 0, 0})},
           {}, 1, progress),
      Contains("crosses itself"));
}

TEST_CASE("the border surface step offers its ribs, and other counts keep their shape") {
  Document d;
  std::vector<PartRef> parts;
  for (const Curve& c : bowed()) {
    auto curve = std::make_shared<ControlCurveOperation>();
    curve->points.places = c.points;
    curve->degree = c.knots.degree;
    const Added added = with_part(d, "Border", curve);
    d = added.document;
    parts.emplace_back(added.part);
  }
  auto step = std::make_shared<BorderSurfaceOperation>();
  step->border = parts;
  const Added made = with_part(d, "Foot", step);
  d = made.document;
  Progress progress;
  Evaluator evaluator;
  const auto result = [&] {
    return evaluator.evaluate(d, progress, {made.part}).parts.at(made.part);
  };
  const PartResult first = result();
  REQUIRE_FALSE(first.failed);
  REQUIRE(first.steps[0].hand);
  const HandNets& hand = *first.steps[0].hand;
  REQUIRE(hand.below.nets.size() == 6);
  Shapings shaped = hand.shapings;
  shaped[1].displacements(3, 0) = {0, 0, 6};  // the middle of the middle rib across u
  d = with_operation(d, made.step, step->with_shapings(shaped));
  const PartResult moved = result();
  const Surface& now = *std::get<Body>(*moved.shape).faces[0].surface;
  const Surface& then = *std::get<Body>(*first.shape).faces[0].surface;
  const Vec3 lift = evaluate(now, 0.5, 0.5) - evaluate(then, 0.5, 0.5);
  // A cubic of seven points: the middle one counts two thirds at the middle.
  CHECK(distance(lift, {0, 0, 4}) < 1e-9);
  // The net of the rib shows the move.
  CHECK(distance(with_shaping(moved.steps[0].hand->below, moved.steps[0].hand->shapings)
                     .point({1, 3, 0, 0}),
                 hand.below.point({1, 3, 0, 0}) + Vec3{0, 0, 6}) < 1e-9);
  // The same by words, as the runner takes them: a middle rib across v.
  const std::vector<std::string> words{"pick [4,3,0]", "move z 3"};
  const Document lifted = with_point_edits(d, made.part, words, progress);
  const PartResult both = evaluator.evaluate(lifted, progress, {made.part}).parts.at(made.part);
  REQUIRE_FALSE(both.failed);
  const Surface& higher = *std::get<Body>(*both.shape).faces[0].surface;
  CHECK(distance(evaluate(higher, 0.5, 0.5), evaluate(now, 0.5, 0.5) + Vec3{0, 0, 2}) < 1e-9);
  d = with_step_parameter(d, made.step, "ribs_u", "5");
  const PartResult more = result();
  REQUIRE(more.steps[0].hand->below.nets.size() == 8);
  const Surface& kept = *std::get<Body>(*more.shape).faces[0].surface;
  double worst = 0.0;
  for (double u = 0.0; u <= 1.0; u += 0.05)
    for (double v = 0.0; v <= 1.0; v += 0.05)
      worst = std::max(worst, distance(evaluate(kept, u, v), evaluate(now, u, v)));
  CHECK(worst < 0.6);  // of a lift of 4 mm
  CHECK(distance(evaluate(kept, 0.5, 0.5), evaluate(now, 0.5, 0.5)) < 1e-6);
}
