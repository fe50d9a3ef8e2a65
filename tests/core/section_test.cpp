// Plane sections with their combs, continuity along joints, and what edge holds keep of it.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/check/continuity.h"
#include "core/check/measures.h"
#include "core/check/section.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/points/shaping.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Surface sheet() {
  Surface s{uniform_knots(13, 3, false), uniform_knots(8, 3, false), Grid<Vec3>(13, 8), {}};
  for (int i = 0; i < 13; ++i)
    for (int j = 0; j < 8; ++j)
      s.points(i, j) = {10.0 * i, 10.0 * j, 8.0 * std::sin(0.5 * i + 0.2) * std::cos(0.35 * j)};
  return s;
}

// One sheet cut in two at a place inside a span: as smooth across the joint as the sheet itself.
std::pair<Surface, Surface> joined() {
  return split(sheet(), Direction::U, 0.53);
}

// Every free point of the left surface moved at random while its right edge is held.
Surface shaken(const Surface& s, EdgeRule hold) {
  std::mt19937 r(17);
  std::uniform_real_distribution<double> mm(-2.5, 2.5);
  const Nets nets(s);
  PointMoves moves(nets);
  for (Vec3& d : moves.nets.front().values()) d = {mm(r), mm(r), mm(r)};
  ShapeRules rules;
  rules.edges[1] = hold;
  return *with_shaping(nets, with_moves({}, nets, moves, PointShares(nets, 1.0), rules))
              .nets.front()
              .surface();
}

}  // namespace

TEST_CASE("sections of a sphere are circles, and their combs have the circle's curvature") {
  // A plane at distance h from the centre cuts a circle of radius √(R² − h²).
  const double radius = 40.0;
  const Surface s = make_sphere({}, radius);
  for (const double h : {0.0, 12.0, 30.0})
    for (const Vec3& n : {Vec3{0, 0, 1}, Vec3{0, 1, 0}, normalized(Vec3{1, 2, 2})}) {
      const SectionPlane plane{n * h, n};
      const std::vector<SectionRun> runs = section(s, plane);
      REQUIRE(!runs.empty());
      const double ring = std::sqrt(radius * radius - h * h);
      std::size_t places = 0;
      double around = 0.0;
      for (const SectionRun& run : runs) {
        const Comb c = section_comb(s, plane, run);
        for (const Parameter& p : run.at) {
          const Vec3 at = evaluate(s, p.u, p.v);
          CHECK(std::abs(dot(at, n) - h) < 1e-9 * size(s));
          CHECK(length(at) == Approx(radius).epsilon(1e-12));
        }
        for (const Tooth& t : c.teeth)
          CHECK(length(t.curvature) == Approx(1.0 / ring).epsilon(1e-6));
        for (const Tooth& t : c.teeth)  // towards the centre of the circle
          CHECK(distance(t.at + t.curvature * (ring * ring), n * h) < 1e-4);
        CHECK(c.inflections.empty());
        places += run.at.size();
        for (std::size_t k = 0; k + (run.closed ? 0 : 1) < run.at.size(); ++k) {
          const Parameter& a = run.at[k];
          const Parameter& b = run.at[(k + 1) % run.at.size()];
          around += distance(evaluate(s, a.u, a.v), evaluate(s, b.u, b.v));
        }
      }
      REQUIRE(places >= 20);
      if (n.z != 0.0 && n.z < 1.0)  // away from the poles the whole circle is walked once
        CHECK(around == Approx(2 * std::numbers::pi * ring).epsilon(0.01));
    }
}

TEST_CASE("a section across a wavy sheet marks where it bends over") {
  const Surface s = sheet();
  const SectionPlane plane{{0, 35, 0}, {0, 1, 0}};
  const std::vector<SectionRun> runs = section(s, plane, 12);
  REQUIRE(runs.size() == 1);
  CHECK_FALSE(runs.front().closed);
  const Comb c = section_comb(s, plane, runs.front());
  // z'' changes its sign where the comb does, found here by differences along x.
  int changes = 0;
  double last = 0.0;
  for (std::size_t k = 1; k + 1 < c.teeth.size(); ++k) {
    const double bend = c.teeth[k].curvature.z;
    if (last * bend < 0.0) ++changes;
    if (bend != 0.0) last = bend;
  }
  CHECK(c.inflections.size() == static_cast<std::size_t>(changes));
  CHECK(changes >= 1);
  CHECK(section(s, {{0, 500, 0}, {0, 1, 0}}).empty());
}

TEST_CASE("both halves of a split surface meet with every continuity") {
  Progress progress;
  const auto [left, right] = joined();
  const Continuity c = continuity(left, Border::UMax, right, Border::UMin, progress);
  CHECK(c.gap < 1e-9);
  CHECK(c.angle < 1e-6);
  CHECK(c.curvature < 1e-6);
  CHECK(c.change < 0.01);
  CHECK(c.level == 3);
}

