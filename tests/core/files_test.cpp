#include <unistd.h>
#include <zip.h>

#include <assimp/postprocess.h>
#include <assimp/scene.h>
#include <BRepGProp.hxx>
#include <BRep_Tool.hxx>
#include <GProp_GProps.hxx>
#include <GeomAPI_ProjectPointOnSurf.hxx>
#include <STEPControl_Reader.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>
#include <assimp/Importer.hpp>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <sstream>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/document/project_file.h"
#include "core/exchange/export.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"
#include "core/support.h"

using namespace evenclay;
using namespace evenclay::testing;
namespace fs = std::filesystem;

namespace {

// A folder that goes away with the test.
struct Folder {
  fs::path path = fs::temp_directory_path() / ("evenclay-test-" + std::to_string(::getpid()));
  Folder() { fs::create_directories(path); }
  ~Folder() { fs::remove_all(path); }
  fs::path operator/(const char* name) const { return path / name; }
};

std::string read_file(const fs::path& p) {
  std::ifstream in(p, std::ios::binary);
  std::stringstream s;
  s << in.rdbuf();
  return s.str();
}

void write_file(const fs::path& p, const std::string& text) {
  std::ofstream(p, std::ios::binary) << text;
}

void write_zip(const fs::path& p, const char* entry, const std::string& text) {
  zip_t* z = zip_open(p.c_str(), ZIP_CREATE | ZIP_TRUNCATE, nullptr);
  REQUIRE(z);
  zip_file_add(z, entry, zip_source_buffer(z, text.data(), text.size(), 0), 0);
  REQUIRE(zip_close(z) == 0);
}

Shape shape_of(const Document& d, const char* part) {
  Progress progress;
  const Part* p = find_part(d, std::string_view(part));
  return *Evaluator().evaluate(d, progress, {p->id}).parts.at(p->id).shape;
}

std::size_t resident_bytes() {
  std::ifstream statm("/proc/self/statm");
  std::size_t pages = 0;
  statm >> pages >> pages;
  return pages * static_cast<std::size_t>(::sysconf(_SC_PAGESIZE));
}

// Every CARTESIAN_POINT of a STEP file, read as text (ISO 10303-21).
std::vector<Vec3> points_in_step(const std::string& text) {
  std::vector<Vec3> result;
  const std::string mark = "CARTESIAN_POINT('',(";
  for (auto at = text.find(mark); at != std::string::npos; at = text.find(mark, at + 1)) {
    Vec3 p;
    const char* from = text.c_str() + at + mark.size();
    char* end = nullptr;
    for (std::size_t c = 0; c < 3; ++c) {
      p[c] = std::strtod(from, &end);
      from = end + 1;
    }
    result.push_back(p);
  }
  return result;
}

}  // namespace

TEST_CASE("save, open, save gives the same bytes of project.json") {
  const Folder folder;
  const Document d = make_demo();
  save_project(d, folder / "a.json");
  const Document opened = open_project(folder / "a.json", make_operation);
  save_project(opened, folder / "b.json");
  CHECK(read_file(folder / "a.json") == read_file(folder / "b.json"));
  save_project(opened, folder / "c.evenclay");
  const Document zipped = open_project(folder / "c.evenclay", make_operation);
  CHECK(to_project_json(zipped) == to_project_json(d));
  save_project(zipped, folder / "e.evenclay");
  CHECK(read_file(folder / "c.evenclay") == read_file(folder / "e.evenclay"));
}

TEST_CASE("saving leaves no other file behind and replaces the old one whole") {
  const Folder folder;
  save_project(make_demo(), folder / "a.evenclay");
  save_project({}, folder / "a.evenclay");
  CHECK(open_project(folder / "a.evenclay", make_operation).parts.empty());
  CHECK(std::distance(fs::directory_iterator(folder.path), fs::directory_iterator{}) == 1);
  CHECK_THROWS_AS(save_project({}, folder.path / "no such folder" / "a.evenclay"), FileError);
}

