#include <Extrema_ExtPS.hxx>
#include <GeomAdaptor_Surface.hxx>
#include <catch2/catch.hpp>
#include <random>

#include "core/body/projector.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/projection.h"
#include "core/support.h"

using namespace evenclay;

namespace {

std::vector<Vec3> questions(const Surface& s, int count) {
  std::mt19937 r(11);
  std::normal_distribution<double> off(0.0, 0.05 * size(s));
  std::uniform_real_distribution<double> u(s.u.first(), s.u.last());
  std::uniform_real_distribution<double> v(s.v.first(), s.v.last());
  std::vector<Vec3> q;
  for (int k = 0; k < count; ++k)
    q.push_back(evaluate(s, u(r), v(r)) + Vec3{off(r), off(r), off(r)});
  return q;
}

Surface rebuilt_sphere() {
  Progress progress;
  return rebuild(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, progress);
}

// Smallest sampled distance, then refined around it: independent of the k-d tree and of Newton.
double brute_force(const Surface& s, const Vec3& q) {
  const SurfaceEvaluator e(s);
  double best = 1e300;
  double bu = 0;
  double bv = 0;
  for (int i = 0; i <= 200; ++i)
    for (int j = 0; j <= 200; ++j) {
      const double u = s.u.first() + s.u.length() * i / 200.0;
      const double v = s.v.first() + s.v.length() * j / 200.0;
      if (const double d = distance(e.point(u, v), q); d < best) {
        best = d;
        bu = u;
        bv = v;
      }
    }
  for (double h = 1.0 / 200; h > 1e-11; h *= 0.6)
    for (int i = -3; i <= 3; ++i)
      for (int j = -3; j <= 3; ++j) {
        const double u = into_domain(s.u, bu + s.u.length() * h * i / 3.0);
        const double v = into_domain(s.v, bv + s.v.length() * h * j / 3.0);
        if (const double d = distance(e.point(u, v), q); d < best) {
          best = d;
          bu = u;
          bv = v;
        }
      }
  return best;
}

// 100 × 100 mm, with folds that come close to each other.
Surface rippled(int degree) {
  Surface s = make_plane({}, 100, 100, 20, 20, degree, degree);
  for (Vec3& p : s.points.values()) p.z = 12.0 * std::sin(0.3 * p.x) * std::cos(0.2 * p.y);
  return s;
}

// Where neither a border holds the foot nor, with degree 1, a crease.
bool away_from_knots(const KnotVector& k, double u) {
  for (const double t : breakpoints(k))
    if (std::abs(u - t) < 1e-6 * k.length()) return false;
  return true;
}

}  // namespace

TEST_CASE("closest points have the distance that brute force finds") {
  std::vector<testing::NamedSurface> all = testing::conic_surfaces();
  all.push_back({"rebuilt sphere", rebuilt_sphere()});
  for (const auto& [name, s] : all) {
    const SurfaceProjector projector(s);
    for (const Vec3& q : questions(s, 25)) {
      INFO(name << " from " << q.x << ", " << q.y << ", " << q.z);
      const Projection p = projector.closest(q);
      CHECK(p.distance == Approx(distance(p.point, q)));
      CHECK(p.distance <= brute_force(s, q) + 1e-9 * size(s));
    }
  }
}

TEST_CASE("closest points are as near as those of the B-rep kernel") {
  const Surface s = rebuilt_sphere();
  const SurfaceProjector projector(s);
  const GeomAdaptor_Surface adaptor(testing::kernel_surface(s));
  for (const Vec3& q : questions(s, 60)) {
    Extrema_ExtPS extrema(gp_Pnt(q.x, q.y, q.z), adaptor, 1e-10, 1e-10, Extrema_ExtFlag_MIN,
                          Extrema_ExtAlgo_Tree);
    REQUIRE(extrema.IsDone());
    double kernel = 1e300;
    for (int k = 1; k <= extrema.NbExt(); ++k)
      kernel = std::min(kernel, std::sqrt(extrema.SquareDistance(k)));
    CHECK(projector.closest(q).distance <= kernel + 1e-9 * size(s));
  }
}

// Reference route: derivatives(), which shares nothing with the quick evaluation.
TEST_CASE("a foot lies on the surface at its place, and the way to it is square to the surface") {
  std::vector<testing::NamedSurface> all = testing::conic_surfaces();
  for (int degree = 1; degree <= 4; ++degree)
    all.push_back({"ripples of degree " + std::to_string(degree), rippled(degree)});
  int inside = 0;
  for (const auto& [name, s] : all) {
    const SurfaceProjector projector(s);
    for (const Vec3& q : questions(s, 200)) {
      const Projection foot = projector.closest(q);
      const SurfaceDerivatives d = derivatives(s, foot.u, foot.v, 1);
      INFO(name << " at " << foot.u << ", " << foot.v);
      CHECK(distance(d.p(), foot.point) <= 1e-12 * size(s));
      CHECK(std::abs(distance(d.p(), q) - foot.distance) <= 1e-12 * size(s));
      if (!away_from_knots(s.u, foot.u) || !away_from_knots(s.v, foot.v)) continue;
      ++inside;
      for (const Vec3& along : {d.du(), d.dv()})
        if (length(along) > 1e-6 * size(s))
          CHECK(std::abs(dot(along, q - foot.point)) / length(along) <= 1e-8 * size(s));
    }
  }
  CHECK(inside > 1000);
}

