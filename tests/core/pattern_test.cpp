// Patterns on charts of faces, over bases, with heights that fade, as surfaces; tiles and their pairing.
#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/continuity.h"
#include "core/check/measures.h"
#include "core/exchange/grey_picture.h"
#include "core/grid/even_out.h"
#include "core/mesh/closest_point.h"
#include "core/mesh/cut_mesh.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/pattern/exact.h"
#include "core/pattern/pairing.h"
#include "core/pattern/shelf_tile.h"
#include "core/pattern/stretch.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

Surface flat(double x0, double y0, double a, double b, int n = 4, int p = 3) {
  Frame f;
  f.origin = {x0 + a / 2, y0 + b / 2, 0};
  return make_plane(f, a, b, n, n, p, p);
}

// 8 × 8 mm with a smooth bump, flat borders.
Surface bumpy() {
  Surface s = flat(0, 0, 8, 8, 5);
  s.points(2, 2).z = 1.5;
  return s;
}

TriangleMesh meshed(const Surface& s, int parts = 6) {
  Progress progress;
  return tessellate(s, {.per_span_u = parts, .per_span_v = parts}, progress);
}

BasedTile based(const TriangleMesh& t) {
  return over_base(t, base_of(t));
}

// The four upright sides of a box, each its own face, u around and v up, in a shuffled order and turned at random.
Body box_sides() {
  const auto side = [](Vec3 corner, Vec3 along, Vec3 up) {
    Surface s = make_plane({}, 1, 1, 4, 4, 3, 3);
    for (int i = 0; i < 4; ++i)
      for (int j = 0; j < 4; ++j) s.points(i, j) = corner + along * (i / 3.0) + up * (j / 3.0);
    return s;
  };
  const Vec3 up{0, 0, 10};
  Surface front = side({0, 0, 0}, {40, 0, 0}, up);
  Surface right = side({40, 0, 0}, {0, 30, 0}, up);
  Surface back = side({40, 30, 0}, {-40, 0, 0}, up);
  Surface left = side({0, 30, 0}, {0, -30, 0}, up);
  return body_of({front, transposed(back), right, transposed(left)});
}

// No crack inside, no vertex twice at one place, no triangle that shows its back to its normals.
void check_sound(const TriangleMesh& m) {
  check(m);
  const EdgeReport edges = check_edges(m);
  CHECK(edges.tangled == 0);
  CHECK(welded(m, 1e-9).points.size() == m.points.size());
  int turned_over = 0;
  for (const auto& t : m.triangles) {
    const Vec3 n = cross(m.points[t[1]] - m.points[t[0]], m.points[t[2]] - m.points[t[0]]);
    if (length(n) < 1e-9) continue;  // beside a pole
    if (dot(n, m.normals[t[0]] + m.normals[t[1]] + m.normals[t[2]]) <= 0.0) ++turned_over;
  }
  CHECK(turned_over == 0);
}

}  // namespace

TEST_CASE("the four sides of a box carry one pattern all round") {
  Progress progress;
  const Body sides = box_sides();
  const std::vector<std::size_t> all{0, 1, 2, 3};
  const Chart chart = chart_of(sides, all, 0.01);
  CHECK(std::max(chart.cells.rows(), chart.cells.columns()) == 4);
  CHECK(chart.around_s != chart.around_t);
  const bool around_s = chart.around_s;
  CHECK(length_along(chart, around_s ? Direction::U : Direction::V, {}) == Approx(140));
  CHECK(length_along(chart, around_s ? Direction::V : Direction::U, {}) == Approx(10));
  FlowOptions o;
  (around_s ? o.count_u : o.count_v) = 14;
  o.count_u = std::max(o.count_u, 1);
  o.even = true;
  // A flat tile lifted by 0.5 mm: every vertex lies half a millimetre outside of the box.
  TriangleMesh t = meshed(flat(0, 0, 10, 10, 4), 4);
  for (Vec3& p : t.points) p.z = 0.5;
  const TriangleMesh r = flow(based(t), chart, o, {}, progress);
  check_sound(r);
  CHECK(check_edges(r).open > 0);  // above and below only
  double covered = 0.0;
  int outside = 0;
  for (const Vec3& p : r.points) {
    const double dx = std::max({-p.x, p.x - 40, 0.0});
    const double dy = std::max({-p.y, p.y - 30, 0.0});
    CHECK(std::max(dx, dy) == Approx(0.5).margin(1e-9));
    outside += dx > 0.4 || dy > 0.4 ? 1 : 0;
    covered = std::max(covered, p.z);
  }
  CHECK(outside == static_cast<int>(r.points.size()));
  CHECK(covered == Approx(10));
  // Each tile keeps its ten millimetres: 14 tiles of 100 mm², and the same seen from the flat.
  const TriangleMesh on = flow(based(meshed(flat(0, 0, 10, 10, 4), 4)), chart, o, {}, progress);
  CHECK(area(on) == Approx(1400).epsilon(1e-9));
}

