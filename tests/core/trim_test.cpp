// Trim away and Bring in as steps: what follows, what is kept, what files hold.
#include <unistd.h>
#include <BRepAlgoAPI_Cut.hxx>
#include <BRepPrimAPI_MakeBox.hxx>
#include <BRepPrimAPI_MakeCylinder.hxx>
#include <Quantity_Color.hxx>
#include <STEPCAFControl_Writer.hxx>
#include <STEPControl_Writer.hxx>
#include <Standard_Failure.hxx>
#include <TDataStd_Name.hxx>
#include <TDocStd_Document.hxx>
#include <XCAFApp_Application.hxx>
#include <XCAFDoc_ColorTool.hxx>
#include <XCAFDoc_DocumentTool.hxx>
#include <XCAFDoc_ShapeTool.hxx>
#include <catch2/catch.hpp>

#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <numbers>
#include <sstream>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/demo/skerry.h"
#include "core/document/evaluator.h"
#include "core/document/project_file.h"
#include "core/exchange/export.h"
#include "core/exchange/step_file.h"
#include "core/kernel/guard.h"
#include "core/operations/bring_in.h"
#include "core/operations/catalogue.h"
#include "core/operations/circle.h"
#include "core/operations/copy_of_part.h"
#include "core/operations/directions.h"
#include "core/operations/plane.h"
#include "core/operations/report.h"
#include "core/operations/shaped_points.h"
#include "core/operations/sphere.h"
#include "core/operations/trim_away.h"

using namespace evenclay;
using Catch::Contains;
constexpr double kPi = std::numbers::pi;

namespace {

struct Sheet {
  Document document;
  PartId sheet = 0, ring = 0;
  StepId trim = 0;
};

// A sheet of 40 × 40 mm with a round opening of radius 6.
Sheet sheet_with_opening() {
  Sheet s;
  auto plane = std::make_shared<PlaneOperation>();
  plane->length_x = plane->length_y = 40.0;
  Added sheet = with_part({}, "Sheet", plane);
  auto circle = std::make_shared<CircleOperation>();
  circle->radius = 6.0;
  circle->centre = {0, 0, 9};
  Added ring = with_part(sheet.document, "Ring", circle);
  auto rebuild = make_operation("rebuild");
  Document d = with_step(ring.document, sheet.part, rebuild).document;
  auto cut = std::make_shared<TrimAwayOperation>();
  cut->curve = ring.part;
  Added trim = with_step(d, sheet.part, cut);
  return {trim.document, sheet.part, ring.part, trim.step};
}

double area_of(const Shape& shape) {
  Progress progress;
  return report(shape, nullptr, {}, progress).area;
}

const Body& body_of_part(const Evaluation& e, PartId part) {
  return std::get<Body>(*e.parts.at(part).shape);
}

// A STEP file of the kernel's own: two named, coloured bodies.
std::string two_bodies() {
  Handle(TDocStd_Document) document;
  XCAFApp_Application::GetApplication()->NewDocument("BinXCAF", document);
  const Handle(XCAFDoc_ShapeTool) shapes = XCAFDoc_DocumentTool::ShapeTool(document->Main());
  const Handle(XCAFDoc_ColorTool) colours = XCAFDoc_DocumentTool::ColorTool(document->Main());
  const TopoDS_Shape box = BRepPrimAPI_MakeBox(10.0, 20.0, 30.0).Shape();
  const TopoDS_Shape hollow =
      BRepAlgoAPI_Cut(
          box,
          BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(5, 10, -1), gp_Dir(0, 0, 1)), 3.0, 40.0).Shape())
          .Shape();
  const TopoDS_Shape pin =
      BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(50, 0, 0), gp_Dir(0, 0, 1)), 4.0, 12.0).Shape();
  TDataStd_Name::Set(shapes->AddShape(hollow, Standard_False), "Foot block");
  TDataStd_Name::Set(shapes->AddShape(pin, Standard_False), "Pin");
  colours->SetColor(hollow, Quantity_Color(1.0, 0.0, 0.0, Quantity_TOC_sRGB), XCAFDoc_ColorSurf);
  const std::string name =
      (std::filesystem::temp_directory_path() / ("two-" + std::to_string(::getpid()) + ".step"))
          .string();
  STEPCAFControl_Writer writer;
  writer.Transfer(document);
  writer.Write(name.c_str());
  document->Close();
  std::ifstream in(name, std::ios::binary);
  std::stringstream text;
  text << in.rdbuf();
  std::filesystem::remove(name);
  return text.str();
}