TEST_CASE("from far off folds, too, the foot is as near as brute force says") {
  const Surface s = rippled(3);
  const SurfaceProjector projector(s);
  std::mt19937 r(9);
  std::uniform_real_distribution<double> x(-10.0, 110.0), z(-25.0, 25.0);
  for (int k = 0; k < 20; ++k) {
    const Vec3 q{x(r), x(r), z(r)};
    INFO("from " << q.x << ", " << q.y << ", " << q.z);
    CHECK(projector.closest(q).distance <= brute_force(s, q) + 1e-9 * size(s));
  }
}

// Whatever the weights do to the parameters: what was set off from a place has a foot no farther away than that.
TEST_CASE("uneven weights do not keep a search from the nearer place") {
  std::mt19937 r(11);
  std::uniform_real_distribution<double> weight(0.2, 5.0), share(0.0, 1.0), off(-3.0, 3.0);
  for (int n = 0; n < 40; ++n) {
    Surface s = make_plane({}, 60, 50, 7, 6, 3, 3);
    for (Vec3& p : s.points.values()) p.z = 8.0 * std::sin(0.1 * p.x) * std::cos(0.13 * p.y);
    s.weights = Grid<double>(7, 6);
    for (double& w : s.weights.values()) w = weight(r);
    const SurfaceProjector projector(s);
    for (int k = 0; k < 2000; ++k) {
      const double u = share(r), v = share(r), away = off(r);
      INFO("form " << n << " at " << u << ", " << v << ", " << away << " mm off");
      const Vec3 q = evaluate(s, u, v) + normal(s, u, v) * away;
      REQUIRE(projector.closest(q).distance <= std::abs(away) + 1e-9);
    }
  }
}

// Each face of a body is asked for only while it may be nearer than the others.
TEST_CASE("of many faces the nearest is found, as by asking each") {
  std::vector<Surface> surfaces;
  std::mt19937 r(21);
  std::uniform_real_distribution<double> x(-150.0, 150.0);
  for (int n = 0; n < 30; ++n) {
    Frame frame;
    frame.origin = {x(r), x(r), x(r)};
    surfaces.push_back(n % 3 == 0 ? rippled(3) : make_sphere(frame, 20.0));
    for (Vec3& p : surfaces.back().points.values()) p += frame.origin * (n % 3 == 0 ? 1.0 : 0.0);
  }
  const Body body = body_of(surfaces);
  const BodyProjector all(body);
  for (int k = 0; k < 60; ++k) {
    const Vec3 q{x(r), x(r), x(r)};
    double least = 1e300;
    for (const Face& f : body.faces)
      least = std::min(least, SurfaceProjector(*f.surface, 3).closest(q).distance);
    CHECK(all.closest(q).distance == Approx(least).margin(1e-9));
  }
}

TEST_CASE("a point near a pole finds its foot on the other side of the seam and the pole") {
  const Surface s = make_sphere({}, 52);
  const SurfaceProjector projector(s);
  for (int i = 0; i < 200; ++i)
    for (const double v : {0.0, 1e-4, 0.003, 0.01, 0.99, 0.9999, 1.0}) {
      const Vec3 q = evaluate(s, i / 200.0, v) * 1.1;
      REQUIRE(projector.closest(q).distance == Approx(5.2).epsilon(1e-10));
    }
}

// The distance from an upright wall over a line of corners is the least of those from its flat pieces.
TEST_CASE("the foot on a folded sheet is the nearest of all its flat pieces, open and closed") {
  std::mt19937 random(20261127);
  std::uniform_real_distribution<double> place(-40.0, 40.0), height(-5.0, 25.0);
  for (int sheet = 0; sheet < 30; ++sheet) {
    const bool round = sheet % 2 == 1;
    const int sides = 2 + sheet % 7 + (round ? 1 : 0);
    std::vector<Vec3> corners;
    // Every third has a long side beside short ones, as a frame has.
    for (int k = 0; k <= sides; ++k)
      corners.push_back(sheet % 3 == 0 && k < 3
                            ? Vec3{k == 1 ? 40.0 : 34.0 - k, k == 2 ? 6.0 : -20.0, 0}
                            : Vec3{place(random), place(random), 0});
    if (round) corners.back() = corners.front();
    Surface s;
    s.u.degree = 1;
    s.u.knots.push_back(0.0);
    for (int k = 0; k <= sides; ++k) s.u.knots.push_back(k);
    s.u.knots.push_back(sides);
    s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
    s.points = Grid<Vec3>(sides + 1, 2);
    for (int i = 0; i <= sides; ++i)
      for (int j = 0; j < 2; ++j)
        s.points(i, j) = corners[static_cast<std::size_t>(i)] + Vec3{0, 0, 20.0 * j};
    if (round) s = closed(s, Direction::U, 1e-9);
    const SurfaceProjector projector(s);
    for (int k = 0; k < 600; ++k) {
      Vec3 q{place(random), place(random), height(random)};
      if (k % 3 == 0) {  // near a corner, where pieces compete
        const Vec3& c = corners[static_cast<std::size_t>(k) % corners.size()];
        q = {c.x + 0.1 * q.x, c.y + 0.1 * q.y, q.z};
      }
      double least = 1e300;
      for (std::size_t i = 0; i + 1 < corners.size(); ++i) {
        const Vec3 way = corners[i + 1] - corners[i];
        const Vec3 flat{q.x, q.y, 0.0};
        const double t = std::clamp(dot(flat - corners[i], way) / dot(way, way), 0.0, 1.0);
        const double above = std::max({0.0, -q.z, q.z - 20.0});
        least = std::min(least, std::hypot(distance(flat, corners[i] + way * t), above));
      }
      INFO(sheet << " " << q.x << " " << q.y << " " << q.z);
      CHECK(projector.closest(q).distance == Approx(least).margin(1e-9));
    }
  }
}
