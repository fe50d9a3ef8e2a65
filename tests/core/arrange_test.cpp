// Falloff, selections, scaling, turning, levelling, smoothing, symmetry planes, holds, pulling the skin.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/points/arrange.h"
#include "core/points/falloff.h"
#include "core/points/shaping.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Surface shell(int u = 10, int v = 8) {
  Progress progress;
  return rebuild(make_sphere({}, 52), {.points_u = u, .points_v = v}, progress);
}

Surface sheet(int nu = 7, int nv = 6) {
  Surface s{uniform_knots(nu, 3, false), uniform_knots(nv, 3, false), Grid<Vec3>(nu, nv), {}};
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j)
      s.points(i, j) = {10.0 * i, 10.0 * j, 3.0 * std::sin(1.1 * i) * std::cos(0.8 * j)};
  return s;
}

PointShares only(const Nets& s, const Selection& picked) {
  return shares(s, picked, {});
}

Surface with(const Surface& s, const PointMoves& field, const PointShares& share,
             const ShapeRules& rules = {}) {
  return with_shaping(s, with_moves({}, s, field, share, rules).front());
}

double asymmetry(const Surface& s, SymmetryPlane plane) {
  const auto map = find_mirror(s, plane, 1.0);
  REQUIRE(map);
  double worst = 0.0;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      const PointIndex q = map->partner(i, j);
      worst = std::max(worst, distance(mirrored(s.points(i, j), plane), s.points(q.i, q.j)));
    }
  return worst;
}

}  // namespace

TEST_CASE("the five falloff shapes have the values of their formulas") {
  // Worked by hand at t = 1/2, k = 1: 1, 1/2, 1/4, 3/4, and s(1/2) = 6/32 − 15/16 + 10/8 = 1/2.
  CHECK(falloff(FalloffShape::Rigid, 0.5, 1) == 1.0);
  CHECK(falloff(FalloffShape::Ramp, 0.5, 1) == 0.5);
  CHECK(falloff(FalloffShape::Scoop, 0.5, 1) == 0.25);
  CHECK(falloff(FalloffShape::Dome, 0.5, 1) == 0.75);
  CHECK(falloff(FalloffShape::Bell, 0.5, 1) == Approx(0.5).epsilon(1e-15));
  CHECK(falloff(FalloffShape::Bell, 0.5, 3) == Approx(0.125).epsilon(1e-15));
  for (const FalloffShape f : {FalloffShape::Rigid, FalloffShape::Ramp, FalloffShape::Scoop,
                               FalloffShape::Dome, FalloffShape::Bell}) {
    CHECK(falloff(f, 0.0, 2) == 1.0);
    CHECK(falloff(f, 1.0, 2) == 0.0);
    double last = 1.0;
    for (int k = 1; k < 20; ++k) {
      const double value = falloff(f, k / 20.0, 2);
      CHECK(value <= last);
      last = value;
    }
  }
}

TEST_CASE("shares multiply along and across, go round closed directions, and treat a pole as one") {
  const Surface s = shell();
  const Falloff f{FalloffShape::Ramp, FalloffShape::Ramp, 2, 1, 1, 1};
  const PointShares g = shares(s, {{0, 0, 4}}, f);
  CHECK(g(0, 4) == 1.0);
  CHECK(g(1, 4) == Approx(2.0 / 3));
  CHECK(g(9, 4) == Approx(2.0 / 3));  // the other side of the seam
  CHECK(g(2, 5) == Approx(1.0 / 3 * 0.5));
  CHECK(g(3, 4) == 0.0);
  CHECK(g(0, 6) == 0.0);
  const PointShares pole = shares(s, {{0, 3, 6}}, f);
  for (int i = 0; i < 10; ++i) CHECK(pole(i, 7) == 0.5);
  // A row along v: along runs along v, across along u.
  const Surface flat = sheet();
  const PointShares row = shares(flat, row_through(flat, {0, 3, 0}, 1), f);
  CHECK(row(3, 2) == 1.0);
  CHECK(row(4, 2) == 0.5);
  CHECK(row(5, 2) == 0.0);
}