TEST_CASE("unknown steps and fields from newer versions are kept and written back") {
  auto j = nlohmann::ordered_json::parse(to_project_json(make_demo()));
  j["later"] = {{"a", 1}};
  j["parts"][0]["mood"] = "calm";
  j["parts"][0]["steps"][1]["parameters"]["stiffness"] = 0.5;
  j["parts"][0]["steps"][1]["hint"] = "x";
  j["parts"][1]["steps"][1]["kind"] = "woven";
  j["parts"][1]["steps"][1]["parameters"] = {{"threads", 7}};
  const std::string text = j.dump();
  const Document d = from_project_json(text, make_operation);
  const auto back = nlohmann::ordered_json::parse(to_project_json(d));
  CHECK(back["later"]["a"] == 1);
  CHECK(back["parts"][0]["mood"] == "calm");
  CHECK(back["parts"][0]["steps"][1]["parameters"]["stiffness"] == 0.5);
  CHECK(back["parts"][0]["steps"][1]["hint"] == "x");
  CHECK(back["parts"][1]["steps"][1]["kind"] == "woven");
  CHECK(back["parts"][1]["steps"][1]["parameters"]["threads"] == 7);
  CHECK(to_project_json(from_project_json(to_project_json(d), make_operation)) ==
        to_project_json(d));
  Progress progress;
  const Evaluation e = Evaluator().evaluate(d, progress);
  const PartResult& r = e.parts.at(d.parts[1].id);
  CHECK(r.steps[1].failed);
  CHECK_THAT(r.steps[1].message, Catch::Contains("does not know"));
  CHECK(r.steps[1].shape == r.steps[0].shape);
}

TEST_CASE("truncated, foreign and hostile files are refused with a sentence") {
  const Folder folder;
  save_project(make_demo(), folder / "good.evenclay");
  const std::string good = read_file(folder / "good.evenclay");
  const std::string json = to_project_json(make_demo());
  const auto refused = [&](const char* name) {
    try {
      open_project(folder / name, make_operation);
    } catch (const FileError& e) {
      const std::string sentence = e.what();
      CHECK(sentence.size() > 20);
      CHECK((sentence.back() == '.' || sentence.back() == ')'));
      return true;
    }
    return false;
  };
  for (const double share : {0.02, 0.3, 0.9, 0.999}) {
    write_file(folder / "cut.evenclay",
               good.substr(0, static_cast<std::size_t>(share * static_cast<double>(good.size()))));
    CHECK(refused("cut.evenclay"));
    write_file(folder / "cut.json",
               json.substr(0, static_cast<std::size_t>(share * static_cast<double>(json.size()))));
    CHECK(refused("cut.json"));
  }
  CHECK(refused("not there.evenclay"));
  CHECK(refused("."));
  write_file(folder / "empty.evenclay", "");
  CHECK(refused("empty.evenclay"));
  write_file(folder / "foreign.evenclay", "solid ascii\nfacet normal 0 0 1\n");
  CHECK(refused("foreign.evenclay"));
  write_zip(folder / "other.evenclay", "readme.txt", "hello");
  CHECK(refused("other.evenclay"));
  write_file(folder / "list.json", "[1, 2, 3]");
  CHECK(refused("list.json"));
  write_file(folder / "newer.json",
             R"({"format": "evenclay project", "version": 99, "parts": []})");
  CHECK(refused("newer.json"));

  const auto with = [&](const char* from, const std::string& to) {
    std::string text = json;
    const auto at = text.find(from);
    REQUIRE(at != std::string::npos);
    return text.replace(at, std::strlen(from), to);
  };
  write_file(folder / "counts.json", with("\"points_u\": 10", "\"points_u\": 1000000000"));
  CHECK(refused("counts.json"));
  write_file(folder / "nan.json", with("\"radius\": 52.0", "\"radius\": NaN"));
  CHECK(refused("nan.json"));
  write_file(folder / "huge.json", with("\"radius\": 52.0", "\"radius\": 1e999"));
  CHECK(refused("huge.json"));
  write_file(folder / "text.json", with("\"radius\": 52.0", "\"radius\": \"wide\""));
  CHECK(refused("text.json"));
  write_file(folder / "twice.json", with("\"id\": 2", "\"id\": 1"));
  CHECK(refused("twice.json"));
  write_file(folder / "colour.json", with("\"#C9A48C\"", "\"red\""));
  CHECK(refused("colour.json"));
  write_file(folder / "outside.json", with("\"moves\": [", "\"moves\": [[999, 0, 1, 1, 1],"));
  CHECK(refused("outside.json"));
  std::string deep(200000, '[');
  write_file(folder / "deep.json", deep);
  CHECK(refused("deep.json"));
  write_file(folder / "deep2.json", R"({"format": "evenclay project", "version": 1, "x": )" + deep +
                                        std::string(200000, ']') + "}");
  CHECK(refused("deep2.json"));
}

