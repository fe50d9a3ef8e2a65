#include <catch2/catch.hpp>
#include <random>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/points/shaping.h"

using namespace evenclay;

namespace {

Surface shell(int u = 10, int v = 8) {
  Progress progress;
  return rebuild(make_sphere({}, 52), {.points_u = u, .points_v = v}, progress);
}

double worst_asymmetry(const Surface& s, const MirrorMap& m) {
  double worst = 0.0;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      const PointIndex q = m.partner(i, j);
      worst = std::max(worst, distance(mirrored(s.points(i, j), m.plane), s.points(q.i, q.j)));
    }
  return worst;
}

}  // namespace

TEST_CASE("a row along u or v is the row of the picked point") {
  const Surface s = shell();
  CHECK(row_through(s, {0, 3, 2}, 0).size() == 10);
  CHECK(row_through(s, {0, 3, 2}, 1).size() == 8);
  for (const PointIndex& p : row_through(s, {0, 3, 2}, 0)) CHECK(p.j == 2);
}

TEST_CASE("a box picks through the whole depth") {
  const Surface s = shell();
  // Seen from the front (against y) the box x in 10..70, z in 0..30 holds front and back points.
  const Selection picked =
      points_where(s, [](const Vec3& p) { return p.x > 10 && p.x < 70 && p.z > 0 && p.z < 30; });
  bool front = false;
  bool back = false;
  for (const PointIndex& p : picked) {
    front |= s.points(p.i, p.j).y < -1;
    back |= s.points(p.i, p.j).y > 1;
  }
  CHECK(front);
  CHECK(back);
}

TEST_CASE("a row collapsed to a pole is picked and moved as one point") {
  const Surface s = shell();
  const Selection whole = with_united(s, {{0, 4, 7}});
  CHECK(whole.size() == 10);
  const Shaping m =
      moved(no_shaping(s), s, {{0, 4, 7}}, {MoveDirection::OffSkin, 3.0, {}}, {}, {0, 4, 7});
  const Surface after = with_shaping(s, m);
  CHECK(is_pole(after, Border::VMax, 0.0));
  CHECK(distance(after.points(0, 7), {0, 0, 55}) < 1e-6);
}

TEST_CASE("moves along the axes and in the view displace exactly the picked points") {
  const Surface s = shell();
  const Selection picked{{0, 1, 3}, {0, 2, 3}};
  const struct {
    Move move;
    Vec3 expected;
  } cases[] = {{{MoveDirection::X, 2.5, {}}, {2.5, 0, 0}},
               {{MoveDirection::Y, -1.0, {}}, {0, -1, 0}},
               {{MoveDirection::Z, 4.0, {}}, {0, 0, 4}},
               {{MoveDirection::InView, 0, {1, 2, 3}}, {1, 2, 3}}};
  for (const auto& c : cases) {
    const Shaping m = moved(no_shaping(s), s, picked, c.move, {}, {0, 1, 3});
    const Surface after = with_shaping(s, m);
    for (int i = 0; i < 10; ++i)
      for (int j = 0; j < 8; ++j) {
        const Vec3 d = after.points(i, j) - s.points(i, j);
        const bool is_picked = picked.contains({0, i, j});
        CHECK(distance(d, is_picked ? c.expected : Vec3{}) < 1e-13);
      }
  }
}

TEST_CASE("off the skin moves along the surface normal at the point's Greville place") {
  const Surface s = shell();
  const PointIndex p{0, 3, 4};
  const Shaping m = moved(no_shaping(s), s, {p}, {MoveDirection::OffSkin, 9.0, {}}, {}, p);
  const GrevillePlace g = greville(s, p);
  CHECK(g.u == Approx(0.3));
  CHECK(length(m.displacements(3, 4)) == Approx(9.0).epsilon(1e-12));
  CHECK(distance(normalized(m.displacements(3, 4)), normal(s, g.u, g.v)) < 1e-12);
  // Off a sphere's skin is away from its centre (closed formula).
  CHECK(dot(normalized(m.displacements(3, 4)), normalized(evaluate(s, g.u, g.v))) > 0.999);
}

TEST_CASE("partners are found on the grid in all three planes") {
  const Surface s = shell();
  for (const SymmetryPlane plane : {SymmetryPlane::YZ, SymmetryPlane::XZ, SymmetryPlane::XY}) {
    const auto m = find_mirror(s, plane, 0.01);
    REQUIRE(m);
    CHECK(m->on_grid);
    CHECK(m->worst_gap < 1e-10);
    CHECK(worst_asymmetry(s, *m) < 1e-10);
  }
  CHECK(find_mirror(s, SymmetryPlane::XZ, 0.01)->partner(1, 5) == PointIndex{0, 9, 5});
  Surface bent = s;
  bent.points(1, 5).x += 3;
  CHECK_FALSE(find_mirror(bent, SymmetryPlane::XZ, 0.01));
}

