// Bodies: trimmed faces, what joins them, their triangles and measures.
#include "core/body/body.h"

#include <BRepAlgoAPI_Cut.hxx>
#include <BRepAlgoAPI_Fuse.hxx>
#include <BRepCheck_Analyzer.hxx>
#include <BRepGProp.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCone.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeSphere.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <catch2/catch.hpp>
#include <cmath>
#include <limits>
#include <numbers>
#include <random>
#include <set>

#include "core/base/error.h"
#include "core/body/body_mesh.h"
#include "core/body/cell_polygons.h"
#include "core/body/edge_points.h"
#include "core/body/grid_lines.h"
#include "core/body/projector.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/trim.h"
#include "core/kernel/convert.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/projection.h"

using namespace evenclay;
using Catch::Contains;
constexpr double kPi = std::numbers::pi;

namespace {

Body from_shape(const TopoDS_Shape& shape) {
  Progress progress;
  const TopoDS_Shape splines = kernel::as_splines(shape, [](const auto&, const auto&) {});
  return kernel::from_kernel(
      splines,
      [](const TopoDS_Face&, std::size_t n) {
        return kernel::Origin{nullptr, make_tag(1, 0, n)};
      },
      [](const TopoDS_Edge&, std::size_t n) { return make_tag(1, 1, n); }, progress);
}

double area_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += area(f, progress);
  return sum;
}
double volume_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += volume(f, progress);
  return sum;
}

TriangleMesh mesh_of_body(const Body& body, double chord) {
  Progress progress;
  return welded(tessellate(body, {.chord = chord}, progress));
}

// Forms the kernel makes from primitives and booleans, by name.
struct Named {
  const char* name;
  TopoDS_Shape shape;
};
std::vector<Named> corpus() {
  const TopoDS_Shape box = BRepPrimAPI_MakeBox(10.0, 20.0, 30.0).Shape();
  const gp_Ax2 up(gp_Pnt(5, 10, -1), gp_Dir(0, 0, 1));
  const TopoDS_Shape pin = BRepPrimAPI_MakeCylinder(up, 3.0, 40.0).Shape();
  const TopoDS_Shape ball = BRepPrimAPI_MakeSphere(gp_Pnt(5, 10, 30), 8.0).Shape();
  const TopoDS_Shape ring = BRepPrimAPI_MakeTorus(20.0, 6.0).Shape();
  const TopoDS_Shape cone = BRepPrimAPI_MakeCone(8.0, 3.0, 12.0).Shape();
  const TopoDS_Shape hollow = BRepAlgoAPI_Cut(box, pin).Shape();
  return {{"box", box},
          {"cylinder", pin},
          {"sphere", ball},
          {"torus", ring},
          {"cone", cone},
          {"box with a hole", hollow},
          {"box and ball", BRepAlgoAPI_Fuse(box, ball).Shape()},
          {"bitten box", BRepAlgoAPI_Cut(box, ball).Shape()},
          {"ring on a hollow box", BRepAlgoAPI_Fuse(hollow, ring).Shape()}};
}

// An opening of the kernel's making in one face.
Curve ring_curve(const Vec3& centre, double radius) {
  Frame f;
  f.origin = centre;
  return make_circle(f, radius);
}

}  // namespace

TEST_CASE("tags of the same origin are the same and of others differ") {
  CHECK(make_tag(3, 7, 1) == make_tag(3, 7, 1));
  std::set<Tag> all;
  for (int step = 0; step < 20; ++step)
    for (Tag origin = 0; origin < 20; ++origin)
      for (std::uint64_t n = 0; n < 20; ++n) all.insert(make_tag(step, origin, n));
  CHECK(all.size() == 20 * 20 * 20);
  CHECK_FALSE(all.contains(0));
}

TEST_CASE("ear clipping covers a polygon by its area") {
  // Shoelace areas by hand: an L of 3 unit squares, and the same with points on its straight sides.
  const std::vector<Parameter> l{{0, 0}, {2, 0}, {2, 1}, {1, 1}, {1, 2}, {0, 2}};
  const std::vector<Parameter> more{{0, 0},   {0.5, 0}, {1, 0},   {2, 0}, {2, 1}, {1, 1},
                                    {1, 1.5}, {1, 2},   {0.2, 2}, {0, 2}, {0, 1}};
  for (const auto& polygon : {l, more}) {
    double sum = 0.0;
    const auto triangles = triangles_of(polygon);
    CHECK(triangles.size() == polygon.size() - 2);
    for (const auto& t : triangles) {
      const double a = doubled_area({polygon[t[0]], polygon[t[1]], polygon[t[2]]});
      CHECK(a >= -1e-12);
      sum += a / 2.0;
    }
    CHECK(sum == Approx(3.0));
  }
}

