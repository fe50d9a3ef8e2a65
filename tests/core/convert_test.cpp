// Faces of any kind as whole surfaces with a grid: against the faces themselves and closed forms.
#include <catch2/catch.hpp>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/body/body_mesh.h"
#include "core/check/measures.h"
#include "core/cut/trim.h"
#include "core/mesh/cut_mesh.h"
#include "core/nurbs/conics.h"
#include "core/operations/convert.h"
#include "core/scan/mesh_convert.h"
#include "core/scan/mesh_regions.h"
#include "core/source/border_surface.h"
#include "core/source/convert.h"
#include "core/source/outlines.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

// A flat sheet of 100 x 100 cut to what lies inside a closed curve.
Body cut_sheet(const Curve& inside) {
  Progress progress;
  const std::vector<Curve> curves{inside};
  return trim(body_of({make_plane({}, 100, 100, 4, 4, 3, 3)}, 1), curves,
              {.keep = TrimKeep::Inside, .step = 2}, progress)
      .body;
}

}  // namespace

TEST_CASE("a face with four edges becomes a surface between them") {
  // A rectangle of 40 x 30 cut out of the sheet; its edges meet at corners.
  const Body body = cut_sheet(make_rectangle({}, 40, 30, 0.0));
  REQUIRE(body.faces.size() == 1);
  REQUIRE(body.faces[0].loops.size() == 1);
  Progress progress;
  const Converted c = converted(body.faces[0], body, 6, 5, progress);
  if (body.faces[0].loops[0].size() == 4) {
    CHECK(c.how == Conversion::FourBorders);
    CHECK(area(c.surface) == Approx(1200.0).epsilon(1e-6));
  } else {
    CHECK(c.how == Conversion::TrimsLost);
  }
  const Box3 b = tight_box(c.surface);
  CHECK(b.max.x - b.min.x == Approx(40.0).margin(0.01));
  CHECK(b.max.y - b.min.y == Approx(30.0).margin(0.01));
  CHECK(c.surface.points.rows() == 6);
  CHECK(c.surface.points.columns() == 5);
}

TEST_CASE("other trimmed faces lose their trims and say so, whole ones keep their shape") {
  Progress progress;
  const Body disc = cut_sheet(make_circle({}, 20));
  const Converted c = converted(disc.faces[0], disc, 6, 6, progress);
  if (c.how == Conversion::TrimsLost) {
    const Box3 b = tight_box(c.surface);
    CHECK(b.max.x == Approx(20.0).margin(0.01));
    CHECK(area(c.surface) == Approx(1600.0).epsilon(1e-3));
  } else {
    CHECK(c.how == Conversion::FourBorders);
    CHECK(area(c.surface) == Approx(kPi * 400).epsilon(1e-2));
  }
  ConvertOperation o;
  o.points_u = 16;
  o.points_v = 12;
  const Shape ball = body_of({make_sphere({}, 20)}, 1);
  const Outcome outcome = o.apply(ball, {}, progress);
  const Surface& s = *std::get<Body>(outcome.shape).faces[0].surface;
  CHECK_FALSE(s.rational());
  CHECK(deviation(body_of({s}), std::get<Body>(ball), progress).max < 0.2);
  CHECK_THAT(outcome.notes[0], Contains("weights are given up"));
  const Shape plane = body_of({make_plane({}, 10, 10, 3, 3, 2, 2)}, 1);
  CHECK_THAT(o.apply(plane, {}, progress).notes[0], Contains("unchanged"));
}

namespace {

// A box of 12 triangles, its vertices shared.
TriangleMesh box_mesh(double x, double y, double z) {
  TriangleMesh m;
  for (const double c : {0.0, z})
    for (const auto& [a, b] : {std::pair{0.0, 0.0}, {x, 0.0}, {x, y}, {0.0, y}})
      m.points.push_back({a, b, c});
  m.triangles = {{0, 2, 1}, {0, 3, 2}, {4, 5, 6}, {4, 6, 7}, {0, 1, 5}, {0, 5, 4},
                 {1, 2, 6}, {1, 6, 5}, {2, 3, 7}, {2, 7, 6}, {3, 0, 4}, {3, 4, 7}};
  return m;
}

TriangleMesh mesh_of(const Body& body, double chord) {
  Progress progress;
  return welded(tessellate(body, {chord}, progress));
}

}  // namespace

