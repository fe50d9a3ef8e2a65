// Files of several parts, read back by other code than that which wrote them and measured against the model.
#include <unistd.h>

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <array>
#include <assimp/Importer.hpp>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <map>
#include <numbers>
#include <sstream>

#include "core/base/error.h"
#include "core/body/body_mesh.h"
#include "core/check/measures.h"
#include "core/cut/edge_edit.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"
#include "core/exchange/parts_out.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"
#include "core/subdivision/sources.h"

using namespace evenclay;

namespace {

constexpr double kPi = std::numbers::pi;

ShapePtr made(Shape s) {
  return std::make_shared<const Shape>(std::move(s));
}

// A ball of 20 mm and a ring beside it, each with a name, a layer and a colour of its own.
std::vector<OutPart> two_parts() {
  Frame aside;
  aside.origin = {60, 0, 5};
  return {{"Ball & co", "Body", 0xC0392B, made(body_of({make_sphere({}, 20.0)}))},
          {"Ring", "Controls", 0x2E86C1, made(body_of({make_torus(aside, 15.0, 4.0)}))}};
}

struct Folder {
  std::filesystem::path path =
      std::filesystem::temp_directory_path() / ("evenclay-out-" + std::to_string(::getpid()));
  Folder() { std::filesystem::create_directories(path); }
  ~Folder() { std::filesystem::remove_all(path); }
  std::filesystem::path operator/(const char* name) const { return path / name; }
};

std::string text_of(const std::filesystem::path& file) {
  std::ostringstream all;
  all << std::ifstream(file, std::ios::binary).rdbuf();
  return all.str();
}

// What another reader finds in a mesh file: bodies by volume, with all transformations applied.
struct InFile {
  std::vector<double> volumes;
  std::vector<std::string> names;
  std::vector<aiColor4D> colours;
  Box3 box;
};

InFile found_in(const std::filesystem::path& file) {
  Assimp::Importer importer;
  const aiScene* scene = importer.ReadFile(file.string(), aiProcess_Triangulate);
  INFO(importer.GetErrorString());
  REQUIRE(scene != nullptr);
  InFile f;
  const std::function<void(const aiNode*, const aiMatrix4x4&)> walk =
      [&](const aiNode* node, const aiMatrix4x4& above) {
        const aiMatrix4x4 here = above * node->mTransformation;
        for (unsigned k = 0; k < node->mNumMeshes; ++k) {
          const aiMesh& m = *scene->mMeshes[node->mMeshes[k]];
          double volume = 0.0;
          for (unsigned t = 0; t < m.mNumFaces; ++t) {
            REQUIRE(m.mFaces[t].mNumIndices == 3);
            Vec3 p[3];
            for (unsigned c = 0; c < 3; ++c) {
              const aiVector3D q = here * m.mVertices[m.mFaces[t].mIndices[c]];
              p[c] = {static_cast<double>(q.x), static_cast<double>(q.y), static_cast<double>(q.z)};
              f.box.add(p[c]);
            }
            volume += dot(p[0], cross(p[1], p[2])) / 6.0;
          }
          f.volumes.push_back(volume);
          f.names.emplace_back(node->mName.C_Str());
          aiColor4D colour;
          if (scene->mMaterials[m.mMaterialIndex]->Get(AI_MATKEY_COLOR_DIFFUSE, colour) ==
              AI_SUCCESS)
            f.colours.push_back(colour);
        }
        for (unsigned k = 0; k < node->mNumChildren; ++k) walk(node->mChildren[k], here);
      };
  walk(scene->mRootNode, aiMatrix4x4());
  return f;
}

constexpr double kBall = 4.0 / 3.0 * kPi * 8000.0, kRing = 2.0 * kPi * kPi * 15.0 * 16.0;

}  // namespace

