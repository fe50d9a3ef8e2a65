// One interface for curves, surfaces and cages: every tool that picks and moves points.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "core/base/error.h"
#include "core/check/curve_measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/points/arrange.h"
#include "core/points/falloff.h"
#include "core/points/shaping.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Curve ring_of(int points) {
  Progress progress;
  return rebuild(make_circle({}, 20), {.points = points}, progress);
}

Lattice cage(int n, int m, int k) {
  Lattice l{uniform_knots(n, std::min(3, n - 1), false),
            uniform_knots(m, std::min(3, m - 1), false),
            uniform_knots(k, std::min(3, k - 1), false), Grid<Vec3>::layered(n, m, k)};
  for (int a = 0; a < n; ++a)
    for (int b = 0; b < m; ++b)
      for (int c = 0; c < k; ++c)
        l.points(a, b, c) = {10.0 * (a - 0.5 * (n - 1)), 12.0 * (b - 0.5 * (m - 1)), 8.0 * c};
  return l;
}

// A wavy sheet split in two along u: both parts have the control points of the common border.
Nets joined_sheets() {
  Surface s{uniform_knots(9, 3, false), uniform_knots(7, 3, false), Grid<Vec3>(9, 7), {}};
  for (int i = 0; i < 9; ++i)
    for (int j = 0; j < 7; ++j)
      s.points(i, j) = {10.0 * i, 10.0 * j - 30.0, 4.0 * std::sin(0.9 * i) * std::cos(0.7 * j)};
  auto [left, right] = split(s, Direction::U, 0.47);
  return Nets({left, right});
}

PointShares only(const Nets& nets, const Selection& picked) {
  return shares(nets, with_united(nets, picked), {});
}

Nets with(const Nets& nets, const PointMoves& moves, const PointShares& share,
          const ShapeRules& rules = {}) {
  return with_shaping(nets, with_moves({}, nets, moves, share, rules));
}

Selection all_of(const Nets& nets) {
  return points_where(nets, [](const Vec3&) { return true; });
}

}  // namespace

TEST_CASE("a ring of 36 with every second point scaled to 0.9 has 18 bumps") {
  const Nets ring(ring_of(36));
  const Selection row = row_through(ring, {0, 5}, 0);
  REQUIRE(row.size() == 36);
  CHECK(ring_through(ring, {0, 5}) == row);
  const Selection second = every_nth(row, 0, 2, 0);
  REQUIRE(second.size() == 18);
  const PointShares share = only(ring, second);
  const Nets bumpy = with(ring, scale(ring, share, {}, {0.9, 0.9, 1.0}), share);
  // Each bump bends out and in once: two inflections a bump, counted on the resulting curve.
  CHECK(comb(*bumpy.nets[0].curve(), 40).inflections.size() == 36);
  CHECK(distance(bumpy.point({0, 4}), ring.point({0, 4}) * 0.9) < 1e-12);
  CHECK(bumpy.point({0, 5}) == ring.point({0, 5}));
}

TEST_CASE("every tool works on the points of a curve") {
  const Nets line(
      make_curve({{0, 0, 0}, {8, 6, 0}, {21, -3, 2}, {30, 5, 0}, {40, 0, 0}}, 3, false));
  const Selection all = all_of(line);
  REQUIRE(all.size() == 5);
  const PointShares share = only(line, all);
  SECTION("picking") {
    CHECK(grown(line, {{0, 2}}) == Selection{{0, 1}, {0, 2}, {0, 3}});
    CHECK(shrunk(line, {{0, 0}, {0, 1}, {0, 2}}) == Selection{{0, 0}, {0, 1}});
    CHECK(checker(all, true) == Selection{{0, 1}, {0, 3}});
    CHECK(range_between(line, {0, 1}, {0, 4}).size() == 4);
    CHECK(row_direction(all) == 0);
  }
  SECTION("arranging") {
    const Nets flat = with(line, set_coordinate(line, share, 2, 1.5), share);
    for_each_point(flat, [&](PointIndex p) { CHECK(flat.point(p).z == Approx(1.5)); });
    const Nets straight = with(line, straighten_rows(line, share, all, 0), share);
    CHECK(distance(straight.point({0, 2}), {20, 0, 0}) < 1e-12);
    const Nets relaxed = with(line, relax_from_borders(line, share), share);
    for_each_point(relaxed, [&](PointIndex p) { CHECK(std::abs(relaxed.point(p).y) < 1e-12); });
    const Nets calm = with(line, smooth(line, share, 1.0), share);
    CHECK(calm.point({0, 0}) == line.point({0, 0}));
    CHECK(length(calm.point({0, 2}) - line.point({0, 2})) > 1.0);
  }
  SECTION("pulling the curve itself, exactly") {
    const Vec3 way{1, -2, 3};
    const Nets pulled = with(line, pull_skin(line, PointShares(line, 1.0), {0, 0.37, 0}, way),
                             PointShares(line, 1));
    CHECK(distance(skin_point(pulled, {0, 0.37, 0}), skin_point(line, {0, 0.37, 0}) + way) < 1e-11);
  }
  SECTION("falloff along") {
    const PointShares s =
        shares(line, {{0, 2}}, {FalloffShape::Ramp, FalloffShape::Ramp, 1, 3, 1, 1});
    CHECK(s({0, 1}) == 0.5);
    CHECK(s({0, 0}) == 0.0);
  }
  SECTION("weights and holds") {
    const Nets heavy = with_shaping(line, with_weight({}, line, {{0, 2}}, 4.0));
    CHECK(heavy.weight({0, 2}) == 4.0);
    CHECK(heavy.nets[0].curve()->rational());
    ShapeRules rules;
    rules.edges[0] = EdgeRule::Tangent;
    const Nets held = with(line, moves_of(line, share, {MoveDirection::Z, 3, {}}), share, rules);
    CHECK(held.point({0, 1}) == line.point({0, 1}));
    CHECK(held.point({0, 2}).z == line.point({0, 2}).z + 3.0);
  }
}

