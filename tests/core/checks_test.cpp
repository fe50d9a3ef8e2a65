// The list of checks, the report, and files of points.
#include <catch2/catch.hpp>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <nlohmann/json.hpp>
#include <numbers>

#include "core/base/error.h"
#include "core/display/check_report.h"
#include "core/display/still.h"
#include "core/document/project_json.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"
#include "core/operations/checks.h"
#include "core/operations/watching.h"

using namespace evenclay;

namespace {

Document with_steps(
    const char* part,
    std::vector<std::pair<const char*, std::vector<std::pair<const char*, const char*>>>> steps,
    const Document& onto = {}) {
  Document d = onto;
  PartId id = 0;
  for (const auto& [kind, settings] : steps) {
    OperationPtr operation = make_operation(kind);
    REQUIRE(operation);
    for (const auto& [name, value] : settings) operation = with_parameter(*operation, name, value);
    if (id == 0) {
      const Added added = with_part(d, part, operation);
      d = added.document;
      id = added.part;
    } else {
      d = with_step(d, id, operation).document;
    }
  }
  return d;
}

std::optional<CheckLine> line_of(const CheckList& list, const std::string& part,
                                 const std::string& what) {
  for (const CheckLine& l : list.lines)
    if (l.part_name == part && l.what == what) return l;
  return std::nullopt;
}

CheckList checked(const Document& d) {
  Evaluator evaluator;
  Progress progress;
  return all_checks(d, evaluator, progress);
}

}  // namespace

TEST_CASE("the wall of a hollow ball is found, and a limit above it is broken") {
  // A ball of 30 mm thickened by 3 mm inwards: the wall is 3 mm everywhere.
  Document d =
      with_steps("Ball", {{"sphere", {{"radius", "30"}}}, {"thicken", {{"thickness", "3"}}}});
  d = with_limit_words(d, "thickness=2.9");
  const auto good = line_of(checked(d), "Ball", "Thickness");
  REQUIRE(good);
  CHECK(good->level == CheckLevel::Good);
  CHECK(good->value == Approx(3.0).margin(0.05));
  CHECK(line_of(checked(with_limit_words(d, "thickness=3.1")), "Ball", "Thickness")->level ==
        CheckLevel::Bad);
  CHECK(line_of(checked(d), "Ball", "Closed"));
  CHECK_FALSE(line_of(checked(with_limit_words(d, "thickness=0")), "Ball", "Thickness"));
}

TEST_CASE("a cone has its half angle as draft, and a ball is not undercut but a dented one is") {
  // Bottom radius 20, top 15 over 40 mm: the wall leans by atan(5 / 40).
  Document d = with_steps("Cone", {{"cone", {{"radius", "20"}, {"top", "15"}, {"height", "40"}}}});
  d = with_limit_words(d, "draft=5");
  const auto cone = line_of(checked(d), "Cone", "Draft");
  REQUIRE(cone);
  CHECK(cone->level == CheckLevel::Good);
  CHECK(cone->value == Approx(std::atan(5.0 / 40.0) * 180.0 / std::numbers::pi).margin(0.05));
  CHECK(line_of(checked(with_limit_words(d, "draft=8")), "Cone", "Draft")->level ==
        CheckLevel::Bad);
  CHECK(line_of(checked(d), "Cone", "Undercut")->level == CheckLevel::Good);
  // A torus lying flat leaves a mould that opens along z; standing on edge along x its hole catches nothing either, but along x the
  // inner half looks against the outer one.
  Document ring = with_limit_words(with_steps("Ring", {{"torus", {}}}), "draft=1");
  CHECK(line_of(checked(ring), "Ring", "Undercut")->level == CheckLevel::Good);
  ring = with_limit_words(ring, "pull=1,0,0");
  CHECK(line_of(checked(ring), "Ring", "Undercut")->level == CheckLevel::Bad);
}