TEST_CASE("materials come out of glTF and OBJ as another reader has them") {
  const Folder folder;
  Progress progress;
  std::vector<OutPart> parts = two_parts();
  parts[0].material = {.roughness = 0.25, .metal = 1.0};
  parts[1].material = {.roughness = 0.5, .coat = 0.75, .translucency = 0.4};
  for (const char* name : {"parts.glb", "parts.obj"}) {
    INFO(name);
    REQUIRE(export_parts(parts, folder / name, {}, progress).empty());
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile((folder / name).string(), aiProcess_Triangulate);
    REQUIRE(scene != nullptr);
    std::vector<std::array<float, 3>> found;
    for (unsigned k = 0; k < scene->mNumMaterials; ++k) {
      const aiMaterial& m = *scene->mMaterials[k];
      std::array<float, 3> values{-1.0F, -1.0F, 0.0F};
      if (m.Get(AI_MATKEY_ROUGHNESS_FACTOR, values[0]) != AI_SUCCESS) continue;  // the reader's own
      REQUIRE(m.Get(AI_MATKEY_METALLIC_FACTOR, values[1]) == AI_SUCCESS);
      (void)m.Get(AI_MATKEY_CLEARCOAT_FACTOR, values[2]);
      found.push_back(values);
    }
    REQUIRE(found.size() >= 2);  // behind them the reader puts one of its own
    CHECK(found[0][0] == Approx(0.25));
    CHECK(found[0][1] == Approx(1.0));
    CHECK(found[1][0] == Approx(0.5));
    CHECK(found[1][1] == Approx(0.0));
    CHECK(found[1][2] == Approx(0.75));
  }
}

TEST_CASE("meshes of several parts hold the volumes of the parts, in their unit") {
  const Folder folder;
  Progress progress;
  const std::vector<OutPart> parts = two_parts();
  const OutOptions fine{.chord = 0.01};
  for (const char* name : {"parts.3mf", "parts.glb", "parts.obj", "parts.ply", "parts.stl"}) {
    INFO(name);
    CHECK(export_parts(parts, folder / name, fine, progress).empty());
    const InFile f = found_in(folder / name);
    double sum = 0.0;
    for (const double v : f.volumes) sum += v;
    const double metres = std::string(name) == "parts.glb" ? 1e-9 : 1.0;
    CHECK(sum == Approx((kBall + kRing) * metres).epsilon(3e-3));
  }
  OutOptions inches = fine;
  inches.unit = OutUnit::Inches;
  inches.text = true;
  export_parts(parts, folder / "text.stl", inches, progress);
  CHECK(text_of(folder / "text.stl").substr(0, 5) == "solid");
  const InFile f = found_in(folder / "text.stl");
  double sum = 0.0;
  for (const double v : f.volumes) sum += v;
  CHECK(sum == Approx((kBall + kRing) / std::pow(25.4, 3)).epsilon(3e-3));
}