TEST_CASE("continuity of known joints") {
  // A plane tangent to a cylinder meets it with a common tangent plane but not its curvature, and a
  // cylinder twice as large with half the curvature (closed formulas: 1/r against 0, 1/r against 1/2r).
  Progress progress;
  const double r = 10.0;
  const auto strip = [&](double radius, bool forward) {
    // A quarter of a circle about (0, r − radius … ) that touches y = 0 at the origin, as a surface.
    const double w = 0.5 * std::numbers::sqrt2;
    const double side = forward ? 1.0 : -1.0;
    Surface s{{2, false, {0, 0, 0, 1, 1, 1}},
              uniform_knots(2, 1, false),
              Grid<Vec3>(3, 2),
              Grid<double>(3, 2, 1.0)};
    for (int j = 0; j < 2; ++j) {
      s.points(0, j) = {0, 0, 20.0 * j};
      s.points(1, j) = {side * radius, 0, 20.0 * j};
      s.points(2, j) = {side * radius, radius, 20.0 * j};
      s.weights(1, j) = w;
    }
    return s;
  };
  const Surface round = strip(r, true);
  const Surface larger = strip(2 * r, false);
  Surface flat = make_plane({{-10, 0, 10}, {1, 0, 0}, {0, 0, 1}, {0, -1, 0}}, 20, 20, 2, 2, 1, 1);
  const Continuity with_flat = continuity(round, Border::UMin, flat, Border::UMax, progress);
  CHECK(with_flat.level == 1);
  CHECK(with_flat.curvature == Approx(1.0).epsilon(1e-6));
  const Continuity with_larger = continuity(round, Border::UMin, larger, Border::UMin, progress);
  CHECK(with_larger.level == 1);
  CHECK(with_larger.curvature == Approx(0.5).epsilon(1e-6));
  for (Vec3& p : flat.points.values()) p.y += 0.02;
  CHECK(continuity(round, Border::UMin, flat, Border::UMax, progress).level == -1);
  CHECK(continuity(round, Border::UMin, flat, Border::UMax, progress).gap ==
        Approx(0.02).epsilon(1e-6));
  for (Vec3& p : flat.points.values()) p.y = -0.1 * p.x;  // turned by atan 0.1 = 5.711°
  const Continuity bent = continuity(round, Border::UMin, flat, Border::UMax, progress);
  CHECK(bent.level == 0);
  CHECK(bent.angle == Approx(std::atan(0.1) * 180 / std::numbers::pi).epsilon(1e-6));
  CHECK_THROWS_WITH(continuity(make_sphere({}, 5), Border::VMin, flat, Border::UMax, progress),
                    Contains("no length"));
}

TEST_CASE(
    "each edge hold keeps its continuity with a joined neighbour after any moves of the rest") {
  Progress progress;
  const auto [left, right] = joined();
  const auto level = [&](EdgeRule hold) {
    return continuity(shaken(left, hold), Border::UMax, right, Border::UMin, progress).level;
  };
  CHECK(level(EdgeRule::Free) == -1);
  CHECK(level(EdgeRule::Position) == 0);
  CHECK(level(EdgeRule::Tangent) == 1);
  CHECK(level(EdgeRule::Curvature) == 2);
  CHECK(level(EdgeRule::Change) == 3);
}

TEST_CASE("the mirror gap is the greatest distance from the mirror image") {
  Progress progress;
  Surface s = make_sphere({}, 30);
  CHECK(mirror_gap(s, 1, progress).max < 1e-9);
  for (Vec3& p : s.points.values())
    p.y += 0.25;  // off centre: the image lies half a millimetre away
  CHECK(mirror_gap(s, 1, progress).max == Approx(0.5).epsilon(1e-3));
  CHECK(mirror_gap(s, 0, progress).max < 1e-9);
}

TEST_CASE("the comb of a section through the poles of a sphere has no gap there") {
  const double radius = 40.0;
  const Surface s = make_sphere({}, radius);
  const SectionPlane plane{{}, {0, 1, 0}};
  double around = 0.0;
  double widest = 0.0;
  bool low = false;
  bool high = false;
  for (const SectionRun& run : section(s, plane)) {
    const Comb c = section_comb(s, plane, run);
    REQUIRE(c.teeth.size() > 10);
    for (const Tooth& t : c.teeth) {
      CHECK(length(t.curvature) == Approx(1.0 / radius).epsilon(1e-4));
      low = low || distance(t.at, {0, 0, -radius}) < 1e-6;
      high = high || distance(t.at, {0, 0, radius}) < 1e-6;
    }
    for (std::size_t k = 1; k < c.teeth.size(); ++k) {
      const double step = distance(c.teeth[k - 1].at, c.teeth[k].at);
      around += step;
      widest = std::max(widest, step);
    }
  }
  CHECK(low);
  CHECK(high);
  CHECK(around == Approx(2 * std::numbers::pi * radius).epsilon(0.01));
  CHECK(widest < 0.22 * radius);  // the places of a quarter turn are an eighth of it apart
}