TEST_CASE("selections grow, shrink, thin out and fill ranges") {
  const Surface s = shell();
  const Selection one{{0, 0, 4}};
  CHECK(grown(s, one) == Selection{{0, 0, 4}, {0, 1, 4}, {0, 9, 4}, {0, 0, 3}, {0, 0, 5}});
  CHECK(shrunk(s, grown(s, one)) == one);
  // Every second one of a ring of 44 is 22 points, which took 44 clicks before.
  const Surface ring = shell(44, 8);
  const Selection row = row_through(ring, {0, 5, 4}, 0);
  REQUIRE(row.size() == 44);
  CHECK(every_nth(row, 0, 2, 0).size() == 22);
  CHECK(every_nth(row, 0, 2, 1).contains({0, 1, 4}));
  CHECK(every_nth(row, 0, 3, 0).size() == 15);
  CHECK(checker(row, false).size() == 22);
  CHECK(range_between(s, {0, 9, 4}, {0, 1, 4}) == Selection{{0, 9, 4}, {0, 0, 4}, {0, 1, 4}});
  CHECK(range_between(s, {0, 2, 1}, {0, 2, 4}).size() == 4);
  CHECK(range_between(s, {0, 2, 1}, {0, 3, 4}).size() == 2);
}

TEST_CASE("a ring of 44 with every second point scaled to 0.9 has 22 bumps") {
  // Common practice, counted on the resulting curve: 22 bumps change the sign of the curvature 44
  // times along the middle row.
  const Surface s = shell(44, 8);
  const Selection second = every_nth(row_through(s, {0, 0, 4}, 0), 0, 2, 0);
  const PointShares share = only(s, second);
  const Surface bumpy = with(s, scale(s, share, Frame{}, {0.9, 0.9, 1.0}), share);
  const double v = greville(bumpy, {0, 0, 4}).v;
  int changes = 0;
  double last = 0.0;
  for (int k = 0; k <= 44 * 40; ++k) {
    const SurfaceDerivatives d = derivatives(bumpy, (k + 0.37) / (44 * 40), v, 2);
    const double bend = d.du().x * d.duu().y - d.du().y * d.duu().x;
    if (last * bend < 0.0) ++changes;
    if (bend != 0.0) last = bend;
  }
  CHECK(changes == 44);
}

TEST_CASE("a symmetric pair of rows is spread about the centre and stays symmetric") {
  const Surface s = shell();
  const auto mirrors = find_mirrors(s, SymmetryPlane::XZ, 0.01);
  REQUIRE(mirrors);
  Selection rows = row_through(s, {0, 2, 0}, 1);
  const Selection other = row_through(s, {0, 8, 0}, 1);
  rows.insert(other.begin(), other.end());
  const PointShares share = only(s, rows);
  ShapeRules rules;
  rules.mirrors = *mirrors;
  rules.leader = {0, 2, 4};
  const Surface spread = with(s, scale(s, share, Frame{}, {1.0, 1.2, 1.0}), share, rules);
  CHECK(spread.points(2, 4).y == Approx(1.2 * s.points(2, 4).y).epsilon(1e-12));
  const double before = asymmetry(s, SymmetryPlane::XZ);
  CHECK(asymmetry(spread, SymmetryPlane::XZ) <= std::max(before, 1e-12));
}

TEST_CASE("turning keeps lengths, and half a share turns half the angle") {
  const Surface s = sheet();
  PointShares share = only(s, {{0, 6, 5}});
  share(3, 3) = 0.5;
  const Vec3 centre{30, 20, 0};
  const Surface turned = with(s, turn(s, share, centre, {0, 0, 2}, 90.0), share);
  const Vec3 r = s.points(6, 5) - centre;
  const Vec3 t = turned.points(6, 5) - centre;
  CHECK(distance(t, {-r.y, r.x, r.z}) < 1e-12 * size(s));
  const Vec3 half = turned.points(3, 3) - centre;
  CHECK(std::hypot(half.x, half.y) ==
        Approx(std::hypot(s.points(3, 3).x - 30, s.points(3, 3).y - 20)).epsilon(1e-12));
}