TEST_CASE("off the skin of a circle is outward, on the skin along its tangent") {
  const Nets ring(ring_of(12));
  const PointShares share = only(ring, {{0, 3}});
  const Vec3 out = moves_of(ring, share, {MoveDirection::OffSkin, 2.0, {}})(3, 0);
  CHECK(distance(out, normalized(ring.point({0, 3})) * 2.0) < 1e-6);
  const Vec3 along = moves_of(ring, share, {MoveDirection::OnSkin, 0, {5, 5, 5}})(3, 0);
  CHECK(std::abs(dot(along, out)) < 1e-6);
  CHECK(std::abs(along.z) < 1e-12);
  // Also in the dents of a bumpy ring, whichever way it bends there.
  const PointShares every = only(ring, every_nth(row_through(ring, {}, 0), 0, 2, 0));
  const Nets bumpy = with(ring, scale(ring, every, {}, {0.6, 0.6, 1.0}), every);
  for (int i = 0; i < 12; ++i)
    CHECK(dot(skin_normal(bumpy, {0, i}), normalized(bumpy.point({0, i}))) > 0.9);
}

TEST_CASE("points on the common border of joined surfaces are picked and moved as one") {
  const Nets nets = joined_sheets();
  const int last = nets.nets[0].count(0) - 1;
  REQUIRE(nets.united.size() == 7);
  const PointIndex border{0, last, 3};
  CHECK(with_united(nets, {border}) == Selection{{0, last, 3}, {1, 0, 3}});
  const auto gap = [&](const Nets& n) {
    double worst = 0.0;
    for (int j = 0; j < 7; ++j)
      worst = std::max(worst, distance(n.point({0, last, j}), n.point({1, 0, j})));
    return worst;
  };
  std::mt19937 r(5);
  std::uniform_real_distribution<double> mm(-3, 3);
  Nets now = nets;
  Shapings shapings;
  for (const MoveDirection d : {MoveDirection::OffSkin, MoveDirection::X, MoveDirection::OnSkin,
                                MoveDirection::AlongU, MoveDirection::AlongV}) {
    const PointShares share = shares(now, with_united(now, {border}),
                                     {FalloffShape::Bell, FalloffShape::Bell, 2, 2, 1, 1});
    shapings = with_moves(shapings, now, moves_of(now, share, {d, mm(r), {mm(r), mm(r), mm(r)}}),
                          share, {});
    now = with_shaping(nets, shapings);
    CHECK(gap(now) == 0.0);
  }
  CHECK(distance(now.point(border), nets.point(border)) > 1.0);
  CHECK(distance(now.point({1, 1, 3}), nets.point({1, 1, 3})) > 0.1);  // falloff reaches both sides
  const Nets scaled =
      with(now, scale(now, only(now, all_of(now)), {}, {1.1, 0.9, 2.0}), only(now, all_of(now)));
  CHECK(gap(scaled) == 0.0);
  const SkinPlace place{0, nets.nets[0].knots(0)->last(), 0.4};
  const PointShares full(now, 1.0);
  const Nets pulled = with(now, pull_skin(now, full, place, {0, 0, 5}), full);
  CHECK(gap(pulled) == 0.0);
  CHECK(distance(skin_point(pulled, place), skin_point(now, place) + Vec3{0, 0, 5}) < 1e-10);
  const Nets heavy = with_shaping(now, with_weight({}, now, {border}, 3.0));
  CHECK(heavy.weight({1, 0, 3}) == 3.0);
}

