// Colours and materials of single faces: which faces have them, files, words, and what other readers find.
#include <unistd.h>

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <algorithm>
#include <array>
#include <assimp/Importer.hpp>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <sstream>

#include "core/base/error.h"
#include "core/display/look_ranges.h"
#include "core/display/studio.h"
#include "core/document/compare.h"
#include "core/document/evaluator.h"
#include "core/document/face_looks.h"
#include "core/document/materials.h"
#include "core/document/project_json.h"
#include "core/exchange/parts_out.h"
#include "core/operations/body_picks.h"
#include "core/operations/bring_in.h"
#include "core/operations/catalogue.h"

using namespace evenclay;

namespace {

// A box of 40 × 30 × 20 mm about the origin, in a document.
struct Boxed {
  Document document;
  PartId part = 0;
  ShapePtr shape;
  const Body& body() const { return std::get<Body>(*shape); }
  const Part& named() const { return *find_part(document, part); }
  std::size_t face_at(const Vec3& place) const {
    return find_face(body(), {PickKind::Face, 0, place})->index;
  }
};

ShapePtr shape_of(const Document& d, PartId part) {
  Evaluator evaluator;
  Progress progress;
  return evaluator.evaluate(d, progress, {part}).parts.at(part).shape;
}

Boxed boxed() {
  Boxed b;
  const Added added = with_part({}, "Box", make_operation("box"));
  b.document = added.document;
  b.part = added.part;
  for (const char* size : {"Box/Box.length_x=40", "Box/Box.length_y=30", "Box/Box.length_z=20"})
    b.document = with_setting(b.document, size);
  b.shape = shape_of(b.document, b.part);
  REQUIRE(b.body().faces.size() == 6);
  return b;
}

Vec3 top_of(const Boxed& b) {
  Box3 box;
  for (const Face& f : b.body().faces)
    for (const Vec3& p : f.surface->points.values()) box.add(p);
  return {box.centre().x, box.centre().y, box.max.z};
}

// Red on top, and a clear coat.
Boxed red_topped() {
  Boxed b = boxed();
  const std::size_t top = b.face_at(top_of(b));
  b.document = with_face_look(b.document, b.part,
                              {pick_of_body_face(b.body(), top), 0xC0392B, {.coat = 0.8}});
  return b;
}

std::size_t with_look_count(const std::vector<int>& looks) {
  return static_cast<std::size_t>(
      std::count_if(looks.begin(), looks.end(), [](int k) { return k >= 0; }));
}

struct Folder {
  std::filesystem::path path =
      std::filesystem::temp_directory_path() / ("evenclay-looks-" + std::to_string(::getpid()));
  Folder() { std::filesystem::create_directories(path); }
  ~Folder() { std::filesystem::remove_all(path); }
  std::filesystem::path operator/(const char* name) const { return path / name; }
};

std::string text_of(const std::filesystem::path& file) {
  std::ostringstream all;
  all << std::ifstream(file, std::ios::binary).rdbuf();
  return all.str();
}

std::size_t times(const std::string& text, const std::string& word) {
  std::size_t n = 0;
  for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) ++n;
  return n;
}

}  // namespace

TEST_CASE("a face keeps its look by its name while steps above change its shape") {
  Boxed b = red_topped();
  const std::size_t top = b.face_at(top_of(b));
  std::vector<int> looks = looks_of_faces(b.body(), b.named().face_looks);
  CHECK(with_look_count(looks) == 1);
  CHECK(looks[top] == 0);
  // Taller: the face is elsewhere, and its look with it.
  b.document = with_setting(b.document, "Box/Box.length_z=50");
  b.shape = shape_of(b.document, b.part);
  looks = looks_of_faces(b.body(), b.named().face_looks);
  CHECK(with_look_count(looks) == 1);
  CHECK(looks[b.face_at(top_of(b))] == 0);
  // The same face again puts the new look in the place of the old one.
  b.document =
      with_face_look(b.document, b.part, {b.named().face_looks.front().pick, 0x2E86C1, {}});
  REQUIRE(b.named().face_looks.size() == 1);
  CHECK(b.named().face_looks.front().colour == 0x2E86C1);
  b.document = without_face_look(b.document, b.part, b.body(), b.face_at(top_of(b)));
  CHECK(b.named().face_looks.empty());
}