TEST_CASE("set a coordinate, level and straighten put points where they are wanted") {
  const Surface s = sheet();
  const Selection some{{0, 1, 1}, {0, 2, 3}, {0, 4, 2}, {0, 5, 4}};
  const PointShares share = only(s, some);
  const Surface flat = with(s, set_coordinate(s, share, 2, -4.0), share);
  for (const PointIndex& p : some) CHECK(flat.points(p.i, p.j).z == Approx(-4.0).epsilon(1e-14));
  CHECK(flat.points(0, 0) == s.points(0, 0));

  const LevelPlane plane = mean_plane(s, some);
  const Surface levelled = with(s, level(s, share, plane), share);
  double square = 0.0;
  for (const PointIndex& p : some) {
    CHECK(std::abs(dot(levelled.points(p.i, p.j) - plane.origin, plane.normal)) < 1e-12);
    square += std::pow(dot(s.points(p.i, p.j) - plane.origin, plane.normal), 2);
  }
  // No other plane through the mean fits better.
  for (const Vec3& n : {Vec3{0, 0, 1}, Vec3{0.1, 0, 1}, Vec3{0, -0.1, 1}}) {
    double other = 0.0;
    for (const PointIndex& p : some)
      other += std::pow(dot(s.points(p.i, p.j) - plane.origin, normalized(n)), 2);
    CHECK(square <= other + 1e-12);
  }
  CHECK_THROWS_WITH(mean_plane(s, {{0, 1, 1}, {0, 2, 2}}), Contains("at least 3"));
  CHECK_THROWS_WITH(plane_through({0, 0, 0}, {1, 1, 1}, {2, 2, 2}), Contains("one line"));

  const Selection row = row_through(s, {0, 0, 2}, 0);
  const PointShares row_share = only(s, row);
  const Surface lined = with(s, straighten_in_view(s, row_share, row, {0, 1, 0}), row_share);
  const Vec3 a = lined.points(0, 2);
  const Vec3 b = lined.points(6, 2);
  for (int i = 0; i < 7; ++i) {
    const Vec3 p = lined.points(i, 2);
    CHECK((p.x - a.x) * (b.z - a.z) - (p.z - a.z) * (b.x - a.x) == Approx(0).margin(1e-9));
    CHECK(p.y == Approx(s.points(i, 2).y).epsilon(1e-14));  // depth stays
  }
  const Surface even = with(s, straighten_rows(s, row_share, row, 0), row_share);
  CHECK(distance(even.points(3, 2), (s.points(0, 2) + s.points(6, 2)) * 0.5) < 1e-12);
  CHECK_THROWS_WITH(straighten_rows(s, row_share, {{0, 1, 1}}, 0), Contains("Pick a row"));
}

TEST_CASE("smoothing calms, leaves borders and linear nets alone") {
  Surface s = sheet();
  const std::vector<double> gu = greville_places(s.u);
  const std::vector<double> gv = greville_places(s.v);
  for (int i = 0; i < 7; ++i)
    for (int j = 0; j < 6; ++j) {
      s.points(i, j).x = 60 * gu[static_cast<std::size_t>(i)];
      s.points(i, j).y = 50 * gv[static_cast<std::size_t>(j)];
    }
  Selection all;
  for (int i = 0; i < 7; ++i)
    for (int j = 0; j < 6; ++j) all.insert({0, i, j});
  const PointShares share = only(s, all);
  const Surface calm = with(s, smooth(s, share, 0.5), share);
  const auto bend = [](const Surface& t) {
    double sum = 0.0;
    for (int i = 1; i < 6; ++i)
      for (int j = 1; j < 5; ++j)
        sum += std::abs(t.points(i + 1, j).z + t.points(i - 1, j).z - 2.0 * t.points(i, j).z);
    return sum;
  };
  CHECK(bend(calm) < 0.85 * bend(s));
  for (int i = 0; i < 7; ++i) CHECK(calm.points(i, 0) == s.points(i, 0));
  // Points that lie at their Greville places stay, whatever the spacing of the knots.
  Surface plane = make_plane({}, 30, 20, 8, 7, 3, 3);
  for (double& t : plane.u.knots) t = t * t * (1.5 - 0.5 * t);
  const std::vector<double> g = greville_places(plane.u);
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 7; ++j) plane.points(i, j).x = 30 * g[static_cast<std::size_t>(i)];
  Grid<double> full(8, 7, 1.0);
  const Surface same = with(plane, smooth(plane, full, 1.0), full);
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 7; ++j) CHECK(distance(same.points(i, j), plane.points(i, j)) < 1e-12);
}