TEST_CASE("an angle keeps triangles small where the shape turns, and only there") {
  Progress progress;
  const double r = 20.0, angle = 5.0;
  const auto longest = [](const TriangleMesh& m) {
    double most = 0.0;
    for (const auto& t : m.triangles)
      for (std::size_t k = 0; k < 3; ++k)
        most = std::max(most, distance(m.points[t[k]], m.points[t[(k + 1) % 3]]));
    return most;
  };
  // Normals of a ball are its radii: within 5° of each other a side has at most 2 r sin(2.5°).
  const Shape ball{body_of({make_sphere({}, r)})};
  const TriangleMesh coarse = mesh_of(ball, Fineness{.chord = 5.0}, progress);
  const TriangleMesh fine = mesh_of(ball, Fineness{.chord = 5.0, .angle = angle}, progress);
  const double side = 2.0 * r * std::sin(0.5 * angle * kPi / 180.0);
  CHECK(longest(coarse) > 2.0 * side);
  CHECK(longest(fine) <= side * (1.0 + 1e-6));
  CHECK(longest(fine) > 0.4 * side);  // and not much finer than asked
  // A tenth of the size turns alike: an angle knows no millimetres.
  const TriangleMesh small = mesh_of(Shape{body_of({make_sphere({}, 0.1 * r)})},
                                     Fineness{.chord = 5.0, .angle = angle}, progress);
  CHECK(longest(small) <= 0.1 * side * (1.0 + 1e-6));
  // A flat sheet needs no more triangles for it; a cone's tip, where no triangle is small enough, ends the search.
  const Shape sheet{body_of({make_plane({}, 50, 50, 4, 4, 3, 3)})};
  CHECK(mesh_of(sheet, Fineness{.chord = 1.0, .angle = 0.5}, progress).triangles.size() ==
        mesh_of(sheet, Fineness{.chord = 1.0}, progress).triangles.size());
  const TriangleMesh cone = mesh_of(Shape{body_of({make_cone({}, 10.0, 20.0)})},
                                    Fineness{.chord = 5.0, .angle = 10.0}, progress);
  CHECK(cone.triangles.size() >= 36);
  // A box of faces that meet at right angles: the edges between them do not count.
  const Shape form{make_box_form({}, {20, 20, 20}, 1, 1, 1, 1)};
  const TriangleMesh round = mesh_of(form, Fineness{.chord = 5.0, .angle = 4.0}, progress);
  double least = 1.0;
  for (const auto& t : round.triangles)
    for (std::size_t k = 0; k < 3; ++k)
      least = std::min(least, dot(round.normals[t[k]], round.normals[t[(k + 1) % 3]]));
  CHECK(least >= std::cos(4.0 * kPi / 180.0));
  // More than can be written is said.
  Frame aside;
  aside.origin = {100, 0, 0};
  const Shape two{body_of({make_sphere({}, r), make_sphere(aside, r)})};
  CHECK_THROWS_WITH(mesh_of(two, Fineness{.chord = 5.0, .angle = 0.05}, progress),
                    Catch::Contains("greater angle"));
}

TEST_CASE("names, colours and places of parts last in 3MF, glTF and OBJ") {
  const Folder folder;
  Progress progress;
  const std::vector<OutPart> parts = two_parts();
  for (const char* name : {"parts.3mf", "parts.glb", "parts.obj"}) {
    INFO(name);
    export_parts(parts, folder / name, {.chord = 0.05}, progress);
    const InFile f = found_in(folder / name);
    REQUIRE(f.volumes.size() == 2);
    const bool glb = std::string(name) == "parts.glb";
    const double scale = glb ? 0.001 : 1.0;
    CHECK(f.volumes[0] == Approx(kBall * std::pow(scale, 3)).epsilon(0.02));
    CHECK(f.volumes[1] == Approx(kRing * std::pow(scale, 3)).epsilon(0.02));
    CHECK(f.box.max.x == Approx(79.0 * scale).epsilon(1e-3));
    // glTF is y up: our z of 20 mm lies along its y.
    CHECK((glb ? f.box.max.y : f.box.max.z) == Approx(20.0 * scale).epsilon(1e-3));
    REQUIRE(f.colours.size() == 2);
    CHECK(f.colours[0].r > 2.0F * f.colours[0].b);
    CHECK(f.colours[1].b > 2.0F * f.colours[1].r);
    if (std::string(name) != "parts.3mf") CHECK(f.names[1].find("Ring") != std::string::npos);
  }
  CHECK(text_of(folder / "parts.mtl").find("Kd 0.7529 0.2235 0.1686") !=
        std::string::npos);  // 0xC0392B ÷ 255
}

TEST_CASE("STEP and IGES hold the exact surfaces, STEP with names and colours") {
  const Folder folder;
  Progress progress;
  const std::vector<OutPart> parts = two_parts();
  for (const char* name : {"parts.step", "parts.iges"}) {
    INFO(name);
    CHECK(export_parts(parts, folder / name, {}, progress).empty());
    const BroughtFile f = read_file(name, text_of(folder / name), 1, progress);
    double sum = 0.0;
    for (const BroughtPart& p : f.parts)
      for (const Face& face : std::get<Body>(*p.shape).faces) sum += area(face, progress);
    // Spheres 4 π r², tori 4 π² R r.
    CHECK(sum == Approx(4 * kPi * 400.0 + 4 * kPi * kPi * 15.0 * 4.0).epsilon(1e-6));
    if (std::string(name) == "parts.iges") continue;
    REQUIRE(f.parts.size() == 2);
    CHECK(f.parts[0].name == "Ball & co");
    CHECK(f.parts[1].name == "Ring");
    REQUIRE(f.parts[1].colour);
    for (const int shift : {16, 8, 0})
      CHECK(std::abs(static_cast<int>((*f.parts[1].colour >> shift) & 0xFFU) -
                     static_cast<int>((0x2E86C1U >> shift) & 0xFFU)) <= 1);
    CHECK(text_of(folder / name).find("Controls") != std::string::npos);
    CHECK(text_of(folder / name).find("AP242") != std::string::npos);
  }
}