TEST_CASE("faces that make no rectangle are refused with a sentence") {
  const Body sides = box_sides();
  Body apart = sides;
  apart.faces.push_back(body_of({flat(100, 100, 5, 5)}).faces.front());
  const std::vector<std::size_t> five{0, 1, 2, 3, 4};
  CHECK_THROWS_WITH(chart_of(apart, five, 0.01), Contains("rows and columns"));
  Body corner = body_of({flat(0, 0, 5, 5), flat(5, 0, 5, 5), flat(0, 5, 5, 5)});
  const std::vector<std::size_t> three{0, 1, 2};
  CHECK_THROWS_WITH(chart_of(corner, three, 0.01), Contains("full rectangle"));
  CHECK_THROWS_WITH(chart_of(corner, std::vector<std::size_t>{}, 0.01), Contains("at least one"));
}

TEST_CASE(
    "a flow across faces that continue each other is the flow on the one face they came from") {
  Progress progress;
  const Body two = body_of({flat(0, 0, 12, 10), transposed(flat(12, 0, 18, 10))});
  const Chart chart = chart_of(two, std::vector<std::size_t>{0, 1}, 0.01);
  FlowOptions o;
  o.count_u = 5;
  o.count_v = 2;
  const TriangleMesh t = meshed(bumpy());
  for (const bool even : {false, true}) {
    o.even = even;
    const TriangleMesh parts = flow(based(t), chart, o, {}, progress);
    const TriangleMesh one = flow(based(t), chart_of(flat(0, 0, 30, 10)), o, {}, progress);
    REQUIRE(parts.points.size() == one.points.size());
    for (std::size_t k = 0; k < one.points.size(); ++k) {
      CHECK(distance(parts.points[k], one.points[k]) < 1e-9);
      CHECK(distance(parts.normals[k], one.normals[k]) < 1e-8);
    }
  }
}

TEST_CASE("a tile over a cylinder rolled out lies flat, with its heights and normals") {
  // A cylinder is isometric to its plane: a point at angle a, height y and radius R + h goes to (R a, y, h).
  Progress progress;
  const double radius = 20;
  Surface cylinder = make_cylinder({}, radius, 30);
  TriangleMesh t;
  std::vector<Vec3> expected;
  for (int i = 0; i <= 20; ++i)
    for (int j = 0; j <= 6; ++j) {
      const double a = 0.3 + 0.2 * i;
      const double y = 2.0 + 4.0 * j;
      const double h = 1.0 + std::sin(3 * a) * 0.5 + 0.05 * y;
      t.points.push_back({(radius + h) * std::cos(a), (radius + h) * std::sin(a), y});
      expected.push_back({radius * a, y, h});
    }
  for (std::uint32_t i = 0; i < 20; ++i)
    for (std::uint32_t j = 0; j < 6; ++j) {
      const std::uint32_t k = i * 7 + j;
      t.triangles.push_back({k, k + 7, k + 8});
      t.triangles.push_back({k, k + 8, k + 1});
    }
  // Normals of the form in space: gradient of r − R − h(a, y).
  for (const Vec3& p : t.points) {
    const double a = std::atan2(p.y, p.x) + (p.y < 0 ? 2 * kPi : 0.0);
    const double r = std::hypot(p.x, p.y);
    const Vec3 out{p.x / r, p.y / r, 0};
    const Vec3 around{-p.y / r, p.x / r, 0};
    t.normals.push_back(normalized(out - around * (1.5 * std::cos(3 * a) / r) - Vec3{0, 0, 0.05}));
  }
  const BasedTile tile = over_base(t, cylinder, progress);
  CHECK(tile.beyond < 1e-9);
  CHECK(tile.length_x == Approx(2 * kPi * radius));
  CHECK(tile.length_y == Approx(30));
  // The exact circle is not run through evenly, so the places around are taken from the base's own parameter: they
  // go onto the same cylinder, where the form must come back, and onto a plane, where heights must.
  const TriangleMesh back = flow(tile, chart_of(cylinder), {}, {}, progress);
  REQUIRE(back.points.size() == t.points.size());
  for (const Vec3& p : t.points) {
    double nearest = 1e300;
    std::size_t which = 0;
    for (std::size_t k = 0; k < back.points.size(); ++k)
      if (const double d = distance(p, back.points[k]); d < nearest) {
        nearest = d;
        which = k;
      }
    CHECK(nearest < 1e-9);
    const auto at = static_cast<std::size_t>(&p - t.points.data());
    CHECK(distance(back.normals[which], t.normals[at]) < 1e-8);
  }
  const TriangleMesh rolled =
      flow(tile, chart_of(flat(0, 0, 2 * kPi * radius, 30)), {}, {}, progress);
  for (const Vec3& e : expected) {
    double nearest = 1e300;
    double z = 0.0;
    for (const Vec3& p : rolled.points) {
      // Within the circle's unevenness (2.5 % of a quarter turn) along x; rows are told apart by y.
      const double d = std::abs(p.y - e.y) > 1e-9 ? 1e300 : std::abs(p.x - e.x);
      if (d < nearest) {
        nearest = d;
        z = p.z;
      }
    }
    CHECK(z == Approx(e.z).margin(1e-9));
  }
}