TEST_CASE("a hold on one surface holds the border point of its neighbour too") {
  const Nets nets = joined_sheets();
  const int last = nets.nets[0].count(0) - 1;
  ShapeRules rules;
  rules.edges[1] = EdgeRule::Position;  // where u ends: of the left sheet the common border
  CHECK(is_held(nets, {1, 0, 2}, rules.edges));
  const PointShares share = only(nets, all_of(nets));
  const Nets moved_on = with(nets, moves_of(nets, share, {MoveDirection::Z, 4, {}}), share, rules);
  CHECK(moved_on.point({1, 0, 2}) == nets.point({1, 0, 2}));
  CHECK(moved_on.point({0, last, 2}) == nets.point({0, last, 2}));
  CHECK(moved_on.point({1, 1, 2}).z == nets.point({1, 1, 2}).z + 4.0);
}

TEST_CASE("a mirror partner may lie on another surface of the part") {
  Progress progress;
  const Surface whole =
      rebuild(make_plane({}, 40, 30, 2, 2, 1, 1), {.points_u = 8, .points_v = 6}, progress);
  const auto [left, right] = split(whole, Direction::U, 0.5);
  const Nets nets({left, right});
  const auto mirror = find_mirror(nets, SymmetryPlane::YZ, 1e-6);
  REQUIRE(mirror);
  CHECK(mirror->on_grid);
  CHECK(mirror->partner(PointIndex{0, 0, 2}).net == 1);
  ShapeRules rules;
  rules.mirrors = {*mirror};
  rules.leader = {0, 1, 2};
  const PointShares share =
      shares(nets, {rules.leader}, {FalloffShape::Bell, FalloffShape::Bell, 2, 1, 1, 1});
  const Nets now =
      with(nets, moves_of(nets, share, {MoveDirection::InView, 0, {1, 2, 5}}), share, rules);
  double worst = 0.0;
  for_each_point(now, [&](PointIndex p) {
    worst = std::max(
        worst, distance(mirrored(now.point(p), SymmetryPlane::YZ), now.point(mirror->partner(p))));
  });
  CHECK(worst <= std::max(mirror->worst_gap, 1e-12));
  CHECK(now.point({1, 5, 2}).z > 1.0);
}

TEST_CASE("every tool works on the lattice of a cage") {
  const Nets nets(cage(3, 3, 4));
  REQUIRE(nets.size() == 36);
  CHECK(nets.united.empty());
  CHECK(row_through(nets, {0, 1, 1, 0}, 2).size() == 4);
  CHECK(ring_through(nets, {0, 0, 1, 2}).size() == 8);  // the loop around a layer of 3 × 3
  CHECK(grown(nets, {{0, 1, 1, 1}}).size() == 7);
  CHECK(points_where(nets, [](const Vec3& p) { return p.z > 20; }).size() == 9);
  // The waist squeezed by 6 %: the two inner layers scaled about the axis.
  Selection waist;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j)
      for (const int k : {1, 2}) waist.insert({0, i, j, k});
  const PointShares share = only(nets, waist);
  const auto mirrors = find_mirrors(nets, SymmetryPlane::YZAndXZ, 1e-9);
  REQUIRE(mirrors);
  ShapeRules rules;
  rules.mirrors = *mirrors;
  rules.leader = {0, 2, 2, 1};
  const Nets squeezed = with(nets, scale(nets, share, {}, {0.94, 0.94, 1.0}), share, rules);
  CHECK(squeezed.point({0, 2, 2, 1}).x == Approx(9.4).epsilon(1e-14));
  CHECK(squeezed.point({0, 0, 2, 2}).x == Approx(-9.4).epsilon(1e-14));
  CHECK(squeezed.point({0, 2, 2, 0}) == nets.point({0, 2, 2, 0}));
  const PointShares soft =
      shares(nets, {{0, 1, 1, 0}}, {FalloffShape::Ramp, FalloffShape::Ramp, 1, 1, 1, 1});
  CHECK(soft({0, 1, 1, 1}) == 0.5);
  CHECK(soft({0, 2, 2, 1}) == 0.125);
  const Nets calm =
      with(squeezed, smooth(squeezed, only(nets, {{0, 1, 1, 1}}), 1.0), only(nets, {{0, 1, 1, 1}}));
  CHECK(calm.point({0, 1, 1, 1}).z == Approx(8.0).epsilon(1e-12));
  CHECK(leg_direction(nets, {0, 1, 1, 1}, 2, true) == Vec3{0, 0, 1});
  CHECK_THROWS_WITH(pull_skin(nets, PointShares(nets, 1.0), {0, 0, 0}, {0, 0, 1}),
                    Contains("cage"));
  CHECK_THROWS_WITH(relax_from_borders(nets, PointShares(nets, 1.0)), Contains("Smooth"));
  CHECK(with_shaping(nets, with_weight({}, nets, {{0, 1, 1, 1}}, 2.0)).nets == nets.nets);
}

