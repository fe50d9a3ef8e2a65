// Skins of flat faces given a thickness, and faces split at the corners of their surface, against volumes by formula.
#include <catch2/catch.hpp>
#include <cmath>
#include <regex>

#include "core/base/error.h"
#include "core/cut/edge_edit.h"
#include "core/cut/flat_skin.h"
#include "core/cut/sharp_lines.h"
#include "core/cut/thicken.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/knot_vector.h"
#include "core/source/in_between.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;

namespace {

Thickened thick(const Body& body, double mm, ThickenSide side) {
  Progress progress;
  const OffsetSurface carried = [&](const Surface& s, double by) {
    return offset(s, by, 0.01, progress).surface;
  };
  return thickened(body, mm, side, carried, 0.01, 7, progress);
}

// One surface along a line of corners, 10 mm high.
Surface folded_sheet(const std::vector<Vec3>& corners, bool closed) {
  const auto n = static_cast<int>(corners.size());
  Surface s;
  s.u.degree = 1;
  s.u.knots.push_back(0.0);
  for (int k = 0; k < n; ++k) s.u.knots.push_back(k);
  s.u.knots.push_back(n - 1.0);
  s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
  s.points = Grid<Vec3>(n, 2);
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < 2; ++j)
      s.points(i, j) = corners[static_cast<std::size_t>(i)] + Vec3{0, 0, 10.0 * j};
  return closed ? evenclay::closed(s, Direction::U, 1e-9) : s;
}

void check_solid(const Thickened& t, double volume) {
  CHECK_FALSE(t.by_kernel);
  CHECK(is_closed_solid(t.body));
  CHECK(kernel_accepts(t.body));
  CHECK(greatest_gap(t.body) < 1e-9);
  CHECK(volume_of(t.body) == Approx(volume).margin(1e-6));
}

}  // namespace

TEST_CASE(
    "an open box of flat faces is thickened exactly to any side, its rim in the plane of the "
    "opening") {
  const Body open = without_faces(box({0, 0, 0}, {20, 30, 40}, 1), {1});
  check_solid(thick(open, 2, ThickenSide::Inward), 20.0 * 30 * 40 - 16.0 * 26 * 38);
  check_solid(thick(open, 2, ThickenSide::Outward), 24.0 * 34 * 42 - 20.0 * 30 * 40);
  check_solid(thick(open, 2, ThickenSide::BothSides), 22.0 * 32 * 41 - 18.0 * 28 * 39);
}

TEST_CASE("a sheet of one surface with corners is thickened like the faces it stands for") {
  const Surface angle = folded_sheet({{-25, 0, 0}, {0, 0, 0}, {0, 20, 0}}, false);
  const Body split = split_at_sharp_lines(body_of({angle}, 3), 4);
  REQUIRE(split.faces.size() == 2);
  CHECK(split.faces[0].tag == body_of({angle}, 3).faces[0].tag);
  // Legs of 25 and 20 mm: the corner counts once inside, and is added outside.
  check_solid(thick(body_of({angle}, 3), 2, ThickenSide::Inward), 10 * (45 * 2 - 4));
  check_solid(thick(body_of({angle}, 3), 2, ThickenSide::Outward), 10 * (45 * 2 + 4));
  // A tube of 40 × 30 mm, closed, its seam on a side and on a corner.
  for (const std::vector<Vec3>& round :
       {std::vector<Vec3>{{0, 0, 0}, {40, 0, 0}, {40, 30, 0}, {0, 30, 0}, {0, 0, 0}},
        std::vector<Vec3>{
            {20, 0, 0}, {40, 0, 0}, {40, 30, 0}, {0, 30, 0}, {0, 0, 0}, {20, 0, 0}}}) {
    const Body tube = body_of({folded_sheet(round, true)}, 3);
    CHECK(split_at_sharp_lines(tube, 4).faces.size() == 4);
    check_solid(thick(tube, 2, ThickenSide::Inward), 10 * (40.0 * 30 - 36 * 26));
  }
}

TEST_CASE("smooth surfaces and trimmed faces are not split") {
  const Body smooth = body_of({make_cylinder({}, 10, 30), make_sphere({}, 10)}, 2);
  CHECK(split_at_sharp_lines(smooth, 4).faces.size() == 2);
  const Body trimmed =
      with_edges(body_of({folded_sheet({{0, 0, 0}, {9, 0, 0}, {9, 9, 0}}, false)}, 2));
  CHECK(split_at_sharp_lines(trimmed, 4).faces.size() == 1);
}

TEST_CASE(
    "a pyramid's skin moves by the thickness, and one that would turn round is refused with the "
    "room") {
  // Over a square of 20 mm, 10 mm high: every side leans by 45°.
  const std::vector<Vec3> foot{{-10, -10, 0}, {10, -10, 0}, {10, 10, 0}, {-10, 10, 0}};
  std::vector<Surface> sides;
  for (std::size_t k = 0; k < 4; ++k) {
    Surface s;
    s.u = s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
    s.points = Grid<Vec3>(2, 2);
    s.points(0, 0) = foot[k];
    s.points(1, 0) = foot[(k + 1) % 4];
    s.points(0, 1) = s.points(1, 1) = Vec3{0, 0, 10};
    sides.push_back(s);
  }
  const Body tent = with_edges(body_of(sides, 2));
  // The tip has edges without length: that is left to others.
  CHECK_FALSE(flat_skin(tent, 1.0).has_value());

  const Body cube = with_edges(box({0, 0, 0}, {8, 20, 20}, 1));
  const std::optional<Body> inside = flat_skin(cube, -1.0);
  REQUIRE(inside);
  CHECK(volume_of(*inside) == Approx(6.0 * 18 * 18).margin(1e-9));
  CHECK_THROWS_WITH(flat_skin(cube, -4.5), Contains("turn round") && Contains("3.99 mm"));
  CHECK_NOTHROW(flat_skin(cube, -3.99));
  CHECK_FALSE(flat_skin(with_edges(body_of({make_cylinder({}, 10, 30)}, 1)), 1.0).has_value());
}