TEST_CASE("kernel forms come over with their areas and volumes") {
  const auto all = corpus();
  REQUIRE(all.size() >= 9);
  for (const Named& n : all) {
    INFO(n.name);
    const Body body = from_shape(n.shape);
    check(body);
    CHECK(topology(body).closed);
    GProp_GProps area, volume;
    BRepGProp::SurfaceProperties(n.shape, area, 1e-9);
    BRepGProp::VolumeProperties(n.shape, volume, 1e-9);
    CHECK(area_of(body) == Approx(area.Mass()).epsilon(1e-5));
    CHECK(volume_of(body) == Approx(volume.Mass()).epsilon(1e-5));
  }
}

TEST_CASE("areas and volumes of trimmed faces by formula") {
  // Box 10 × 20 × 30 with a hole of radius 3 through it along z.
  const Body hollow = from_shape(corpus()[5].shape);
  CHECK(volume_of(hollow) == Approx(6000.0 - kPi * 9.0 * 30.0).epsilon(1e-8));
  CHECK(area_of(hollow) == Approx(2200.0 - 2.0 * kPi * 9.0 + 2.0 * kPi * 3.0 * 30.0).epsilon(1e-8));
  // Cone frustum of radii 8 and 3, height 12: V = π h (R² + R r + r²) / 3.
  const Body cone = from_shape(corpus()[4].shape);
  CHECK(volume_of(cone) == Approx(kPi * 12.0 * (64.0 + 24.0 + 9.0) / 3.0).epsilon(1e-8));
}

TEST_CASE("triangles of joined bodies are watertight and near enough") {
  for (const Named& n : corpus()) {
    INFO(n.name);
    const Body body = from_shape(n.shape);
    const double chord = 1e-3 * size(body);
    const TriangleMesh mesh = mesh_of_body(body, chord);
    const EdgeReport edges = check_edges(mesh);
    CHECK(edges.open == 0);
    CHECK(edges.tangled == 0);
    GProp_GProps volume_of_shape;
    BRepGProp::VolumeProperties(n.shape, volume_of_shape, 1e-9);
    CHECK(volume(mesh) == Approx(volume_of_shape.Mass()).epsilon(0.03));
    // Middles of triangles and of their sides against the body, all by closest points.
    const BodyProjector projector(body);
    double worst = 0.0;
    for (const auto& t : mesh.triangles) {
      const Vec3 a = mesh.points[t[0]], b = mesh.points[t[1]], c = mesh.points[t[2]];
      for (const Vec3& p : {(a + b + c) / 3.0, (a + b) * 0.5, (b + c) * 0.5, (c + a) * 0.5})
        worst = std::max(worst, projector.closest(p).distance);
    }
    CHECK(worst <= chord * 1.0001);
  }
}

namespace {

// Sheets that bend every way: waves, a saddle, and nets moved by chance; some with an opening.
std::vector<Body> bent_sheets() {
  std::vector<Body> all;
  std::mt19937 random(20);
  const auto below = [&](double most) {
    return most * (static_cast<double>(random()) / 4294967296.0);
  };
  Progress progress;
  for (int n = 0; n < 18; ++n) {
    const int u = n % 3 == 0 ? 14 : 5 + n % 4, v = n % 3 == 0 ? 14 : 5 + n % 5;
    Surface s = make_plane({}, 100, 80, u, v, 2 + n % 2, 2 + n % 3);
    const double a = 0.2 + below(0.6), b = 0.2 + below(0.6);
    for (int i = 0; i < u; ++i)
      for (int j = 0; j < v; ++j) {
        Vec3& p = s.points(i, j);
        p.z = n % 3 == 0 ? 6.0 * std::sin(a * i + b * j)
                         : (n % 3 == 1 ? below(16.0) - 8.0 : 0.02 * p.x * p.y);
      }
    Body body = body_of({s}, 1);
    if (n % 2 == 1) {
      std::vector<Vec3> ring;
      for (int k = 0; k < 40; ++k) {
        const double at = 2.0 * std::numbers::pi * k / 40, r = 20.0 + below(6.0);
        ring.push_back({r * std::cos(at), r * std::sin(at), 0.0});
      }
      const std::vector<Curve> curves{make_curve(ring, 3, true)};
      body = trim(body, curves, {.step = 2}, progress).body;
    }
    all.push_back(std::move(body));
  }
  return all;
}

std::size_t kernel_triangles(const Body& body, double chord) {
  const TopoDS_Shape shape = kernel::to_kernel(body).all;
  const BRepMesh_IncrementalMesh mesh(shape, chord, Standard_False, 20.0, Standard_False);
  std::size_t count = 0;
  for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) {
    TopLoc_Location at;
    count += static_cast<std::size_t>(
        BRep_Tool::Triangulation(TopoDS::Face(e.Current()), at)->NbTriangles());
  }
  return count;
}

}  // namespace