TEST_CASE("a mesh parts at its sharp edges: a box into its six rectangles") {
  Progress progress;
  const TriangleMesh mesh = box_mesh(30, 20, 10);
  const MeshRegions r = regions_of(mesh, 0.5, 1.0, 100, progress);
  CHECK(r.count == 6);
  for (const auto& triangles : triangles_by_region(r)) {
    const auto borders = borders_of(mesh, triangles);
    REQUIRE(borders.size() == 1);
    CHECK(borders[0].size() == 4);
  }
  const MeshConverted c = converted(mesh, {6, 5, 0.5, 0.0, 3}, progress);
  REQUIRE(c.body.faces.size() == 6);
  CHECK(c.trimmed == 0);
  CHECK(c.left_out == 0);
  CHECK(c.max < 1e-6);
  double skin = 0.0;
  for (const Face& f : c.body.faces) {
    skin += area(*f.surface);
    CHECK(f.surface->points.rows() == 6);
    // The outside stays outside: seen from the middle of the box.
    CHECK(dot(normal(*f.surface, 0.5, 0.5), evaluate(*f.surface, 0.5, 0.5) - Vec3{15, 10, 5}) >
          0.0);
  }
  CHECK(skin == Approx(2.0 * (600.0 + 300.0 + 200.0)).epsilon(1e-6));
}

TEST_CASE("a triangle of a mesh becomes a face cut to its border, half of its rectangle") {
  Progress progress;
  const TriangleMesh one{{{0, 0, 0}, {40, 0, 0}, {0, 30, 0}}, {}, {{0, 1, 2}}};
  const MeshConverted c = converted(one, {4, 4, 0.5, 0.0, 3}, progress);
  REQUIRE(c.body.faces.size() == 1);
  CHECK(c.trimmed == 1);
  check(c.body);
  CHECK(area(c.body.faces[0], progress) == Approx(600.0).epsilon(1e-4));
  CHECK(c.body.edges[0].gap < 1e-6);
}

TEST_CASE("a ball of triangles becomes faces that cover it once") {
  Progress progress;
  const double radius = 20.0;
  const TriangleMesh mesh = welded(mesh_of(body_of({make_sphere({}, radius)}, 1), 0.01), 1e-6);
  const MeshConverted c = converted(mesh, {10, 10, 0.5, 0.001, 3}, progress);
  // Caps of 60° about their middles: at least four of them, and no more than a dozen.
  CHECK(c.body.faces.size() >= 4);
  CHECK(c.body.faces.size() <= 12);
  CHECK(c.max < 0.1);
  CHECK(c.mean <= c.max);
  check(c.body);
  double skin = 0.0;
  for (const Face& f : c.body.faces) {
    skin += area(f, progress);
    for (const Vec3& p : mesh_of({{f}, c.body.edges}, 0.1).points)
      CHECK(std::abs(length(p) - radius) < 0.15);
  }
  CHECK(skin == Approx(4.0 * kPi * radius * radius).epsilon(5e-3));
}

