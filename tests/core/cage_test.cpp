// Cages: against affine maps, the trilinear map worked by hand, and themselves.
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "core/base/error.h"
#include "core/cage/cage.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/nurbs/conics.h"
#include "core/operations/cage.h"
#include "core/operations/catalogue.h"
#include "core/operations/point_script.h"
#include "core/operations/shaped_points.h"
#include "core/operations/solids.h"
#include "core/operations/sphere.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Cage turned_cage(int n, int m, int k, double band = 0.0) {
  Frame f;
  const double a = 0.4;
  f.origin = {3, -5, 2};
  f.x = {std::cos(a), std::sin(a), 0};
  f.y = {-std::sin(a), std::cos(a), 0};
  return make_cage(f, {30, 20, 50}, n, m, k, band);
}

std::vector<Vec3> places(const Cage& c, int count, double beyond = 0.0) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> share(-beyond, 1.0 + beyond);
  std::vector<Vec3> result;
  for (int k = 0; k < count; ++k)
    result.push_back(c.frame.to_world(
        {c.size.x * share(random), c.size.y * share(random), c.size.z * share(random)}));
  return result;
}

}  // namespace

TEST_CASE(
    "an undisturbed cage changes nothing, and points at their Greville places are the identity") {
  for (const auto& [n, m, k] : {std::tuple{2, 2, 2}, {3, 4, 5}, {12, 2, 7}}) {
    Cage c = turned_cage(n, m, k);
    CHECK(CageMap(c).idle());
    // Moved there and back by an amount that is not seen: the sum over the lattice is the place itself.
    const Vec3 shift{1e-3, 0, 0};
    for (Vec3& p : c.now.points.values()) p += shift;
    const CageMap map(c);
    for (const Vec3& p : places(c, 60)) CHECK(distance(map(p), p + shift) < 1e-12 * 60);
  }
}

TEST_CASE("an affine motion of all lattice points is just that affine motion") {
  Cage c = turned_cage(4, 3, 5);
  const auto affine = [](const Vec3& p) {
    return Vec3{1.2 * p.x - 0.3 * p.y + 4.0, 0.1 * p.x + 0.9 * p.y + 0.2 * p.z,
                -0.4 * p.y + 1.1 * p.z - 7.0};
  };
  for (Vec3& p : c.now.points.values()) p = affine(p);
  const CageMap map(c);
  for (const Vec3& p : places(c, 200)) CHECK(distance(map(p), affine(p)) < 1e-12 * 100);
}

TEST_CASE("one corner of a 2 x 2 x 2 cage bends by trilinear interpolation") {
  Cage c = make_cage({}, {10, 20, 40}, 2, 2, 2);
  const Vec3 move{3, -2, 5};
  c.now.points(1, 1, 1) += move;
  const CageMap map(c);
  for (const Vec3& p : places(c, 100)) {
    const double share = p.x / 10 * p.y / 20 * p.z / 40;  // of the corner (1, 1, 1), worked by hand
    CHECK(distance(map(p), p + move * share) < 1e-12 * 50);
  }
}

TEST_CASE(
    "with a transition what is outside the box stays, and the bending is smooth across its walls") {
  Cage c = turned_cage(4, 4, 4, 0.3);
  for (Vec3& p : c.now.points.values()) p += Vec3{0, 0, 6};
  const CageMap map(c);
  const auto along = [&](double s) {
    return c.frame.to_world({c.size.x * s, 0.5 * c.size.y, 0.5 * c.size.z});
  };
  const auto lift = [&](double s) { return map(along(s)).z - along(s).z; };
  CHECK(map(along(-0.2)) == along(-0.2));
  CHECK(map(along(1.7)) == along(1.7));
  CHECK(lift(0.5) == Approx(6.0));
  CHECK(lift(0.3) == Approx(6.0));
  // Differences of second order stay small across the wall and across the inner end of the transition.
  const double h = 1e-3;
  for (const double s : {0.0, 0.3, 0.7, 1.0})
    for (const double side : {-1.0, 1.0}) {
      const double at = s + side * 2 * h;
      CHECK(std::abs(lift(at - h) - 2 * lift(at) + lift(at + h)) / (h * h) <
            6.0 * 60 * 4 * h / (0.3 * 0.3 * 0.3));
    }
}

TEST_CASE("cages refuse boxes without size and counts out of range") {
  CHECK_THROWS_WITH(make_cage({}, {10, 0, 10}, 3, 3, 3), Contains("no size"));
  CHECK_THROWS_WITH(make_cage({}, {10, 10, 10}, 1, 3, 3), Contains("2 to 12"));
  CHECK_THROWS_WITH(make_cage({}, {10, 10, 10}, 3, 13, 3), Contains("2 to 12"));
  CHECK_THROWS_AS(make_cage({}, {10, 10, 10}, 3, 3, 3, 0.7), Error);
}