TEST_CASE(
    "triangles keep to the chord however a sheet bends, with at most twice the kernel's mesher") {
  std::size_t ours = 0, kernels = 0;
  for (const Body& body : bent_sheets()) {
    const double chord = 1e-3 * size(body);
    const TriangleMesh mesh = mesh_of_body(body, chord);
    const SurfaceProjector projector(*body.faces[0].surface);
    double worst = 0.0;
    for (const auto& t : mesh.triangles) {
      const Vec3 a = mesh.points[t[0]], b = mesh.points[t[1]], c = mesh.points[t[2]];
      for (const Vec3& p : {(a + b + c) / 3.0, (a + b) * 0.5, (b + c) * 0.5, (c + a) * 0.5,
                            (a + a + b + c) * 0.25, (a + b + b + c) * 0.25})
        worst = std::max(worst, projector.closest(p).distance);
    }
    CHECK(worst <= chord);
    ours += mesh.triangles.size();
    kernels += kernel_triangles(body, chord);
  }
  INFO(ours << " and " << kernels);
  CHECK(ours <= 2 * kernels);
}

TEST_CASE("cells of a flat sheet are one without a bound, and no wider than it with one") {
  const Body flat = body_of({make_plane({}, 60, 40, 5, 5, 3, 3)}, 1);
  Progress progress;
  const auto longest = [&](double widest) {
    const TriangleMesh m = welded(tessellate(flat, {.chord = 0.1, .widest = widest}, progress));
    double most = 0.0;
    for (const auto& t : m.triangles)
      for (std::size_t k = 0; k < 3; ++k)
        most = std::max(most, distance(m.points[t[k]], m.points[t[(k + 1) % 3]]));
    CHECK(area(m) == Approx(2400.0).epsilon(1e-9));
    return most;
  };
  CHECK(longest(0.0) > 30.0);
  for (const double bound : {20.0, 5.0, 1.0})
    CHECK(longest(bound) <= bound * std::numbers::sqrt2 + 1e-9);
}

TEST_CASE("lines across a direction are as few as the strips allow, and no cell is wider") {
  const Strips strips{{0.0, 1.0, 2.0, 4.0}, {1, 0, 0, 1}};
  const auto widest = [](const std::vector<double>& ends) {
    double from = 0.0, most = 0.0;
    for (const double end : ends) {
      most = std::max(most, end - from);
      from = end;
    }
    return most;
  };
  // One width everywhere: the length over it, rounded up, all alike.
  const LinePlacer even(strips, {0.75, 0.75, 0.75});
  const std::vector<double> six = even.between(0.0, 4.0);
  REQUIRE(six.size() == 6);
  for (int k = 0; k < 6; ++k)
    CHECK(six[static_cast<std::size_t>(k)] == Approx((k + 1) * 4.0 / 6.0));
  CHECK(even.count(0.0, 4.0) == 6);
  // What is flat is crossed in one, knots and all.
  const double far = std::numeric_limits<double>::infinity();
  CHECK(LinePlacer(strips, {far, far, far}).between(0.0, 4.0) == std::vector<double>{4.0});
  CHECK(LinePlacer(strips, {1.5, 2.0, 2.0}).count(0.0, 4.0) == 3);
  // A narrow strip holds back the cells that reach into it, and no others.
  const LinePlacer narrow(strips, {2.0, 0.25, 2.0});
  const std::vector<double> ends = narrow.between(0.0, 4.0);
  CHECK(ends.back() == 4.0);
  CHECK(ends.size() == 6);  // 1, four quarters, 2
  CHECK(widest(ends) <= 2.0);
  double from = 0.0;
  for (const double end : ends) {
    if (end > 1.0 + 1e-9 && from < 2.0 - 1e-9) CHECK(end - from <= 0.25 + 1e-9);
    from = end;
  }
  // Nothing needs more than 4096 cells.
  CHECK(LinePlacer(strips, {1e-9, 1e-9, 1e-9}).count(0.0, 4.0) == 4096);
}