TEST_CASE("a look whose face has another name now is found by its place, or not at all") {
  const Boxed b = red_topped();
  FaceLook lost = b.named().face_looks.front();
  lost.pick.tag = 12345;
  CHECK(looks_of_faces(b.body(), std::array{lost})[b.face_at(top_of(b))] == 0);
  lost.pick.near = lost.pick.near + Vec3{0, 0, 3};
  CHECK(with_look_count(looks_of_faces(b.body(), std::array{lost})) == 0);
  // Typed places have no name, and mean the nearest face however far it is.
  lost.pick.tag = 0;
  CHECK(looks_of_faces(b.body(), std::array{lost})[b.face_at(top_of(b))] == 0);
  // Pieces that say what they were split from.
  Body split = b.body();
  split.faces[2].piece_of = 777;
  split.faces[4].piece_of = 777;
  lost.pick.tag = 777;
  const std::vector<int> looks = looks_of_faces(split, std::array{lost});
  CHECK(with_look_count(looks) == 2);
  CHECK(looks[2] == 0);
  CHECK(looks[4] == 0);
  CHECK(looks_of_faces({}, std::array{lost}).empty());
}

TEST_CASE("what is no look of a face is refused and changes nothing") {
  const Boxed b = boxed();
  const Pick edge{PickKind::Edge, 1, {}}, face{PickKind::Face, 1, {}};
  CHECK_THROWS_AS(with_face_look(b.document, b.part, {edge, 0, {}}), Error);
  CHECK_THROWS_AS(with_face_look(b.document, b.part, {face, 0, {.roughness = 1.5}}), Error);
  CHECK_THROWS_AS(with_face_look(b.document, 99, {face, 0, {}}), Error);
  CHECK_THROWS_AS(with_material_words(b.document, "Box face 1,2,3=velvet"), Error);
  CHECK_THROWS_AS(with_material_words(b.document, "Box face 1,2=gloss"), Error);
  CHECK_THROWS_AS(with_material_words(b.document, "Crate face 1,2,3=gloss"), Error);
}

TEST_CASE("words give a face its look by a place") {
  const Boxed b = boxed();
  Document d = with_material_words(b.document, "Box=#111111, metal 1");
  d = with_material_words(d, "Box face 0, 0, 90=#C0392B");
  const Part& part = *find_part(d, b.part);
  REQUIRE(part.face_looks.size() == 1);
  CHECK(part.face_looks[0].colour == 0xC0392B);
  CHECK(part.face_looks[0].material.metal == 1.0);  // it begins as the part looks
  CHECK(part.look.colour == 0x111111);
  CHECK(looks_of_faces(b.body(), part.face_looks)[b.face_at(top_of(b))] == 0);
}

TEST_CASE("looks of faces are kept in the project, and what is broken there is said") {
  const Boxed b = red_topped();
  const std::string text = to_project_json(b.document);
  const Document again = from_project_json(text, make_operation);
  CHECK(find_part(again, b.part)->face_looks == b.named().face_looks);
  CHECK(to_project_json(again) == text);
  CHECK(to_project_json(boxed().document).find("faces\"") == std::string::npos);
  for (const auto& [from, to] : {std::pair<std::string, std::string>{"#C0392B", "#C0392"},
                                 {"\"coat\": 0.8", "\"coat\": 8"}}) {
    std::string broken = text;
    const std::size_t at = broken.find(from);
    REQUIRE(at != std::string::npos);
    broken.replace(at, from.size(), to);
    CHECK_THROWS_AS(from_project_json(broken, make_operation), Error);
  }
}