TEST_CASE("curves go out as drawings in millimetres and in a layer each") {
  const Folder folder;
  Progress progress;
  const std::vector<OutPart> parts{
      {"Rim", "Sketch one", 0x112233, made(CurveSet{{make_circle({}, 30.0)}})}};
  export_parts(parts, folder / "rim.dxf", {.chord = 0.001}, progress);
  std::istringstream dxf(text_of(folder / "rim.dxf"));
  std::vector<Vec3> places;
  std::string code, value;
  bool vertex = false, closed = false, layer = false;
  while (std::getline(dxf, code) && std::getline(dxf, value)) {
    if (code == "0") vertex = value == "VERTEX";
    if (code == "70" && value == "9") closed = true;
    if (code == "8" && value == "Sketch_one") layer = true;
    if (vertex && code == "10") places.push_back({std::stod(value), 0, 0});
    if (vertex && code == "20") places.back().y = std::stod(value);
  }
  CHECK(closed);
  CHECK(layer);
  REQUIRE(places.size() > 50);
  double around = 0.0;
  for (std::size_t k = 0; k < places.size(); ++k) {
    CHECK(std::hypot(places[k].x, places[k].y) == Approx(30.0).margin(1e-5));
    around += distance(places[k], places[(k + 1) % places.size()]);
  }
  CHECK(around == Approx(2 * kPi * 30.0).epsilon(1e-4));
  export_parts(parts, folder / "rim.svg", {}, progress);
  const std::string svg = text_of(folder / "rim.svg");
  CHECK(svg.find("width=\"64mm\"") != std::string::npos);
  CHECK(svg.find("#112233") != std::string::npos);
}

namespace {

// Pieces of the path with that id in a drawing.
std::vector<std::array<Vec3, 2>> pieces_in(const std::string& svg, const std::string& id) {
  const std::size_t from = svg.find("<path id=\"" + id + "\"");
  REQUIRE(from != std::string::npos);
  const std::size_t begin = svg.find(" d=\"", from) + 4;
  std::istringstream path(svg.substr(begin, svg.find('"', begin) - begin));
  std::vector<std::array<Vec3, 2>> pieces;
  Vec3 pen;
  for (char what = 0; path >> what;) {
    Vec3 to;
    path >> to.x >> to.y;
    if (what == 'L') pieces.push_back({pen, to});
    pen = to;
  }
  return pieces;
}

double length_of(const std::vector<std::array<Vec3, 2>>& pieces) {
  double sum = 0.0;
  for (const auto& [a, b] : pieces) sum += distance(a, b);
  return sum;
}

}  // namespace

