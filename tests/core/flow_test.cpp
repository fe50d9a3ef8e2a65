#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/pattern/border_cut.h"
#include "core/pattern/flow.h"

using namespace evenclay;

namespace {

// A bumpy tile over [0, a] × [0, b] whose borders are flat.
TriangleMesh tile(double a, double b, int n = 10) {
  Progress progress;
  Frame middle;
  middle.origin = {a / 2, b / 2, 0};
  Surface s = make_plane(middle, a, b, 6, 6, 3, 3);
  s.points(2, 3).z = 1.2;
  s.points(3, 2).z = -0.7;
  return tessellate(s, {.per_span_u = n, .per_span_v = n}, progress);
}

TriangleMesh flow(const TriangleMesh& t, const Surface& target, const FlowOptions& o,
                  Progress& progress) {
  return evenclay::flow(over_base(t, base_of(t)), chart_of(target), o, {}, progress);
}

}  // namespace

TEST_CASE("flat onto flat is the identity to 1e-12") {
  Progress progress;
  const TriangleMesh t = tile(30, 20);
  Frame middle;
  middle.origin = {15, 10, 0};
  for (const bool even : {false, true}) {
    FlowOptions o;
    o.even = even;
    const TriangleMesh r = flow(t, make_plane(middle, 30, 20, 5, 4, 3, 2), o, progress);
    REQUIRE(r.points.size() == t.points.size());
    for (std::size_t k = 0; k < t.points.size(); ++k) {
      CHECK(distance(r.points[k], t.points[k]) <= 1e-12 * 40);
      CHECK(distance(r.normals[k], t.normals[k]) <= 1e-11);
    }
    CHECK(r.triangles == t.triangles);
  }
}

TEST_CASE("onto a cylinder lengths are kept to 1e-6 and heights are exact") {
  // A developable surface is isometric to its plane: with the base as long as the circumference,
  // a piece of the base of length l becomes an arc of length l on the cylinder.
  Progress progress;
  const double radius = 20;
  const double around = 2 * std::numbers::pi * radius;
  const TriangleMesh t = tile(around, 60, 12);
  FlowOptions o;
  o.even = true;
  const TriangleMesh r = flow(t, make_cylinder({}, radius, 60), o, progress);
  double worst_length = 0.0;
  double worst_height = 0.0;
  // Vertices of the tile map to angle x / radius, height y, radius R + z; find them by order.
  std::size_t checked = 0;
  for (const Vec3& p : r.points) {
    const double angle = std::atan2(p.y, p.x);
    const double x = (angle < -1e-9 ? angle + 2 * std::numbers::pi : angle) * radius;
    double nearest = 1e300;
    double height = 0.0;
    for (const Vec3& q : t.points) {
      const double dx = std::min(std::abs(q.x - x), around - std::abs(q.x - x));
      if (const double d = std::hypot(dx, q.y - p.z); d < nearest) {
        nearest = d;
        height = q.z;
      }
    }
    worst_length = std::max(worst_length, nearest);
    worst_height = std::max(worst_height, std::abs(std::hypot(p.x, p.y) - radius - height));
    ++checked;
  }
  REQUIRE(checked > 500);
  CHECK(worst_length <= 1e-6);
  CHECK(worst_height <= 1e-11 * radius);
}

TEST_CASE("onto a sphere heights are exact and the area scale is the cosine of the latitude") {
  // Cylindrical projection of the sphere, from pole to pole, evened out: u = longitude,
  // v = latitude, so dA = R² cos(latitude) du dv.
  Progress progress;
  const double radius = 50;
  const double a = 2 * std::numbers::pi * radius;
  const double b = std::numbers::pi * radius;
  Frame middle;
  middle.origin = {a / 2, b / 2, 0};
  const TriangleMesh t = tessellate(make_plane(middle, a, b, 2, 2, 1, 1),
                                    {.per_span_u = 240, .per_span_v = 120}, progress);
  FlowOptions o;
  o.even = true;
  const TriangleMesh r = flow(t, make_sphere({}, radius), o, progress);
  std::map<int, std::pair<double, double>> rings;  // latitude row: flat area, mapped area
  const double flat = (a / 240) * (b / 120) / 2;
  for (const auto& tri : r.triangles) {
    const Vec3 c = (r.points[tri[0]] + r.points[tri[1]] + r.points[tri[2]]) / 3.0;
    const int row =
        static_cast<int>(std::floor((std::asin(c.z / length(c)) / std::numbers::pi + 0.5) * 120));
    const double mapped =
        length(cross(r.points[tri[1]] - r.points[tri[0]], r.points[tri[2]] - r.points[tri[0]])) / 2;
    rings[row].first += flat;
    rings[row].second += mapped;
  }
  REQUIRE(rings.size() >= 118);
  for (const auto& [row, areas] : rings) {
    if (row < 3 || row > 116) continue;  // at the poles triangles fold away
    const double latitude = ((row + 0.5) / 120 - 0.5) * std::numbers::pi;
    CHECK(areas.second / areas.first == Approx(std::cos(latitude)).epsilon(2e-3));
  }
  for (const Vec3& p : r.points) CHECK(std::abs(length(p) - radius) < 1e-11 * radius);
  CHECK(check_edges(r).watertight());
}