TEST_CASE("shaped points of a curve are carried to another count of points") {
  Progress progress;
  const Curve below = ring_of(12);
  const Nets nets(below);
  const PointShares share = only(nets, {{0, 2}, {0, 3}});
  const Shaping m =
      with_moves({}, nets, moves_of(nets, share, {MoveDirection::OffSkin, 4, {}}), share, {})
          .front();
  const Net shaped = with_shaping(Net(below), m);
  const Curve finer = ring_of(40);
  const CarriedShaping carried = carry(m, Net(finer));
  CHECK(carried.refitted);
  const Net kept = with_shaping(Net(finer), carried.shaping);
  CHECK(deviation(*shaped.curve(), *kept.curve(), progress).max < 0.05);
  CHECK_FALSE(carry(m, Net(below)).refitted);
  CHECK_THROWS_WITH(carry(m, Net(make_plane({}, 10, 10, 4, 4, 3, 3))), Contains("curve"));
  Curve open = make_curve({{0, 0, 0}, {5, 5, 0}, {10, 0, 0}, {15, 5, 0}}, 3, false);
  CHECK_THROWS_WITH(carry(m, Net(open)), Contains("closed"));
}

TEST_CASE("a border that is free but keeps its tangent takes the row behind it along") {
  // Source: the cross-border derivative of a clamped surface depends on the first two rows only (The
  // NURBS Book, eq. 3.24), by their difference.
  Surface s{uniform_knots(8, 3, false), uniform_knots(7, 3, false), Grid<Vec3>(8, 7), {}};
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 7; ++j) s.points(i, j) = {10.0 * i, 10.0 * j, 3.0 * std::sin(i + 0.5 * j)};
  const Nets nets(s);
  ShapeRules rules;
  rules.edges[0] = EdgeRule::FreeTangent;
  Nets now = nets;
  Shapings shapings;
  for (const PointIndex p : {PointIndex{0, 0, 2}, PointIndex{0, 1, 4}, PointIndex{0, 3, 3}}) {
    const PointShares share = only(now, {p});
    shapings = with_moves(
        shapings, now, moves_of(now, share, {MoveDirection::InView, 0, {2, 1, 6}}), share, rules);
    now = with_shaping(nets, shapings);
  }
  CHECK(now.point({0, 0, 2}).z == Approx(s.points(0, 2).z + 6.0));
  CHECK(now.point({0, 1, 2}).z == Approx(s.points(1, 2).z + 6.0));
  CHECK(now.point({0, 0, 4}).z == Approx(s.points(0, 4).z + 6.0));  // moved by its follower
  CHECK(now.point({0, 2, 3}) == s.points(2, 3));
  for (const double v : {0.1, 0.35, 0.6, 0.9})
    CHECK(distance(derivatives(*now.nets[0].surface(), 0.0, v, 1).du(),
                   derivatives(s, 0.0, v, 1).du()) < 1e-10);
  // Moved as a whole, the tangent plane itself is kept.
  const PointShares border = only(nets, row_through(nets, {0, 0, 0}, 1));
  const Nets lifted = with(nets, moves_of(nets, border, {MoveDirection::Z, 5, {}}), border, rules);
  for (const double v : {0.0, 0.3, 0.8})
    CHECK(length(cross(normal(*lifted.nets[0].surface(), 0.0, v), normal(s, 0.0, v))) < 1e-12);
}

TEST_CASE("net lines are taken whole or as soon as they are touched") {
  const Nets nets = Nets(make_plane({}, 50, 40, 6, 5, 3, 3));
  const auto left = [](const Vec3& p) { return p.x < -10; };
  // Rows along v with x < −10 lie inside whole; rows along u only begin there.
  const Selection whole = net_lines_where(nets, left, true);
  for (const PointIndex& p : whole) CHECK(nets.point(p).x < -10);
  CHECK(whole.size() == 5u * (points_where(nets, left).size() / 5u));
  CHECK(net_lines_where(nets, left, false).size() == nets.size());
  CHECK(ring_through(nets, {0, 0, 2}).size() == 18);  // the border of 6 × 5
  CHECK(ring_through(nets, {0, 1, 1}).size() == 10);
}