FileAttachment attachment(const std::string& bytes, const char* name = "two.step") {
  return {name, std::make_shared<const std::string>(bytes)};
}

}  // namespace

TEST_CASE("an opening has its area by formula and follows its curve") {
  Sheet s = sheet_with_opening();
  Progress progress;
  Evaluator evaluator;
  Evaluation e = evaluator.evaluate(s.document, progress);
  REQUIRE_FALSE(e.parts.at(s.sheet).failed);
  CHECK(area_of(*e.parts.at(s.sheet).shape) == Approx(1600.0 - kPi * 36.0).epsilon(1e-7));
  const Document wider = with_setting(s.document, "Ring/Circle.radius=8");
  e = evaluator.evaluate(wider, progress);
  CHECK(area_of(*e.parts.at(s.sheet).shape) == Approx(1600.0 - kPi * 64.0).epsilon(1e-7));
}

TEST_CASE("points shaped above a cut move the surface and its opening with it") {
  Sheet s = sheet_with_opening();
  Progress progress;
  Evaluator evaluator;
  Evaluation e = evaluator.evaluate(s.document, progress);
  const ShapePtr cut = e.parts.at(s.sheet).shape;
  ShapedPointsOperation fresh;
  ShapesPoints::Offer offer = fresh.offered(*cut);
  REQUIRE(offer.below.nets.size() == 1);
  offer.shapings[0].displacements(5, 4).z = 6.0;
  const Document d = with_step(s.document, s.sheet, fresh.with_shapings(offer.shapings)).document;
  e = evaluator.evaluate(d, progress);
  REQUIRE_FALSE(e.parts.at(s.sheet).failed);
  const Body& shaped = body_of_part(e, s.sheet);
  CHECK(shaped.faces[0].tag == std::get<Body>(*cut).faces[0].tag);
  CHECK(shaped.faces[0].loops.size() == 2);
  // Every edge still lies on its surface.
  for (const Edge& edge : shaped.edges) CHECK(edge.gap < 1e-4);
  CHECK(area_of(*e.parts.at(s.sheet).shape) > area_of(*cut) + 1.0);
}

TEST_CASE("a cut below finished shaping keeps the shaping on its face") {
  Sheet s = sheet_with_opening();
  Progress progress;
  Evaluator evaluator;
  // The same shaping once with the cut below it, and once with the cut switched off.
  Evaluation e = evaluator.evaluate(s.document, progress);
  ShapedPointsOperation fresh;
  ShapesPoints::Offer offer = fresh.offered(*e.parts.at(s.sheet).shape);
  offer.shapings[0].displacements(5, 4).z = 6.0;
  const Document with_cut =
      with_step(s.document, s.sheet, fresh.with_shapings(offer.shapings)).document;
  const Document without_cut = with_step_enabled(with_cut, s.trim, false);
  const Body a = body_of_part(evaluator.evaluate(with_cut, progress), s.sheet);
  const Body b = body_of_part(evaluator.evaluate(without_cut, progress), s.sheet);
  CHECK(*a.faces[0].surface == *b.faces[0].surface);
}