TEST_CASE("a drawing shows three views at their places, without what is hidden, with the sizes") {
  const Folder folder;
  Progress progress;
  const auto drawing = [&](const std::vector<OutPart>& parts) {
    export_parts(parts, folder / "views.svg", {.chord = 0.005, .views = true}, progress);
    return text_of(folder / "views.svg");
  };
  // A ball of 15 mm: a circle of 2 π 15 in each view, all of it at 15 mm from the view's middle.
  const std::vector<OutPart> ball{{"Ball", "", 0, made(body_of({make_sphere({}, 15.0)}))}};
  const std::string round = drawing(ball);
  const std::map<std::string, Vec3> middles{{"front", {25 + 15, 25 + 15, 0}},
                                            {"above", {40, 25 + 30 + 25 + 15, 0}},
                                            {"left", {25 + 30 + 25 + 15, 40, 0}}};
  for (const auto& [view, middle] : middles) {
    const auto circle = pieces_in(round, view);
    INFO(view);
    CHECK(length_of(circle) == Approx(2 * kPi * 15.0).epsilon(0.01));
    for (const auto& piece : circle) CHECK(distance(piece[0], middle) == Approx(15.0).margin(0.05));
  }
  CHECK(round.find(">30.0</text>") != std::string::npos);
  // A ball behind a plate of 40 × 20 mm: from the front the plate's four edges alone, from above both.
  Frame plate;
  plate.origin = {0, -30, 0};
  plate.x = {1, 0, 0};
  plate.y = {0, 0, 1};
  plate.z = {0, -1, 0};
  Body flat = with_edges(body_of({make_plane(plate, 40.0, 40.0, 2, 2, 1, 1)}));
  std::vector<OutPart> both = ball;
  both.push_back({"Plate", "", 0, made(flat)});
  const std::string hidden = drawing(both);
  CHECK(length_of(pieces_in(hidden, "front")) == Approx(160.0).epsilon(0.01));
  // The plate's upper and lower edges fall on one line.
  CHECK(length_of(pieces_in(hidden, "above")) == Approx(2 * kPi * 15.0 + 2 * 40.0).epsilon(0.02));
  for (const char* size : {">40.0</text>", ">45.0</text>"})
    CHECK(hidden.find(size) != std::string::npos);
}

TEST_CASE("points go out as lists and come back") {
  const Folder folder;
  Progress progress;
  PointCloud cloud{{{1, 2, 3}, {4.5, -5, 6}}, {{0, 0, 1}, {1, 0, 0}}};
  const std::vector<OutPart> parts{{"Scan", "", 0, made(cloud)}};
  for (const char* name : {"scan.xyz", "scan.ply"}) {
    INFO(name);
    export_parts(parts, folder / name, {}, progress);
    const BroughtFile f = read_file(name, text_of(folder / name), 0, progress);
    CHECK(std::get<PointCloud>(*f.parts[0].shape) == cloud);
  }
}

TEST_CASE("what does not fit is said, and what cannot be written leaves nothing behind") {
  const Folder folder;
  Progress progress;
  std::vector<OutPart> parts = two_parts();
  parts.push_back({"Line", "", 0, made(CurveSet{{make_circle({}, 3.0)}})});
  CHECK(export_parts(parts, folder / "a.stl", {}, progress) == std::vector<std::string>{"Line"});
  CHECK_THROWS_WITH(export_parts(std::span(parts).last(1), folder / "b.glb", {}, progress),
                    Catch::Contains("no triangles"));
  CHECK_THROWS_WITH(export_parts(parts, folder / "c.docx", {}, progress), Catch::Contains(".3mf"));
  CHECK_THROWS_AS(export_parts(parts, folder.path / "no" / "such" / "a.stl", {}, progress),
                  FileError);
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(export_parts(parts, folder / "d.3mf", {}, cancelled), Cancelled);
  CHECK_FALSE(std::filesystem::exists(folder / "b.glb"));
  CHECK_FALSE(std::filesystem::exists(folder / "d.3mf"));
}

TEST_CASE("the estimate is near what is written") {
  const Folder folder;
  Progress progress;
  const std::vector<OutPart> parts = two_parts();
  for (const char* name : {"parts.stl", "parts.glb", "parts.ply", "parts.3mf", "parts.obj"}) {
    INFO(name);
    const OutEstimate e = estimate(parts, folder / name, {}, progress);
    export_parts(parts, folder / name, {}, progress);
    const auto bytes = static_cast<double>(std::filesystem::file_size(folder / name));
    CHECK(e.triangles > 1000);
    CHECK(static_cast<double>(e.bytes) < 2.0 * bytes);
    CHECK(static_cast<double>(e.bytes) > 0.5 * bytes);
  }
}