TEST_CASE("a drawn body falls into runs of triangles by the looks of its faces") {
  const Boxed b = red_topped();
  Progress progress;
  const DisplayMesh mesh = display_mesh(*b.shape, {}, progress);
  const std::vector<LookRange> ranges = look_ranges(mesh, *b.shape, b.named().face_looks);
  std::size_t next = 0, red = 0;
  const double height = top_of(b).z;
  for (const LookRange& r : ranges) {
    CHECK(r.first == next);
    next += r.count;
    const DisplayMesh run = range_of(mesh, r);
    CHECK(run.indices.size() == r.count);
    if (r.look < 0) continue;
    ++red;
    // Every vertex of the red run lies on the top of the box, and covers it.
    Box3 box;
    for (std::size_t v = 0; v < run.vertices.size(); v += 6) {
      CHECK(static_cast<double>(run.vertices[v + 2]) == Approx(height));
      box.add(Vec3{static_cast<double>(run.vertices[v]), static_cast<double>(run.vertices[v + 1]),
                   static_cast<double>(run.vertices[v + 2])});
    }
    CHECK(box.max.x - box.min.x == Approx(40.0));
    CHECK(box.max.y - box.min.y == Approx(30.0));
  }
  CHECK(next == mesh.indices.size());
  CHECK(red == 1);
  // A mesh that is not of these faces is drawn alike all over.
  const Shape triangles{TriangleMesh{{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}}, {}, {{0, 1, 2}}}};
  CHECK(
      look_ranges(display_mesh(triangles, {}, progress), triangles, b.named().face_looks).size() ==
      1);
}

TEST_CASE("traced pictures show a face in its own colour") {
  const Boxed b = red_topped();
  Progress progress;
  const auto mesh = std::make_shared<const DisplayMesh>(display_mesh(*b.shape, {}, progress));
  StudioPicture wish;
  wish.width = wish.height = 60;
  wish.view = {"", top_of(b), -90.0, 90.0, 60.0, false};
  wish.rays = 4;
  const Pixels above = studio_picture(studio_parts(b.named(), *b.shape, mesh), wish, progress);
  wish.view.pitch = 0.0;
  wish.view.target.z -= 5.0;
  const Pixels front = studio_picture(studio_parts(b.named(), *b.shape, mesh), wish, progress);
  const auto redness = [](const Pixels& p) {
    const unsigned char* at = &p.bytes[4 * static_cast<std::size_t>(30 * p.width + 30)];
    return static_cast<double>(at[0]) / (1.0 + at[2]);
  };
  CHECK(redness(above) > 2.5);
  CHECK(redness(front) < 1.8);  // clay
}

