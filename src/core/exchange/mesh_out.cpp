// Mesh formats that hold several parts (parts_out.h).
#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>
#include <nlohmann/json.hpp>

#include "core/base/xml_text.h"
#include "core/document/packed.h"
#include "core/exchange/parts_out.h"

namespace evenclay {

namespace {

using Json = nlohmann::ordered_json;

static_assert(std::endian::native == std::endian::little, "binary files here are little-endian");

template <typename T>
void put(std::string& out, T value) {
  std::array<char, sizeof(T)> b{};
  std::memcpy(b.data(), &value, sizeof(T));
  out.append(b.data(), sizeof(T));
}

void put_place(std::string& out, const Vec3& p) {
  for (std::size_t c = 0; c < 3; ++c) put(out, static_cast<float>(p[c]));
}

constexpr const char* kTypes =
    "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Types "
    "xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\">"
    "<Default Extension=\"rels\" "
    "ContentType=\"application/vnd.openxmlformats-package.relationships+xml\"/>"
    "<Default Extension=\"model\" "
    "ContentType=\"application/vnd.ms-package.3dmanufacturing-3dmodel+xml\"/></Types>\n";
constexpr const char* kRelations =
    "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Relationships "
    "xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">"
    "<Relationship Target=\"/3D/3dmodel.model\" Id=\"rel0\" "
    "Type=\"http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel\"/></Relationships>\n";

}  // namespace

std::string to_3mf(std::span<const OutMesh> meshes) {
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  fmt::format_to(
      out,
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en-US\" "
      "xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\">\n"
      "<metadata name=\"Application\">Even Clay</metadata>\n<resources>\n<basematerials "
      "id=\"1\">\n");
  std::vector<std::vector<OutRun>> runs;
  for (const OutMesh& m : meshes)
    for (const OutRun& run : runs.emplace_back(runs_of(m)))
      fmt::format_to(out, "<base name=\"{}\" displaycolor=\"#{:06X}FF\"/>\n", xml_text(run.name),
                     run.colour & 0xFFFFFFU);
  fmt::format_to(out, "</basematerials>\n");
  std::size_t look = 0;
  for (std::size_t k = 0; k < meshes.size(); ++k) {
    fmt::format_to(
        out,
        "<object id=\"{}\" type=\"model\" name=\"{}\" pid=\"1\" pindex=\"{}\"><mesh><vertices>\n",
        k + 2, xml_text(meshes[k].part->name), look);
    for (const Vec3& p : meshes[k].mesh.points)
      fmt::format_to(out, "<vertex x=\"{:.7g}\" y=\"{:.7g}\" z=\"{:.7g}\"/>\n", p.x, p.y, p.z);
    fmt::format_to(out, "</vertices><triangles>\n");
    // The first look is the object's; triangles of others name theirs.
    for (std::size_t n = 0; n < runs[k].size(); ++n)
      for_triangles(meshes[k], runs[k][n], [&](const std::array<std::uint32_t, 3>& t) {
        fmt::format_to(out, "<triangle v1=\"{}\" v2=\"{}\" v3=\"{}\"", t[0], t[1], t[2]);
        if (n > 0) fmt::format_to(out, " pid=\"1\" p1=\"{}\"", look + n);
        fmt::format_to(out, "/>\n");
      });
    look += runs[k].size();
    fmt::format_to(out, "</triangles></mesh></object>\n");
  }
  fmt::format_to(out, "</resources>\n<build>\n");
  for (std::size_t k = 0; k < meshes.size(); ++k)
    fmt::format_to(out, "<item objectid=\"{}\"/>\n", k + 2);
  fmt::format_to(out, "</build>\n</model>\n");
  const std::string model = fmt::to_string(b);
  return packed(
      {{"[Content_Types].xml", kTypes}, {"_rels/.rels", kRelations}, {"3D/3dmodel.model", model}});
}

namespace {

// Coat and light that goes through are extensions of their own (Khronos, KHR_materials_clearcoat and _transmission).
Json material_json(const OutRun& run) {
  // Colours of materials are linear; ours are sRGB (IEC 61966-2-1).
  Json colour = Json::array();
  for (const int shift : {16, 8, 0}) {
    const double s = static_cast<double>((run.colour >> shift) & 0xFFU) / 255.0;
    colour.push_back(s <= 0.04045 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4));
  }
  colour.push_back(1.0);
  const Material& m = run.material;
  Json j{{"name", run.name},
         {"pbrMetallicRoughness", Json{{"baseColorFactor", colour},
                                       {"metallicFactor", m.metal},
                                       {"roughnessFactor", m.roughness}}},
         {"doubleSided", true}};
  if (m.coat > 0.0)
    j["extensions"]["KHR_materials_clearcoat"] =
        Json{{"clearcoatFactor", m.coat}, {"clearcoatRoughnessFactor", 0.04}};
  if (m.translucency > 0.0)
    j["extensions"]["KHR_materials_transmission"] = Json{{"transmissionFactor", m.translucency}};
  return j;
}

// The extensions that the materials use, each once.
Json used_extensions(const Json& materials) {
  Json used = Json::array();
  for (const Json& m : materials)
    if (m.contains("extensions"))
      for (const auto& [name, value] : m["extensions"].items())
        if (std::find(used.begin(), used.end(), name) == used.end()) used.push_back(name);
  return used;
}

}  // namespace

