// Shells whose rims lie in the plane of the opening. Volumes by the formulas of elementary solid geometry.
#include <catch2/catch.hpp>
#include <numbers>

#include "core/body/region.h"
#include "core/cut/split.h"
#include "core/cut/thicken.h"
#include "core/grid/extend.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/body_picks.h"
#include "solids_support.h"
#include "support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

constexpr double kPi = std::numbers::pi;
Progress progress;

Surface coarsely(const Surface& s, double mm) {
  return offset(s, mm, 1e-3, progress).surface;
}

// What of a ball of radius r about 0 lies below z.
double ball_below(double r, double z) {
  return kPi * (2.0 / 3.0 * r * r * r + r * r * z - z * z * z / 3.0);
}

double frustum(double r0, double r1, double h) {
  return kPi * h / 3.0 * (r0 * r0 + r0 * r1 + r1 * r1);
}

Body cut_at(const Body& body, double z) {
  return split(body, {.plane = Frame{{0, 0, z}}}, {.keep = SplitKeep::Second, .step = 2}, progress)
      .body;
}

// The face that lies in the plane of this height.
std::size_t flat_at(const Body& body, double z) {
  for (std::size_t f = 0; f < body.faces.size(); ++f) {
    const Box3 b = tight_box(body.faces[f], body, progress);
    if (std::abs(b.min.z - z) < 1e-6 && std::abs(b.max.z - z) < 1e-6) return f;
  }
  FAIL("no flat face at " << z);
  return 0;
}

// Greatest distance of the edges of a face from the plane of a height.
double off_plane(const Body& body, Tag tag, double z) {
  const int f = face_with_tag(body, tag);
  REQUIRE(f >= 0);
  double off = 0.0;
  for (const Loop& loop : body.faces[static_cast<std::size_t>(f)].loops)
    for (const EdgeUse& use : loop) {
      const Curve& c = body.edges[use.edge].curve;
      for (int n = 0; n <= 200; ++n)
        off = std::max(off,
                       std::abs(evaluate(c, c.knots.first() + c.knots.length() * n / 200.0).z - z));
    }
  return off;
}

// A cone's frustum about z as a closed body: one surface, two caps.
Body frustum_body(double r0, double r1, double h) {
  Surface s = make_cylinder({}, r0, h);
  const bool up_is_v = s.points(0, 0).z != s.points(0, s.points.columns() - 1).z;
  REQUIRE(up_is_v);
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      Vec3& p = s.points(i, j);
      const double scale = 1.0 + (r1 / r0 - 1.0) * p.z / h;
      p = {p.x * scale, p.y * scale, p.z};
    }
  return capped(with_explicit_borders(body_of({s}, 1), 1e-9), 1e-6, 1).body;
}

}  // namespace

TEST_CASE("the rim of a hollowed ball lies in the plane of its opening, wherever that is") {
  for (const double h : {0.0, 8.0, -9.0, 14.0}) {
    INFO(h);
    const Body cut = cut_at(ball({0, 0, 0}, 20.0, 1), h);
    const std::size_t flat = flat_at(cut, h);
    const Thickened t = shelled(cut, {flat}, 2.0, coarsely, {}, 0.01, 5, progress);
    CHECK(is_closed_solid(t.body));
    CHECK(kernel_accepts(t.body));
    CHECK(t.rim_off == 0.0);
    CHECK_FALSE(t.by_kernel);
    CHECK(volume_of(t.body) == Approx(ball_below(20.0, h) - ball_below(18.0, h)).epsilon(2e-4));
    // The rim is what is left of the face that was opened: it keeps its name, and so its colour.
    if (h != 0.0) CHECK(off_plane(t.body, cut.faces[flat].tag, h) < 1e-6);
  }
}