TEST_CASE("normals come from the differential: they match a numeric differential of the map") {
  Progress progress;
  const TriangleMesh t = tile(8, 8, 6);
  FlowOptions o;
  o.count_u = 5;
  o.count_v = 3;
  o.region.t_from = 0.3;
  o.region.t_to = 0.7;
  const Surface target = make_torus({}, 40, 15);
  for (const bool even : {false, true})
    for (int corner = 0; corner < 4; ++corner) {
      o.even = even;
      o.corner = static_cast<TargetCorner>(corner);
      const TriangleMesh coarse = flow(t, target, o, progress);
      // The same map on a much finer tile gives triangles whose normals are the true ones.
      const TriangleMesh fine_tile = tile(8, 8, 48);
      const TriangleMesh fine = flow(fine_tile, target, o, progress);
      const std::vector<Vec3> averaged = averaged_normals(fine);
      double worst = 0.0;
      for (std::size_t k = 0; k < fine.points.size(); ++k)
        worst = std::max(worst, distance(averaged[k], fine.normals[k]));
      CHECK(worst < 0.04);
      CHECK(coarse.points.size() < fine.points.size());
    }
}

TEST_CASE("repeats share the vertices of their borders and normals agree across them") {
  Progress progress;
  const TriangleMesh t = tile(8, 8, 4);
  FlowOptions o;
  o.count_u = 18;
  o.count_v = 6;
  o.region.t_from = 0.38;
  o.region.t_to = 0.72;
  o.even = true;
  const TriangleMesh r = flow(t, make_sphere({}, 52), o, progress);
  const std::size_t side = 4 * 3;  // three spans of four parts
  // All the way round in u: no seam column; along v one border row more.
  CHECK(r.points.size() == 18 * side * (6 * side + 1));
  const EdgeReport edges = check_edges(r);
  CHECK(edges.tangled == 0);
  CHECK(edges.open == 2 * 18 * side);  // only the upper and the lower border of the band
  // Two tiles flowed each by itself onto its half of the band have the same normals where they meet.
  o.even = false;
  o.count_u = o.count_v = 1;
  o.region.s_from = 0.1;
  o.region.s_to = 0.2;
  const TriangleMesh left = flow(t, make_sphere({}, 52), o, progress);
  o.region.s_from = 0.2;
  o.region.s_to = 0.3;
  const TriangleMesh right = flow(t, make_sphere({}, 52), o, progress);
  int met = 0;
  for (std::size_t a = 0; a < left.points.size(); ++a)
    for (std::size_t b = 0; b < right.points.size(); ++b)
      if (distance(left.points[a], right.points[b]) < 1e-9) {
        ++met;
        const double sine = length(cross(left.normals[a], right.normals[b]));
        CHECK(sine <= std::sin(0.1 * std::numbers::pi / 180.0));  // 0.1°, the rule of the trade
      }
  CHECK(met == static_cast<int>(side) + 1);
}

TEST_CASE("a full torus of tiles is watertight and outside stays outside under flips") {
  Progress progress;
  const TriangleMesh t = tile(8, 8, 3);
  FlowOptions o;
  o.count_u = 12;
  o.count_v = 5;
  const Surface torus = make_torus({}, 40, 12);
  const double expected = 2 * std::numbers::pi * std::numbers::pi * 40 * 144;
  for (const bool flip_u : {false, true})
    for (const bool flip_v : {false, true})
      for (const TargetCorner corner : {TargetCorner::UVMin, TargetCorner::UMaxVMin}) {
        o.flip_u = flip_u;
        o.flip_v = flip_v;
        o.corner = corner;
        const TriangleMesh r = flow(t, torus, o, progress);
        CHECK(check_edges(r).watertight());
        CHECK(volume(r) == Approx(expected).epsilon(0.1));
      }
  o.inward = true;
  const TriangleMesh inside = flow(t, torus, o, progress);
  CHECK(check_edges(inside).watertight());
}