TEST_CASE("a symmetric shape stays symmetric to 1e-12 after any sequence of moves") {
  Surface s = shell();
  const auto mirror = find_mirror(s, SymmetryPlane::XZ, 0.01);
  REQUIRE(mirror);
  // Start from exact symmetry, so that only the moves can break it.
  for (int i = 0; i < 10; ++i)
    for (int j = 0; j < 8; ++j) {
      const PointIndex q = mirror->partner(i, j);
      if (PointIndex{0, i, j} < q) s.points(q.i, q.j) = mirrored(s.points(i, j), mirror->plane);
      if (PointIndex{0, i, j} == q) s.points(i, j).y = 0.0;
    }
  REQUIRE(worst_asymmetry(s, *mirror) < 1e-12);
  std::mt19937 r(3);
  Shaping shaping = no_shaping(s);
  for (int k = 0; k < 200; ++k) {
    Selection picked;
    const int count = static_cast<int>(r() % 5) + 1;
    for (int c = 0; c < count; ++c)
      picked.insert({0, static_cast<int>(r() % 10), static_cast<int>(r() % 8)});
    const auto direction = static_cast<MoveDirection>(r() % 5);
    const double amount = static_cast<double>(r() % 100) / 50.0 - 1.0;
    shaping = moved(shaping, with_shaping(s, shaping), picked,
                    {direction, amount, {amount, 0.3, -amount}}, mirror, *picked.begin());
  }
  CHECK(worst_asymmetry(with_shaping(s, shaping), *mirror) <= 1e-12);
}

TEST_CASE("a heavier weight draws the surface towards its point") {
  const Surface s = shell();
  const PointIndex p{0, 2, 4};
  const GrevillePlace g = greville(s, p);
  double before = distance(evaluate(s, g.u, g.v), s.points(2, 4));
  for (const double w : {2.0, 5.0, 20.0}) {
    const Surface heavy = with_shaping(s, with_weight({}, s, {p}, w).front());
    CHECK(heavy.weight(2, 4) == Approx(w));
    const double gap = distance(evaluate(heavy, g.u, g.v), s.points(2, 4));
    CHECK(gap < before);
    before = gap;
  }
  const Shaping back = with_weight(with_weight({}, s, {p}, 5), s, {p}, 1).front();
  CHECK(back.weight_factors.empty());
  CHECK_THROWS_AS(with_weight({}, s, {p}, 0.0), Error);
  CHECK_THROWS_AS(with_weight({}, s, {p}, NAN), Error);
}

namespace {
double off(const Surface& a, const Surface& b) {
  Progress p;
  return deviation(a, b, p).max;
}
Surface shaped(const Surface& below, const Shaping& m) {
  return with_shaping(below, carry(m, below).shaping);
}
}  // namespace

TEST_CASE("a changed grid keeps the finished shape") {
  const Surface s = shell();
  const Shaping m = moved(no_shaping(s), s, {{0, 0, 5}, {0, 1, 5}}, {MoveDirection::OffSkin, 6, {}},
                          {}, {0, 0, 5});
  const Surface finished = with_shaping(s, m);
  const CarriedShaping same = carry(m, s);
  CHECK_FALSE(same.refitted);
  CHECK(same.shaping == m);

  // The rebuilt spheres below differ by half a millimetre; the finished shapes must not.
  const Surface finer = shell(14, 10);
  CHECK(off(s, finer) > 0.4);
  const CarriedShaping carried = carry(m, finer);
  CHECK(carried.refitted);
  CHECK(off(finished, with_shaping(finer, carried.shaping)) < 0.25);
  CHECK(off(finished, shaped(shell(20, 16), m)) < 0.08);
  // A grid with every knot of the old one holds the shape as far as the shape below is the same.
  CHECK(off(finished, shaped(shell(20, 13), m)) < 0.02);
  const Surface exact = make_sphere({}, 52);  // Rebuild switched off
  CHECK(off(finished, shaped(exact, m)) < 6.0);
  const Surface flat = make_plane({}, 10, 10, 5, 5, 3, 3);
  CHECK_THROWS_WITH(carry(m, flat), Catch::Contains("closed in another direction"));
}

TEST_CASE("a shape kept on a new grid still follows the shape below") {
  const Surface s = shell();
  const Shaping m =
      moved(no_shaping(s), s, {{0, 0, 5}}, {MoveDirection::OffSkin, 6, {}}, {}, {0, 0, 5});
  Progress p;
  const Surface larger = rebuild(make_sphere({}, 60), {.points_u = 10, .points_v = 8}, p);
  const Surface larger_fine = rebuild(make_sphere({}, 60), {.points_u = 14, .points_v = 10}, p);
  CHECK(off(with_shaping(larger, m), shaped(larger_fine, m)) < 0.3);
  CHECK(off(with_shaping(s, m), shaped(larger_fine, m)) > 6.0);
}

TEST_CASE("weights survive a changed grid") {
  Progress p;
  const Surface plane =
      rebuild(make_plane({}, 8, 8, 2, 2, 1, 1), {.points_u = 5, .points_v = 5}, p);
  Shaping m = no_shaping(plane);
  m.displacements(2, 2).z = -1.6;
  m = with_weight({m}, plane, {{0, 2, 2}}, 2.0).front();
  const Surface finer = rebuild(plane, {.points_u = 8, .points_v = 8}, p);
  const Surface kept = shaped(finer, m);
  CHECK(kept.rational());
  CHECK(off(with_shaping(plane, m), kept) < 0.05);
}

TEST_CASE("carrying keeps poles in one point") {
  const Surface s = shell();
  const Shaping m = moved(no_shaping(s), s, {{0, 0, 7}}, {MoveDirection::Z, 5, {}}, {}, {0, 0, 7});
  const Surface fine = shell(14, 10);
  const Surface after = with_shaping(fine, carry(m, fine).shaping);
  CHECK(is_pole(after, Border::VMax, 0.0));
  CHECK(is_pole(after, Border::VMin, 0.0));
}