TEST_CASE("faces that meet smoothly at an opening end in its plane together") {
  const Surface whole = opened(make_sphere({}, 20.0), Direction::U, 0.0);
  const auto [left, right] = split(whole, Direction::U, whole.u.first() + 0.5 * whole.u.length());
  const Body two = with_explicit_borders(body_of({left, right}, 1), 1e-9);
  REQUIRE(topology(two).closed);
  for (const double h : {9.0, -6.0}) {
    INFO(h);
    const Body cut = cut_at(two, h);
    const std::size_t flat = flat_at(cut, h);
    const Thickened t = shelled(cut, {flat}, 2.0, coarsely, {}, 0.01, 5, progress);
    CHECK(is_closed_solid(t.body));
    CHECK(kernel_accepts(t.body));
    CHECK(t.rim_off == 0.0);
    CHECK(volume_of(t.body) == Approx(ball_below(20.0, h) - ball_below(18.0, h)).epsilon(2e-4));
    CHECK(off_plane(t.body, cut.faces[flat].tag, h) < 1e-6);
  }
}

TEST_CASE("a skin that falls short of the plane is carried on to it: a conical tube") {
  const double r0 = 20.0, r1 = 30.0, h = 25.0, thick = 2.0;
  const Body cone = frustum_body(r0, r1, h);
  const std::size_t low = flat_at(cone, 0.0), high = flat_at(cone, h);
  // Along z a wall of this thickness is wider by the root of 1 + slope².
  const double slope = (r1 - r0) / h;
  const double in = thick * std::sqrt(1.0 + slope * slope);
  const double expected = frustum(r0, r1, h) - frustum(r0 - in, r1 - in, h);
  const Thickened t =
      shelled(cone, {low, high}, thick, coarsely, grow_within(0.01, progress), 0.01, 5, progress);
  CHECK(is_closed_solid(t.body));
  CHECK(kernel_accepts(t.body));
  CHECK(t.rim_off == 0.0);
  CHECK(volume_of(t.body) == Approx(expected).epsilon(1e-4));
  CHECK(off_plane(t.body, cone.faces[low].tag, 0.0) < 1e-6);
  CHECK(off_plane(t.body, cone.faces[high].tag, h) < 1e-6);
  // The given skin stays as it is.
  const int side = face_with_tag(t.body, cone.faces[3U - low - high].tag);
  REQUIRE(side >= 0);
  CHECK(t.body.faces[static_cast<std::size_t>(side)].surface ==
        cone.faces[3U - low - high].surface);

  // Without a way to carry it on one rim stays square, and says by how much: t sin of the slope.
  const Thickened square = shelled(cone, {low, high}, thick, coarsely, {}, 0.01, 5, progress);
  CHECK(is_closed_solid(square.body));
  CHECK(square.rim_off == Approx(thick * slope / std::sqrt(1.0 + slope * slope)).margin(1e-6));
}

TEST_CASE("where the second skin does not reach the plane of the opening the rim stays square") {
  // A ball's cap of 2 mm radius taken off: a skin 2 mm inside ends 1.9 mm beneath.
  const double h = 19.9;
  const Body cut = cut_at(ball({0, 0, 0}, 20.0, 1), h);
  const Thickened t = shelled(cut, {flat_at(cut, h)}, 2.0, coarsely, {}, 0.01, 5, progress);
  CHECK(is_closed_solid(t.body));
  CHECK(t.rim_off == Approx(2.0 * h / 20.0).margin(1e-6));
}

TEST_CASE("walls that stand square to the plane of the opening stay as they were") {
  const Body tube = cylinder({}, 10.0, 30.0, 1);
  const std::size_t low = flat_at(tube, 0.0), high = flat_at(tube, 30.0);
  const Thickened t =
      shelled(tube, {low, high}, 1.0, coarsely, grow_within(0.01, progress), 0.01, 5, progress);
  CHECK(is_closed_solid(t.body));
  CHECK(t.rim_off == 0.0);
  CHECK(volume_of(t.body) == Approx(kPi * 30.0 * (100.0 - 81.0)).epsilon(1e-4));
  CHECK_FALSE(holds(t.body, tube.faces[high].tag));  // walls of their own, as in earlier projects
}
