#include <catch2/catch.hpp>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/body/topology.h"
#include "core/cut/edge_edit.h"
#include "core/display/display.h"
#include "core/display/surface_mesh.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "core/operations/shaped_points.h"

using namespace evenclay;

namespace {

Outcome applied(const Operation& o, const Shape& before, const Inputs& inputs = {}) {
  Progress progress;
  return o.apply(before, inputs, progress);
}

}  // namespace

TEST_CASE("a display mesh lies on its surface with unit normals, and a closed one is marked") {
  Progress progress;
  const Shape sphere = body_of({make_sphere({}, 52)});
  const DisplayMesh mesh = display_mesh(sphere, {}, progress);
  CHECK(mesh.closed);
  REQUIRE(mesh.indices.size() > 1000);
  for (std::size_t v = 0; v < mesh.vertices.size(); v += 6) {
    const Vec3 p{mesh.vertices[v], mesh.vertices[v + 1], mesh.vertices[v + 2]};
    const Vec3 n{mesh.vertices[v + 3], mesh.vertices[v + 4], mesh.vertices[v + 5]};
    CHECK(length(p) == Approx(52).epsilon(1e-5));
    CHECK(distance(n, normalized(p)) < 1e-4);
  }
  CHECK_FALSE(display_mesh(body_of({make_cylinder({}, 5, 9)}), {}, progress).closed);
}

TEST_CASE("a thinned mesh has a fraction of the triangles, keeps the form and opens no crack") {
  Progress progress;
  auto mesh = std::make_shared<DisplayMesh>(
      display_mesh(body_of({make_torus({}, 40, 15)}), {1e-4, 200000}, progress));
  REQUIRE(mesh->indices.size() / 3 > 10000);
  const auto small = thinned(mesh);
  CHECK(small->indices.size() / 3 <= 3100);
  CHECK(distance(small->box.max, mesh->box.max) == 0.0);
  const auto at = [&](std::uint32_t i) {
    return Vec3{small->vertices[6 * i], small->vertices[6 * i + 1], small->vertices[6 * i + 2]};
  };
  double volume = 0.0;
  double farthest = 0.0;
  std::map<std::pair<std::uint32_t, std::uint32_t>, int> edges;
  for (std::size_t k = 0; k < small->indices.size(); k += 3) {
    const std::uint32_t* t = &small->indices[k];
    for (int e = 0; e < 3; ++e) {
      REQUIRE(t[e] < small->vertices.size() / 6);
      ++edges[std::minmax(t[e], t[(e + 1) % 3])];
    }
    volume += dot(at(t[0]), cross(at(t[1]), at(t[2]))) / 6.0;
    const Vec3 middle = (at(t[0]) + at(t[1]) + at(t[2])) / 3.0;
    const double off = std::hypot(std::hypot(middle.x, middle.y) - 40.0, middle.z) - 15.0;
    farthest = std::max(farthest, std::abs(off));
  }
  // 2π² R r² (Pappus), and no triangle far from the torus.
  CHECK(std::abs(volume) ==
        Approx(2 * std::numbers::pi * std::numbers::pi * 40 * 225).epsilon(0.02));
  CHECK(farthest < 1.0);
  for (const auto& [edge, times] : edges) CHECK(times == 2);
  CHECK(thinned(small) == small);
}

TEST_CASE("iso-curves lie on the surface and meshes have none") {
  const DisplayLines lines = iso_curves(body_of({make_sphere({}, 52)}));
  REQUIRE(lines.pieces.size() > 600);
  for (std::size_t k = 0; k < lines.pieces.size(); k += 3)
    CHECK(length(Vec3{lines.pieces[k], lines.pieces[k + 1], lines.pieces[k + 2]}) ==
          Approx(52).epsilon(1e-5));
  CHECK(iso_curves(TriangleMesh{}).pieces.empty());
}

TEST_CASE("planes lie in the plane they are asked for") {
  PlaneOperation plane;
  plane.length_x = 30;
  plane.length_y = 20;
  plane.centre = {1, 2, 3};
  const struct {
    FlatPlane plane;
    Vec3 extent;
  } cases[] = {
      {FlatPlane::XY, {30, 20, 0}}, {FlatPlane::XZ, {30, 0, 20}}, {FlatPlane::YZ, {0, 30, 20}}};
  for (const auto& c : cases) {
    plane.plane = c.plane;
    Box3 box;
    const Outcome outcome = applied(plane, Body{});
    for (const Vec3& p : std::get<Body>(outcome.shape).faces[0].surface->points.values())
      box.add(p);
    CHECK(distance(box.max - box.min, c.extent) < 1e-12);
    CHECK(distance(box.centre(), plane.centre) < 1e-12);
  }
}