TEST_CASE("a Split below shaping moves no shaping to another face") {
  Progress progress;
  auto plane = std::make_shared<PlaneOperation>();
  plane->length_x = plane->length_y = 40.0;
  Added sheet = with_part({}, "Sheet", plane);
  Document d = with_step(sheet.document, sheet.part, make_operation("rebuild")).document;
  auto first = std::make_shared<SplitSurfaceOperation>();
  Added split = with_step(d, sheet.part, first);
  // Shape the second face only.
  Evaluator evaluator;
  Evaluation e = evaluator.evaluate(split.document, progress);
  REQUIRE(body_of_part(e, sheet.part).faces.size() == 2);
  ShapedPointsOperation fresh;
  ShapesPoints::Offer offer = fresh.offered(*e.parts.at(sheet.part).shape);
  offer.shapings[1].displacements(2, 2).z = 5.0;
  Added shaped = with_step(split.document, sheet.part, fresh.with_shapings(offer.shapings));
  e = evaluator.evaluate(shaped.document, progress);
  const Surface before = *body_of_part(e, sheet.part).faces[1].surface;
  // Another Split of the first face below: the second face is the third now, and shaped as before.
  auto again = std::make_shared<SplitSurfaceOperation>();
  again->along = AlongDirection::V;
  const Document more = with_step(shaped.document, sheet.part, again, split.step).document;
  e = evaluator.evaluate(more, progress);
  const Body& now = body_of_part(e, sheet.part);
  REQUIRE(now.faces.size() == 3);
  CHECK(*now.faces[2].surface == before);
  for (const std::size_t flat : {0, 1})
    for (const Vec3& p : now.faces[flat].surface->points.values()) CHECK(std::abs(p.z) < 1e-12);
}

TEST_CASE("a Split of a shaped face keeps its shape on both pieces") {
  Progress progress;
  auto plane = std::make_shared<PlaneOperation>();
  plane->length_x = plane->length_y = 40.0;
  Added sheet = with_part({}, "Sheet", plane);
  Added rebuilt = with_step(sheet.document, sheet.part, make_operation("rebuild"));
  Evaluator evaluator;
  Evaluation e = evaluator.evaluate(rebuilt.document, progress);
  ShapedPointsOperation fresh;
  ShapesPoints::Offer offer = fresh.offered(*e.parts.at(sheet.part).shape);
  offer.shapings[0].displacements(4, 3).z = 5.0;
  offer.shapings[0].displacements(6, 5).z = -3.0;
  const Document d =
      with_step(rebuilt.document, sheet.part, fresh.with_shapings(offer.shapings)).document;
  e = evaluator.evaluate(d, progress);
  const Surface whole = *body_of_part(e, sheet.part).faces[0].surface;
  auto split = std::make_shared<SplitSurfaceOperation>();
  split->on.u = 0.4;
  const Document cut = with_step(d, sheet.part, split, rebuilt.step).document;
  e = evaluator.evaluate(cut, progress);
  const Body& pieces = body_of_part(e, sheet.part);
  REQUIRE(pieces.faces.size() == 2);
  for (const Face& f : pieces.faces)
    for (double s = 0.0; s <= 1.0; s += 0.125)
      for (double t = 0.0; t <= 1.0; t += 0.125) {
        const double u = f.surface->u.first() + s * f.surface->u.length();
        const double v = f.surface->v.first() + t * f.surface->v.length();
        CHECK(distance(evaluate(*f.surface, u, v), evaluate(whole, u, v)) < 1e-10);
      }
}

TEST_CASE("a part is read as it was after a step, and circles are refused") {
  Sheet s = sheet_with_opening();
  Progress progress;
  const StepId source = find_part(s.document, s.sheet)->steps[1].id;
  auto copy = std::make_shared<CopyOfPartOperation>();
  copy->part = {s.sheet, source};
  Added earlier = with_part(s.document, "Before the cut", copy);
  Evaluator evaluator;
  Evaluation e = evaluator.evaluate(earlier.document, progress);
  CHECK(area_of(*e.parts.at(earlier.part).shape) == Approx(1600.0));
  // The sheet's cut may read what reads the sheet before the cut, but not what reads its end.
  const std::string by_name = "Before the cut/Copy of part.part=Sheet/Rebuild";
  CHECK_NOTHROW(with_setting(earlier.document, by_name));
  const Document circle = with_setting(earlier.document, "Sheet/Trim away.curve=Before the cut");
  e = evaluator.evaluate(circle, progress);
  CHECK_THAT(e.parts.at(s.sheet).steps.back().message, Contains("has no curve"));
  const Document round = with_setting(circle, "Before the cut/Copy of part.part=Sheet");
  e = evaluator.evaluate(round, progress);
  bool said = false;
  for (const auto& [id, part] : e.parts)
    for (const StepResult& r : part.steps)
      said |= r.message.find("itself depends") != std::string::npos;
  CHECK(said);
}

