// Edges brought to neighbours, and corners of joined bodies moved.
#include <catch2/catch.hpp>
#include <cmath>

#include "core/base/error.h"
#include "core/check/joints.h"
#include "core/cut/combine.h"
#include "core/cut/corner_edit.h"
#include "core/cut/match.h"
#include "core/document/evaluator.h"
#include "core/operations/corner_edit.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;

namespace {

Progress progress;

// Half of a ball's band, from v = 0.3 to 0.6, as a polynomial surface is not exact; so a wave of degree 3 serves.
Surface wave(double height) {
  Surface s = make_plane({}, 40.0, 30.0, 7, 6, 3, 3);
  for (int i = 0; i < 7; ++i)
    for (int j = 0; j < 6; ++j) s.points(i, j).z = height * std::sin(0.9 * i) * std::cos(0.7 * j);
  return s;
}

std::size_t edge_at(const Body& body, const Vec3& near) {
  std::size_t best = 0;
  double least = 1e300;
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const KnotVector& k = body.edges[e].curve.knots;
    const Vec3 m = evaluate(body.edges[e].curve, k.first() + 0.5 * k.length());
    if (distance(m, near) < least) {
      least = distance(m, near);
      best = e;
    }
  }
  return best;
}

}  // namespace

TEST_CASE("an edge is brought to a neighbour with each continuity, by as many rows") {
  const Body neighbour = with_explicit_borders(body_of({wave(3.0)}, 1), 1e-9);
  const EdgeChain chain(neighbour, {edge_at(neighbour, {20, 0, 0})});
  Surface s = make_plane({{42, 0, 2}}, 36.0, 30.0, 8, 10, 3, 3);
  for (int g = 0; g <= 3; ++g) {
    INFO("G" << g);
    const Matched m =
        matched(s, Border::UMin, chain, neighbour, {.continuity = g, .add_points = true}, progress);
    CHECK(m.joint.level >= g);
    CHECK(m.rows == g + 1);
    // Measured from the matched surface's own border against nearest places.
    const Body own = with_explicit_borders(body_of({m.surface}, 2), 1e-9);
    const Joint j = joint_with(own, {edge_at(own, {20, 0, 0})}, neighbour, 40, progress);
    CHECK(j.measured.level >= g);
    // What lies behind the moved rows is where it was, apart from grid lines that were added.
    if (m.added == 0)
      for (int i = g + 1; i < 8; ++i)
        for (int k = 0; k < 10; ++k) CHECK(distance(m.surface.points(i, k), s.points(i, k)) == 0.0);
  }
}

TEST_CASE("matching to the surface itself goes back to where it was") {
  // Cut off and brought to what it was cut from, with all derivatives, the border's rows do not move.
  const Surface whole = wave(3.0);
  const Body neighbour = with_explicit_borders(body_of({whole}, 1), 1e-9);
  const EdgeChain chain(neighbour, {edge_at(neighbour, {20, 0, 0})});
  Surface flat = make_plane({{40, 0, 0}}, 40.0, 30.0, 7, 6, 3, 3);
  const Matched once = matched(flat, Border::UMin, chain, neighbour, {.continuity = 2}, progress);
  const Matched again =
      matched(once.surface, Border::UMin, chain, neighbour, {.continuity = 2}, progress);
  CHECK(again.farthest < 0.01);
}

TEST_CASE("surfaces that cannot be matched say what to do") {
  const Body neighbour = with_explicit_borders(body_of({wave(3.0)}, 1), 1e-9);
  const EdgeChain chain(neighbour, {edge_at(neighbour, {20, 0, 0})});
  CHECK_THROWS_WITH(
      matched(make_cylinder({}, 5.0, 9.0), Border::VMin, chain, neighbour, {}, progress),
      Contains("weights"));
  CHECK_THROWS_WITH(matched(make_plane({}, 9.0, 9.0, 2, 2, 1, 1), Border::UMin, chain, neighbour,
                            {.continuity = 2}, progress),
                    Contains("needs 4 rows"));
  CHECK_THROWS_WITH(matched(wave(1.0), Border::UMin, chain, neighbour, {.continuity = 5}, progress),
                    Contains("G0 to G3"));
}