TEST_CASE("bodies go to the kernel and come back valid") {
  for (const Named& n : corpus()) {
    INFO(n.name);
    const Body body = from_shape(n.shape);
    const kernel::KernelBody there = kernel::to_kernel(body);
    CHECK(BRepCheck_Analyzer(there.all).IsValid());
    CHECK(there.all.ShapeType() == TopAbs_SOLID);
    GProp_GProps volume;
    BRepGProp::VolumeProperties(there.all, volume, 1e-9);
    CHECK(volume.Mass() == Approx(volume_of(body)).epsilon(1e-5));
  }
}

TEST_CASE("a plane with an opening has the area without it") {
  Progress progress;
  const Body sheet = body_of({make_plane({}, 40, 30, 5, 4, 3, 3)}, 1);
  const std::vector<Curve> curves{ring_curve({3, -2, 10}, 6.0)};
  const Trimmed t = trim(sheet, curves, {.step = 2}, progress);
  check(t.body);
  REQUIRE(t.body.faces.size() == 1);
  CHECK(t.pieces_taken == 1);
  CHECK(t.body.faces[0].tag == sheet.faces[0].tag);
  CHECK(t.body.faces[0].surface == sheet.faces[0].surface);
  CHECK(area_of(t.body) == Approx(1200.0 - kPi * 36.0).epsilon(1e-7));
  const Trimmed inside = trim(sheet, curves, {.keep = TrimKeep::Inside, .step = 2}, progress);
  CHECK(area_of(inside.body) == Approx(kPi * 36.0).epsilon(1e-7));
  const FaceRegion region(t.body.faces[0]);
  const Surface& s = *sheet.faces[0].surface;
  // The plane runs from −20 to 20 and from −15 to 15.
  const auto contains = [&](double x, double y) {
    const Projection p = SurfaceProjector(s).closest({x, y, 0});
    return region.contains(p.u, p.v);
  };
  CHECK_FALSE(contains(3, -2));
  CHECK_FALSE(contains(8.9, -2));
  CHECK(contains(9.1, -2));
  CHECK(contains(-19.9, 14.9));
}

TEST_CASE("a sphere cut by a ring about its pole loses a cap") {
  Progress progress;
  const double radius = 52.0, ring = 20.0;
  const Body sphere = body_of({make_sphere({}, radius)}, 1);
  const std::vector<Curve> curves{ring_curve({0, 0, 0}, ring)};
  // Area of a cap of height h: 2 π R h (Archimedes).
  const double h = radius - std::sqrt(radius * radius - ring * ring);
  const double whole = 4.0 * kPi * radius * radius, cap = 2.0 * kPi * radius * h;
  const auto left = [&](TrimReach reach) {
    const Trimmed t = trim(sphere, curves, {.reach = reach, .step = 2}, progress);
    check(t.body);
    CHECK_FALSE(topology(t.body).closed);
    return area_of(t.body);
  };
  CHECK(left(TrimReach::BothWays) == Approx(whole - 2.0 * cap).epsilon(1e-6));
  CHECK(left(TrimReach::Forwards) == Approx(whole - cap).epsilon(1e-6));
  CHECK(left(TrimReach::Backwards) == Approx(whole - cap).epsilon(1e-6));
  const Trimmed t = trim(sphere, curves, {.reach = TrimReach::Forwards, .step = 2}, progress);
  const Topology top = topology(t.body);
  REQUIRE(top.open_chains.size() == 1);
  double rim = 0.0;
  for (const std::uint32_t e : top.open_chains[0]) {
    const std::vector<Vec3> p = polyline(t.body.edges[e].curve, 1e-5);
    for (std::size_t k = 0; k + 1 < p.size(); ++k) rim += distance(p[k], p[k + 1]);
  }
  CHECK(rim == Approx(2.0 * kPi * ring).epsilon(1e-5));
}

