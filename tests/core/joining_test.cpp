// Edges split, merged, laid anew; faces joined within a tolerance and taken apart; openings and raised faces.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/check/joints.h"
#include "core/cut/edge_edit.h"
#include "core/cut/raise.h"
#include "core/nurbs/hermite.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;

namespace {

Progress progress;

Body two_sheets(double gap) {
  return body_of(
      {patch({0, 0, 0}, {10, 0, 0}, {0, 10, 0}), patch({10 + gap, 0, 0}, {10, 0, 0}, {0, 10, 0})},
      1);
}

}  // namespace

TEST_CASE("the gap between two edges is measured along them before anything is joined") {
  const Body apart = two_sheets(1.5);
  const std::vector<EdgeGap> gaps = edge_gaps(apart, 3.0, progress);
  REQUIRE(gaps.size() == 2);
  CHECK(gaps[0].greatest == Approx(1.5).epsilon(1e-9));
  CHECK(gaps[0].mean == Approx(1.5).epsilon(1e-9));
  CHECK(distance(gaps[0].at, gaps[0].to) == Approx(1.5).epsilon(1e-9));
  CHECK(sewn(apart, 0.01, 5, progress).open == 8);
  CHECK(sewn(two_sheets(0.004), 0.01, 5, progress).open == 6);
  CHECK(sewn(two_sheets(0.004), 0.01, 5, progress).gap <= 0.01);
}

TEST_CASE("a long edge is joined to two short ones beside it") {
  const Body body =
      body_of({patch({0, 0, 0}, {10, 0, 0}, {0, 20, 0}), patch({10, 0, 0}, {10, 0, 0}, {0, 10, 0}),
               patch({10, 10, 0}, {10, 0, 0}, {0, 10, 0})},
              1);
  const SewnBody made = sewn(body, 0.01, 5, progress);
  CHECK(topology(made.body).shells.size() == 1);
  CHECK(area_of(made.body) == Approx(400.0).epsilon(1e-9));
  for (const Face& f : body.faces) CHECK(holds(made.body, f.tag));
}

TEST_CASE("a box taken apart has six faces by themselves, and joins again to the same solid") {
  const Body a = box({0, 0, 0}, {10, 20, 30}, 1);
  const Body loose = taken_apart(a, {}, 4);
  CHECK(topology(loose).shells.size() == 6);
  CHECK(topology(loose).open_edges.size() == 24);
  const Body one_off = taken_apart(a, {0}, 4);
  CHECK(topology(one_off).shells.size() == 2);
  CHECK(topology(one_off).open_edges.size() == 8);
  const SewnBody again = sewn(loose, 0.01, 5, progress);
  CHECK(again.open == 0);
  CHECK(is_closed_solid(again.body));
  CHECK(volume_of(again.body) == Approx(6000.0).epsilon(1e-9));
}

TEST_CASE("an edge in three pieces keeps its length, and merges again") {
  const Body a = box({0, 0, 0}, {10, 20, 30}, 1);
  const Body split = with_split_edge(a, 0, {0.25, 0.5}, 7);
  CHECK(split.edges.size() == a.edges.size() + 2);
  CHECK(is_closed_solid(split));
  CHECK(kernel_accepts(split));
  CHECK(volume_of(split) == Approx(6000.0).epsilon(1e-9));
  const MergedEdges merged = with_merged_edges(split, {}, 0.1, progress);
  CHECK(merged.merged == 2);
  CHECK(merged.body.edges.size() == a.edges.size());
  CHECK(is_closed_solid(merged.body));
  CHECK_THROWS_WITH(with_split_edge(a, 0, {1.0}, 7), Contains("very end"));
  CHECK_THROWS_WITH(with_split_edge(a, 99, {0.5}, 7), Contains("no such edge"));
}

TEST_CASE("edges that meet at a corner are not merged and the angle is said") {
  // A sheet of its own: its corners lie between the same (one) face.
  const MergedEdges merged = with_merged_edges(sheet(10.0), {}, 0.1, progress);
  CHECK(merged.merged == 0);
  CHECK(merged.refused == 4);
  CHECK(merged.worst_refused == Approx(90.0).epsilon(1e-9));
}

TEST_CASE("edges that lie 1.5 mm inside their face go to its own border, and then join") {
  Body body = with_explicit_borders(two_sheets(0.0), 1e-12);
  body = taken_apart(body, {}, 3);
  // The first face's edges drawn in by 1.5 mm of 10.
  for (EdgeUse& use : body.faces[0].loops[0])
    for (Vec3& p : use.uv.points) p = Vec3{0.15, 0.15, 0} + p * 0.7;
  refresh_edges(body);
  CHECK(area_of(body) == Approx(49.0 + 100.0).epsilon(1e-9));
  CHECK(sewn(body, 0.01, 5, progress).open == 8);
  const RefreshedEdges fresh = with_refreshed_edges(body, 2.0);
  CHECK(fresh.borders == 2);
  CHECK(area_of(fresh.body) == Approx(200.0).epsilon(1e-9));
  CHECK(sewn(fresh.body, 0.01, 5, progress).open == 6);
}

TEST_CASE("a raised face has walls, and the solid its volume more") {
  const Body a = box({0, 0, 0}, {10, 20, 30}, 1);
  for (const double mm : {2.0, -2.0}) {
    const Body raised_box = raised(a, {1}, mm, offset_by, 0.01, 6, progress);
    CHECK(volume_of(raised_box) == Approx(200.0 * (30.0 + mm)).epsilon(1e-9));
    CHECK(is_closed_solid(raised_box));
    CHECK(raised_box.faces.size() == 10);
    for (const Face& f : a.faces) CHECK(holds(raised_box, f.tag));
  }
  CHECK_THROWS_WITH(raised(a, {0, 1, 2, 3, 4, 5}, 1.0, offset_by, 0.01, 6, progress),
                    Contains("All faces"));
  CHECK_THROWS_WITH(raised(a, {1, 2}, 1.0, offset_by, 0.01, 6, progress),
                    Contains("meet at an angle"));
}

TEST_CASE("the joints of a box are square, those of a split face are smooth") {
  const std::vector<Joint> joints = joints_of(box({0, 0, 0}, {10, 20, 30}, 1), 8, progress);
  CHECK(joints.size() == 12);
  for (const Joint& j : joints) {
    CHECK(j.measured.angle == Approx(90.0).epsilon(1e-9));
    CHECK(j.measured.level == 0);
  }
  const SewnBody flat = sewn(two_sheets(0.0), 0.01, 5, progress);
  const std::vector<Joint> smooth = joints_of(flat.body, 8, progress);
  REQUIRE(smooth.size() == 1);
  CHECK(smooth[0].measured.level == 3);
  CHECK(smooth[0].length == Approx(10.0).epsilon(1e-9));
}
