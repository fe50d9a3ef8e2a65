// Cuts that are asked for in bad places: tangent, through poles and seams, on faces that coincide, slivers, too thick,
// too round. Each either gives a sound result of the right size or is refused with a sentence.
#include <catch2/catch.hpp>
#include <cmath>
#include <functional>
#include <numbers>

#include "core/base/error.h"
#include "core/cut/combine.h"
#include "core/cut/edge_edit.h"
#include "core/cut/round.h"
#include "core/cut/split.h"
#include "core/cut/thicken.h"
#include "core/nurbs/hermite.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
constexpr double kPi = std::numbers::pi;

namespace {

Progress progress;

struct Case {
  std::string name;
  std::function<Body()> cut;
  double volume = -1.0;  ///< of a closed result; below 0 unknown
};

Frame along(const Vec3& origin, const Vec3& z) {
  Frame f;
  f.origin = origin;
  f.z = normalized(z);
  const Vec3 other = std::abs(f.z.x) < 0.9 ? Vec3{1, 0, 0} : Vec3{0, 1, 0};
  f.x = normalized(cross(other, f.z));
  f.y = cross(f.z, f.x);
  return f;
}

Body torus(int step) {
  return body_of({make_torus({}, 20.0, 6.0)}, step);
}

Body cone(int step) {
  return capped(with_explicit_borders(body_of({make_cone({}, 10.0, 20.0)}, step), 1e-9), 1e-6, step)
      .body;
}

Body combine(const Body& a, const Body& b, Combine how) {
  return combined(a, std::vector{b}, how, 0.01, 9, progress).body;
}

Body plane_cut(const Body& body, const Frame& f, SplitKeep keep = SplitKeep::First) {
  return split(body, {.plane = f}, {.keep = keep, .step = 9}, progress).body;
}

Body curve_cut(const Body& body, const Curve& c, const Vec3& way, double gap = 0.0) {
  return split(body, {.curves = {c}, .direction = way}, {.gap = gap, .step = 9}, progress).body;
}

Body thick(const Body& body, double mm, ThickenSide side) {
  return thickened(body, mm, side, offset_by, 0.01, 9, progress).body;
}

Body rounded(const Body& body, std::vector<std::size_t> edges, double r, double end = 0.0) {
  return with_cut_edges(body, edges, {EdgeCut::Round, r, end > 0.0 ? end : r, 9}, progress);
}

std::vector<std::size_t> all_edges(const Body& body) {
  std::vector<std::size_t> edges;
  for (std::size_t e = 0; e < body.edges.size(); ++e) edges.push_back(e);
  return edges;
}

std::vector<Case> planes() {
  const Body b = ball({}, 10.0, 1);
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  return {
      {"plane through the poles of a ball",
       [=] {
         return plane_cut(b, along({}, {1, 0, 0}));
       },
       2000.0 / 3.0 * kPi},
      {"plane along the seam of a ball",
       [=] {
         return plane_cut(b, along({}, {0, 1, 0}));
       },
       2000.0 / 3.0 * kPi},
      {"plane through the poles at an odd angle",
       [=] {
         return plane_cut(b, along({}, {0.31, 0.77, 0}));
       },
       2000.0 / 3.0 * kPi},
      {"plane that touches a ball",
       [=] {
         return plane_cut(b, along({0, 0, 10}, {0, 0, 1}));
       }},
      {"plane that nearly touches a ball",
       [=] {
         return plane_cut(b, along({0, 0, 9.9999}, {0, 0, 1}), SplitKeep::Second);
       },
       4000.0 / 3.0 * kPi},
      {"plane on a face of a box",
       [=] {
         return plane_cut(a, along({0, 0, 10}, {0, 0, 1}));
       }},
      {"plane a hair inside a box",
       [=] {
         return plane_cut(a, along({0, 0, 9.999}, {0, 0, 1}), SplitKeep::Second);
       },
       999.9},
      {"plane through an edge of a box",
       [=] {
         return plane_cut(a, along({10, 10, 5}, {1, 1, 0}));
       }},
      {"plane through the diagonal of a box",
       [=] {
         return plane_cut(a, along({5, 5, 5}, {1, -1, 0}));
       },
       500.0},
      {"plane through four corners and two edges",
       [=] {
         return plane_cut(a, along({0, 0, 0}, {1, 0, -1}));
       },
       500.0},
      {"plane through one corner",
       [=] {
         return plane_cut(a, along({0, 0, 0}, {1, 1, 1}));
       }},
      {"plane across a torus's hole",
       [=] {
         return plane_cut(torus(1), along({}, {1, 0, 0}));
       },
       kPi * kPi * 36.0 * 20.0},
      {"plane in the middle of a torus",
       [=] {
         return plane_cut(torus(1), along({}, {0, 0, 1}));
       },
       kPi * kPi * 36.0 * 20.0},
      {"plane that touches a torus inside",
       [=] {
         return plane_cut(torus(1), along({14, 0, 0}, {1, 0, 0}));
       }},
      {"plane on top of a torus",
       [=] {
         return plane_cut(torus(1), along({0, 0, 6}, {0, 0, 1}));
       }},
      {"plane through a cone's tip",
       [=] {
         return plane_cut(cone(1), along({}, {1, 0, 0}));
       },
       kPi * 100.0 * 20.0 / 6.0},
      {"plane at a cone's tip",
       [=] {
         return plane_cut(cone(1), along({0, 0, 20}, {0, 0, 1}));
       }},
      {"plane far away",
       [=] {
         return plane_cut(a, along({500, 0, 0}, {1, 0, 0}));
       }},
  };
}

std::vector<Case> solids() {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Body b = ball({5, 5, 5}, 5.0, 2);
  return {
      {"a box with itself united", [=] { return combine(a, a, Combine::Unite); }, 1000.0},
      {"a box with itself subtracted", [=] { return combine(a, a, Combine::Subtract); }},
      {"a box with itself intersected", [=] { return combine(a, a, Combine::Intersect); }, 1000.0},
      {"boxes side by side",
       [=] {
         return combine(a, box({10, 0, 0}, {10, 10, 10}, 2), Combine::Unite);
       },
       2000.0},
      {"boxes that share an edge",
       [=] {
         return combine(a, box({10, 10, 0}, {10, 10, 10}, 2), Combine::Unite);
       }},
      {"boxes that share a corner",
       [=] {
         return combine(a, box({10, 10, 10}, {10, 10, 10}, 2), Combine::Unite);
       }},
      {"boxes with a sliver between",
       [=] {
         return combine(a, box({10.0005, 0, 0}, {10, 10, 10}, 2), Combine::Unite);
       },
       2000.0},
      {"boxes that overlap by a hair",
       [=] {
         return combine(a, box({9.9999, 0, 0}, {10, 10, 10}, 2), Combine::Intersect);
       }},
      {"a ball that touches all sides of a box", [=] { return combine(a, b, Combine::Subtract); }},
      {"a ball that touches a side from outside",
       [=] {
         return combine(a, ball({15, 5, 5}, 5.0, 2), Combine::Unite);
       }},
      {"balls that touch",
       [=] {
         return combine(ball({}, 5.0, 1), ball({10, 0, 0}, 5.0, 2), Combine::Unite);
       }},
      {"balls of one middle",
       [=] { return combine(ball({}, 5.0, 1), ball({}, 4.0, 2), Combine::Subtract); },
       4.0 / 3.0 * kPi * 61.0},
      {"one ball twice",
       [=] { return combine(ball({}, 5.0, 1), ball({}, 5.0, 2), Combine::Intersect); },
       4.0 / 3.0 * kPi * 125.0},
      {"a hole along an edge",
       [=] {
         return combine(a, cylinder({{0, 0, -1}}, 2.0, 12.0, 2), Combine::Subtract);
       },
       1000.0 - kPi * 10.0},
      {"a hole that touches a side",
       [=] {
         return combine(a, cylinder({{2, 5, -1}}, 2.0, 12.0, 2), Combine::Subtract);
       }},
      {"a hole through a ball's poles",
       [=] {
         return combine(ball({}, 5.0, 1), cylinder({{0, 0, -9}}, 3.0, 18.0, 2), Combine::Subtract);
       },
       kPi * 512.0 / 6.0},
      {"a hole as wide as the ball",
       [=] {
         return combine(ball({}, 5.0, 1), cylinder({{0, 0, -9}}, 5.0, 18.0, 2), Combine::Subtract);
       }},
      {"a hole that ends on the far side",
       [=] {
         return combine(a, cylinder({{5, 5, 0}}, 2.0, 12.0, 2), Combine::Subtract);
       },
       1000.0 - kPi * 40.0},
      {"cylinders of one axis",
       [=] {
         return combine(cylinder({}, 5.0, 10.0, 1), cylinder({{0, 0, 5}}, 5.0, 10.0, 2),
                        Combine::Unite);
       },
       kPi * 25.0 * 15.0},
      {"cylinders beside each other that touch",
       [=] {
         return combine(cylinder({}, 5.0, 10.0, 1), cylinder({{10, 0, 0}}, 5.0, 10.0, 2),
                        Combine::Unite);
       }},
  };
}

std::vector<Case> curves() {
  const Body flat = sheet(40.0);
  const Body b = ball({}, 10.0, 1);
  Curve eight = make_curve({{-10, -6, 0}, {10, 6, 0}, {10, -6, 0}, {-10, 6, 0}}, 2, true);
  return {
      {"curve through a pole",
       [=] {
         return curve_cut(b, make_circle({{3, 0, 0}}, 3.0), {0, 0, 1});
       },
       4000.0 / 3.0 * kPi},
      {"curve round a pole",
       [=] {
         return curve_cut(b, make_circle({}, 3.0), {0, 0, 1});
       },
       4000.0 / 3.0 * kPi},
      {"curve that touches the silhouette",
       [=] {
         return curve_cut(b, make_circle({{5, 0, 0}}, 5.0), {0, 0, 1});
       }},
      {"curve half off the part",
       [=] {
         return curve_cut(b, make_circle({{9, 0, 0}}, 5.0), {0, 0, 1});
       },
       4000.0 / 3.0 * kPi},
      {"curve that leaves the sheet",
       [=] {
         return curve_cut(flat, make_circle({{20, 0, 0}}, 5.0), {0, 0, 1});
       }},
      {"curve on the sheet's border",
       [=] {
         return curve_cut(flat, line_curve({-20, -20, 0}, {20, -20, 0}), {0, 0, 1});
       }},
      {"line through a corner",
       [=] {
         return curve_cut(flat, line_curve({-20, -20, 0}, {20, 20, 0}), {0, 0, 1});
       }},
      {"line seen end on",
       [=] {
         return curve_cut(flat, line_curve({0, 0, -5}, {0, 0, 5}), {0, 0, 1});
       }},
      {"curve that crosses itself",
       [=] {
         return curve_cut(flat, eight, {0, 0, 1});
       }},
      {"gap wider than the curve",
       [=] {
         return curve_cut(flat, make_circle({}, 2.0), {0, 0, 1}, 5.0);
       }},
      {"gap that eats the sheet",
       [=] {
         return curve_cut(flat, line_curve({0, -5, 0}, {0, 5, 0}), {0, 0, 1}, 90.0);
       }},
      {"gap of a hair",
       [=] {
         return curve_cut(flat, make_circle({}, 5.0), {0, 0, 1}, 1e-4);
       }},
      {"tiny circle",
       [=] {
         return curve_cut(flat, make_circle({}, 0.001), {0, 0, 1});
       }},
  };
}

std::vector<Case> skins() {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Body dome = without_faces(plane_cut(ball({}, 10.0, 1), along({}, {0, 0, 1})), {1});
  Surface needle = make_plane({}, 40.0, 0.01, 2, 2, 1, 1);
  return {
      {"as thick as the least radius", [=] { return thick(dome, 10.0, ThickenSide::Inward); }},
      {"thicker than the least radius", [=] { return thick(dome, 12.0, ThickenSide::Inward); }},
      {"outward by far", [=] { return thick(dome, 50.0, ThickenSide::Outward); }},
      {"a hair thick", [=] { return thick(dome, 0.001, ThickenSide::Inward); }},
      {"a sliver of a sheet",
       [=] { return thick(body_of({needle}, 1), 1.0, ThickenSide::Inward); }},
      {"a box inward by half its side", [=] { return thick(a, 5.0, ThickenSide::Inward); }},
      {"a box both ways", [=] { return thick(a, 1.0, ThickenSide::BothSides); }},
      {"a box open at three sides",
       [=] {
         return shelled(a, {1, 3, 5}, 1.0, offset_by, {}, 0.01, 9, progress).body;
       }},
      {"a box of which one side stays",
       [=] {
         return shelled(a, {0, 1, 2, 3, 4}, 1.0, offset_by, {}, 0.01, 9, progress).body;
       }},
      {"walls thicker than the box",
       [=] { return shelled(a, {1}, 6.0, offset_by, {}, 0.01, 9, progress).body; }},
      {"a shell of a torus", [=] { return thick(torus(1), 1.0, ThickenSide::Inward); },
       2.0 * kPi * kPi * 20.0 * (36.0 - 25.0)},
      {"a torus thicker than its tube", [=] { return thick(torus(1), 7.0, ThickenSide::Inward); }},
  };
}

std::vector<Case> rounds() {
  const Body a = box({0, 0, 0}, {10, 10, 10}, 1);
  const Body c = cylinder({}, 5.0, 10.0, 1);
  return {
      {"all edges of a box", [=] { return rounded(a, all_edges(a), 1.0); }},
      {"rounds that just meet", [=] { return rounded(a, all_edges(a), 5.0); }},
      {"rounds that run into each other", [=] { return rounded(a, all_edges(a), 5.5); }},
      {"a round of half the side on one edge", [=] { return rounded(a, {0}, 5.0); }},
      {"a round as large as the side", [=] { return rounded(a, {0}, 10.0); }},
      {"a cylinder's rim", [=] { return rounded(c, all_edges(c), 1.0); }},
      {"a cylinder's rim by its radius", [=] { return rounded(c, all_edges(c), 5.0); }},
      {"a round from nothing to much", [=] { return rounded(a, {0}, 0.001, 4.0); }},
      {"a hair of a round", [=] { return rounded(a, {0}, 0.001); }, 1000.0},
      {"a chamfer of the whole side",
       [=] {
         return with_cut_edges(a, {0}, {EdgeCut::Chamfer, 10.0, 10.0, 9}, progress);
       }},
  };
}

}  // namespace

