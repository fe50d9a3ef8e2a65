#include "core/exchange/export.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <nlohmann/json.hpp>
#include <numbers>
#include <span>
#include <utility>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/body/body_mesh.h"
#include "core/body/region.h"
#include "core/document/project_file.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/clamped.h"
#include "core/subdivision/refine.h"

namespace evenclay {

std::vector<std::string> export_endings() {
  return {".stl", ".obj", ".step", ".surface.json"};
}

namespace {

// The greatest angle between normals at two corners of a triangle, degrees. Where a border collapses to a pole, as at the tip of
// a cone, a vertex belongs to a whole fan and has no normal of its own: it is passed over.
double greatest_turn(std::span<const Vec3> normals,
                     std::span<const std::array<std::uint32_t, 3>> triangles) {
  constexpr int kUsual = 8;  // triangles at a vertex of a grid, at most
  std::vector<int> around(normals.size(), 0);
  for (const auto& t : triangles)
    for (const std::uint32_t v : t) ++around[v];
  double least = 1.0;
  for (const auto& t : triangles)
    for (std::size_t k = 0; k < 3; ++k) {
      const std::uint32_t a = t[k], b = t[(k + 1) % 3];
      if (around[a] <= kUsual && around[b] <= kUsual)
        least = std::min(least, dot(normals[a], normals[b]));
    }
  return std::acos(std::clamp(least, -1.0, 1.0)) * 180.0 / std::numbers::pi;
}

template <typename Mesh>
struct Tried {
  Mesh mesh;
  double turn = 0.0;
  std::size_t triangles = 0;
};

// Finer chords until the angle is kept, or finer triangles do not help.
template <typename Make>
auto within_angle(const Fineness& f, const Make& make) {
  constexpr std::size_t kMost = 1'500'000;
  double chord = f.chord;
  auto best = make(chord);
  int in_vain = 0;  // forms become finer by whole subdivisions only, four times at once
  for (int k = 0; k < 12 && f.angle > 0.0 && best.turn > f.angle && in_vain < 2; ++k) {
    // The turn falls with the root of the chord.
    const double share = std::clamp(f.angle / best.turn, 0.25, 0.95);
    chord *= in_vain > 0 ? 0.2 : 0.95 * share * share;
    auto finer = make(chord);
    if (finer.triangles > kMost && finer.turn > f.angle)
      throw Error(say(
          "Triangles that turn by at most {:g}° would be more than two million. Choose a greater "
          "angle.",
          f.angle));
    if (finer.turn > 0.97 * best.turn) {
      ++in_vain;
      continue;
    }
    in_vain = 0;
    best = std::move(finer);
  }
  return std::move(best.mesh);
}

struct MeshOf {
  Fineness fineness;
  Progress& progress;
  TriangleMesh operator()(const TriangleMesh& mesh) const { return mesh; }
  TriangleMesh operator()(const CurveSet&) const {
    throw Error(
        say("The part is a curve and has no triangles. Export it as .step or .surface.json."));
  }
  TriangleMesh operator()(const Form& form) const {
    constexpr std::size_t kMost = 8'000'000;
    return within_angle(fineness, [&](double chord) {
      TriangleMesh mesh = limit_within(form, chord, kMost, progress);
      const double turn = greatest_turn(mesh.normals, mesh.triangles);
      const std::size_t triangles = mesh.triangles.size();
      return Tried<TriangleMesh>{std::move(mesh), turn, triangles};
    });
  }
  TriangleMesh operator()(const PointCloud&) const {
    throw Error(
        say("Points have no triangles. Export them as .ply or .xyz, or fit a surface first."));
  }
  TriangleMesh operator()(const Cage&) const {
    throw Error(say("A cage has no shape to hand over. Export the parts that are in it."));
  }
  TriangleMesh operator()(const Picture&) const {
    throw Error(say("A reference picture has no shape to hand over. Export another part."));
  }
  TriangleMesh operator()(const Body& body) const {
    std::vector<std::uint32_t> faces;
    return mesh_of(body, fineness, faces, progress);
  }
};

}  // namespace

// A whole surface alone has a mesh of its own; joined and trimmed faces share their edges' vertices.
TriangleMesh mesh_of(const Body& body, const Fineness& fineness, std::vector<std::uint32_t>& faces,
                     Progress& progress) {
  if (body.faces.size() != 1 || body.faces.front().trimmed())
    return welded(within_angle(fineness,
                               [&](double chord) {
                                 Tried<BodyMesh> t{tessellate(body, {.chord = chord}, progress)};
                                 for (const FaceMesh& f : t.mesh.faces) {
                                   t.turn = std::max(t.turn, greatest_turn(f.normals, f.triangles));
                                   t.triangles += f.triangles.size();
                                 }
                                 return t;
                               }),
                  &faces);
  const Surface& s = *body.faces.front().surface;
  TriangleMesh mesh = within_angle(fineness, [&](double chord) {
    TriangleMesh m = tessellate(s, for_tolerance(s, chord), progress);
    const double turn = greatest_turn(m.normals, m.triangles);
    const std::size_t triangles = m.triangles.size();
    return Tried<TriangleMesh>{std::move(m), turn, triangles};
  });
  faces.assign(mesh.triangles.size(), 0);
  return mesh;
}

TriangleMesh mesh_of(const Shape& shape, const Fineness& fineness, Progress& progress) {
  return std::visit(MeshOf{fineness, progress}, shape);
}

TriangleMesh mesh_of(const Shape& shape, double chord, Progress& progress) {
  return mesh_of(shape, Fineness{.chord = chord, .angle = 0.0}, progress);
}

namespace {

constexpr std::size_t kHead = 84;  // bytes before the first triangle of a binary STL file
constexpr std::size_t kRecord = 50;

void put_head(char* out, std::size_t triangles, const std::string& name) {
  const std::string header = "Even Clay: " + name;
  std::memcpy(out, header.data(), std::min<std::size_t>(header.size(), 80));
  const auto count = static_cast<std::uint32_t>(triangles);
  std::memcpy(out + 80, &count, 4);
}

// Two bytes of attributes behind each triangle stay as they are.
void put_triangles(const TriangleMesh& mesh, std::size_t begin, std::size_t end, char* out) {
  for (std::size_t at = begin; at < end; ++at, out += kRecord) {
    const auto& t = mesh.triangles[at];
    float f[12];
    const Vec3 n = normalized(
        cross(mesh.points[t[1]] - mesh.points[t[0]], mesh.points[t[2]] - mesh.points[t[0]]));
    for (std::size_t c = 0; c < 3; ++c) {
      f[c] = static_cast<float>(n[c]);
      for (std::size_t k = 0; k < 3; ++k)
        f[3 + 3 * k + c] = static_cast<float>(mesh.points[t[k]][c]);
    }
    std::memcpy(out, f, sizeof f);
  }
}

void put_all_triangles(const TriangleMesh& mesh, std::size_t begin, std::size_t end, char* out) {
  Progress quiet;
  parallel_blocks(end - begin, 16384, quiet, [&](std::size_t from, std::size_t to) {
    put_triangles(mesh, begin + from, begin + to, out + from * kRecord);
  });
}

// Piece by piece, so that ten million triangles need no more memory than a hundred thousand.
void write_stl(const TriangleMesh& mesh, const std::string& name, const std::filesystem::path& file,
               Progress& progress) {
  constexpr std::size_t kPiece = 131'072;  // triangles
  std::string piece(kHead, '\0');
  put_head(piece.data(), mesh.triangles.size(), name);
  std::size_t done = 0;
  bool head = true;
  write_atomically(file, [&]() -> std::string_view {
    progress.check();
    if (std::exchange(head, false)) return piece;
    const std::size_t end = std::min(done + kPiece, mesh.triangles.size());
    piece.resize((end - done) * kRecord, '\0');  // attributes stay 0
    if (done == 0) std::fill(piece.begin(), piece.end(), '\0');
    put_all_triangles(mesh, done, end, piece.data());
    done = end;
    progress.report(static_cast<double>(done) / static_cast<double>(mesh.triangles.size()));
    return piece;
  });
}

}  // namespace

std::string to_stl(const TriangleMesh& mesh, const std::string& name) {
  std::string bytes(kHead + kRecord * mesh.triangles.size(), '\0');
  put_head(bytes.data(), mesh.triangles.size(), name);
  put_all_triangles(mesh, 0, mesh.triangles.size(), bytes.data() + kHead);
  return bytes;
}

std::string to_obj(const TriangleMesh& mesh, const std::string& name) {
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  fmt::format_to(out, "# Even Clay, lengths in mm\no {}\n", name);
  for (const Vec3& p : mesh.points) fmt::format_to(out, "v {:.9g} {:.9g} {:.9g}\n", p.x, p.y, p.z);
  for (const Vec3& n : mesh.normals)
    fmt::format_to(out, "vn {:.6f} {:.6f} {:.6f}\n", n.x, n.y, n.z);
  const bool normals = !mesh.normals.empty();
  for (const auto& t : mesh.triangles) {
    if (normals)
      fmt::format_to(out, "f {0}//{0} {1}//{1} {2}//{2}\n", t[0] + 1, t[1] + 1, t[2] + 1);
    else
      fmt::format_to(out, "f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1);
  }
  return fmt::to_string(b);
}

std::string to_surface_json(const Body& body) {
  using Json = nlohmann::ordered_json;
  Json all = Json::array();
  for (const Face& face : body.faces) {
    const Surface& original = *face.surface;
    const Surface s = clamped(original);
    Json points = Json::array();
    Json weights = Json::array();
    for (int i = 0; i < s.points.rows(); ++i) {
      Json row = Json::array();
      Json row_weights = Json::array();
      for (int j = 0; j < s.points.columns(); ++j) {
        const Vec3& p = s.points(i, j);
        row.push_back({p.x, p.y, p.z});
        row_weights.push_back(s.weight(i, j));
      }
      points.push_back(std::move(row));
      weights.push_back(std::move(row_weights));
    }
    Json j{{"degree_u", s.u.degree},
           {"degree_v", s.v.degree},
           {"knots_u", s.u.knots},
           {"knots_v", s.v.knots},
           {"points", std::move(points)}};
    if (s.rational()) j["weights"] = std::move(weights);
    j["closed_u"] = original.u.periodic;
    j["closed_v"] = original.v.periodic;
    Json trims = Json::array();
    for (const Loop& loop : face.loops) {
      Json places = Json::array();
      for (const Parameter& p : loop_polygon(loop, original)) places.push_back({p.u, p.v});
      trims.push_back(std::move(places));
    }
    j["trims"] = std::move(trims);
    all.push_back(std::move(j));
  }
  return Json{{"surfaces", std::move(all)}}.dump() + "\n";
}

std::string to_curve_json(const CurveSet& set) {
  using Json = nlohmann::ordered_json;
  Json all = Json::array();
  for (const Curve& original : set.curves) {
    const Curve c = first_row(clamped(strip_of(original, {0, 0, 1})));
    Json points = Json::array();
    for (const Vec3& p : c.points) points.push_back({p.x, p.y, p.z});
    Json j{{"degree", c.knots.degree}, {"knots", c.knots.knots}, {"points", std::move(points)}};
    if (c.rational()) j["weights"] = c.weights;
    j["closed"] = original.knots.periodic;
    all.push_back(std::move(j));
  }
  return Json{{"curves", std::move(all)}}.dump() + "\n";
}

namespace {

const Body& surfaces_for(const Shape& shape, std::string_view format) {
  const auto* body = std::get_if<Body>(&shape);
  if (std::holds_alternative<Form>(shape))
    throw Error(
        say("The part is a subdivision form, and {} holds surfaces. Add Convert to "
            "surfaces first, or export it as "
            ".stl or .obj.",
            format));
  if (body == nullptr)
    throw Error(say("The part is a mesh, and {} holds surfaces. Export it as .stl or .obj instead.",
                    format));
  return *body;
}

bool ends_with(const std::string& name, std::string_view ending) {
  return name.size() >= ending.size() &&
         name.compare(name.size() - ending.size(), ending.size(), ending) == 0;
}

std::string in_lower_case(std::string text) {
  for (char& c : text) c = static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c);
  return text;
}

}  // namespace

void export_shape(const Shape& shape, const std::filesystem::path& file,
                  const ExportOptions& options, Progress& progress) {
  const std::string name = in_lower_case(file.filename().string());
  std::string bytes;
  if (ends_with(name, ".stl") && !is_empty(shape)) {
    const auto* own = std::get_if<TriangleMesh>(&shape);
    if (own != nullptr)
      write_stl(*own, options.name, file, progress);
    else
      write_stl(mesh_of(shape, options.chord, progress), options.name, file, progress);
    return;
  }
  if (is_empty(shape))
    throw Error(say("The part has no shape to export. Mend its build steps first."));
  const auto* curves = std::get_if<CurveSet>(&shape);
  if (ends_with(name, ".surface.json") && curves != nullptr)
    bytes = to_curve_json(*curves);
  else if ((ends_with(name, ".step") || ends_with(name, ".stp")) && curves != nullptr)
    bytes = to_step(*curves, options.name);
  else if (ends_with(name, ".surface.json"))
    bytes = to_surface_json(surfaces_for(shape, ".surface.json"));
  else if (ends_with(name, ".step") || ends_with(name, ".stp"))
    bytes = to_step(surfaces_for(shape, "STEP"), options.name);
  else if (ends_with(name, ".obj"))
    bytes = to_obj(mesh_of(shape, options.chord, progress), options.name);
  else
    throw FileError(
        say("{} has an ending that cannot be exported. Use .stl, .obj, .step or .surface.json.",
            file.filename().string()));
  progress.check();
  write_atomically(file, bytes);
}

}  // namespace evenclay
