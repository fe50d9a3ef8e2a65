// Rings of open edges and faces put into them: perimeters and areas by formula.
#include "core/cut/openings.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/cut/thicken.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

constexpr double kPi = std::numbers::pi;

Body tube(double radius, double height, const Vec3& at = {}) {
  Frame frame;
  frame.origin = at;
  return with_explicit_borders(body_of({make_cylinder(frame, radius, height)}, 1), 1e-9);
}

// Faces of both, not joined.
Body beside(Body a, const Body& b) {
  const auto first = static_cast<std::uint32_t>(a.edges.size());
  for (Edge e : b.edges) {
    e.tag += 1000;
    a.edges.push_back(e);
  }
  for (Face f : b.faces) {
    f.tag += 1000;
    for (Loop& loop : f.loops)
      for (EdgeUse& use : loop) use.edge += first;
    a.faces.push_back(f);
  }
  return a;
}

}  // namespace

TEST_CASE("a tube has two round openings, flat, with the length of their circles") {
  const Body body = tube(7.0, 20.0);
  const std::vector<Opening> rings = openings(body);
  REQUIRE(rings.size() == 2);
  for (const Opening& o : rings) {
    CHECK(o.length == Approx(2.0 * kPi * 7.0).epsilon(1e-5));
    CHECK(o.flat(1e-6));
    CHECK(std::abs(o.plane.z.z) == Approx(1.0));
    CHECK(opening_of(rings, o.edges.front()) == &o);
  }
  CHECK(openings(box({}, {10, 10, 10}, 1)).empty());
  // The longest comes first.
  const std::vector<Opening> two = openings(beside(tube(3.0, 5.0), tube(9.0, 5.0, {40, 0, 0})));
  REQUIRE(two.size() == 4);
  for (std::size_t k = 0; k + 1 < two.size(); ++k) CHECK(two[k].length >= two[k + 1].length - 1e-9);
  CHECK(opening_of(two, 12345) == nullptr);
}

TEST_CASE("capped, a tube is a cylinder of volume π r² h") {
  const Capped made = capped(tube(7.0, 20.0), 1e-6, 5);
  CHECK(made.added.size() == 2);
  CHECK(made.left.empty());
  CHECK(is_closed_solid(made.body));
  CHECK(volume_of(made.body) == Approx(kPi * 49.0 * 20.0).epsilon(1e-6));
  for (const std::size_t f : made.added) {
    CHECK(area_of(without_faces(made.body, [&] {
            std::vector<std::size_t> others;
            for (std::size_t k = 0; k < made.body.faces.size(); ++k)
              if (k != f) others.push_back(k);
            return others;
          }())) == Approx(kPi * 49.0).epsilon(1e-6));
  }
}

TEST_CASE("of two tubes in one another rings become the caps: a thick tube") {
  Body inner = tube(4.0, 20.0);
  for (Face& f : inner.faces) f.flipped = !f.flipped;
  const Capped made = capped(beside(tube(7.0, 20.0), inner), 1e-6, 5);
  CHECK(made.added.size() == 2);
  for (const std::size_t f : made.added) CHECK(made.body.faces[f].loops.size() == 2);
  CHECK(is_closed_solid(made.body));
  CHECK(volume_of(made.body) == Approx(kPi * (49.0 - 16.0) * 20.0).epsilon(1e-6));
  // Side by side each gets caps of its own.
  const Capped apart = capped(beside(tube(7.0, 20.0), tube(4.0, 20.0, {30, 0, 0})), 1e-6, 5);
  CHECK(apart.added.size() == 4);
  CHECK(volume_of(apart.body) == Approx(kPi * (49.0 + 16.0) * 20.0).epsilon(1e-6));
}

TEST_CASE("an opening that is not flat is left and shown") {
  Surface s = make_cylinder({}, 7.0, 20.0);
  for (int i = 0; i < s.points.rows(); ++i)
    s.points(i, s.points.columns() - 1).z += i % 2 == 0 ? 1.0 : -1.0;
  const Body bent = with_explicit_borders(body_of({s}, 1), 1e-9);
  const Capped made = capped(bent, 1e-3, 5);
  CHECK(made.added.size() == 1);
  REQUIRE(made.left.size() == 1);
  CHECK(made.left[0].off_plane > 0.1);
  CHECK_FALSE(topology(made.body).closed);
}

TEST_CASE("of two joined faces one walks an edge forward and the other back") {
  const Body body = box({}, {10, 20, 30}, 1);
  const Topology t = topology(body);
  REQUIRE(t.joined_edges.size() == 12);
  for (const std::uint32_t e : t.joined_edges) {
    REQUIRE(t.uses[e].size() == 2);
    CHECK(walks_forward(body, t.uses[e][0]) != walks_forward(body, t.uses[e][1]));
  }
}
