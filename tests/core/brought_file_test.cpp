// Files that others wrote: IGES by the B-rep kernel from its own primitives, meshes by hand and by Assimp's exporter.
#include <assimp/scene.h>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <BRepPrimAPI_MakeTorus.hxx>
#include <IGESControl_Controller.hxx>
#include <IGESControl_Writer.hxx>
#include <Interface_Static.hxx>
#include <assimp/Exporter.hpp>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <numbers>
#include <sstream>

#include "core/base/error.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"
#include "core/operations/bring_in.h"
#include "core/operations/report.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

std::string iges_of(const TopoDS_Shape& shape, const char* unit) {
  IGESControl_Controller::Init();
  IGESControl_Writer writer(unit, 0);
  writer.AddShape(shape);
  writer.ComputeModel();
  std::ostringstream out;
  REQUIRE(writer.Write(out));
  return out.str();
}

Report measured(const Shape& shape) {
  Progress progress;
  return report(shape, nullptr, {}, progress);
}

double whole_area(const BroughtFile& file) {
  double sum = 0.0;
  for (const BroughtPart& p : file.parts) sum += measured(*p.shape).area;
  return sum;
}

// A tetrahedron with legs of 10 along the axes: volume 1000 / 6.
constexpr const char* kTetrahedron =
    "o Leg\nv 0 0 0\nv 10 0 0\nv 0 10 0\nv 0 0 10\nf 1 3 2\nf 1 2 4\nf 1 4 3\nf 2 3 4\n";

}  // namespace

TEST_CASE(
    "IGES files of the kernel's solids have the areas of the formulas, in mm whatever their unit") {
  Progress progress;
  const TopoDS_Shape box = BRepPrimAPI_MakeBox(30.0, 20.0, 10.0).Shape();
  const TopoDS_Shape pin =
      BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(15, 10, -5), gp_Dir(0, 0, 1)), 4.0, 20.0).Shape();
  const TopoDS_Shape drilled = BRepAlgoAPI_Cut(box, pin).Shape();
  // Six sides less two discs, and the wall of the hole.
  const double formula = 2 * (600.0 + 300.0 + 200.0) - 2 * kPi * 16 + 2 * kPi * 4 * 10;
  for (const char* unit : {"MM", "INCH"}) {
    const BroughtFile file = read_file("drilled.igs", iges_of(drilled, unit), 1, progress);
    REQUIRE_FALSE(file.parts.empty());
    CHECK(file.has_unit);
    CHECK(whole_area(file) == Approx(formula).epsilon(1e-6));
  }
  const BroughtFile ring =
      read_file("RING.IGES", iges_of(BRepPrimAPI_MakeTorus(30.0, 8.0).Shape(), "MM"), 1, progress);
  CHECK(whole_area(ring) == Approx(4 * kPi * kPi * 30 * 8).epsilon(1e-6));
}

TEST_CASE("meshes of OBJ, STL and PLY files are welded, and their volume is that of the formula") {
  Progress progress;
  const BroughtFile obj = read_file("leg.obj", kTetrahedron, 1, progress);
  REQUIRE(obj.parts.size() == 1);
  CHECK(obj.parts[0].name == "leg");
  CHECK_THAT(obj.note, Contains("no unit"));
  const auto& mesh = std::get<TriangleMesh>(*obj.parts[0].shape);
  CHECK(mesh.points.size() == 4);
  CHECK(volume(mesh) == Approx(1000.0 / 6));
  // STL by our writer (three vertices a triangle) and by Assimp's own, read back.
  const BroughtFile stl = read_file("leg.STL", to_stl(mesh, "leg"), 1, progress);
  CHECK(std::get<TriangleMesh>(*stl.parts[0].shape).points.size() == 4);
  CHECK(volume(std::get<TriangleMesh>(*stl.parts[0].shape)) == Approx(1000.0 / 6).epsilon(1e-6));
  const std::string ply =
      "ply\nformat ascii 1.0\nelement vertex 4\nproperty float x\nproperty float y\nproperty float "
      "z\n"
      "element face 4\nproperty list uchar int vertex_indices\nend_header\n"
      "0 0 0\n10 0 0\n0 10 0\n0 0 10\n3 0 2 1\n3 0 1 3\n3 0 3 2\n3 1 2 3\n";
  const BroughtFile read = read_file("leg.ply", ply, 1, progress);
  CHECK(volume(std::get<TriangleMesh>(*read.parts[0].shape)) == Approx(1000.0 / 6));
}

TEST_CASE("what is no such file, breaks off or holds nothing gets a sentence") {
  Progress progress;
  CHECK_THROWS_WITH(read_file("a.dwx", "x", 1, progress), Contains("cannot be brought in"));
  CHECK_THROWS_WITH(read_file("noending", "x", 1, progress), Contains("cannot be brought in"));
  CHECK_THROWS_WITH(read_file("a.igs", "hello", 1, progress), Contains("not an IGES file"));
  CHECK_THROWS_WITH(read_file("a.stl", "nothing of the kind", 1, progress),
                    Contains("holds no triangles"));
  CHECK_THROWS_AS(read_file("a.obj", "v 0 0 0\nv 1 0 0\n", 1, progress), Error);
  const std::string whole = iges_of(BRepPrimAPI_MakeBox(3.0, 2.0, 1.0).Shape(), "MM");
  CHECK_THROWS_AS(read_file("cut.igs", whole.substr(0, whole.size() / 3), 1, progress), Error);
}

TEST_CASE("a mesh brought in takes the unit that is chosen for it") {
  BringInOperation o;
  o.file = {"leg.obj", std::make_shared<const std::string>(kTetrahedron)};
  o.body = 1;
  o.unit = FileUnit::Inches;
  Progress progress;
  const Outcome outcome = o.apply(CurveSet{}, {}, progress);
  CHECK(measured(outcome.shape).box.max.x == Approx(254.0));
  CHECK_FALSE(outcome.notes.empty());
}
