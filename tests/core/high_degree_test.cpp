// Faces and edges of the B-rep kernel in degrees above ours.
#include <BRepBuilderAPI_MakeFace.hxx>
#include <Geom_BSplineSurface.hxx>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/check/measures.h"
#include "core/cut/edge_edit.h"
#include "core/kernel/convert.h"
#include "core/kernel/lowered.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/surface_evaluator.h"

using namespace evenclay;
using std::numbers::pi;

namespace {

// A cylinder of radius 10 and height 30 about z, its rulings in degree 13.
Handle(Geom_BSplineSurface) high_cylinder() {
  const Handle(Geom_BSplineSurface) s = kernel::to_kernel(make_cylinder({}, 10, 30));
  const bool along_u = std::abs(s->Value(0.3, 0.1).Z() - s->Value(0.4, 0.1).Z()) > 1e-9;
  s->IncreaseDegree(along_u ? 13 : s->UDegree(), along_u ? s->VDegree() : 13);
  return s;
}

}  // namespace

TEST_CASE(
    "a surface of degree 13 comes in a lower degree, with its parameters, within 1e-7 of its "
    "size") {
  const Handle(Geom_BSplineSurface) theirs = high_cylinder();
  REQUIRE(std::max(theirs->UDegree(), theirs->VDegree()) == 13);
  Progress progress;
  const Surface ours = kernel::lowered(theirs, progress);
  CHECK(ours.u.degree <= kMaxDegree);
  CHECK(ours.v.degree <= kMaxDegree);
  const double within = 1e-7 * std::sqrt(20.0 * 20 + 20 * 20 + 30 * 30);
  const SurfaceEvaluator at(ours);
  for (int i = 0; i <= 37; ++i)
    for (int j = 0; j <= 7; ++j) {
      const double u = ours.u.first() + ours.u.length() * i / 37;
      const double v = ours.v.first() + ours.v.length() * j / 7;
      const Vec3 p = at.point(u, v);
      CHECK(std::hypot(p.x, p.y) == Approx(10.0).margin(within));
      const gp_Pnt same = theirs->Value(u, v);
      CHECK(distance(p, {same.X(), same.Y(), same.Z()}) < 1.5 * within);
    }
}

TEST_CASE("half a cylinder in degree 13 becomes a face of ours, its edges on it") {
  Progress progress;
  const Handle(Geom_BSplineSurface) theirs = high_cylinder();
  double u0 = 0, u1 = 1, v0 = 0, v1 = 1;
  theirs->Bounds(u0, u1, v0, v1);
  const bool round_u = theirs->UDegree() == 2;
  (round_u ? u1 : v1) = round_u ? 0.5 * (u0 + u1) : 0.5 * (v0 + v1);
  const TopoDS_Face face = BRepBuilderAPI_MakeFace(theirs, u0, u1, v0, v1, 1e-7);
  const Body body = kernel::from_kernel(
      face,
      [](const TopoDS_Face&, std::size_t n) {
        return kernel::Origin{nullptr, make_tag(1, 0, n)};
      },
      [](const TopoDS_Edge&, std::size_t n) { return make_tag(1, 1, n); }, progress);
  check(body);
  REQUIRE(body.faces.size() == 1);
  CHECK(area(body.faces[0], progress) == Approx(pi * 10 * 30).margin(1e-3));
  REQUIRE(body.edges.size() == 4);
  for (const Edge& e : body.edges) CHECK(e.curve.knots.degree <= kMaxDegree);
  CHECK(greatest_gap(body) < 1e-5);
}