TEST_CASE("ten thousand chained copies need no deep stack") {
  Document d = with_part({}, "A", std::make_shared<SphereOperation>()).document;
  for (int k = 0; k < 10000; ++k) {
    auto copy = std::make_shared<CopyOfPartOperation>();
    copy->part = d.parts.back().id;
    Part part;
    part.id = ++d.last_id;
    part.name = "C" + std::to_string(k);
    part.steps.push_back({++d.last_id, "Copy", true, copy, {}});
    d.parts.push_back(std::move(part));
  }
  Progress progress;
  Evaluator evaluator;
  const Evaluation e = evaluator.evaluate(d, progress, {d.parts.back().id});
  CHECK_FALSE(e.parts.at(d.parts.back().id).failed);
}

TEST_CASE("the cache of shapes keeps to its bound in bytes") {
  Document d = with_part({}, "Ball", std::make_shared<SphereOperation>()).document;
  d = with_step(d, d.parts[0].id, make_operation("rebuild")).document;
  Progress progress;
  constexpr std::size_t kBound = 200000;
  Evaluator evaluator(kBound);
  std::size_t largest = 0;
  Document last;
  for (int n = 20; n < 60; ++n) {
    last = with_setting(d, "Ball/Rebuild.points_u=" + std::to_string(n));
    const Evaluation e = evaluator.evaluate(last, progress);
    largest = std::max(largest, bytes_of(*e.parts.begin()->second.shape));
    // What the last evaluation used may stay whatever it takes.
    CHECK(evaluator.bytes() <= kBound + 2 * largest);
  }
  // And what it still holds is found again.
  const std::size_t before = evaluator.applied();
  evaluator.evaluate(last, progress);
  CHECK(evaluator.applied() == before);
}

namespace {

// Throws what it is told to.
class Throwing : public OperationOf<Throwing> {
 public:
  int what = 0;
  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "throwing", .label = "Throwing", .help = "Fails.", .takes = kBody};
    return kInfo;
  }
  void describe(ParameterVisitor&) override {}
  std::string summary() const override { return {}; }
  Outcome apply(const Shape&, const Inputs&, Progress&) const override {
    if (what == 0) throw std::logic_error("out of range");
    if (what == 1) throw Standard_Failure("the kernel's own");
    throw 7;
  }
};

}  // namespace

TEST_CASE("whatever a step throws becomes its message, and the shape below goes on") {
  Progress progress;
  Evaluator evaluator;
  for (int what = 0; what < 3; ++what) {
    auto bad = std::make_shared<Throwing>();
    bad->what = what;
    Added ball = with_part({}, "Ball", std::make_shared<SphereOperation>());
    const Document d = with_step(ball.document, ball.part, bad).document;
    const Evaluation e = evaluator.evaluate(d, progress);
    const PartResult& r = e.parts.at(ball.part);
    CHECK(r.failed);
    CHECK_THAT(r.steps[1].message, Contains("ended unexpectedly"));
    CHECK(r.shape == r.steps[0].shape);
  }
}

TEST_CASE("the kernel's faults and signals come out as errors") {
  CHECK_THROWS_WITH(kernel::guarded("Testing", [] { throw Standard_Failure("bad geometry"); }),
                    Contains("Testing") && Contains("bad geometry"));
  CHECK_THROWS_AS(kernel::guarded("Testing", [] { throw Cancelled(); }), Cancelled);
  int done = 0;
  kernel::guarded("Outer", [&] { kernel::guarded("Inner", [&] { ++done; }); });
  CHECK(done == 1);
}

TEST_CASE("a changed tolerance of the document computes again") {
  Document d = with_part({}, "Ball", std::make_shared<SphereOperation>()).document;
  Progress progress;
  Evaluator evaluator;
  evaluator.evaluate(d, progress);
  const std::size_t before = evaluator.applied();
  d.settings.tolerance = 0.5;
  evaluator.evaluate(d, progress);
  CHECK(evaluator.applied() == before + 1);
}