TEST_CASE("heights fade along 6x⁵ − 15x⁴ + 10x³ and normals lean with them") {
  Progress progress;
  TriangleMesh t = meshed(flat(0, 0, 10, 10, 4), 4);
  for (Vec3& p : t.points) p.z = 2.0;
  FlowOptions o;
  o.count_u = 6;
  o.count_v = 4;
  HeightRule rule;
  rule.factor = 1.5;
  rule.offset = 0.25;
  rule.fade_s_from = 0.4;
  rule.fade_t_to = 0.25;
  const TriangleMesh r = flow(based(t), chart_of(flat(0, 0, 60, 40)), o, rule, progress);
  const auto share = [](double x) {
    x = std::clamp(x, 0.0, 1.0);
    return 6 * std::pow(x, 5) - 15 * std::pow(x, 4) + 10 * std::pow(x, 3);
  };
  const auto height = [&](double x, double y) {
    return 0.25 + 3.0 * share(x / 24.0) * share((40.0 - y) / 10.0);
  };
  for (std::size_t k = 0; k < r.points.size(); ++k) {
    const Vec3& p = r.points[k];
    CHECK(p.z == Approx(height(p.x, p.y)).margin(1e-12));
    const double e = 1e-5;
    const Vec3 n = normalized(Vec3{-(height(p.x + e, p.y) - height(p.x - e, p.y)) / (2 * e),
                                   -(height(p.x, p.y + e) - height(p.x, p.y - e)) / (2 * e), 1.0});
    CHECK(distance(r.normals[k], n) < 1e-7);
  }
}

TEST_CASE("a smooth field of heights has the derivatives of its own values") {
  Grid<double> samples(12, 9);
  std::mt19937 random(4);
  std::uniform_real_distribution<double> x(0, 1);
  for (double& s : samples.values()) s = x(random);
  for (const bool around : {false, true}) {
    HeightRule rule;
    rule.field = smooth_field(samples, around, false);
    rule.fade_t_from = 0.3;
    for (int k = 0; k < 50; ++k) {
      const double s = 0.02 + 0.96 * x(random);
      const double t = 0.02 + 0.96 * x(random);
      const double e = 1e-6;
      const HeightFactor f = height_factor(rule, s, t);
      CHECK(f.by_s ==
            Approx((height_factor(rule, s + e, t).value - height_factor(rule, s - e, t).value) /
                   (2 * e))
                .margin(1e-5));
      CHECK(f.by_t ==
            Approx((height_factor(rule, s, t + e).value - height_factor(rule, s, t - e).value) /
                   (2 * e))
                .margin(1e-5));
    }
    // Closed: both ends are one place.
    if (around)
      CHECK(height_factor(rule, 0.0, 0.5).value == Approx(height_factor(rule, 1.0, 0.5).value));
  }
  CHECK_THROWS_AS(smooth_field(Grid<double>(2, 9), false, false), Error);
}