TEST_CASE("steps on a mesh or on nothing say what to do") {
  const Shape mesh = TriangleMesh{{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, {}, {{0, 1, 2}}};
  CHECK_THROWS_WITH(applied(RebuildOperation(), mesh), Catch::Contains("works on surfaces"));
  CHECK_THROWS_WITH(applied(RebuildOperation(), Body{}), Catch::Contains("no surface"));
  CHECK_THROWS_AS(applied(ShapedPointsOperation(), mesh), Error);
  FlowPatternOperation flow;
  CHECK_THROWS_WITH(applied(flow, Body{}), Catch::Contains("no tile yet"));
  flow.tile = 1;
  CHECK_THROWS_WITH(applied(flow, Body{}), Catch::Contains("no target yet"));
  flow.target = 1;
  CHECK_THROWS_WITH(applied(flow, Body{}), Catch::Contains("its own target"));
  flow.target = 2;
  Inputs inputs;
  inputs.parts[1] = std::make_shared<const Shape>(Body{});
  inputs.parts[2] = std::make_shared<const Shape>(body_of({make_torus({}, 40, 9)}));
  CHECK_THROWS_WITH(applied(flow, Body{}, inputs), Catch::Contains("empty"));
}

TEST_CASE("a mesh serves as a tile as well as surfaces do") {
  PlaneOperation plane;
  plane.length_x = plane.length_y = 8;
  Progress progress;
  FlowPatternOperation flow;
  flow.tile = 1;
  flow.target = 2;
  flow.divisions = 4;
  Inputs inputs;
  const Outcome tile = applied(plane, Body{});
  inputs.parts[1] = std::make_shared<const Shape>(tile.shape);
  inputs.parts[2] = std::make_shared<const Shape>(body_of({make_torus({}, 40, 9)}));
  const auto by_surface = std::get<TriangleMesh>(applied(flow, Body{}, inputs).shape);
  inputs.parts[1] = std::make_shared<const Shape>(
      TriangleMesh{{{-4, -4, 0}, {4, -4, 0}, {4, 4, 0}, {-4, 4, 0}}, {}, {{0, 1, 2}, {0, 2, 3}}});
  const auto by_mesh = std::get<TriangleMesh>(applied(flow, Body{}, inputs).shape);
  CHECK(by_surface.triangles.size() == 12U * 6 * 4 * 4 * 2);
  CHECK(by_mesh.triangles.size() == 12U * 6 * 2);
  CHECK(distance(box(by_surface).max, box(by_mesh).max) < 1.0);
}

TEST_CASE("parallel blocks cover every index once and pass on what the body throws") {
  Progress progress;
  std::vector<int> seen(100003, 0);
  parallel_blocks(seen.size(), 97, progress, [&](std::size_t a, std::size_t b) {
    for (std::size_t k = a; k < b; ++k) ++seen[k];
  });
  CHECK(std::all_of(seen.begin(), seen.end(), [](int n) { return n == 1; }));
  CHECK_THROWS_AS(parallel_blocks(1000, 10, progress,
                                  [](std::size_t, std::size_t) { throw Error("Stopped."); }),
                  Error);
  progress.cancel();
  CHECK_THROWS_AS(parallel_blocks(10, 100, progress, [](std::size_t, std::size_t) {}), Cancelled);
}

TEST_CASE("gauges of a drag take fewer samples where there are many spans") {
  Progress p;
  CHECK(preview_per_span(body_of({make_sphere({}, 10)})) == 3);
  Surface heavy{uniform_knots(60, 3, false), uniform_knots(60, 3, false), Grid<Vec3>(60, 60), {}};
  for (int i = 0; i < 60; ++i)
    for (int j = 0; j < 60; ++j) heavy.points(i, j) = {1.0 * i, 1.0 * j, std::sin(0.2 * i)};
  const Shape shape = body_of({heavy});
  REQUIRE(preview_per_span(shape) == 1);
  // The quick deviation still finds the bump that was made.
  Surface bumpy = heavy;
  bumpy.points(30, 30).z += 5.0;
  const Shape now = body_of({bumpy});
  const Report quick = report(now, &shape, {.per_span = 1, .area_and_volume = false}, p);
  const Report full = report(now, &shape, {.per_span = 10, .area_and_volume = false}, p);
  REQUIRE(quick.deviation);
  CHECK(quick.deviation->max == Approx(full.deviation->max).epsilon(0.03));
}

TEST_CASE("the triangles made for the screen are those of the exact tessellation") {
  Progress progress;
  for (const Surface& s : {make_sphere({}, 52), make_torus({}, 40, 15), make_cylinder({}, 5, 9),
                           make_plane({}, 30, 20, 5, 4, 3, 2)}) {
    const TessellationOptions options{.per_span_u = 5, .per_span_v = 4};
    DisplayMesh mesh;
    add_surface(s, options, progress, mesh);
    const TriangleMesh exact = tessellate(s, options, progress);
    CHECK(mesh.indices.size() / 3 == exact.triangles.size());
    for (std::size_t k = 0; k + 2 < mesh.indices.size(); k += 3)
      for (std::size_t c = 0; c < 3; ++c) {
        const std::size_t v = mesh.indices[k + c];
        const Vec3& p = exact.points[exact.triangles[k / 3][c]];
        const Vec3& n = exact.normals[exact.triangles[k / 3][c]];
        const Vec3 at{mesh.vertices[6 * v], mesh.vertices[6 * v + 1], mesh.vertices[6 * v + 2]};
        const Vec3 normal_there{mesh.vertices[6 * v + 3], mesh.vertices[6 * v + 4],
                                mesh.vertices[6 * v + 5]};
        REQUIRE(distance(at, p) < 1e-6 * size(s));
        REQUIRE(distance(normal_there, n) < 2e-3);
        const double u = s.u.first() + static_cast<double>(mesh.shares[2 * v]) * s.u.length();
        const double w = s.v.first() + static_cast<double>(mesh.shares[2 * v + 1]) * s.v.length();
        REQUIRE(distance(evaluate(s, u, w), at) < 1e-5 * size(s));
      }
  }
}

TEST_CASE("section combs of a sphere are those of the circles that the plane cuts") {
  Progress progress;
  const Shape sphere = body_of({make_sphere({}, 52)});
  for (const double height : {0.0, 26.0}) {
    const std::vector<Comb> combs = section_combs(sphere, {{0, 0, height}, {0, 0, 1}}, progress);
    REQUIRE(combs.size() == 1);
    const double radius = std::sqrt(52.0 * 52.0 - height * height);
    REQUIRE(combs[0].teeth.size() > 20);
    for (const Tooth& t : combs[0].teeth) {
      CHECK(std::hypot(t.at.x, t.at.y) == Approx(radius).epsilon(1e-6));
      CHECK(length(t.curvature) == Approx(1.0 / radius).epsilon(1e-3));
    }
  }
  CHECK(section_combs(sphere, {{0, 0, 60}, {0, 0, 1}}, progress).empty());
  CHECK(section_combs(TriangleMesh{}, {{0, 0, 0}, {0, 0, 1}}, progress).empty());
  progress.cancel();
  CHECK_THROWS_AS(section_combs(sphere, {{0, 0, 0}, {0, 0, 1}}, progress), Cancelled);
}

TEST_CASE("open edges, gaps and joined edges are drawn apart") {
  // Two squares of 10 mm that share a border, upright to each other.
  const auto square = [](const Vec3& x, const Vec3& y) {
    return make_plane({x * 5.0 + y * 5.0, x, y, cross(x, y)}, 10.0, 10.0, 2, 2, 1, 1);
  };
  Body body = with_edges(body_of({square({1, 0, 0}, {0, 1, 0}), square({1, 0, 0}, {0, 0, 1})}, 1));
  REQUIRE(body.edges.size() == 7);
  const auto length_of = [](const std::vector<float>& pieces) {
    double sum = 0.0;
    for (std::size_t k = 0; k + 5 < pieces.size(); k += 6)
      sum += distance({pieces[k], pieces[k + 1], pieces[k + 2]},
                      {pieces[k + 3], pieces[k + 4], pieces[k + 5]});
    return sum;
  };
  const DisplayEdges whole = edge_lines(body, 0.01);
  CHECK(length_of(whole.pieces) == Approx(10.0).epsilon(1e-5));  // the common border
  CHECK(length_of(whole.open) == Approx(60.0).epsilon(1e-5));    // the other three of each
  CHECK(whole.gaps.empty());
  const Topology t = topology(body);
  REQUIRE(t.joined_edges.size() == 1);
  body.edges[t.joined_edges[0]].gap = 0.5;
  const DisplayEdges torn = edge_lines(body, 0.01);
  CHECK(torn.pieces.empty());
  CHECK(length_of(torn.gaps) == Approx(10.0).epsilon(1e-5));
  CHECK(edge_lines(body, 1.0).gaps.empty());
}