TEST_CASE("other readers find the colour of a face in OBJ, glTF and 3MF with its triangles") {
  const Folder folder;
  const Boxed b = red_topped();
  Progress progress;
  const std::vector<OutPart> parts{out_part(b.named(), b.shape)};
  for (const char* name : {"box.obj", "box.glb"}) {
    INFO(name);
    REQUIRE(export_parts(parts, folder / name, {}, progress).empty());
    Assimp::Importer importer;
    const aiScene* scene = importer.ReadFile((folder / name).string(), aiProcess_Triangulate);
    REQUIRE(scene != nullptr);
    double red = 0.0, other = 0.0;  // mm²
    for (unsigned k = 0; k < scene->mNumMeshes; ++k) {
      const aiMesh& m = *scene->mMeshes[k];
      aiColor4D c;
      REQUIRE(scene->mMaterials[m.mMaterialIndex]->Get(AI_MATKEY_COLOR_DIFFUSE, c) == AI_SUCCESS);
      for (unsigned t = 0; t < m.mNumFaces; ++t) {
        const auto at = [&](unsigned n) { return m.mVertices[m.mFaces[t].mIndices[n]]; };
        const aiVector3D n = (at(1) - at(0)) ^ (at(2) - at(0));
        (c.r > 3.0F * c.b ? red : other) += 0.5 * static_cast<double>(n.Length());
      }
    }
    CHECK(red == Approx(40.0 * 30.0).epsilon(1e-4));
    CHECK(other == Approx(40.0 * 30.0 + 2.0 * 20.0 * (40.0 + 30.0)).epsilon(1e-4));
  }
  // 3MF Core Specification 1.3, 4.1.4.1: a triangle names its own property with pid and p1.
  const std::vector<OutMesh> meshes{
      {&parts[0],
       TriangleMesh{{{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, {}, {{0, 1, 2}, {0, 2, 3}}},
       {-1, 0}}};
  REQUIRE(runs_of(meshes[0]).size() == 2);
  CHECK(runs_of(meshes[0])[1].triangles == std::vector<std::size_t>{1});
  export_parts(parts, folder / "box.3mf", {}, progress);
  Assimp::Importer importer;
  const aiScene* scene = importer.ReadFile((folder / "box.3mf").string(), aiProcess_Triangulate);
  REQUIRE(scene != nullptr);
  CHECK(scene->mNumMaterials >= 2);
}

TEST_CASE("STEP says the colour of a face, and it comes in again with the file") {
  const Folder folder;
  const Boxed b = red_topped();
  Progress progress;
  export_parts(std::vector<OutPart>{out_part(b.named(), b.shape)}, folder / "box.step", {},
               progress);
  const std::string text = text_of(folder / "box.step");
  // ISO 10303-46: the style of one face goes over that of the shape.
  CHECK(times(text, "OVER_RIDING_STYLED_ITEM(") == 1);
  CHECK(times(text, "COLOUR_RGB(") == 2);
  FileAttachment file;
  file.name = "box.step";
  file.bytes = std::make_shared<const std::string>(text);
  const Document brought = with_brought_in({}, file, progress);
  REQUIRE(brought.parts.size() == 1);
  const Part& part = brought.parts.front();
  REQUIRE(part.face_looks.size() == 1);
  const std::uint32_t found = part.face_looks.front().colour;
  for (const int shift : {16, 8, 0})
    CHECK(std::abs(static_cast<int>((found >> shift) & 0xFFU) -
                   static_cast<int>((0xC0392BU >> shift) & 0xFFU)) <= 1);
  const ShapePtr shape = shape_of(brought, part.id);
  const Body& body = std::get<Body>(*shape);
  const std::vector<int> looks = looks_of_faces(body, part.face_looks);
  CHECK(with_look_count(looks) == 1);
  const std::size_t top = find_face(body, {PickKind::Face, 0, top_of(b)})->index;
  CHECK(looks[top] == 0);
  CHECK(part.face_looks.front().pick.tag == body.faces[top].tag);
}

TEST_CASE("faces that all have one colour in a file give it to the part") {
  const Folder folder;
  Boxed b = boxed();
  Progress progress;
  for (std::size_t f = 0; f < 6; ++f)
    b.document = with_face_look(b.document, b.part, {pick_of_body_face(b.body(), f), 0x2E86C1, {}});
  export_parts(std::vector<OutPart>{out_part(b.named(), b.shape)}, folder / "blue.step", {},
               progress);
  FileAttachment file;
  file.name = "blue.step";
  file.bytes = std::make_shared<const std::string>(text_of(folder / "blue.step"));
  const Document brought = with_brought_in({}, file, progress);
  REQUIRE(brought.parts.size() == 1);
  CHECK(brought.parts.front().face_looks.empty());
  CHECK(std::abs(static_cast<int>(brought.parts.front().look.colour & 0xFFU) - 0xC1) <= 1);
}

TEST_CASE("two versions of a project say which colours of faces differ") {
  const Boxed before = boxed(), after = red_topped();
  const Comparison found = compare(before.document, after.document);
  REQUIRE(found.parts.size() == 1);
  const auto& lines = found.parts.front().lines;
  CHECK(std::any_of(lines.begin(), lines.end(), [](const ChangeLine& l) {
    return l.what.find("colour of face 1") != std::string::npos && l.after == "#C0392B";
  }));
}