TEST_CASE("counts follow from the size of a tile") {
  FlowOptions o;
  const Surface cylinder = make_cylinder({}, 20, 60);
  fit_counts(o, chart_of(cylinder), 6.0, 7.0);
  CHECK(o.count_u == 21);  // 2π 20 ÷ 6 = 20.94
  CHECK(o.count_v == 9);   // 60 ÷ 7 = 8.57
  fit_counts(o, chart_of(cylinder), 1e9, 0.0);
  CHECK(o.count_u == 1);
  CHECK(o.count_v == 9);
  fit_counts(o, chart_of(cylinder), 1e-9, 1e-9);
  CHECK(o.count_u == 500);
}

TEST_CASE("a turned-over face still carries its pattern outside") {
  Progress progress;
  Body body = body_of({make_cylinder({}, 20, 30)});
  const TriangleMesh t = meshed(bumpy());
  FlowOptions o;
  o.count_u = 12;
  o.count_v = 3;
  for (const bool flipped : {false, true})
    for (const bool inward : {false, true}) {
      body.faces[0].flipped = flipped;
      o.inward = inward;
      const TriangleMesh r = flow(based(t), chart_of(body.faces[0]), o, {}, progress);
      check_sound(r);
      double reach = 20;
      for (const Vec3& p : r.points) {
        const double d = std::hypot(p.x, p.y);
        if (std::abs(d - 20) > std::abs(reach - 20)) reach = d;
      }
      CHECK((reach > 20) == (flipped == inward));
    }
}

TEST_CASE("stretch of the map from pole to pole of a sphere is that of the cylinder projection") {
  // Evened out, u is the longitude and v the latitude φ: lengths along u shrink by cos φ. The mean of cos φ is 2/π,
  // so σ = cos φ ÷ √(2/π) and 1 ÷ √(2/π).
  const double radius = 30;
  FlowOptions o;
  o.even = true;
  o.count_u = 6;
  o.count_v = 3;
  const int samples = 48;
  const Stretch s = stretch_of(chart_of(make_sphere({}, radius)), o, 2 * kPi * radius / 6,
                               kPi * radius / 3, samples);
  const double scale = std::sqrt(2 / kPi);
  for (const int j : {0, 10, 24, 40}) {
    const double latitude = ((j + 0.5) / samples - 0.5) * kPi;
    const double expected = 100 * std::max(1 / scale - 1, 1 - std::cos(latitude) / scale);
    CHECK(s.map(7, j) == Approx(expected).margin(0.05));
  }
  CHECK(s.worst == Approx(100 * (1 - std::cos((0.5 / samples - 0.5) * kPi) / scale)).margin(0.1));
  // A cylinder is not stretched at all.
  const Stretch none =
      stretch_of(chart_of(make_cylinder({}, 20, 60)), o, 2 * kPi * 20 / 6, 20.0, samples);
  CHECK(none.worst < 1e-4);
}

TEST_CASE("an evened target stretches a pattern less than the same shape before") {
  // A flat sheet whose lines crowd to one side: same form, uneven parameters.
  Surface uneven = flat(0, 0, 60, 40, 8);
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 8; ++j) {
      uneven.points(i, j).x = 60 * std::pow(uneven.points(i, j).x / 60, 1.6);
      uneven.points(i, j).y = 40 * std::pow(uneven.points(i, j).y / 40, 1.4);
    }
  Progress progress;
  FlowOptions o;
  o.count_u = 6;
  o.count_v = 4;
  const Stretch before = stretch_of(chart_of(uneven), o, 10, 10);
  const EvenedOut evened = even_out(uneven, {.tolerance = 0.01}, progress);
  const Stretch after = stretch_of(chart_of(evened.surface), o, 10, 10);
  o.even = true;
  const Stretch on_the_fly = stretch_of(chart_of(uneven), o, 10, 10);
  CHECK(before.mean > 10);
  CHECK(after.mean < 0.2 * before.mean);
  CHECK(on_the_fly.mean < 0.05 * before.mean);
}

TEST_CASE("heights beyond the least radius are called out") {
  FlowOptions o;
  o.region.t_from = 0.2;
  o.region.t_to = 0.8;
  const Chart chart = chart_of(make_cylinder({}, 5, 30));
  CHECK_FALSE(harm_of(chart, o, 0, 20));  // outward a cylinder only opens
  o.inward = true;
  CHECK_FALSE(harm_of(chart, o, 0, 4.9));
  const auto harm = harm_of(chart, o, 0, 6);
  REQUIRE(harm);
  CHECK(harm->radius == Approx(5));
  CHECK(harm->height == 6);
}