TEST_CASE("each part is asked what fits it, and hidden parts are not") {
  Document d =
      with_steps("Ball", {{"sphere", {}}, {"rebuild", {{"points_u", "10"}, {"points_v", "8"}}}});
  d = with_steps("Line", {{"circle", {}}}, d);
  d = with_steps("Scan", {{"practice_scanner", {{"resolution", "2"}}}}, d);
  d = with_steps("Loop", {{"form_torus", {}}}, d);
  d = with_steps("Hidden", {{"plane", {}}}, d);
  const Part* hidden = find_part(d, std::string_view("Hidden"));
  d = with_look(d, hidden->id, {hidden->look.colour, false});
  const CheckList list = checked(d);
  CHECK(list.parts == 4);
  CHECK(line_of(list, "Ball", "Evenness")->value > 80.0);
  CHECK(line_of(list, "Line", "Evenness"));
  CHECK(line_of(list, "Scan", "Scan")->level == CheckLevel::Good);
  CHECK(line_of(list, "Loop", "Crossings")->level == CheckLevel::Good);
  CHECK_FALSE(line_of(list, "Hidden", "Evenness"));
  // The radius of a ball against a limit.
  CHECK(line_of(checked(with_limit_words(d, "radius=10")), "Ball", "Least radius")->level ==
        CheckLevel::Good);
  CHECK(line_of(checked(with_limit_words(d, "radius=1000")), "Ball", "Least radius")->level ==
        CheckLevel::Bad);
}

TEST_CASE("a step that fails and a deviation that is watched are in the list") {
  Document d = with_steps("Copy", {{"copy_of_part", {}}});
  CHECK(line_of(checked(d), "Copy", "Step")->level == CheckLevel::Bad);
  d = with_steps("Small", {{"sphere", {{"radius", "20"}}}});
  d = with_steps("Large", {{"sphere", {{"radius", "20.4"}}}}, d);
  d = with_watch_words(d, "Small=Large within 0.5");
  const auto near = line_of(checked(d), "Small", "Watched deviation");
  REQUIRE(near);
  CHECK(near->value == Approx(0.4).margin(1e-3));
  CHECK(near->level == CheckLevel::Good);
  CHECK(
      line_of(checked(with_watch_words(d, "Small=Large within 0.3")), "Small", "Watched deviation")
          ->level == CheckLevel::Bad);
  CHECK_FALSE(line_of(checked(with_watch_words(d, "Small=")), "Small", "Watched deviation"));
  CHECK_THROWS_WITH(with_watch_words(d, "Small=Nothing"),
                    Catch::Contains("There are: Small, Large"));
  CHECK_THROWS_AS(with_watch_words(d, "Small"), Error);
  CHECK_THROWS_AS(with_watch_words(d, "Small=Large within -1"), Error);
  CHECK_THROWS_WITH(with_watch_words(d, "Small=Small"), Catch::Contains("itself"));
  CHECK_THROWS_WITH(with_limit_words(d, "colour=2"), Catch::Contains("not a limit"));
  CHECK_THROWS_AS(with_limit_words(d, "draft=-1"), Error);
  CHECK_THROWS_AS(with_limit_words(d, "pull=0,0,0"), Error);
}

TEST_CASE("watches and limits are kept in the project, and what is gone is forgotten") {
  Document d = with_steps("Small", {{"sphere", {}}, {"rebuild", {}}});
  d = with_steps("Large", {{"sphere", {}}}, d);
  d = with_limit_words(
      with_limit_words(with_watch_words(d, "Small=Large within 0.25"), "draft=1.5"), "pull=0,1,0");
  const Document again = from_project_json(to_project_json(d), make_operation);
  CHECK(again.parts[0].watch == d.parts[0].watch);
  CHECK(again.limits == d.limits);
  CHECK(to_project_json(Document{}).find("check_limits") == std::string::npos);
  CHECK(without_part(d, d.parts[1].id).parts[0].watch.against.empty());
  const Document own = with_watch_words(d, "Small=Small/1");
  CHECK(own.parts[0].watch.against == PartRef(own.parts[0].id, own.parts[0].steps[0].id));
  auto text = to_project_json(d);
  text.replace(text.find("\"band_mm\": 0.25"), 15, "\"band_mm\": -0.5");
  CHECK_THROWS_AS(from_project_json(text, make_operation), FileError);
}

