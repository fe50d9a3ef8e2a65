// Repeated columns against columns laid out one by one: they are one pattern, vertex by vertex.
#include "core/pattern/flow_layout.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <set>

#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/pattern/flow.h"

using namespace evenclay;

namespace {

Progress progress;

BasedTile bumpy(int parts) {
  Frame middle;
  middle.origin = {4, 3, 0};
  Surface s = make_plane(middle, 8, 6, 5, 5, 3, 3);
  s.points(2, 2).z = 0.8;
  s.points(1, 3).z = -0.4;
  const TriangleMesh m = tessellate(s, {.per_span_u = parts, .per_span_v = parts}, progress);
  return over_base(m, base_of(m));
}

// All tiles named one by one are not taken for alike, so each column is laid out by itself.
FlowLayout one_by_one(const BasedTile& tile, FlowOptions o, const FlowEnds& ends, bool mirrored) {
  o.made.assign(static_cast<std::size_t>(o.count_u * o.count_v), true);
  return laid_out(tile, o, ends, mirrored, progress);
}

struct Case {
  const char* name;
  FlowEnds ends;
};

std::vector<Case> kinds_of_targets() {
  return {{"open", {}},
          {"closed along s", {true, false, {}}},
          {"closed along t", {false, true, {}}},
          {"closed both ways", {true, true, {}}},
          {"from pole to pole along t", {true, false, {false, false, true, true}}},
          {"a pole where t begins", {false, false, {false, false, true, false}}},
          {"from pole to pole along s", {false, true, {true, true, false, false}}},
          {"a pole where s ends", {false, false, {false, true, false, false}}}};
}

}  // namespace

TEST_CASE("columns that are repeated are those that are laid out one by one") {
  const BasedTile tile = bumpy(2);
  for (const Case& c : kinds_of_targets())
    for (const int count_u : {3, 5, 6, 7, 12})
      for (const bool mirrored : {false, true}) {
        INFO(c.name << ", " << count_u << (mirrored ? ", mirrored" : ""));
        FlowOptions o;
        o.count_u = count_u;
        o.count_v = 3;
        const FlowLayout quick = laid_out(tile, o, c.ends, mirrored, progress);
        const FlowLayout slow = one_by_one(tile, o, c.ends, mirrored);
        REQUIRE(quick.vertices.size() == slow.vertices.size());
        bool same = true;
        for (std::size_t k = 0; k < slow.vertices.size(); ++k)
          same = same && quick.vertices[k].source == slow.vertices[k].source &&
                 quick.vertices[k].t_place == slow.vertices[k].t_place;
        CHECK(same);
        CHECK(quick.run_begin == slow.run_begin);
        CHECK(quick.triangles == slow.triangles);
        REQUIRE(quick.joints.size() == slow.joints.size());
        for (std::size_t k = 0; k < slow.joints.size(); ++k) {
          const FlowJoint& a = quick.joints[k];
          const FlowJoint& b = slow.joints[k];
          same = same && a.kept == b.kept && a.other == b.other && a.kept_a == b.kept_a &&
                 a.kept_b == b.kept_b && a.other_a == b.other_a && a.other_b == b.other_b;
        }
        CHECK(same);
      }
}

TEST_CASE("a pattern that closes both ways has the vertices and triangles of a torus") {
  // n × m tiles of p × p cells: n m p² vertices, twice as many triangles, Euler's number 0.
  const int p = 4;  // two spans of two parts
  const BasedTile tile = bumpy(2);
  REQUIRE(tile.vertices.size() == (p + 1) * (p + 1));
  for (const int n : {2, 6, 9}) {
    FlowOptions o;
    o.count_u = n;
    o.count_v = 4;
    const FlowLayout l = laid_out(tile, o, {true, true, {}}, false, progress);
    CHECK(l.vertices.size() == static_cast<std::size_t>(n * 4 * p * p));
    CHECK(l.triangles.size() == 2U * l.vertices.size());
    std::set<std::pair<std::uint32_t, std::uint32_t>> edges;
    for (const auto& t : l.triangles)
      for (std::size_t k = 0; k < 3; ++k)
        edges.insert({std::min(t[k], t[(k + 1) % 3]), std::max(t[k], t[(k + 1) % 3])});
    CHECK(l.vertices.size() - edges.size() + l.triangles.size() == 0);
  }
}

TEST_CASE("from pole to pole a pattern has the Euler number of a sphere") {
  const BasedTile tile = bumpy(2);
  FlowOptions o;
  o.count_u = 8;
  o.count_v = 5;
  const FlowLayout l =
      laid_out(tile, o, {true, false, {false, false, true, true}}, false, progress);
  std::set<std::pair<std::uint32_t, std::uint32_t>> edges;
  for (const auto& t : l.triangles)
    for (std::size_t k = 0; k < 3; ++k)
      edges.insert({std::min(t[k], t[(k + 1) % 3]), std::max(t[k], t[(k + 1) % 3])});
  CHECK(l.vertices.size() + l.triangles.size() == edges.size() + 2);
}