TEST_CASE("a zip bomb is refused while memory stays bounded") {
  const Folder folder;
  {
    const std::string zeros(600ULL << 20, ' ');  // 600 MiB that pack to about 600 kB
    write_zip(folder / "bomb.evenclay", "project.json", zeros);
  }
  REQUIRE(fs::file_size(folder / "bomb.evenclay") < (2U << 20));
  const std::size_t before = resident_bytes();
  CHECK_THROWS_AS(open_project(folder / "bomb.evenclay", make_operation), FileError);
  CHECK(resident_bytes() < before + (300ULL << 20));
}

TEST_CASE("STEP read back by the B-rep kernel deviates at most 1e-6 mm") {
  const Folder folder;
  Progress progress;
  const Document d = uncut_demo();
  for (const char* name : {"Shell", "Dimple tile"}) {
    const Shape shape = shape_of(d, name);
    const Surface& s = *std::get<Body>(shape).faces.front().surface;
    export_shape(shape, folder / "part.step", {.name = name}, progress);
    STEPControl_Reader reader;
    REQUIRE(reader.ReadFile((folder / "part.step").c_str()) == IFSelect_RetDone);
    reader.TransferRoots();
    const TopoDS_Shape read = reader.OneShape();
    TopExp_Explorer faces(read, TopAbs_FACE);
    REQUIRE(faces.More());
    const Handle(Geom_Surface) surface = BRep_Tool::Surface(TopoDS::Face(faces.Current()));
    double worst = 0.0;
    for (const auto& [u, v] : testing::places(s, 80)) {
      const Vec3 p = evaluate(s, u, v);
      GeomAPI_ProjectPointOnSurf projection(gp_Pnt(p.x, p.y, p.z), surface);
      REQUIRE(projection.NbPoints() > 0);
      worst = std::max(worst, projection.LowerDistance());
    }
    CHECK(worst <= 1e-6);
    // All faces are there, and what the file itself says in plain text are our control points.
    std::size_t count = 0;
    for (; faces.More(); faces.Next()) ++count;
    CHECK(count == std::get<Body>(shape).faces.size());
    const std::vector<Vec3> written = points_in_step(read_file(folder / "part.step"));
    const Surface plain = clamped(s);
    for (const Vec3& p : plain.points.values()) {
      double nearest = 1e9;
      for (const Vec3& q : written) nearest = std::min(nearest, distance(p, q));
      CHECK(nearest <= 1e-9);
    }
    if (std::string(name) != "Shell") continue;
    CHECK(TopExp_Explorer(read, TopAbs_SOLID).More());
    GProp_GProps properties;
    BRepGProp::VolumeProperties(read, properties, 1e-8);
    CHECK(properties.Mass() == Approx(volume(s)).epsilon(1e-5));
  }
}

TEST_CASE("STL read back by Assimp is the watertight closed shell") {
  const Folder folder;
  Progress progress;
  const Shape shape = shape_of(uncut_demo(), "Shell");
  const Surface& s = *std::get<Body>(shape).faces.front().surface;
  export_shape(shape, folder / "shell.stl", {.name = "Shell", .chord = 0.05}, progress);
  Assimp::Importer importer;
  const aiScene* scene =
      importer.ReadFile((folder / "shell.stl").string(), aiProcess_JoinIdenticalVertices);
  REQUIRE(scene != nullptr);
  REQUIRE(scene->mNumMeshes == 1);
  const aiMesh& read = *scene->mMeshes[0];
  // Normals differ by facet, so Assimp joins by position only after they are dropped.
  TriangleMesh mesh;
  std::map<std::array<float, 3>, std::uint32_t> numbers;
  for (unsigned f = 0; f < read.mNumFaces; ++f) {
    std::array<std::uint32_t, 3> t{};
    for (unsigned k = 0; k < 3; ++k) {
      const aiVector3D& p = read.mVertices[read.mFaces[f].mIndices[k]];
      const auto [it, fresh] =
          numbers.try_emplace({p.x, p.y, p.z}, static_cast<std::uint32_t>(mesh.points.size()));
      if (fresh) mesh.points.push_back({p.x, p.y, p.z});
      t[k] = it->second;
    }
    mesh.triangles.push_back(t);
  }
  CHECK(check_edges(mesh).watertight());
  // A skin that lies within the chord of another encloses at most chord × area more or less.
  CHECK(std::abs(volume(mesh) - volume(s)) < 0.05 * area(s));
  CHECK(deviation(mesh, s, progress).max <= 0.051);
}