TEST_CASE(
    "a pattern of surfaces on a torus is one closed body within the tolerance of the exact map") {
  Progress progress;
  const Surface torus = make_torus({}, 30, 10);
  const Body tile = body_of({bumpy()}, 3);
  const PatternBase base{{}, 8, 8};
  FlowOptions o;
  o.count_u = 10;
  o.count_v = 4;
  o.even = true;
  const FlowedBody r = flow_surfaces(tile, base, chart_of(torus), o, {}, 0.01, 7, progress);
  REQUIRE(r.body.faces.size() == 40);
  check(r.body);
  CHECK(r.open == 0);
  CHECK(topology(r.body).closed);
  CHECK(r.deviation <= 0.005);
  CHECK(r.gap <= 0.01);
  // Against the map of places: the mesh of a fine tile.
  const TriangleMesh mesh = flow(based(meshed(bumpy(), 5)), chart_of(torus), o, {}, progress);
  const std::vector<double> off = signed_distances(mesh.points, Measurable(r.body), progress);
  for (const double d : off) CHECK(std::abs(d) <= 0.01);
  // Neighbours meet with tangency, also where the torus closes on itself: repeats are along u, then v.
  const auto face = [&](int a, int b) -> const Surface& {
    return *r.body.faces[static_cast<std::size_t>(a % 10 * 4 + b % 4)].surface;
  };
  for (const auto& [a, b] : {std::pair{0, 0}, {9, 3}, {4, 2}}) {
    const Continuity along_u =
        continuity(face(a, b), Border::UMax, face(a + 1, b), Border::UMin, progress, 40);
    const Continuity along_v =
        continuity(face(a, b), Border::VMax, face(a, b + 1), Border::VMin, progress, 40);
    CHECK(along_u.gap < 1e-6);
    CHECK(along_v.gap < 1e-6);
    CHECK(along_u.angle < 0.1);
    CHECK(along_v.angle < 0.1);
  }
  std::vector<Tag> tags;
  for (const Face& f : r.body.faces) tags.push_back(f.tag);
  std::sort(tags.begin(), tags.end());
  CHECK(std::adjacent_find(tags.begin(), tags.end()) == tags.end());
}

TEST_CASE("surfaces that are mirrored or point inward keep their outside") {
  Progress progress;
  const Surface torus = make_torus({}, 30, 10);
  const Body tile = body_of({bumpy()}, 3);
  FlowOptions o;
  o.count_u = 6;
  o.count_v = 3;
  for (const bool flip : {false, true})
    for (const bool inward : {false, true}) {
      o.flip_u = flip;
      o.inward = inward;
      const FlowedBody r =
          flow_surfaces(tile, {{}, 8, 8}, chart_of(torus), o, {}, 0.02, 7, progress);
      CHECK(topology(r.body).closed);
      double v = 0.0;
      for (const Face& f : r.body.faces) v += volume(f, progress);
      // Inward the pattern's outside is the torus's inside.
      CHECK((v > 0.0) != inward);
      CHECK(std::abs(v) == Approx(2 * kPi * kPi * 30 * 100).epsilon(0.15));
    }
}

TEST_CASE("holes of a tile stay trims in the surfaces of a pattern") {
  Progress progress;
  const Body tile = make_shelf_tile(ShelfTile::Perforation, {.width = 0.5}, 3);
  FlowOptions o;
  o.count_u = 8;
  o.count_v = 3;
  o.even = true;
  // A cylinder is isometric to its plane: the area is that of the flat tiles, 8 × 3 × (64 − π 2²) scaled.
  const double radius = 8 * 8 / (2 * kPi);
  const FlowedBody r = flow_surfaces(tile, {{}, 8, 8}, chart_of(make_cylinder({}, radius, 24)), o,
                                     {}, 0.001, 7, progress);
  CHECK(r.body.faces.size() == 24);
  double sum = 0.0;
  for (const Face& f : r.body.faces) sum += area(f, progress);
  CHECK(sum == Approx(24 * (64 - kPi * 4)).epsilon(1e-4));
  // 24 round openings of one edge each, 16 borders above and below.
  CHECK(r.open == 24 + 16);
  const Topology t = topology(r.body);
  CHECK(t.shells.size() == 1);
}