TEST_CASE("a kept plan gives what a new flow gives while the target's points move") {
  Progress progress;
  const TriangleMesh t = tile(8, 8, 4);
  FlowOptions o;
  o.count_u = 12;
  o.count_v = 5;
  o.region.t_from = 0.3;
  o.region.t_to = 0.7;
  o.even = true;
  Surface target = make_sphere({}, 52);
  const FlowPlan plan(over_base(t, base_of(t)), chart_of(target), o, progress);
  const std::string key = FlowPlan::key(chart_of(target), o);
  for (int step = 0; step < 3; ++step) {
    target.points(3, 4) += {2.0, -1.0, 1.5};
    CHECK(FlowPlan::key(chart_of(target), o) == key);
    const TriangleMesh kept = plan.onto(chart_of(target), {}, progress);
    const TriangleMesh fresh = flow(t, target, o, progress);
    CHECK(kept.points == fresh.points);
    CHECK(kept.normals == fresh.normals);
    CHECK(kept.triangles == fresh.triangles);
  }
  // Everything the plan depends on is in its key.
  const auto differs = [&](auto change) {
    FlowOptions other = o;
    change(other);
    return FlowPlan::key(chart_of(target), other) != key;
  };
  CHECK(differs([](FlowOptions& x) { x.count_u = 13; }));
  CHECK(differs([](FlowOptions& x) { x.corner = TargetCorner::UVMax; }));
  CHECK(differs([](FlowOptions& x) { x.flip_v = true; }));
  CHECK(differs([](FlowOptions& x) { x.inward = true; }));
  CHECK(differs([](FlowOptions& x) { x.region.s_to = 0.9; }));
  CHECK(differs([](FlowOptions& x) { x.even = false; }));
  CHECK(differs([](FlowOptions& x) { x.made.assign(60, true); }));
  CHECK_THROWS_WITH(plan.onto(chart_of(make_plane({}, 40, 12, 5, 5, 3, 3)), {}, progress),
                    Catch::Contains("another way"));
}

TEST_CASE("tiles that would reach over an opening are left out whole") {
  // A flat sheet of 80 × 60 mm with a round opening of radius 10.5 about (5, −4).
  Progress progress;
  const Surface sheet = make_plane({}, 80, 60, 4, 4, 3, 3);
  const auto round = [&](double r) {
    Curve c = make_circle({}, 1.0);
    for (Vec3& p : c.points) p = {(45 + r * p.x) / 80, (26 + r * p.y) / 60, 0.0};
    return c;
  };
  Body body = body_of({sheet});
  body = with_explicit_borders(body, 1e-6);
  const Curve uv = round(10.5);
  Curve edge = uv;
  for (Vec3& p : edge.points) p = {p.x * 80 - 40, p.y * 60 - 30, 0.0};
  body.edges.push_back({77, edge, 0.0});
  body.faces[0].loops.push_back({{static_cast<std::uint32_t>(body.edges.size() - 1), true, uv}});
  const TriangleMesh t = tile(8, 6, 3);
  FlowOptions o;
  o.count_u = 10;
  o.count_v = 10;
  o.made = whole_tiles(chart_of(body.faces[0]), o);
  REQUIRE(o.made.size() == 100);
  // By hand: a rectangle is left out when its nearest place to the centre is within the radius.
  int left_out = 0;
  for (int a = 0; a < 10; ++a)
    for (int b = 0; b < 10; ++b) {
      const double x = std::clamp(5.0, 8.0 * a - 40, 8.0 * a - 32);
      const double y = std::clamp(-4.0, 6.0 * b - 30, 6.0 * b - 24);
      const bool free = std::hypot(x - 5, y + 4) > 10.5;
      CHECK(o.made[static_cast<std::size_t>(a * 10 + b)] == free);
      left_out += free ? 0 : 1;
    }
  CHECK(left_out > 4);
  const TriangleMesh r = flow(t, sheet, o, progress);
  for (const Vec3& p : r.points) CHECK(std::hypot(p.x - 5, p.y + 4) > 10.5 - 1e-9);
  CHECK(r.triangles.size() == t.triangles.size() * static_cast<std::size_t>(100 - left_out));
  o.made.assign(100, false);
  CHECK_THROWS_WITH(flow(t, sheet, o, progress), Catch::Contains("No whole tile"));
}