TEST_CASE("a surface carried exactly lies where its places go, more closely with every halving") {
  Cage c = make_cage({{-25, -25, -25}}, {50, 50, 50}, 3, 3, 3);
  c.now.points(1, 1, 2) += Vec3{4, 0, 9};
  const CageMap map(c);
  const Surface ball = make_sphere({}, 20);
  Progress progress;
  double before = 1e9;
  for (int halvings = 0; halvings < 4; ++halvings) {
    const CarriedSurface s = carried(ball, map, halvings, progress);
    CHECK(s.worst < 0.6 * before);
    before = s.worst;
  }
  CHECK(before < 2e-3);
}

TEST_CASE("moves on other counts keep the bending when the new lattice can hold it") {
  Cage c = make_cage({}, {10, 10, 10}, 4, 4, 4);
  std::mt19937 random(9);
  std::uniform_real_distribution<double> mm(-2, 2);
  for (Vec3& p : c.now.points.values()) p += Vec3{mm(random), mm(random), mm(random)};
  Grid<Vec3> moves = c.rest.points;
  for (std::size_t k = 0; k < moves.values().size(); ++k)
    moves.values()[k] = c.now.points.values()[k] - c.rest.points.values()[k];
  // A cubic without inner knots lies in every finer cubic spline space only where knots agree: the same counts.
  const Grid<Vec3> same = on_lattice(c.rest.u, c.rest.v, c.rest.w, moves, c.rest);
  for (std::size_t k = 0; k < moves.values().size(); ++k)
    CHECK(distance(same.values()[k], moves.values()[k]) < 1e-9);
  Cage finer = make_cage({}, {10, 10, 10}, 6, 5, 7);
  const Grid<Vec3> more = on_lattice(c.rest.u, c.rest.v, c.rest.w, moves, finer.rest);
  for (std::size_t k = 0; k < more.values().size(); ++k)
    finer.now.points.values()[k] += more.values()[k];
  const CageMap a(c);
  const CageMap b(finer);
  // Polynomials of degree 3 lie in all cubic spline spaces, so the bending is the same.
  for (const Vec3& p : places(c, 100)) CHECK(distance(a(p), b(p)) < 1e-9);
}

namespace {

struct Caged {
  Document d;
  PartId ball = 0, box = 0, cage = 0;
  StepId cage_step = 0;
};

// A sphere and a box in one cage of 3 x 3 x 3.
Caged caged(CageMode mode) {
  auto sphere = std::make_shared<SphereOperation>();
  sphere->radius = 20;
  const Added ball = with_part({}, "Ball", sphere);
  auto block = std::make_shared<BoxOperation>();
  block->length_x = block->length_y = block->length_z = 10;
  block->centre = {30, 0, 0};
  const Added box = with_part(ball.document, "Block", block);
  auto cage = std::make_shared<CageOperation>();
  cage->points_x = cage->points_y = cage->points_z = 3;
  cage->centre = {10, 0, 0};
  cage->length_x = 70;
  cage->length_y = cage->length_z = 50;
  const Added added = with_part(box.document, "Cage", cage);
  Document d = added.document;
  for (const PartId part : {ball.part, box.part}) {
    auto in = std::make_shared<InCageOperation>();
    in->cage = added.part;
    in->mode = mode;
    d = with_step(d, part, in).document;
  }
  return {d, ball.part, box.part, added.part, added.step};
}

PartResult result(const Document& d, PartId part) {
  Progress progress;
  return Evaluator().evaluate(d, progress, {part}).parts.at(part);
}

}  // namespace

