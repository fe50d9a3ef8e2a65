// Small things everything stands on: frames, boxes, angles, sets that hang together, text in XML.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/angles.h"
#include "core/base/box_edges.h"
#include "core/base/frame.h"
#include "core/base/grid.h"
#include "core/base/smooth_step.h"
#include "core/base/union_find.h"
#include "core/base/xml_text.h"

using namespace evenclay;

TEST_CASE("a place in a frame comes back from it, and a box holds what was put in") {
  const double c = std::cos(0.7), s = std::sin(0.7);
  const Frame f{{3, -2, 5}, {c, s, 0}, {-s, c, 0}, {0, 0, 1}};
  for (const Vec3 p : {Vec3{1, 2, 3}, {-4, 0.5, 9}, {0, 0, 0}}) {
    CHECK(distance(f.to_local(f.to_world(p)), p) < 1e-14);
    CHECK(distance(f.to_world(f.to_local(p)), p) < 1e-14);
  }
  Box3 box;
  CHECK(box.empty());
  CHECK(box.size() == 0.0);
  box.add(Box3{});
  CHECK(box.empty());
  box.add(Vec3{1, 5, -2});
  box.add(Vec3{4, 1, 10});
  CHECK(box.min == Vec3{1, 1, -2});
  CHECK(box.max == Vec3{4, 5, 10});
  CHECK(box.centre() == Vec3{2.5, 3, 4});
  CHECK(box.size() == Approx(13.0));  // 3, 4, 12
  double edges = 0.0;
  for (const auto& [a, b] : box_edges(box)) edges += distance(a, b);
  CHECK(box_edges(box).size() == 12);
  CHECK(edges == Approx(4.0 * (3 + 4 + 12)));
}

TEST_CASE("angles are sound where a cosine is not") {
  CHECK(degrees_between({1, 0, 0}, {0, 3, 0}) == Approx(90.0));
  CHECK(degrees_between({1, 0, 0}, {-5, 0, 0}) == Approx(180.0));
  CHECK(radians_between({1, 0, 0}, {1, 1e-9, 0}) == Approx(1e-9));  // acos would say 0
  CHECK(radians_between({}, {1, 0, 0}) == 0.0);
  CHECK(radians(180.0) == Approx(std::numbers::pi));
}

TEST_CASE("a smooth step starts and ends without slope and is even about its middle") {
  CHECK(smooth_step(-3.0) == 0.0);
  CHECK(smooth_step(4.0) == 1.0);
  CHECK(smooth_step(0.5) == 0.5);
  for (const double x : {0.1, 0.25, 0.4})
    CHECK(smooth_step(x) + smooth_step(1.0 - x) == Approx(1.0));
  CHECK(smooth_step(1e-3) < 1.1e-8);  // 10 x³
}

TEST_CASE("what is joined has one root, and what is not has another") {
  UnionFind sets(10);
  for (const auto& [a, b] : {std::pair{0U, 1U}, {2U, 3U}, {1U, 3U}, {7U, 9U}}) sets.join(a, b);
  for (const std::uint32_t k : {1U, 2U, 3U}) CHECK(sets.root(k) == sets.root(0));
  CHECK(sets.root(7) == sets.root(9));
  CHECK(sets.root(4) != sets.root(0));
  CHECK(sets.root(7) != sets.root(0));
}

TEST_CASE("a grid keeps its order, turned over twice it is itself, and text is safe in XML") {
  Grid<int> g(2, 3);
  int n = 0;
  for (int& x : g.values()) x = n++;
  CHECK(g(1, 0) == 3);
  CHECK(transposed(g)(2, 1) == 5);
  CHECK(transposed(transposed(g)) == g);
  CHECK(Grid<int>::layered(2, 3, 4).values().size() == 24);
  CHECK(xml_text("a<b & \"c\"\x01>") == "a&lt;b &amp; &quot;c&quot;&gt;");
}