TEST_CASE("opposite edges of the smooth tiles of the shelf meet to rounding") {
  for (int k = 0; k < 8; ++k) {
    const auto kind = static_cast<ShelfTile>(k);
    ShelfTileSizes sizes;
    sizes.length_y = kind == ShelfTile::Hex ? 8 * std::numbers::sqrt3 : 6.0;
    const Body tile = make_shelf_tile(kind, sizes, 1);
    check(tile);
    if (kind == ShelfTile::Perforation) continue;
    const TriangleMesh m = meshed(*tile.faces[0].surface, 4);
    const TilePairing p = pairing_of(m, base_of(m), 1e-4);
    INFO(k);
    CHECK(p.edges);
    CHECK(p.gap < 1e-9);
    if (kind != ShelfTile::Quilt && kind != ShelfTile::Knurl) CHECK(p.angle < 1e-6);
    if (kind == ShelfTile::Quilt) CHECK(p.angle > 5);  // its seam is meant
    const Box3 b = box(m);
    CHECK(b.max.x - b.min.x == Approx(8));
    CHECK(b.max.y - b.min.y == Approx(sizes.length_y));
    CHECK(b.max.z - b.min.z > 0.8 * sizes.height);
    CHECK(b.max.z - b.min.z < 1.2 * sizes.height);
  }
  CHECK_THROWS_AS(make_shelf_tile(ShelfTile::Rib, {.length_x = 0}, 1), Error);
  CHECK_THROWS_AS(make_shelf_tile(ShelfTile::Rib, {.points = 3}, 1), Error);
  CHECK_THROWS_AS(make_shelf_tile(ShelfTile::Rib, {.width = std::nan("")}, 1), Error);
}

TEST_CASE("heights of the shelf follow their own description") {
  // Half-way between rim and middle of a dimple: (1 − 1/4)³ of the depth.
  const ShelfTileSizes s{.length_x = 10, .length_y = 10, .height = 2, .width = 0.8, .points = 20};
  CHECK(shelf_height(ShelfTile::Dimple, s, 0.5, 0.5) == Approx(-2));
  CHECK(shelf_height(ShelfTile::Dimple, s, 0.7, 0.5) == Approx(-2 * 0.421875));
  CHECK(shelf_height(ShelfTile::Dimple, s, 0.95, 0.5) == 0);
  const Body tile = make_shelf_tile(ShelfTile::Dimple, s, 1);
  const Surface& surface = *tile.faces[0].surface;
  double worst = 0.0;
  for (int i = 0; i <= 40; ++i)
    for (int j = 0; j <= 40; ++j) {
      const Vec3 p = evaluate(surface, i / 40.0, j / 40.0);
      CHECK(p.x == Approx(10 * i / 40.0).margin(1e-9));
      worst =
          std::max(worst, std::abs(p.z - shelf_height(ShelfTile::Dimple, s, p.x / 10, p.y / 10)));
    }
  CHECK(worst < 0.02);
}

TEST_CASE("pairing finds a step and a crease, and the place") {
  Surface s = flat(0, 0, 8, 8, 5);
  CHECK(pairing_of(meshed(s), base_of(meshed(s)), 1e-4).gap < 1e-12);
  for (int j = 0; j < 5; ++j) s.points(4, j).z = 0.3;  // one edge 0.3 mm higher
  const TriangleMesh m = meshed(s);
  const TilePairing p = pairing_of(m, {{}, 8, 8}, 1e-4);
  CHECK(p.edges);
  CHECK(p.gap == Approx(0.3));
  // The last span of a cubic rises by 3 · 0.3 over the Greville step of 8 / 2 / 3: atan(0.3 / (4/3)).
  CHECK(p.angle == Approx(std::atan(0.3 / (4.0 / 3.0)) * 180 / kPi).margin(0.01));
  TriangleMesh short_tile = m;
  CHECK_FALSE(pairing_of(short_tile, {{}, 9, 8}, 1e-4).edges);
}