namespace {

// How many of them gave a result.
int tried(const std::vector<Case>& cases) {
  int worked = 0;
  for (const Case& c : cases) {
    INFO(c.name);
    try {
      const Body made = c.cut();
      ++worked;
      CHECK_NOTHROW(check(made));
      CHECK_FALSE(made.faces.empty());
      CHECK(kernel_accepts(made));
      if (c.volume >= 0.0) {
        CHECK(is_closed_solid(made));
        CHECK(std::abs(volume_of(made) - c.volume) < 2e-3 * c.volume);
      }
    } catch (const Error& e) {
      const std::string text = e.what();
      INFO(text);
      CHECK(text.size() > 30);
      CHECK(text.back() == '.');
      CHECK(c.volume < 0.0);  // those whose measure is known must work
    }
  }
  return worked;
}

}  // namespace

TEST_CASE("planes in bad places cut soundly or are refused with a sentence") {
  CHECK(tried(planes()) >= 10);
}
TEST_CASE("solids in bad places are combined soundly or refused with a sentence") {
  CHECK(tried(solids()) >= 10);
}
TEST_CASE("curves in bad places split soundly or are refused with a sentence") {
  CHECK(tried(curves()) >= 5);
}
TEST_CASE("skins are thickened soundly or refused with a sentence") {
  CHECK(tried(skins()) >= 5);
}
TEST_CASE("edges are rounded soundly or refused with a sentence") {
  CHECK(tried(rounds()) >= 4);
}
