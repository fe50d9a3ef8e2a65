// Which control points answer each other in mirror planes, on shapes whose symmetry is known.
#include "core/points/symmetry.h"

#include <catch2/catch.hpp>
#include <cmath>

#include "core/nurbs/conics.h"
#include "core/nurbs/curve.h"
#include "core/subdivision/sources.h"

using namespace evenclay;

namespace {

// Each partner is the mirror image, and partners answer each other.
void check_partners(const Nets& nets, const MirrorMap& map, double tolerance) {
  for (std::size_t n = 0; n < nets.nets.size(); ++n)
    for (int i = 0; i < nets.nets[n].count(0); ++i)
      for (int j = 0; j < nets.nets[n].count(1); ++j)
        for (int k = 0; k < nets.nets[n].count(2); ++k) {
          const PointIndex p{static_cast<int>(n), i, j, k};
          const PointIndex q = map.partner.nets[n](i, j, k);
          CHECK(distance(mirrored(nets.point(p), map.plane), nets.point(q)) <= tolerance);
          CHECK(map.partner.nets[static_cast<std::size_t>(q.net)](q.i, q.j, q.k) == p);
        }
}

}  // namespace

TEST_CASE(
    "a choice of planes is its single planes in their order, and mirroring turns one coordinate") {
  using P = SymmetryPlane;
  CHECK(planes_of(P::None).empty());
  CHECK(planes_of(P::XZ) == std::vector{P::XZ});
  CHECK(planes_of(P::YZAndXY) == std::vector{P::YZ, P::XY});
  CHECK(planes_of(P::XZAndXY) == std::vector{P::XZ, P::XY});
  CHECK(planes_of(P::YZAndXZ) == std::vector{P::YZ, P::XZ});
  CHECK(planes_of(P::All) == std::vector{P::YZ, P::XZ, P::XY});
  const Vec3 p{1, 2, 3};
  CHECK(mirrored(p, P::YZ) == Vec3{-1, 2, 3});
  CHECK(mirrored(p, P::XZ) == Vec3{1, -2, 3});
  CHECK(mirrored(p, P::XY) == Vec3{1, 2, -3});
  CHECK(side_of(p, P::YZ) == 1.0);
  CHECK(side_of(p, P::XZ) == 2.0);
  CHECK(side_of(p, P::XY) == 3.0);
  for (const P plane : {P::YZ, P::XZ, P::XY}) {
    CHECK(mirrored(mirrored(p, plane), plane) == p);
    CHECK(side_of(mirrored(p, plane), plane) == -side_of(p, plane));
  }
}

TEST_CASE("a sphere, a torus and a plane are symmetric in all planes, by their grids") {
  for (const Surface& s :
       {make_sphere({}, 20.0), make_torus({}, 30.0, 6.0), make_plane({}, 20, 10, 6, 5, 3, 3)}) {
    const Nets nets(s);
    for (const SymmetryPlane plane : {SymmetryPlane::YZ, SymmetryPlane::XZ}) {
      const auto map = find_mirror(nets, plane, 1e-6);
      REQUIRE(map);
      CHECK(map->on_grid);
      CHECK(map->worst_gap < 1e-9);
      check_partners(nets, *map, 1e-9);
    }
    CHECK(find_mirrors(nets, SymmetryPlane::All, 1e-6).has_value());
  }
}

TEST_CASE(
    "a shape beside the plane, or one point off, is no symmetry, but within the tolerance it is") {
  Surface s = make_plane({}, 20, 10, 6, 5, 3, 3);
  CHECK_FALSE(
      find_mirror(Nets(make_plane({{3, 0, 0}}, 20, 10, 6, 5, 3, 3)), SymmetryPlane::YZ, 0.01));
  s.points(1, 2).z += 0.006;
  CHECK_FALSE(find_mirror(Nets(s), SymmetryPlane::YZ, 0.005));
  const auto near = find_mirror(Nets(s), SymmetryPlane::YZ, kMirrorTolerance);
  REQUIRE(near);
  CHECK(near->worst_gap == Approx(0.006));
  // The other plane still holds of the whole when the point lies in it.
  s.points(1, 2).y = 0.0;
  CHECK(find_mirror(Nets(s), SymmetryPlane::XZ, 1e-6));
  CHECK_FALSE(find_mirrors(Nets(s), SymmetryPlane::YZAndXZ, 1e-4));
}

TEST_CASE("partners may lie on another surface, on a curve or in a cage") {
  const Surface right = make_plane({{10, 0, 0}}, 8, 6, 4, 4, 3, 3);
  Surface left = right;
  for (Vec3& p : left.points.values()) p.x = -p.x;
  const Nets two(std::vector<Net>{right, left});
  const auto map = find_mirror(two, SymmetryPlane::YZ, 1e-6);
  REQUIRE(map);
  check_partners(two, *map, 1e-9);
  CHECK(map->partner.nets[0](0, 0).net == 1);
  const Nets ring(make_circle({}, 12.0));
  for (const SymmetryPlane plane : planes_of(SymmetryPlane::All)) {
    const auto of_ring = find_mirror(ring, plane, 1e-6);
    REQUIRE(of_ring);
    check_partners(ring, *of_ring, 1e-9);
  }
}

TEST_CASE("of a form each point has the nearest one at its image as partner") {
  const Form box = make_box_form({}, {6, 4, 2}, 3, 2, 2, 1);
  const Nets nets(std::vector<Net>{FormNet{box.points, links_of(box)}});
  for (const SymmetryPlane plane : planes_of(SymmetryPlane::All)) {
    const auto map = find_mirror(nets, plane, 1e-6);
    REQUIRE(map);
    check_partners(nets, *map, 1e-9);
  }
  Form bent = box;
  bent.points[0].x += 0.5;
  const Nets off(std::vector<Net>{FormNet{bent.points, links_of(bent)}});
  CHECK_FALSE(find_mirror(off, SymmetryPlane::YZ, 0.01));
}