TEST_CASE(
    "a box's upper corners moved alike make a taller box, its faces flat and its names kept") {
  const Body a = box({0, 0, 0}, {10, 20, 30}, 1);
  const Corners c = corners_of(a, 1e-6);
  REQUIRE(c.places.size() == 8);
  for (const auto& face : c.faces) CHECK(face.size() == 4);
  std::vector<Vec3> places = c.places;
  for (Vec3& p : places)
    if (p.z > 15.0) p.z += 6.0;
  const Body tall = with_corners(a, places, 0.001);
  CHECK(volume_of(tall) == Approx(10.0 * 20.0 * 36.0).epsilon(1e-12));
  CHECK(is_closed_solid(tall));
  CHECK(kernel_accepts(tall));
  CHECK(tags_of_faces(tall) == tags_of_faces(a));
}

TEST_CASE("one corner moved makes ruled faces whose volume is that of the trilinear box") {
  // The solid between z = 0 and the bilinear top over a unit square has the mean of the four heights as volume; here one
  // corner goes straight up, so sides stay flat.
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  std::vector<Vec3> places = corners_of(a, 1e-6).places;
  for (Vec3& p : places)
    if (p.x > 5.0 && p.y > 5.0 && p.z > 5.0) p.z = 14.0;
  const Body ruled = with_corners(a, places, 0.001);
  CHECK(volume_of(ruled) == Approx(1100.0).epsilon(1e-9));
  CHECK(is_closed_solid(ruled));
  CHECK(kernel_accepts(ruled));
}

TEST_CASE("corners that cannot move say why") {
  const Body holed =
      combined(box({0, 0, 0}, {10, 10, 10}, 1), std::vector{cylinder({{5, 5, -1}}, 2.0, 12.0, 2)},
               Combine::Subtract, 0.01, 3, progress)
          .body;
  const Body edged = with_explicit_borders(holed, 1e-9);
  const auto moved = [&](const Body& body, const Vec3& by) {
    std::vector<Vec3> places = corners_of(body, 1e-6).places;
    for (Vec3& p : places)
      if (distance(p, {10, 10, 10}) < 1e-6) p += by;
    return with_corners(body, places, 0.001);
  };
  // In its plane the holed face stays flat, and the hole where it is.
  const Body wider = moved(edged, {3, 0, 0});
  CHECK(is_closed_solid(wider));
  CHECK_THROWS_WITH(moved(edged, {0, 0, 3}), Contains("would not stay flat"));
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  CHECK_THROWS_WITH(moved(a, {-10, 0, 0}), Contains("Two corners would meet"));
}

TEST_CASE("the corner edit step keeps its moves by name when the box below changes") {
  const Shape before = box({0, 0, 0}, {10, 20, 30}, 1);
  CornerEditOperation step;
  Inputs inputs;
  inputs.step = 4;
  const Outcome first = step.apply(before, inputs, progress);
  REQUIRE(first.hand);
  const Nets& nets = first.hand->below;
  REQUIRE(nets.size() == 8);
  Shapings shapings = first.hand->shapings;
  Selection upper;
  for (int k = 0; k < 8; ++k)
    if (nets.nets[0].point(k, 0, 0).z > 15.0) upper.insert({0, k, 0, 0});
  PointShares share(nets, 0.0);
  for (const PointIndex& p : upper) share(p) = 1.0;
  shapings =
      with_moves(shapings, nets, moves_of(nets, share, {MoveDirection::Z, 6.0, {}}), share, {});
  const OperationPtr shaped = step.with_shapings(shapings);
  CHECK(volume_of(std::get<Body>(shaped->apply(before, inputs, progress).shape)) ==
        Approx(7200.0).epsilon(1e-9));
  // Another box of the same making has the same names.
  const Shape wider = box({0, 0, 0}, {15, 20, 30}, 1);
  CHECK(volume_of(std::get<Body>(shaped->apply(wider, inputs, progress).shape)) ==
        Approx(15.0 * 20.0 * 36.0).epsilon(1e-9));
}