TEST_CASE("OBJ read back by Assimp has the mesh's vertices, triangles and normals") {
  const Folder folder;
  Progress progress;
  const Shape shape = shape_of(uncut_demo(), "Grille");
  const auto& mesh = std::get<TriangleMesh>(shape);
  export_shape(shape, folder / "grille.obj", {.name = "Grille"}, progress);
  Assimp::Importer importer;
  const aiScene* scene = importer.ReadFile((folder / "grille.obj").string(), 0);
  REQUIRE(scene != nullptr);
  CHECK(scene->mMeshes[0]->mNumFaces == mesh.triangles.size());
  CHECK(scene->mMeshes[0]->HasNormals());
  Box3 box_read;
  for (unsigned k = 0; k < scene->mMeshes[0]->mNumVertices; ++k) {
    const aiVector3D& p = scene->mMeshes[0]->mVertices[k];
    box_read.add(Vec3{p.x, p.y, p.z});
  }
  CHECK(distance(box_read.max, box(mesh).max) < 1e-4);
  CHECK(distance(box_read.min, box(mesh).min) < 1e-4);
  // Corner by corner of every triangle: position and normal, in the mesh's order.
  const aiMesh& read = *scene->mMeshes[0];
  double off = 0.0;
  double turned = 0.0;
  for (std::size_t f = 0; f < mesh.triangles.size(); ++f)
    for (unsigned k = 0; k < 3; ++k) {
      const unsigned v = read.mFaces[f].mIndices[k];
      const std::uint32_t ours = mesh.triangles[f][k];
      const aiVector3D& p = read.mVertices[v];
      const aiVector3D& n = read.mNormals[v];
      off = std::max(off, distance({p.x, p.y, p.z}, mesh.points[ours]));
      turned = std::max(turned, distance({n.x, n.y, n.z}, mesh.normals[ours]));
    }
  CHECK(off < 1e-4);
  CHECK(turned < 1e-4);
}

TEST_CASE("the plain dump gives the surface back by ten lines of one's own") {
  const Shape shape = shape_of(uncut_demo(), "Shell");
  const auto& set = std::get<Body>(shape);
  const auto j = nlohmann::json::parse(to_surface_json(set));
  const auto& d = j["surfaces"][0];
  Surface s;
  s.u = {d["degree_u"], false, d["knots_u"].get<std::vector<double>>()};
  s.v = {d["degree_v"], false, d["knots_v"].get<std::vector<double>>()};
  s.points = Grid<Vec3>(s.u.point_count(), s.v.point_count());
  for (int i = 0; i < s.points.rows(); ++i)
    for (int k = 0; k < s.points.columns(); ++k) {
      const auto& p = d["points"][static_cast<std::size_t>(i)][static_cast<std::size_t>(k)];
      s.points(i, k) = {p[0], p[1], p[2]};
    }
  check(s);
  CHECK(d["closed_u"] == true);
  CHECK(d["closed_v"] == false);
  CHECK(d["trims"].empty());
  CHECK_FALSE(d.contains("weights"));
  for (const auto& [u, v] : testing::places(s, 50))
    CHECK(distance(evaluate(s, u, v), evaluate(*set.faces[0].surface, u, v)) < 1e-11);
}

TEST_CASE("exports that make no sense are refused with a sentence") {
  const Folder folder;
  Progress progress;
  const Shape mesh = shape_of(uncut_demo(), "Grille");
  CHECK_THROWS_WITH(export_shape(mesh, folder / "g.step", {}, progress), Catch::Contains(".stl"));
  CHECK_THROWS_WITH(export_shape(mesh, folder / "g.doc", {}, progress), Catch::Contains("ending"));
  CHECK_THROWS_AS(export_shape(Body{}, folder / "g.stl", {}, progress), Error);
  CHECK_THROWS_AS(export_shape(mesh, folder.path / "none" / "g.stl", {}, progress), FileError);
  CHECK(fs::is_empty(folder.path));
}
