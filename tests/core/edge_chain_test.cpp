// Chains of edges walked by their length: circles, straight rows and corners, with lengths by formula.
#include "core/cut/edge_chain.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/check/curve_measures.h"
#include "core/cut/edge_edit.h"
#include "core/cut/openings.h"
#include "core/nurbs/arc_length.h"
#include "solids_support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

// A tube about z, open at both ends.
Body tube(double radius, double height) {
  return with_explicit_borders(body_of({make_cylinder({}, radius, height)}, 1), 1e-9);
}

// The edge that lies all at this height.
std::size_t edge_at(const Body& body, double z) {
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const Box3 b = tight_box(body.edges[e].curve);
    if (std::abs(b.min.z - z) < 1e-9 && std::abs(b.max.z - z) < 1e-9) return e;
  }
  FAIL("no edge at " << z);
  return 0;
}

}  // namespace

TEST_CASE("the rim of a tube is a closed chain of length 2πr that knows its face") {
  const double r = 7.0, h = 12.0;
  const Body body = tube(r, h);
  for (const double z : {0.0, h}) {
    const EdgeChain chain(body, {edge_at(body, z)});
    CHECK(chain.closed());
    CHECK(chain.length() == Approx(2 * kPi * r).epsilon(1e-7));
    const Vec3 begin = chain.point(0.0);
    const double start = std::atan2(begin.y, begin.x);
    for (const double share : {0.0, 0.1, 0.37, 0.5, 0.99, 1.0, 1.25, -0.5}) {
      INFO(share);
      const ChainPlace p = chain.at(share, 2);
      CHECK(std::hypot(p.p.x, p.p.y) == Approx(r));
      CHECK(p.p.z == Approx(z).margin(1e-9));
      CHECK(length(p.along) == Approx(1.0));
      // Out of the tube's skin is up at the top and down at the bottom, and the skin is straight there.
      CHECK(p.out.z == Approx(z > 0 ? 1.0 : -1.0));
      CHECK(std::abs(dot(p.out, p.along)) < 1e-9);
      CHECK(length(p.d2) < 1e-6);
      // Equal shares are equal angles.
      const double turned = std::remainder(std::atan2(p.p.y, p.p.x) - start, 2 * kPi);
      CHECK(std::abs(std::remainder(
                std::abs(turned) - 2 * kPi * std::abs(std::remainder(share, 1.0)), 2 * kPi)) <
            1e-4);
    }
  }
}

TEST_CASE("pieces of one line are put in order, from either end") {
  const Body sheet = with_explicit_borders(body_of({patch({}, {40, 0, 0}, {0, 10, 0})}, 1), 1e-9);
  std::size_t lower = 0;
  for (std::size_t e = 0; e < sheet.edges.size(); ++e) {
    const Box3 b = tight_box(sheet.edges[e].curve);
    if (b.max.y < 1e-9) lower = e;
  }
  const Body parts = with_split_edge(sheet, lower, {0.1, 0.3, 0.6}, 2);
  std::vector<std::size_t> pieces;
  for (std::size_t e = 0; e < parts.edges.size(); ++e)
    if (tight_box(parts.edges[e].curve).max.y < 1e-9) pieces.push_back(e);
  REQUIRE(pieces.size() == 4);
  for (int turn = 0; turn < 4; ++turn) {
    std::rotate(pieces.begin(), pieces.begin() + 1, pieces.end());
    const EdgeChain chain(parts, pieces);
    CHECK_FALSE(chain.closed());
    CHECK(chain.length() == Approx(40.0));
    REQUIRE(chain.edges().size() == 4);
    double x = chain.point(0.0).x;
    const double way = x < 20.0 ? 1.0 : -1.0;
    for (int k = 1; k <= 10; ++k) {
      const double next = chain.point(0.1 * k).x;
      CHECK((next - x) * way == Approx(4.0));
      x = next;
    }
    CHECK(chain.at(0.5, 1).out.y == Approx(-1.0));
  }
}

TEST_CASE("corners, gaps and nothing at all are refused, corners with their place") {
  const Body sheet = with_explicit_borders(body_of({patch({}, {40, 0, 0}, {0, 10, 0})}, 1), 1e-9);
  REQUIRE(sheet.edges.size() == 4);
  CHECK_THROWS_WITH(EdgeChain(sheet, {0, 1, 2, 3}), Contains("turn at a corner"));
  CHECK_THROWS_AS(EdgeChain(sheet, {}), Error);
  std::size_t a = 0, b = 0;  // two opposite borders do not hang together
  for (std::size_t e = 0; e < 4; ++e) {
    const Box3 box = tight_box(sheet.edges[e].curve);
    if (box.max.y < 1e-9) a = e;
    if (box.min.y > 10.0 - 1e-9) b = e;
  }
  REQUIRE(a != b);
  CHECK_THROWS_AS(EdgeChain(sheet, {a, b}), Error);
}