// Source: Khronos Group, glTF 2.0 specification (ISO/IEC 12113), sections 3 and 4.4.
std::string to_glb(std::span<const OutMesh> meshes) {
  constexpr int kFloat = 5126, kUnsigned = 5125, kVertices = 34962, kIndices = 34963;
  Json j{{"asset", Json{{"version", "2.0"}, {"generator", "Even Clay"}}}, {"scene", 0}};
  std::string data;
  Json nodes = Json::array(), list = Json::array(), materials = Json::array(),
       views = Json::array(), accessors = Json::array();
  Json children = Json::array();
  const auto view = [&](std::size_t from, int target) {
    views.push_back(Json{{"buffer", 0},
                         {"byteOffset", from},
                         {"byteLength", data.size() - from},
                         {"target", target}});
    return views.size() - 1;
  };
  for (const OutMesh& m : meshes) {
    const std::vector<Vec3> normals =
        m.mesh.normals.empty() ? averaged_normals(m.mesh) : m.mesh.normals;
    Box3 box;
    std::size_t from = data.size();
    for (const Vec3& p : m.mesh.points) {
      put_place(data, p);
      box.add(Vec3{static_cast<double>(static_cast<float>(p.x)),
                   static_cast<double>(static_cast<float>(p.y)),
                   static_cast<double>(static_cast<float>(p.z))});
    }
    const std::size_t places = view(from, kVertices);
    from = data.size();
    for (const Vec3& n : normals) put_place(data, length(n) > 0.5 ? normalized(n) : Vec3{0, 0, 1});
    const std::size_t directions = view(from, kVertices);
    const std::size_t first = accessors.size();
    accessors.push_back(Json{{"bufferView", places},
                             {"componentType", kFloat},
                             {"count", m.mesh.points.size()},
                             {"type", "VEC3"},
                             {"min", {box.min.x, box.min.y, box.min.z}},
                             {"max", {box.max.x, box.max.y, box.max.z}}});
    accessors.push_back(Json{{"bufferView", directions},
                             {"componentType", kFloat},
                             {"count", normals.size()},
                             {"type", "VEC3"}});
    Json primitives = Json::array();
    for (const OutRun& run : runs_of(m)) {
      from = data.size();
      for_triangles(m, run, [&](const std::array<std::uint32_t, 3>& t) {
        for (const std::uint32_t v : t) put(data, v);
      });
      accessors.push_back(Json{{"bufferView", view(from, kIndices)},
                               {"componentType", kUnsigned},
                               {"count", (data.size() - from) / sizeof(std::uint32_t)},
                               {"type", "SCALAR"}});
      materials.push_back(material_json(run));
      primitives.push_back(Json{{"attributes", Json{{"POSITION", first}, {"NORMAL", first + 1}}},
                                {"indices", accessors.size() - 1},
                                {"material", materials.size() - 1}});
    }
    list.push_back(Json{{"name", m.part->name}, {"primitives", primitives}});
    nodes.push_back(Json{{"name", m.part->name}, {"mesh", list.size() - 1}});
    children.push_back(nodes.size() - 1);
  }
  // Metres, y up: columns of the matrix that all parts hang from.
  nodes.push_back(Json{{"name", "Even Clay"},
                       {"children", children},
                       {"matrix", {0.001, 0, 0, 0, 0, 0, -0.001, 0, 0, 0.001, 0, 0, 0, 0, 0, 1}}});
  j["scenes"] = Json::array({Json{{"nodes", Json::array({nodes.size() - 1})}}});
  j["nodes"] = std::move(nodes);
  j["meshes"] = std::move(list);
  if (Json used = used_extensions(materials); !used.empty()) j["extensionsUsed"] = std::move(used);
  j["materials"] = std::move(materials);
  j["accessors"] = std::move(accessors);
  j["bufferViews"] = std::move(views);
  j["buffers"] = Json::array({Json{{"byteLength", data.size()}}});
  std::string text = j.dump(-1, ' ', false, Json::error_handler_t::replace);
  text.resize((text.size() + 3) / 4 * 4, ' ');
  data.resize((data.size() + 3) / 4 * 4, '\0');
  std::string out = "glTF";
  put(out, std::uint32_t{2});
  put(out, static_cast<std::uint32_t>(28 + text.size() + data.size()));
  put(out, static_cast<std::uint32_t>(text.size()));
  out += "JSON" + text;
  put(out, static_cast<std::uint32_t>(data.size()));
  out.append("BIN\0", 4);
  return out + data;
}