TEST_CASE("the report is a page with pictures, and its words are made safe") {
  Document d = with_steps("Ball <b>", {{"sphere", {}}});
  Evaluator evaluator;
  Progress progress;
  const CheckList list = all_checks(d, evaluator, progress);
  const std::string page = checks_html(d, list, "Checks & more", evaluator, progress);
  CHECK(page.find("Checks &amp; more") != std::string::npos);
  CHECK(page.find("Ball &lt;b&gt;") != std::string::npos);
  CHECK(page.find("<b>") == std::string::npos);
  CHECK(page.find("data:image/png;base64,iVBORw0KGgo") != std::string::npos);
  const auto j = nlohmann::json::parse(checks_json(d, list));
  CHECK(j["parts"][0]["name"] == "Ball <b>");
  CHECK(j["parts"][0]["checks"].size() == list.lines.size());
}

TEST_CASE("a still picture shows the model in its middle on paper") {
  Progress progress;
  const auto mesh =
      std::make_shared<DisplayMesh>(display_mesh(body_of({make_sphere({}, 20.0)}), {}, progress));
  const std::string png = still_png({{mesh, 0xFF0000}}, {.width = 64, .height = 48}, progress);
  CHECK(png.substr(1, 3) == "PNG");
  CHECK_THROWS_AS(still_png({}, {.width = 0, .height = 48}, progress), Error);
  CHECK(still_png({}, {.width = 64, .height = 48}, progress).size() < png.size());
}

TEST_CASE("lists of points come in with their normals, and without what cannot be used") {
  Progress progress;
  const auto cloud = [&](const std::string& name, const std::string& text) {
    const BroughtFile f = read_file(name, text, 0, progress);
    REQUIRE(f.parts.size() == 1);
    return std::get<PointCloud>(*f.parts[0].shape);
  };
  CHECK(cloud("a.xyz", "# made up\n1 2 3\n4,5,6\n7;8;9\r\n\n+1e1 -2.5 0\n").points ==
        std::vector<Vec3>{{1, 2, 3}, {4, 5, 6}, {7, 8, 9}, {10, -2.5, 0}});
  const PointCloud with = cloud("b.txt", "3\n0 0 0 0 0 1\n1 0 0 0 0 1\n2 0 0 0.6 0 0.8\n");
  CHECK(with.points.size() == 3);
  REQUIRE(with.normals.size() == 3);
  CHECK(with.normals[2] == Vec3{0.6, 0, 0.8});
  CHECK(cloud("colours.asc", "0 0 0 255 10 20\n1 0 0 3 4 5\n").normals.empty());
  const BroughtFile f = read_file("c.xyz", "1 2 3\nnan 0 0\n1 2 3\ninf 1 1\n4 5 6\n", 0, progress);
  CHECK(std::get<PointCloud>(*f.parts[0].shape).points.size() == 2);
  CHECK(f.note.find("2 that are no numbers") != std::string::npos);
  CHECK(f.note.find("1 that occur twice") != std::string::npos);
  CHECK_THROWS_WITH(read_file("empty.xyz", "nothing here\n", 0, progress),
                    Catch::Contains("no points"));
  CHECK_THROWS_AS(read_file("empty.csv", "", 0, progress), Error);
}