TEST_CASE("a tile whose edges are cut unalike is paired and then closes on a torus") {
  Progress progress;
  // A flat tile whose left edge has 4 parts and whose right edge has 3.
  TriangleMesh t;
  for (const double y : {0.0, 2.0, 4.0, 6.0, 8.0}) t.points.push_back({0, y, 0});
  for (const double y : {0.0, 3.0, 5.0, 8.0}) t.points.push_back({8, y, 0});
  t.triangles = {{0, 5, 1}, {1, 5, 6}, {1, 6, 2}, {2, 6, 7}, {2, 7, 3}, {3, 7, 8}, {3, 8, 4}};
  const PatternBase base = base_of(t);
  FlowOptions o;
  o.count_u = 8;
  o.count_v = 5;
  const Chart torus = chart_of(make_torus({}, 30, 10));
  CHECK_FALSE(check_edges(flow(over_base(t, base), torus, o, {}, progress)).watertight());
  const TriangleMesh p = paired(t, base, near_of(base));
  CHECK(area(p) == Approx(64));
  CHECK(p.points.size() == 9 + 2 + 3);
  const TriangleMesh r = flow(over_base(p, base), torus, o, {}, progress);
  CHECK(check_edges(r).watertight());
}

TEST_CASE("joints between tiles are measured") {
  Progress progress;
  FlowOptions o;
  o.count_u = 6;
  o.count_v = 4;
  const Chart sheet = chart_of(flat(0, 0, 48, 32));
  const FlowPlan smooth(based(meshed(bumpy())), sheet, o, progress);
  const FlowJoints good = smooth.joints(sheet, {});
  CHECK(good.places > 100);
  CHECK(good.angle < 1e-6);
  // A roof: straight slopes of 0.5 mm over 4 mm on both sides of a ridge meet in a valley at its edges.
  Surface roof = flat(0, 0, 8, 8, 3, 1);
  for (int j = 0; j < 3; ++j) roof.points(1, j).z = 0.5;
  const FlowPlan creased(based(meshed(roof)), sheet, o, progress);
  const FlowJoints bad = creased.joints(sheet, {});
  CHECK(bad.angle == Approx(2 * std::atan(0.5 / 4.0) * 180 / kPi).margin(1e-6));
  CHECK(std::fmod(bad.at.x + 1e-9, 8.0) < 1e-6);
}

TEST_CASE("a picture's brightness is read row by row") {
  // A BMP of 4 × 2 pixels with 24 bits: black and white in the lower row, grey 51 above.
  std::string bmp = "BM";
  const auto put = [&](std::uint32_t v, int n) {
    for (int k = 0; k < n; ++k) bmp += static_cast<char>(v >> (8 * k) & 255U);
  };
  put(54 + 24, 4), put(0, 4), put(54, 4);
  put(40, 4), put(4, 4), put(2, 4), put(1, 2), put(24, 2), put(0, 4), put(24, 4);
  put(2835, 4), put(2835, 4), put(0, 4), put(0, 4);
  for (const int v : {0, 0, 255, 255, 51, 51, 51, 51})
    for (int c = 0; c < 3; ++c) bmp += static_cast<char>(v);
  const Grid<double> g = grey_samples(bmp, 2, 2);
  CHECK(g(0, 0) == Approx(0.0));
  CHECK(g(1, 0) == Approx(1.0));
  CHECK(g(0, 1) == Approx(0.2));
  CHECK(g(1, 1) == Approx(0.2));
  CHECK(grey_samples(bmp, 8, 8)(7, 7) == Approx(0.2));
  CHECK_THROWS_WITH(grey_samples("no picture", 4, 4), Contains("cannot be read"));
  CHECK_THROWS_AS(grey_samples(bmp.substr(0, 30), 4, 4), Error);
}

TEST_CASE("a mesh cut by a plane keeps what lies on one side") {
  Progress progress;
  const TriangleMesh ball =
      tessellate(make_sphere({}, 10), {.per_span_u = 24, .per_span_v = 24}, progress);
  const TriangleMesh cap = cut_by_plane(ball, {0, 0, 6}, {0, 0, -1}, 1e-9);
  CHECK(area(cap) == Approx(2 * kPi * 10 * 4).epsilon(0.01));  // 2πRh
  for (const Vec3& p : cap.points) CHECK(p.z >= 6 - 1e-9);
  const EdgeReport e = check_edges(cap);
  CHECK(e.tangled == 0);
  int rim = 0;
  for (const Vec3& p : cap.points) rim += std::abs(p.z - 6) < 1e-9 ? 1 : 0;
  CHECK(e.open == static_cast<std::size_t>(rim));
}