TEST_CASE("tiles that reach over an opening are cut along it") {
  // A flat sheet of 80 × 60 mm with a round opening of radius 10.5 about (5, −4): its area is known.
  Progress progress;
  const Surface sheet = make_plane({}, 80, 60, 4, 4, 3, 3);
  Body body = with_explicit_borders(body_of({sheet}), 1e-6);
  Curve uv = make_circle({}, 1.0);
  uv = first_row(opened(strip_of(uv, {0, 0, 1}), Direction::U, uv.knots.first()));
  Curve edge = uv;
  for (Vec3& p : uv.points) p = {(45 + 10.5 * p.x) / 80, (26 + 10.5 * p.y) / 60, 0.0};
  for (Vec3& p : edge.points) p = {5 + 10.5 * p.x, -4 + 10.5 * p.y, 0.0};
  body.edges.push_back({77, edge, 0.0});
  body.faces[0].loops.push_back({{static_cast<std::uint32_t>(body.edges.size() - 1), true, uv}});
  Frame middle;
  middle.origin = {4, 3, 0};
  const TriangleMesh flat = tessellate(make_plane(middle, 8, 6, 4, 4, 3, 3),
                                       {.per_span_u = 3, .per_span_v = 3}, progress);
  const Chart chart = chart_of(body.faces[0]);
  for (const bool even : {false, true})
    for (const bool flip : {false, true}) {
      FlowOptions o;
      o.count_u = 10;
      o.count_v = 10;
      o.even = even;
      o.flip_u = flip;
      o.made = whole_tiles(chart, o);
      o.cut = flat_border(chart, o);
      REQUIRE(o.cut);
      const TriangleMesh r = evenclay::flow(over_base(flat, base_of(flat)), chart, o, {}, progress);
      check(r);
      const double opening = std::numbers::pi * 10.5 * 10.5;
      CHECK(area(r) == Approx(80 * 60 - opening).epsilon(1e-5));
      for (const Vec3& p : r.points) CHECK(std::hypot(p.x - 5, p.y + 4) > 10.5 - 1e-3);
      for (const Vec3& n : r.normals) CHECK(n.z == Approx(1.0));
      // Nothing is open but the sheet's own border and the opening's.
      const EdgeReport edges = check_edges(r);
      CHECK(edges.tangled == 0);
      std::map<std::pair<std::uint32_t, std::uint32_t>, int> uses;
      for (const auto& t : r.triangles)
        for (std::size_t k = 0; k < 3; ++k)
          ++uses[{std::min(t[k], t[(k + 1) % 3]), std::max(t[k], t[(k + 1) % 3])}];
      for (const auto& [e, n] : uses) {
        if (n != 1) continue;
        const Vec3 m = (r.points[e.first] + r.points[e.second]) * 0.5;
        const bool outer = std::abs(m.x) > 40 - 1e-6 || std::abs(m.y) > 30 - 1e-6;
        CHECK((outer || std::abs(std::hypot(m.x - 5, m.y + 4) - 10.5) < 0.02));
      }
    }
  // Heights and normals of what is cut are those of the tile: a bump is the same with and without the border.
  const TriangleMesh bump = tile(8, 6, 4);
  FlowOptions o;
  o.count_u = o.count_v = 10;
  o.made = whole_tiles(chart, o);
  o.cut = flat_border(chart, o);
  const TriangleMesh r = evenclay::flow(over_base(bump, base_of(bump)), chart, o, {}, progress);
  double highest = 0.0, lowest = 0.0;
  for (const Vec3& p : r.points) {
    highest = std::max(highest, p.z);
    lowest = std::min(lowest, p.z);
  }
  const Box3 b = box(bump);
  CHECK(highest == Approx(b.max.z));
  CHECK(lowest == Approx(b.min.z));
}

TEST_CASE("flow refuses what cannot be mapped with a sentence") {
  Progress progress;
  const TriangleMesh t = tile(8, 8, 2);
  const Surface sphere = make_sphere({}, 52);
  FlowOptions o;
  o.region.t_to = 0.5;
  CHECK_THROWS_WITH(flow(t, sphere, o, progress),
                    "The target's v direction has no length at one end (a pole). Choose a band "
                    "that leaves out the pole, or flow from pole to pole.");
  o = {};
  o.count_u = 0;
  CHECK_THROWS_AS(flow(t, sphere, o, progress), Error);
  o = {};
  o.region.s_from = o.region.s_to = 0.5;
  CHECK_THROWS_AS(flow(t, sphere, o, progress), Error);
  CHECK_THROWS_AS(over_base(t, PatternBase{{}, 0.0, 8.0}), Error);
  o = {};
  o.count_u = o.count_v = 500;
  CHECK_THROWS_WITH(flow(tile(8, 8, 12), sphere, o, progress), Catch::Contains("million"));
  CHECK_THROWS_AS(flow(TriangleMesh{}, sphere, FlowOptions{}, progress), Error);
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(flow(t, sphere, FlowOptions{}, cancelled), Cancelled);
}