TEST_CASE("points where a region leaves its rectangle bare do not run away") {
  Progress progress;
  // A quarter of a bent disc in the corner of its square, rough by half a millimetre.
  TriangleMesh m;
  std::mt19937 random(5);
  const int n = 24;
  std::vector<std::vector<int>> number(n + 1, std::vector<int>(n + 1, -1));
  for (int i = 0; i <= n; ++i)
    for (int j = 0; i * i + j * j <= n * n && j <= n; ++j) {
      const double x = 2.0 * i, y = 2.0 * j;
      number[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)] =
          static_cast<int>(m.points.size());
      m.points.push_back(
          {x, y, 0.004 * (x * x - y * y) + 0.5 * (static_cast<double>(random() % 1000) / 1000.0)});
    }
  const auto at = [&](int i, int j) {
    return number[static_cast<std::size_t>(i)][static_cast<std::size_t>(j)];
  };
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < n; ++j) {
      if (at(i + 1, j + 1) < 0) continue;
      const std::array<std::uint32_t, 4> q{
          static_cast<std::uint32_t>(at(i, j)), static_cast<std::uint32_t>(at(i + 1, j)),
          static_cast<std::uint32_t>(at(i + 1, j + 1)), static_cast<std::uint32_t>(at(i, j + 1))};
      m.triangles.push_back({q[0], q[1], q[2]});
      m.triangles.push_back({q[0], q[2], q[3]});
    }
  for (const double smoothing : {0.0, 0.5}) {
    const MeshConverted c = converted(m, {12, 12, 1.5, smoothing, 3}, progress);
    REQUIRE(c.body.faces.size() == 1);
    CHECK(c.trimmed == 1);
    CHECK(c.max < 0.6);
    // The saddle itself reaches from −9.2 to 9.2 mm over its square of 48 mm.
    for (const Vec3& p : c.body.faces[0].surface->points.values()) {
      CHECK(std::abs(p.z) < 20.0);
      CHECK(std::max(std::abs(p.x - 24.0), std::abs(p.y - 24.0)) < 24.0 + 12.0);
    }
  }
}

TEST_CASE("a mesh with an opening keeps it, and what cannot be converted says why") {
  Progress progress;
  // A square ring: 40 outside, 20 inside.
  TriangleMesh ring;
  for (const double half : {20.0, 10.0})
    for (const auto& [a, b] : {std::pair{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
      ring.points.push_back({half * a, half * b, 0.0});
  for (std::uint32_t k = 0; k < 4; ++k) {
    const std::uint32_t n = (k + 1) % 4;
    ring.triangles.push_back({k, n, n + 4});
    ring.triangles.push_back({k, n + 4, k + 4});
  }
  const MeshConverted c = converted(ring, {5, 5, 0.5, 0.0, 3}, progress);
  REQUIRE(c.body.faces.size() == 1);
  CHECK(c.body.faces[0].loops.size() == 2);
  CHECK(area(c.body.faces[0], progress) == Approx(1600.0 - 400.0).epsilon(1e-4));

  CHECK_THROWS_WITH(converted(TriangleMesh{}, {}, progress), Contains("no triangles"));
  const TriangleMesh thread{{{0, 0, 0}, {10, 0, 0}, {20, 1e-9, 0}}, {}, {{0, 1, 2}}};
  CHECK_THROWS_WITH(converted(thread, {}, progress), Contains("wide enough"));
  CHECK_THROWS_WITH(regions_of(box_mesh(1, 1, 1), 0.5, 1.0, 5, progress),
                    Contains("greater angle"));
  Progress stopped;
  stopped.cancel();
  CHECK_THROWS_AS(converted(box_mesh(3, 3, 3), {}, stopped), Cancelled);
}

TEST_CASE("Convert takes a mesh and says how far the surfaces are off it") {
  Progress progress;
  ConvertOperation o;
  o.points_u = o.points_v = 6;
  const Outcome made = o.apply(Shape{box_mesh(30, 20, 10)}, {}, progress);
  CHECK(std::get<Body>(made.shape).faces.size() == 6);
  CHECK_THAT(made.notes[0], Contains("became 6 surfaces: at most 0.0000 mm off it"));
  CHECK(made.notes.size() == 1);
  // A bent sheet is two, or one round the corner when the angle is greater than the bend.
  const Shape bent =
      TriangleMesh{{{0, 0, 0}, {20, 0, 0}, {20, 9, 0}, {0, 9, 0}, {20, 0, 20}, {20, 9, 20}},
                   {},
                   {{0, 1, 2}, {0, 2, 3}, {1, 4, 5}, {1, 5, 2}}};
  const auto faces = [&] { return std::get<Body>(o.apply(bent, {}, progress).shape).faces.size(); };
  o.sharp = 89.0;
  CHECK(faces() == 2);
  o.sharp = 91.0;
  CHECK(faces() == 1);
}
