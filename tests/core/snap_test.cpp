// Snapping is exact, and the words of the runner shape points as the hand does.
#include <catch2/catch.hpp>
#include <cmath>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"
#include "core/operations/circle.h"
#include "core/operations/control_curve.h"
#include "core/operations/point_script.h"
#include "core/operations/rebuild_curve.h"
#include "core/operations/report.h"
#include "core/points/snap.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Matchers::Contains;

namespace {

Nets wavy() {
  Surface s{uniform_knots(6, 3, false), uniform_knots(5, 3, false), Grid<Vec3>(6, 5), {}};
  for (int i = 0; i < 6; ++i)
    for (int j = 0; j < 5; ++j) s.points(i, j) = {11.3 * i, 9.7 * j, 3.1 * std::sin(i * 1.3 + j)};
  return s;
}

Vec3 moved_to(const Nets& nets, PointIndex p, MoveDirection d, const Vec3& target,
              const Vec3& normal = {0, 0, 1}) {
  PointShares share(nets);
  share(p) = 1.0;
  const Move m = move_to(nets, p, {d, 0.0, {}, normal}, target);
  return nets.point(p) + moves_of(nets, share, m)(p);
}

ShapePtr shape_of(const Document& d, PartId part) {
  Progress progress;
  return Evaluator().evaluate(d, progress, {part}).parts.at(part).shape;
}

Document edited(const Document& d, const char* part, std::vector<std::string> lines) {
  Progress progress;
  return with_point_edits(d, find_part(d, std::string_view(part))->id, lines, progress);
}

Surface surface_of(const ShapePtr& shape) {
  return *std::get<Body>(*shape).faces.front().surface;
}

}  // namespace

TEST_CASE("a snapped point lies on its place to 1e-12 of the size, as far as the direction leads") {
  const Nets nets = wavy();
  const PointIndex p{0, 2, 3};
  const Vec3 target{17.123456789, -4.2, 8.8};
  const Vec3 at = nets.point(p);
  CHECK(distance(moved_to(nets, p, MoveDirection::InView, target), target) < 1e-12);
  CHECK(distance(moved_to(nets, p, MoveDirection::X, target), {target.x, at.y, at.z}) < 1e-12);
  CHECK(distance(moved_to(nets, p, MoveDirection::Y, target), {at.x, target.y, at.z}) < 1e-12);
  CHECK(distance(moved_to(nets, p, MoveDirection::Z, target), {at.x, at.y, target.z}) < 1e-12);
  CHECK(distance(moved_to(nets, p, MoveDirection::WorkPlane, target), {target.x, target.y, at.z}) <
        1e-12);
  const Vec3 n = skin_normal(nets, p);
  const Vec3 off = moved_to(nets, p, MoveDirection::OffSkin, target);
  CHECK(std::abs(dot(target - off, n)) < 1e-12);
  const Vec3 on = moved_to(nets, p, MoveDirection::OnSkin, target);
  CHECK(std::abs(dot(on - at, n)) < 1e-12);
  // Along the net, forwards and backwards: the foot of the perpendicular on the leg.
  const Vec3 next = nets.point({0, 3, 3});
  const Vec3 half = (at + next) * 0.5;
  CHECK(distance(moved_to(nets, p, MoveDirection::AlongU, half), half) < 1e-12);
  const Vec3 back = (at + nets.point({0, 1, 3})) * 0.5;
  CHECK(distance(moved_to(nets, p, MoveDirection::AlongU, back), back) < 1e-12);
}

TEST_CASE("corners of the work plane's grid and places of curves under a line of sight") {
  const Frame plane{{1, 2, 3}, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}};
  const Vec3 corner = grid_corner(plane, 2.5, {4.0, 2 + 6.1, 3 - 3.9});
  CHECK(distance(corner, {4.0, 2 + 5.0, 3 - 5.0}) < 1e-12);
  const CurveEvaluator circle(make_circle({}, 10));
  // Looking down z at (6, 8): that is on the circle; at (3, 4) the nearest is the same place.
  CHECK(distance(closest_to_line(circle, {6, 8, 50}, {0, 0, -1}).p, {6, 8, 0}) < 1e-7);
  CHECK(distance(closest_to_line(circle, {3, 4, 50}, {0, 0, -2}).p, {6, 8, 0}) < 1e-6);
  CHECK(closest_to_line(circle, {3, 4, 50}, {0, 0, -1}).distance == Approx(5.0).epsilon(1e-9));
}