TEST_CASE("PLY files of points come in, as text and in both orders of bytes") {
  Progress progress;
  const auto head = [](const char* format, int count) {
    return "ply\nformat " + std::string(format) + " 1.0\ncomment made up\nelement vertex " +
           std::to_string(count) +
           "\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty "
           "float nx\nproperty float ny\nproperty float nz\nend_header\n";
  };
  std::string little = head("binary_little_endian", 2), big = head("binary_big_endian", 2);
  const auto put = [&](float v) {
    char b[4];
    std::memcpy(b, &v, 4);
    little.append(b, 4);
    std::reverse(b, b + 4);
    big.append(b, 4);
  };
  for (const float x : {1.5F, -7.0F}) {
    for (const float v : {x, 2.0F, 3.0F}) put(v);
    little.push_back('\x10');
    big.push_back('\x10');
    for (const float v : {0.0F, 0.0F, 1.0F}) put(v);
  }
  const std::string text = head("ascii", 2) + "1.5 2 3 16 0 0 1\n-7 2 3 16 0 0 1\n";
  for (const std::string& bytes : {little, big, text}) {
    const BroughtFile f = read_file("points.ply", bytes, 0, progress);
    const auto& cloud = std::get<PointCloud>(*f.parts[0].shape);
    CHECK(cloud.points == std::vector<Vec3>{{1.5, 2, 3}, {-7, 2, 3}});
    CHECK(cloud.normals.size() == 2);
    CHECK_THROWS_WITH(read_file("points.ply", bytes.substr(0, bytes.size() - 9), 0, progress),
                      Catch::Contains("breaks off"));
  }
  CHECK_THROWS_AS(read_file("lies.ply", head("binary_little_endian", 2000000000), 0, progress),
                  Error);
}

TEST_CASE("binary STL of scans comes in welded, and what is no number is left out") {
  Progress progress;
  const TriangleMesh sphere =
      tessellate(make_sphere({}, 25.0), {.per_span_u = 6, .per_span_v = 6}, progress);
  std::string bytes = to_stl(sphere, "ball");
  const BroughtFile f = read_file("ball.stl", bytes, 0, progress);
  const auto& mesh = std::get<TriangleMesh>(*f.parts[0].shape);
  CHECK(mesh.triangles.size() == sphere.triangles.size());
  CHECK(mesh.points.size() == sphere.points.size());
  CHECK(check_edges(mesh).watertight());
  CHECK(area(mesh) == Approx(area(sphere)).epsilon(1e-5));
  const float nan = std::nanf("");
  std::memcpy(bytes.data() + 84 + 12, &nan, 4);
  const BroughtFile torn = read_file("ball.stl", bytes, 0, progress);
  CHECK(std::get<TriangleMesh>(*torn.parts[0].shape).triangles.size() ==
        sphere.triangles.size() - 1);
  CHECK(torn.note.find("1 with corners") != std::string::npos);
  const std::uint32_t lie = 4'000'000'000U;
  std::memcpy(bytes.data() + 80, &lie, 4);
  CHECK_THROWS_AS(read_file("ball.stl", bytes, 0, progress), Error);
}

TEST_CASE("meshes of millions are drawn with fewer triangles, and small ones as they are") {
  Progress progress;
  const TriangleMesh fine =
      tessellate(make_sphere({}, 25.0), {.per_span_u = 160, .per_span_v = 160}, progress);
  REQUIRE(fine.triangles.size() > 350'000);
  REQUIRE(fine.triangles.size() < 1'000'000);
  TriangleMesh all;
  for (int k = 0; k < 3; ++k) {
    TriangleMesh next = fine;
    for (Vec3& p : next.points) p.x += 60.0 * k;
    append(all, next);
  }
  const DisplayMesh drawn = display_mesh(all, {}, progress);
  CHECK(drawn.indices.size() / 3 <= 510'000);
  CHECK(drawn.indices.size() / 3 > 100'000);
  CHECK(drawn.box.max.x == Approx(145.0).margin(0.1));
  CHECK(display_mesh(fine, {}, progress).indices.size() / 3 == fine.triangles.size());
}