TEST_CASE("relaxed inner points are the Coons net of the borders") {
  // Source: the bilinearly blended Coons patch reproduces a hyperbolic paraboloid, z = xy, from its
  // borders (Farin, Curves and Surfaces for CAGD, section on Coons patches).
  Surface s = make_plane({}, 2, 2, 7, 6, 3, 3);
  for (Vec3& p : s.points.values()) p.z = p.x * p.y;
  const Surface wanted = s;
  Grid<double> full(7, 6, 1.0);
  std::mt19937 r(3);
  std::uniform_real_distribution<double> off(-1, 1);
  for (int i = 1; i < 6; ++i)
    for (int j = 1; j < 5; ++j) s.points(i, j) += Vec3{off(r), off(r), off(r)};
  const Surface relaxed = with(s, relax_from_borders(s, full), full);
  for (int i = 0; i < 7; ++i)
    for (int j = 0; j < 6; ++j) CHECK(distance(relaxed.points(i, j), wanted.points(i, j)) < 1e-12);
  CHECK_THROWS_WITH(relax_from_borders(shell(), Grid<double>(10, 8, 1.0)),
                    Contains("Open it first"));
}

TEST_CASE("the pulled skin follows exactly, with the least moves") {
  for (const Surface& s : {sheet(), shell(), make_sphere({}, 30)}) {
    const PointShares full(Nets(s), 1.0);
    for (const auto& [a, b] : {std::pair{0.31, 0.62}, {0.77, 0.5}, {0.5, 0.02}}) {
      const double u = s.u.first() + a * s.u.length();
      const double v = s.v.first() + b * s.v.length();
      const Vec3 way{1.5, -2.0, 3.0};
      const PointMoves field = pull_skin(s, full, {0, u, v}, way);
      const Surface pulled = with(s, field, full);
      CHECK(distance(evaluate(pulled, u, v), evaluate(s, u, v) + way) < 1e-11 * size(s));
      // Any other choice with the same result is longer: shift along two points' null direction.
      double norm = 0.0;
      for (const Vec3& d : field.nets.front().values()) norm += length_squared(d);
      CHECK(norm > 0.0);
    }
  }
  const Surface s = sheet();
  Grid<double> none(7, 6);
  CHECK_THROWS_WITH(pull_skin(s, none, {0, 0.5, 0.5}, {1, 0, 0}),
                    Contains("No point that may move"));
  // Least norm on a bilinear patch, by hand: at the middle all four basis values are 1/4, so each
  // point goes the whole way, 4 · |way|²; moving one point alone would cost 16 · |way|².
  Surface flat = make_plane({}, 2, 2, 2, 2, 1, 1);
  const PointMoves four = pull_skin(flat, Grid<double>(2, 2, 1.0), {0, 0.5, 0.5}, {0, 0, 1});
  for (const Vec3& d : four.nets.front().values()) CHECK(d.z == Approx(1.0).epsilon(1e-14));
}

TEST_CASE("every direction moves where it says") {
  const Surface s = sheet();
  PointShares one = only(s, {{0, 3, 3}});
  const auto move = [&](MoveDirection d, double amount, Vec3 vector = {}) {
    return moves_of(s, one, {d, amount, vector, {0, 0, 1}})(3, 3);
  };
  const Vec3 forward = s.points(4, 3) - s.points(3, 3);
  const Vec3 back = s.points(2, 3) - s.points(3, 3);
  CHECK(distance(move(MoveDirection::AlongU, 2.0), normalized(forward) * 2.0) < 1e-13);
  CHECK(distance(move(MoveDirection::AlongU, -2.0), normalized(back) * 2.0) < 1e-13);
  CHECK(std::abs(dot(move(MoveDirection::OnSkin, 0, {1, 2, 3}), skin_normal(s, {0, 3, 3}))) <
        1e-13);
  CHECK(move(MoveDirection::WorkPlane, 0, {1, 2, 3}) == Vec3{1, 2, 0});
  CHECK(length(move(MoveDirection::OffSkin, 1.5)) == Approx(1.5));
}

