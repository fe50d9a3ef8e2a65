// Patterns on several faces that an opening crosses. Areas by the formulas of circle and rectangle.
#include "core/pattern/border_cut.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>

#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/split.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/pattern/flow.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

Progress progress;

BasedTile flat_tile(double x, double y) {
  Frame middle;
  middle.origin = {x / 2, y / 2, 0};
  const TriangleMesh flat = tessellate(make_plane(middle, x, y, 4, 4, 3, 3),
                                       {.per_span_u = 3, .per_span_v = 3}, progress);
  return over_base(flat, base_of(flat));
}

double mesh_area(const TriangleMesh& m) {
  double sum = 0.0;
  for (const auto& t : m.triangles)
    sum += 0.5 * length(cross(m.points[t[1]] - m.points[t[0]], m.points[t[2]] - m.points[t[0]]));
  return sum;
}

// A sheet of 80 × 60 about 0 made of 2 × 2 faces, joined; the second column is the wider one.
Body four_faces() {
  return with_explicit_borders(body_of({patch({-40, -30, 0}, {30, 0, 0}, {0, 25, 0}),
                                        patch({-10, -30, 0}, {50, 0, 0}, {0, 25, 0}),
                                        patch({-40, -5, 0}, {30, 0, 0}, {0, 35, 0}),
                                        patch({-10, -5, 0}, {50, 0, 0}, {0, 35, 0})},
                                       1),
                               1e-9);
}

Body with_hole(const Body& body, const Vec3& at, double radius) {
  return split(body, {.curves = {make_circle({at}, radius)}}, {.keep = SplitKeep::First, .step = 3},
               progress)
      .body;
}

std::vector<std::size_t> all_faces(const Body& body) {
  std::vector<std::size_t> all;
  for (std::size_t f = 0; f < body.faces.size(); ++f) all.push_back(f);
  return all;
}

}  // namespace

TEST_CASE("tiles are cut along an opening that lies across the faces of the target") {
  // About the corner that all four share, then across one joint, then in one face alone.
  for (const Vec3 at : {Vec3{-10, -5, 0}, Vec3{20, -5, 0}, Vec3{15, 12, 0}}) {
    INFO(at.x << ", " << at.y);
    const double r = 8.5;
    const Body body = with_hole(four_faces(), at, r);
    REQUIRE(body.faces.size() == 4);
    const Chart chart = chart_of(body, all_faces(body), 1e-6);
    REQUIRE_FALSE(chart.single());
    for (const bool even : {false, true}) {
      FlowOptions o;
      o.count_u = 9;
      o.count_v = 7;
      o.even = even;
      o.made = whole_tiles(chart, o);
      REQUIRE_FALSE(o.made.empty());
      o.cut = flat_border(chart, o);
      REQUIRE(o.cut);
      const TriangleMesh m = flow(flat_tile(8, 6), chart, o, {}, progress);
      // The opening's polygon leaves the circle by a 1e-5th of the sheet.
      CHECK(mesh_area(m) == Approx(80.0 * 60.0 - std::numbers::pi * r * r).margin(0.1));
      for (const Vec3& p : m.points) CHECK(distance(p, at) > r - 2e-3);
      // Nothing is open but the outer border and the opening.
      std::map<std::pair<std::uint32_t, std::uint32_t>, int> uses;
      for (const auto& t : m.triangles)
        for (std::size_t k = 0; k < 3; ++k)
          ++uses[{std::min(t[k], t[(k + 1) % 3]), std::max(t[k], t[(k + 1) % 3])}];
      for (const auto& [e, n] : uses) {
        if (n != 1) continue;
        const Vec3 middle = (m.points[e.first] + m.points[e.second]) * 0.5;
        const bool outer = std::abs(middle.x) > 40 - 1e-6 || std::abs(middle.y) > 30 - 1e-6;
        CHECK((outer || std::abs(distance(middle, at) - r) < 0.05));
      }
    }
  }
}

TEST_CASE(
    "an opening at the outer border leaves a notch, and whole faces have no border to cut along") {
  const Body whole = four_faces();
  const Chart chart = chart_of(whole, all_faces(whole), 1e-6);
  FlowOptions o;
  o.count_u = 5;
  o.count_v = 4;
  // Joined faces have their borders as loops, so the border is their common rectangle.
  const auto border = flat_border(chart, o);
  REQUIRE(border);
  REQUIRE(border->loops.size() == 1);
  double low = 1e9, high = -1e9;
  for (const Parameter& p : border->loops[0]) {
    low = std::min({low, p.u, p.v});
    high = std::max(high, p.u / o.count_u);
  }
  CHECK(low == Approx(0.0).margin(1e-8));
  CHECK(high == Approx(1.0).margin(1e-8));
  CHECK_FALSE(flat_border(chart_of(make_plane({}, 10, 10, 4, 4, 3, 3)), o));

  const double r = 9.0;
  const Body notched = with_hole(whole, {40, -5, 0}, r);
  const Chart with_notch = chart_of(notched, all_faces(notched), 1e-6);
  o.made = whole_tiles(with_notch, o);
  o.cut = flat_border(with_notch, o);
  REQUIRE(o.cut);
  const TriangleMesh m = flow(flat_tile(8, 6), with_notch, o, {}, progress);
  CHECK(mesh_area(m) == Approx(4800.0 - 0.5 * std::numbers::pi * r * r).margin(0.1));
}

TEST_CASE("a region that begins inside a column is cut as the whole would be there") {
  const double r = 8.5;
  const Body body = with_hole(four_faces(), {-10, -5, 0}, r);
  const Chart chart = chart_of(body, all_faces(body), 1e-6);
  FlowOptions o;
  o.count_u = 6;
  o.count_v = 5;
  o.region = {0.25, 0.75, 0.25, 1.0};  // x from −20 to 20, y from −15 to 30
  o.made = whole_tiles(chart, o);
  o.cut = flat_border(chart, o);
  REQUIRE(o.cut);
  const TriangleMesh m = flow(flat_tile(8, 6), chart, o, {}, progress);
  CHECK(mesh_area(m) == Approx(40.0 * 45.0 - std::numbers::pi * r * r).margin(0.1));
}