// Source: G. Turk, The PLY polygon file format, 1994.
std::string to_ply(std::span<const OutMesh> meshes, double scale) {
  std::size_t points = 0, triangles = 0;
  for (const OutMesh& m : meshes) {
    points += m.mesh.points.size();
    triangles += m.mesh.triangles.size();
  }
  std::string out = fmt::format(
      "ply\nformat binary_little_endian 1.0\ncomment Even Clay\nelement vertex {}\nproperty float "
      "x\nproperty float y\nproperty float z\n"
      "property float nx\nproperty float ny\nproperty float nz\nproperty uchar red\nproperty uchar "
      "green\nproperty uchar blue\n"
      "element face {}\nproperty list uchar int vertex_indices\nend_header\n",
      points, triangles);
  for (const OutMesh& m : meshes) {
    const std::vector<Vec3> normals =
        m.mesh.normals.empty() ? averaged_normals(m.mesh) : m.mesh.normals;
    for (std::size_t k = 0; k < m.mesh.points.size(); ++k) {
      put_place(out, m.mesh.points[k] * scale);
      put_place(out, normals[k]);
      for (const int shift : {16, 8, 0})
        out.push_back(static_cast<char>((m.part->colour >> shift) & 0xFFU));
    }
  }
  std::uint32_t first = 0;
  for (const OutMesh& m : meshes) {
    for (const auto& t : m.mesh.triangles) {
      out.push_back(3);
      for (const std::uint32_t v : t) put(out, v + first);
    }
    first += static_cast<std::uint32_t>(m.mesh.points.size());
  }
  return out;
}

std::string to_ply(const PointCloud& cloud, double scale) {
  const bool normals = !cloud.normals.empty();
  std::string out = fmt::format(
      "ply\nformat binary_little_endian 1.0\ncomment Even Clay\nelement vertex {}\nproperty float "
      "x\nproperty float y\nproperty float z\n{}end_header\n",
      cloud.points.size(),
      normals ? "property float nx\nproperty float ny\nproperty float nz\n" : "");
  for (std::size_t k = 0; k < cloud.points.size(); ++k) {
    put_place(out, cloud.points[k] * scale);
    if (normals) put_place(out, cloud.normals[k]);
  }
  return out;
}

std::string to_stl_text(std::span<const OutMesh> meshes, double scale) {
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  for (const OutMesh& m : meshes) {
    fmt::format_to(out, "solid {}\n", m.part->name);
    for (const auto& t : m.mesh.triangles) {
      const Vec3 &a = m.mesh.points[t[0]], &c = m.mesh.points[t[1]], &d = m.mesh.points[t[2]];
      const Vec3 n = normalized(cross(c - a, d - a));
      fmt::format_to(out, "facet normal {:.6g} {:.6g} {:.6g}\nouter loop\n", n.x, n.y, n.z);
      for (const Vec3& p : {a, c, d})
        fmt::format_to(out, "vertex {:.9g} {:.9g} {:.9g}\n", p.x * scale, p.y * scale, p.z * scale);
      fmt::format_to(out, "endloop\nendfacet\n");
    }
    fmt::format_to(out, "endsolid {}\n", m.part->name);
  }
  return fmt::to_string(b);
}

}  // namespace evenclay