TEST_CASE("three mirror planes at once keep all three symmetries to 1e-12") {
  Surface s = shell(8, 9);
  ShapeRules rules;
  rules.leader = {0, 1, 6};
  // Start from exact symmetry: the mean of all images.
  for (const SymmetryPlane plane : planes_of(SymmetryPlane::All)) {
    const auto map = find_mirror(s, plane, 0.01);
    REQUIRE(map);
    s = with_shaping(s, made_symmetric({}, s, *map, rules.leader).front());
  }
  const auto mirrors = find_mirrors(s, SymmetryPlane::All, 1e-9);
  REQUIRE(mirrors);
  REQUIRE(mirrors->size() == 3);
  rules.mirrors = *mirrors;
  Surface now = s;
  Shaping shaping = no_shaping(s);
  std::mt19937 r(5);
  std::uniform_int_distribution<int> row(0, 7);
  std::uniform_int_distribution<int> column(0, 8);
  for (int k = 0; k < 12; ++k) {
    rules.leader = {0, row(r), column(r)};
    const PointShares share =
        shares(now, {rules.leader}, {FalloffShape::Bell, FalloffShape::Dome, 1, 1, 1, 2});
    const PointMoves field = moves_of(now, share, {MoveDirection::InView, 0, {1.0, -0.7, 0.4}});
    shaping = with_moves({shaping}, now, field, share, rules).front();
    now = with_shaping(s, shaping);
  }
  for (const SymmetryPlane plane : planes_of(SymmetryPlane::All))
    CHECK(asymmetry(now, plane) <= 1e-12);
  CHECK(planes_of(SymmetryPlane::None).empty());
}

TEST_CASE("a net that lost its symmetry gets it back from one side") {
  const Surface s = shell();
  const auto map = find_mirror(s, SymmetryPlane::XZ, 0.01);
  REQUIRE(map);
  const Shaping bent =
      moved(no_shaping(s), s, {{0, 2, 4}}, {MoveDirection::OffSkin, 6, {}}, {}, {0, 2, 4});
  const Surface crooked = with_shaping(s, bent);
  const Surface straight =
      with_shaping(s, made_symmetric({bent}, crooked, *map, {0, 2, 4}).front());
  CHECK(straight.points(2, 4) == crooked.points(2, 4));
  CHECK(asymmetry(straight, SymmetryPlane::XZ) <= 1e-12);
}

TEST_CASE("held edges keep position, tangent and curvature after any move of the rest") {
  const Surface s = sheet(9, 8);
  std::mt19937 r(11);
  std::uniform_real_distribution<double> off(-3, 3);
  for (const int rows : {1, 2, 3}) {
    ShapeRules rules;
    rules.edges[0] = static_cast<EdgeRule>(rows);
    const PointShares share(Nets(s), 1.0);
    Grid<Vec3> field(9, 8);
    for (Vec3& d : field.values()) d = {off(r), off(r), off(r)};
    const Surface moved_on = with(s, field, share, rules);
    CHECK(is_held(s, {0, rows - 1, 3}, rules.edges));
    CHECK_FALSE(is_held(s, {0, rows, 3}, rules.edges));
    for (const double v : {0.0, 0.23, 0.61, 1.0}) {
      const SurfaceDerivatives a = derivatives(s, 0.0, v, 2);
      const SurfaceDerivatives b = derivatives(moved_on, 0.0, v, 2);
      CHECK(distance(a.p(), b.p()) < 1e-12);
      if (rows >= 2) {
        CHECK(distance(a.du(), b.du()) < 1e-10);
        CHECK(length(cross(normalized(cross(a.du(), a.dv())), normalized(cross(b.du(), b.dv())))) <
              1e-12);
      }
      if (rows >= 3) CHECK(distance(a.duu(), b.duu()) < 1e-9);
      if (rows < 3) CHECK(distance(a.duu(), b.duu()) > 1e-6);
    }
  }
}