TEST_CASE(
    "several parts follow one cage that is shaped like any net, and are free again without it") {
  for (const CageMode mode : {CageMode::Grid, CageMode::Exact}) {
    const Caged c = caged(mode);
    Progress progress;
    Document d = c.d;
    const PartResult plain = result(d, c.cage);
    const auto& rest = std::get<Cage>(*plain.shape);
    auto shaped = std::make_shared<ShapedPointsOperation>();
    Shaping s = no_shaping(Net(rest.now));
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j < 3; ++j) s.displacements(i, j, 2) = {0, 0, 10};
    shaped->point.nets = {s};
    d = with_step(d, c.cage, shaped).document;
    for (const PartId part : {c.ball, c.box}) {
      const PartResult r = result(d, part);
      REQUIRE_FALSE(r.failed);
      // With three points a direction the bending is quadratic: z gains 10 t² with t from the cage's floor.
      const Body& body = std::get<Body>(*r.shape);
      double worst = 0.0;
      for (const Face& f : body.faces)
        for (const double u : {0.0, 0.5, 1.0})
          for (const double v : {0.0, 0.5, 1.0}) {
            const Surface& now = *f.surface;
            const std::size_t n = static_cast<std::size_t>(&f - body.faces.data());
            const Surface& then = *std::get<Body>(*r.steps[0].shape).faces[n].surface;
            const Vec3 p = evaluate(then, then.u.first() + u * then.u.length(),
                                    then.v.first() + v * then.v.length());
            const double t = (p.z + 25) / 50;
            worst = std::max(worst, distance(evaluate(now, now.u.first() + u * now.u.length(),
                                                      now.v.first() + v * now.v.length()),
                                             p + Vec3{0, 0, 10 * t * t}));
          }
      CHECK(worst < (mode == CageMode::Exact ? 0.02 : 1.5));
    }
    // It is written and read, and other counts keep the shape.
    const Document back = from_project_json(to_project_json(d), make_operation);
    CHECK(to_project_json(back) == to_project_json(d));
    const PartResult before = result(d, c.ball);
    const PartResult after = result(with_step_parameter(d, c.cage_step, "points_z", "5"), c.ball);
    CHECK(deviation(std::get<Body>(*before.shape), std::get<Body>(*after.shape), progress).max <
          1e-3);
    // Switched off, or without its cage, the part is as it was and says why.
    const PartResult lost = result(without_part(d, c.cage), c.ball);
    CHECK(lost.failed);
    CHECK(
        deviation(std::get<Body>(*lost.shape), std::get<Body>(*lost.steps[0].shape), progress).max <
        1e-9);
  }
}

TEST_CASE("a new cage stands around the picked parts") {
  CageOperation o;
  Beginning b;
  b.chosen = 1;
  b.picked = {1, 2};
  b.before = std::make_shared<const Shape>(body_of({make_sphere({}, 20)}, 1));
  Frame f;
  f.origin = {60, 0, 0};
  b.parts[2] = std::make_shared<const Shape>(body_of({make_sphere(f, 10)}, 1));
  o.suit(b);
  CHECK(o.centre.x == Approx(25.0));
  CHECK(o.length_x >= 90.0);
  CHECK(o.length_x < 95.0);
  CHECK(o.length_z >= 40.0);
}

TEST_CASE("a cage lies along its parts where that box is clearly smaller, else along the axes") {
  // A rod of 60 × 6 × 4 mm, turned by 30° about z.
  const double a = 30.0 * 3.14159265358979323846 / 180.0;
  Frame f;
  f.origin = {10, -4, 7};
  f.x = {std::cos(a), std::sin(a), 0};
  f.y = {-std::sin(a), std::cos(a), 0};
  TriangleMesh rod;
  for (const double x : {-30.0, 30.0})
    for (const double y : {-3.0, 3.0})
      for (const double z : {-2.0, 2.0}) rod.points.push_back(f.to_world({x, y, z}));
  rod.triangles = {{0, 1, 2}, {5, 6, 7}};
  Beginning b;
  b.chosen = 1;
  b.picked = {1};
  b.before = std::make_shared<const Shape>(rod);
  CageOperation cage;
  cage.suit(b);
  CHECK(cage.turn == Approx(30.0).margin(0.011));
  CHECK(cage.tilt == Approx(0.0).margin(0.011));
  CHECK(distance(cage.centre, f.origin) < 0.05);
  CHECK(cage.length_x == Approx(62.0).margin(1.01));
  CHECK(cage.length_y < 10.0);
  CHECK(cage.length_z < 8.0);
  // What lies in it stays inside: shares of the box are all between 0 and 1.
  Progress progress;
  const Outcome made = cage.apply(CurveSet{}, {}, progress);
  const auto& box = std::get<Cage>(made.shape);
  for (const Vec3& p : rod.points) {
    const Vec3 local = box.frame.to_local(p);
    for (std::size_t c = 0; c < 3; ++c) {
      CHECK(local[c] > 0.0);
      CHECK(local[c] < box.size[c]);
    }
  }
  // A work plane that is set wins.
  Frame plane;
  plane.x = {0, 1, 0};
  plane.y = {-1, 0, 0};
  b.plane = plane;
  CageOperation along;
  along.suit(b);
  CHECK(along.turn == Approx(90.0));
  // A cube has no directions of its own.
  TriangleMesh cube;
  for (const double x : {-5.0, 5.0})
    for (const double y : {-5.0, 5.0})
      for (const double z : {-5.0, 5.0}) cube.points.push_back({x, y, z});
  cube.triangles = {{0, 1, 2}};
  b.plane.reset();
  b.before = std::make_shared<const Shape>(cube);
  CageOperation upright;
  upright.suit(b);
  CHECK(upright.turn == 0.0);
  CHECK(upright.roll == 0.0);
}