TEST_CASE("an opening follows the surface beneath it") {
  Progress progress;
  const Body sheet = body_of({make_plane({}, 40, 30, 6, 6, 3, 3)}, 1);
  const std::vector<Curve> curves{ring_curve({0, 0, 5}, 6.0)};
  const Trimmed t = trim(sheet, curves, {.step = 2}, progress);
  Surface raised = *sheet.faces[0].surface;
  for (int i = 2; i < 4; ++i)
    for (int j = 2; j < 4; ++j) raised.points(i, j).z += 8.0;
  const Body followed = with_surfaces(t.body, {raised}, NewParameters::Scaled);
  check(followed);
  REQUIRE(followed.edges.size() == t.body.edges.size());
  for (std::size_t e = 0; e < followed.edges.size(); ++e) {
    CHECK(followed.edges[e].tag == t.body.edges[e].tag);
    CHECK(followed.edges[e].gap < 1e-4);
  }
  // Every place of an edge lies on the raised surface, straight above where it was.
  const SurfaceProjector projector(raised);
  for (std::size_t e = 0; e < followed.edges.size(); ++e)
    for (const Vec3& p : polyline(followed.edges[e].curve, 0.01))
      CHECK(projector.closest(p).distance < 1e-4);
}

TEST_CASE("joined sheets share the points of their edge") {
  Progress progress;
  Surface whole = make_plane({}, 40, 30, 9, 8, 3, 3);
  for (int i = 0; i < 9; ++i)
    for (int j = 0; j < 8; ++j) whole.points(i, j).z = 3.0 * std::sin(1.3 * i) * std::cos(0.9 * j);
  const auto [a, b] = split(whole, Direction::U, whole.u.first() + 0.4 * whole.u.length());
  const Body joined = with_explicit_borders(body_of({a, b}, 1), 1e-6);
  check(joined);
  const Topology t = topology(joined);
  CHECK(t.joined_edges.size() == 1);
  CHECK(t.open_edges.size() == 6);
  CHECK(t.shells.size() == 1);
  CHECK_FALSE(t.closed);
  REQUIRE(t.open_chains.size() == 1);
  CHECK(t.open_chains[0].size() == 6);
  const TriangleMesh mesh = welded(tessellate(body_of({a, b}, 1), {.chord = 0.05}, progress));
  // Euler's formula for a sheet with one border: V − E + F = 1.
  const long v = static_cast<long>(mesh.points.size());
  const long f = static_cast<long>(mesh.triangles.size());
  const auto open = static_cast<long>(check_edges(mesh).open);
  const long e = (3 * f + open) / 2;
  CHECK(v - e + f == 1);
}

TEST_CASE("cuts that cannot be say why") {
  Progress progress;
  const Body sheet = body_of({make_plane({}, 40, 30, 2, 2, 1, 1)}, 1);
  const std::vector<Curve> far{ring_curve({300, 0, 0}, 5)};
  CHECK_THROWS_WITH(trim(sheet, far, {}, progress), Contains("misses the part"));
  CHECK_THROWS_WITH(trim(sheet, {}, {}, progress), Contains("no curve"));
  const std::vector<Curve> ring{ring_curve({0, 0, 0}, 5)};
  CHECK_THROWS_WITH(trim(sheet, ring, {.direction = {1, 0, 0}}, progress), Contains("no inside"));
  CHECK_THROWS_WITH(trim(sheet, ring, {.direction = {0, 0, 0}}, progress), Contains("no length"));
  const std::vector<Curve> open{make_curve({{0, 0, 0}, {5, 0, 0}, {5, 5, 0}, {0, 9, 0}}, 3, false)};
  CHECK_THROWS_WITH(trim(sheet, open, {}, progress), Contains("open by"));
  const std::vector<Curve> large{ring_curve({0, 0, 0}, 300)};
  CHECK_THROWS_WITH(trim(sheet, large, {}, progress), Contains("Nothing of the part"));
  CHECK_THROWS_WITH(trim({}, ring, {}, progress), Contains("no surface"));
}