TEST_CASE("the words of the runner shape points like the hand") {
  const Document d = uncut_demo();
  const PartId shell = find_part(d, std::string_view("Shell"))->id;
  const Surface before = surface_of(shape_of(d, shell));

  const Document up = edited(d, "Shell", {"pick [2,4]", "move z 3", "pick none"});
  const Surface raised = surface_of(shape_of(up, shell));
  CHECK(raised.points(2, 4).z == Approx(before.points(2, 4).z + 3.0));
  CHECK(raised.points(8, 4).z == Approx(before.points(8, 4).z + 3.0));  // its partner in x–z
  CHECK(find_part(up, shell)->steps.size() == 3);                       // in the step that is there

  // The underside levelled by a box through the depth.
  const Document flat = edited(d, "Shell", {"pick box z -100 -33", "set z -36"});
  const Surface level = surface_of(shape_of(flat, shell));
  for (const Vec3& p : level.points.values()) CHECK(p.z > -36.0001);
  // Rows spread about the centre.
  const Document wide =
      edited(d, "Shell", {"pick row v [2,0] [8,0]", "scale 1 1.2 1 about symmetry"});
  CHECK(surface_of(shape_of(wide, shell)).points(2, 4).y == Approx(1.2 * before.points(2, 4).y));
  // A falloff reaches the neighbours.
  const Document soft =
      edited(d, "Shell", {"falloff 2 1 ramp strength 2", "pick [2,4]", "move off_skin 4"});
  CHECK(distance(surface_of(shape_of(soft, shell)).points(3, 4), before.points(3, 4)) > 1.0);
  // The skin itself, exactly.
  const Document pulled = edited(d, "Shell", {"symmetry off", "pull 0.31 0.62 by 1 2 3"});
  CHECK(distance(evaluate(surface_of(shape_of(pulled, shell)), 0.31, 0.62),
                 evaluate(before, 0.31, 0.62) + Vec3{1, 2, 3}) < 1e-9);
  // Names are kept and found again.
  const Document named = edited(d, "Shell", {"pick row u [0,4]", "name belt"});
  REQUIRE(find_part(named, shell)->selections.size() == 1);
  CHECK(find_part(named, shell)->selections.front().points.size() == 10);
  CHECK_NOTHROW(edited(named, "Shell", {"pick named belt", "weight 2"}));
  // Holds keep what they say.
  const Document held = edited(d, "Dimple tile", {"hold u_begin position", "pick all", "move z 1"});
  const Surface tile = surface_of(shape_of(d, find_part(d, std::string_view("Dimple tile"))->id));
  const Surface moved_tile =
      surface_of(shape_of(held, find_part(d, std::string_view("Dimple tile"))->id));
  CHECK(moved_tile.points(0, 2) == tile.points(0, 2));
  CHECK(moved_tile.points(4, 2).z == tile.points(4, 2).z + 1.0);
}

TEST_CASE("a line that cannot be done says what it could be") {
  const Document d = uncut_demo();
  CHECK_THROWS_WITH(edited(d, "Shell", {"move z 3"}), Contains("Nothing is picked"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick [12,4]"}), Contains("[12,4]"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick [1]"}), Contains("address"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick all", "move up 3"}), Contains("off_skin"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick all", "move z three"}), Contains("three"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick all", "move z 3 4"}), Contains("nothing more"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick all", "weight -1"}), Contains("0.01 to 100"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick named nose"}), Contains("nose"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"hold u_middle tangent"}), Contains("hold_u_middle"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick [1,4]", "move y 3", "symmetry yz"}),
                    Contains("not symmetric"));
  CHECK_THROWS_WITH(edited(d, "Shell", {"pick [0,4]", "level mean"}), Contains("at least 3"));
  CHECK_THROWS_WITH(edited(d, "Grille", {"pick all"}), Contains("mesh"));
}

TEST_CASE("every second point of a ring of 44 scaled to 0.9 gives 22 bumps, in words") {
  Document d;
  auto circle = std::make_shared<CircleOperation>();
  circle->radius = 22;
  const Added ring = with_part(d, "Ring", circle);
  auto rebuild = std::make_shared<RebuildCurveOperation>();
  rebuild->points = 44;
  d = with_step(ring.document, ring.part, rebuild).document;
  d = edited(d, "Ring", {"pick all", "pick every 2", "scale 0.9"});
  const ShapePtr shape = shape_of(d, ring.part);
  const Curve& c = std::get<CurveSet>(*shape).curves.front();
  const CurveEvaluator e(c);
  int changes = 0;
  double last = 0.0;
  for (int k = 0; k <= 44 * 40; ++k) {
    const CurveDerivatives t = e.derivatives((k + 0.37) / (44 * 40), 2);
    const double bend = t.d1.x * t.d2.y - t.d1.y * t.d2.x;
    if (last * bend < 0.0) ++changes;
    if (bend != 0.0) last = bend;
  }
  CHECK(changes == 44);
  Progress progress;
  const Report r = report(*shape, nullptr, {}, progress);
  CHECK(r.curves == 1);
  CHECK(r.control_points == 44);
  CHECK(r.length.value_or(0) > 2 * 3.14159 * 19.8);
  // Saved and opened again it is the same.
  const Document again = from_project_json(to_project_json(d), make_operation);
  CHECK(to_project_json(again) == to_project_json(d));
  CHECK(std::get<CurveSet>(*shape_of(again, ring.part)).curves.front() == c);
}

TEST_CASE("a control-point curve takes its points from words and says what it lacks") {
  ControlCurveOperation curve;
  curve.points.set("", "0,0,0 10,0,0  20,5,0 30,0,0");
  CHECK(curve.points.places.size() == 4);
  curve.points.set("[2]", "20,8,1");
  CHECK(curve.points.places[2] == Vec3{20, 8, 1});
  curve.points.set("[4]", "40,0,0");
  CHECK(curve.points.places.size() == 5);
  CHECK_THROWS_WITH(curve.points.set("[9]", "1,2,3"), Contains("points[0] to points[4]"));
  CHECK_THROWS_WITH(curve.points.set("[1]", "1,2"), Contains("x,y,z"));
  CHECK_THROWS_AS(curve.points.set("", "1,2,nan"), Error);
  CHECK_THROWS_AS(curve.points.from_json("[[1,2]]"), Error);
  CHECK_THROWS_AS(curve.points.from_json("[[1,2,\"x\"]]"), Error);
  Progress progress;
  curve.degree = 7;
  const Outcome o = curve.apply(Body{}, {}, progress);
  REQUIRE(o.notes.size() == 1);
  CHECK(std::get<CurveSet>(o.shape).curves.front().knots.degree == 4);
  curve.closed = true;
  curve.degree = 3;
  CHECK(std::get<CurveSet>(curve.apply(Body{}, {}, progress).shape).curves.front().knots.periodic);
  curve.points.places = {{0, 0, 0}};
  CHECK_THROWS_WITH(curve.apply(Body{}, {}, progress), Contains("two points"));
}