TEST_CASE("a STEP file brings bodies with their names, colours, areas and volumes") {
  Progress progress;
  const Document d = with_brought_in({}, attachment(two_bodies()), progress);
  REQUIRE(d.parts.size() == 2);
  CHECK(d.parts[0].name == "Foot block");
  CHECK(d.parts[1].name == "Pin");
  CHECK(d.parts[0].look.colour == 0xFF0000);
  Evaluator evaluator;
  const Evaluation e = evaluator.evaluate(d, progress);
  const Report block = report(*e.parts.at(d.parts[0].id).shape, nullptr, {}, progress);
  REQUIRE(block.volume);
  CHECK(*block.volume == Approx(6000.0 - kPi * 9.0 * 30.0).epsilon(1e-8));
  CHECK(block.area == Approx(2200.0 - 18.0 * kPi + 180.0 * kPi).epsilon(1e-8));
  const Report pin = report(*e.parts.at(d.parts[1].id).shape, nullptr, {}, progress);
  REQUIRE(pin.volume);
  CHECK(*pin.volume == Approx(kPi * 16.0 * 12.0).epsilon(1e-8));
  CHECK(pin.box.min.x == Approx(46.0).epsilon(1e-6));
  CHECK(pin.box.max.z == Approx(12.0).epsilon(1e-6));
}

TEST_CASE("a file brought in travels with the project, zipped and bare") {
  Progress progress;
  const auto folder =
      std::filesystem::temp_directory_path() / ("trim-" + std::to_string(::getpid()));
  std::filesystem::create_directories(folder);
  const Document d = with_brought_in({}, attachment(two_bodies()), progress);
  for (const char* name : {"a.evenclay", "project.json"}) {
    save_project(d, folder / name);
    const Document back = open_project(folder / name, make_operation);
    CHECK(to_project_json(back) == to_project_json(d));
    Evaluator evaluator;
    const Evaluation e = evaluator.evaluate(back, progress);
    for (const auto& [id, part] : e.parts) CHECK_FALSE(part.failed);
  }
  // A name that leads out of the project is refused.
  auto j = nlohmann::ordered_json::parse(to_project_json(d));
  j["parts"][0]["steps"][0]["parameters"]["file"]["stored"] = "files/../../etc/passwd";
  std::ofstream(folder / "evil.json") << j.dump();
  CHECK_THROWS_WITH(open_project(folder / "evil.json", make_operation),
                    Contains("cannot be its own"));
  std::filesystem::remove_all(folder);
}

TEST_CASE("files that are no STEP say so, and reading is cancelled") {
  Progress progress;
  CHECK_THROWS_WITH(read_step("solid nothing", 0, progress), Contains("not a STEP file"));
  const std::string whole = two_bodies();
  CHECK_THROWS_AS(read_step(whole.substr(0, whole.size() / 3), 0, progress), Error);
  Progress stopped;
  stopped.cancel();
  CHECK_THROWS_AS(read_step(whole, 0, stopped), Cancelled);
}

TEST_CASE("a cut body exports watertight triangles and trims") {
  Progress progress;
  const Document d = with_brought_in({}, attachment(two_bodies()), progress);
  Evaluator evaluator;
  const Evaluation e = evaluator.evaluate(d, progress);
  const Shape& block = *e.parts.at(d.parts[0].id).shape;
  const TriangleMesh mesh = mesh_of(block, 0.01, progress);
  CHECK(check_edges(mesh).watertight());
  CHECK(volume(mesh) == Approx(6000.0 - kPi * 9.0 * 30.0).epsilon(1e-3));
  const auto dump = nlohmann::json::parse(to_surface_json(std::get<Body>(block)));
  std::size_t holes = 0;
  for (const auto& s : dump["surfaces"]) holes += s["trims"].size() > 1 ? 1 : 0;
  CHECK(holes == 2);  // top and bottom of the block
  const StepFile again = read_step(to_step(std::get<Body>(block), "Block"), 0, progress);
  REQUIRE(again.bodies.size() == 1);
  const Report r = report(again.bodies[0].body, nullptr, {}, progress);
  REQUIRE(r.volume);
  CHECK(*r.volume == Approx(6000.0 - kPi * 9.0 * 30.0).epsilon(1e-6));
}
