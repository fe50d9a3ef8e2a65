#include <Extrema_ExtPS.hxx>
#include <GeomAdaptor_Surface.hxx>
#include <catch2/catch.hpp>
#include <random>

#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
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

TEST_CASE("a point near a pole finds its foot on the other side of the seam and the pole") {
  const Surface s = make_sphere({}, 52);
  const SurfaceProjector projector(s);
  for (int i = 0; i < 200; ++i)
    for (const double v : {0.0, 1e-4, 0.003, 0.01, 0.99, 0.9999, 1.0}) {
      const Vec3 q = evaluate(s, i / 200.0, v) * 1.1;
      REQUIRE(projector.closest(q).distance == Approx(5.2).epsilon(1e-10));
    }
}
