#include "core/exchange/parts_out.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/edge_points.h"
#include "core/body/smooth_joint.h"
#include "core/body/topology.h"
#include "core/document/face_looks.h"
#include "core/document/operation.h"
#include "core/document/project_file.h"
#include "core/exchange/export.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/curve.h"

namespace evenclay {

namespace {

constexpr unsigned kSkins = kBody | kMesh | kForm;
constexpr std::array<OutFormat, 13> kFormats{
    {{".step", "STEP", kBody | kCurves, true, true},
     {".stp", "STEP", kBody | kCurves, true, true},
     {".iges", "IGES", kBody | kCurves, true, true},
     {".igs", "IGES", kBody | kCurves, true, true},
     {".3mf", "3MF", kSkins, true, true},
     {".glb", "glTF", kSkins, true, true},
     {".obj", "OBJ", kSkins, false, true},
     {".stl", "STL", kSkins, false, false},
     {".ply", "PLY", kSkins | kPoints, false, false},
     {".xyz", "Points", kPoints | kMesh, false, false},
     {".dxf", "DXF", kCurves | kBody, false, true},
     {".svg", "SVG", kCurves | kBody, true, true},
     {".surface.json", "Surface numbers", kBody | kCurves, true, false}}};

std::string lower(std::string text) {
  for (char& c : text) c = static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c);
  return text;
}

const OutFormat& needed_format(const std::filesystem::path& file) {
  if (const OutFormat* f = out_format(file)) return *f;
  std::string list;
  for (const OutFormat& f : kFormats)
    list += fmt::format("{}{}", list.empty() ? "" : ", ", f.ending);
  throw FileError(say("{} has an ending that cannot be written. Use one of {}.",
                      file.filename().string(), list));
}

// A drawing shows triangles, too.
OutFormat format_for(const std::filesystem::path& file, const OutOptions& o) {
  OutFormat format = needed_format(file);
  if (format.ending == ".svg" && o.views) format.takes |= kMesh | kForm;
  return format;
}

// Parts that fit the format; the names of the others.
std::vector<OutPart> fitting(std::span<const OutPart> parts, const OutFormat& format,
                             std::vector<std::string>& left_out) {
  std::vector<OutPart> fit;
  for (const OutPart& p : parts) {
    if (p.shape && !is_empty(*p.shape) && (kind_of(*p.shape) & format.takes) != 0)
      fit.push_back(p);
    else
      left_out.push_back(p.name);
  }
  if (fit.empty())
    throw Error(
        say("None of the parts can be written as {}. Choose another format, or convert them first.",
            format.name));
  return fit;
}

// Says why a shape has no triangles.
void mesh_of_refused(const Shape& shape) {
  Progress quiet;
  (void)mesh_of(shape, 1.0, quiet);
}

void refuse(const Shape& shape, const OutFormat& format) {
  if (is_empty(shape))
    throw Error(say("The part has no shape to export. Mend its build steps first."));
  if (std::holds_alternative<Form>(shape))
    throw Error(say(
        "The part is a subdivision form, and {} holds surfaces. Add Convert to surfaces first, or "
        "export it as .stl or .obj.",
        format.name));
  if (std::holds_alternative<TriangleMesh>(shape))
    throw Error(
        say("The part is a mesh, and {} holds surfaces or curves. Export it as .stl, .obj, "
            ".ply, .3mf or .glb.",
            format.name));
  if ((format.takes & kSkins) != 0) mesh_of_refused(shape);
}

OutMesh mesh_with_looks(const OutPart& part, const Fineness& fineness, Progress& progress) {
  const auto* body = std::get_if<Body>(part.shape.get());
  if (body == nullptr || part.face_looks.empty())
    return {&part, mesh_of(*part.shape, fineness, progress)};
  std::vector<std::uint32_t> faces;
  OutMesh m{&part, mesh_of(*body, fineness, faces, progress)};
  const std::vector<int> looks = looks_of_faces(*body, part.face_looks);
  for (const std::uint32_t face : faces) m.looks.push_back(looks[face]);
  return m;
}

std::vector<OutMesh> meshes_of(std::span<const OutPart> parts, const OutOptions& o,
                               Progress& progress) {
  std::vector<OutMesh> meshes;
  for (std::size_t k = 0; k < parts.size(); ++k) {
    meshes.push_back(mesh_with_looks(parts[k], {o.chord, o.angle}, progress));
    progress.report(0.8 * static_cast<double>(k + 1) / static_cast<double>(parts.size()));
  }
  return meshes;
}

}  // namespace

std::vector<OutRun> runs_of(const OutMesh& m) {
  const OutPart& p = *m.part;
  OutRun own{p.name, p.colour, p.material};
  if (m.looks.empty()) return {own};
  std::vector<OutRun> runs{own};
  for (std::size_t k = 0; k < p.face_looks.size(); ++k)
    runs.push_back(
        {fmt::format("{} {}", p.name, k + 2), p.face_looks[k].colour, p.face_looks[k].material});
  for (std::size_t t = 0; t < m.looks.size(); ++t)
    runs[static_cast<std::size_t>(m.looks[t] + 1)].triangles.push_back(t);
  std::erase_if(runs, [](const OutRun& r) { return r.triangles.empty(); });
  return runs;
}

TriangleMesh merged(std::span<const OutMesh> meshes, double scale) {
  TriangleMesh all;
  const bool normals = std::all_of(meshes.begin(), meshes.end(),
                                   [](const OutMesh& m) { return !m.mesh.normals.empty(); });
  for (const OutMesh& m : meshes) {
    TriangleMesh one = m.mesh;
    if (!normals) one.normals.clear();
    append(all, one);
  }
  for (Vec3& p : all.points) p = p * scale;
  return all;
}

namespace {

std::string clean(std::string name) {
  for (char& c : name)
    if (c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '/') c = '_';
  return name.empty() ? std::string("part") : name;
}

std::string obj_material(std::size_t number, const OutRun& run) {
  const auto share = [&](int shift) {
    return static_cast<double>((run.colour >> shift) & 0xFFU) / 255.0;
  };
  // Metal and roughness by the names that readers have agreed on; the shine for those that know no others.
  const Material& m = run.material;
  return fmt::format(
      "newmtl part{}\nKd {:.4f} {:.4f} {:.4f}\nNs {:.1f}\nPr {:.4f}\nPm {:.4f}\nPc {:.4f}\nd "
      "{:.4f}\n",
      number, share(16), share(8), share(0), 1.0 + 200.0 * (1.0 - m.roughness), m.roughness,
      m.metal, m.coat, 1.0 - 0.6 * m.translucency);
}

// The object and its colours, in two files.
void write_obj(std::span<const OutMesh> meshes, double scale, const std::filesystem::path& file) {
  std::filesystem::path colours = file;
  colours.replace_extension(".mtl");
  std::string materials = "# Even Clay\n";
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  fmt::format_to(out, "# Even Clay\nmtllib {}\n", colours.filename().string());
  std::size_t points = 0, normals = 0, looks = 0;
  for (const OutMesh& m : meshes) {
    fmt::format_to(out, "o {}\n", clean(m.part->name));
    for (const Vec3& p : m.mesh.points)
      fmt::format_to(out, "v {:.9g} {:.9g} {:.9g}\n", p.x * scale, p.y * scale, p.z * scale);
    for (const Vec3& n : m.mesh.normals)
      fmt::format_to(out, "vn {:.6f} {:.6f} {:.6f}\n", n.x, n.y, n.z);
    for (const OutRun& run : runs_of(m)) {
      materials += obj_material(++looks, run);
      fmt::format_to(out, "usemtl part{}\n", looks);
      for_triangles(m, run, [&](const std::array<std::uint32_t, 3>& t) {
        const std::array<std::size_t, 3> v{t[0] + 1 + points, t[1] + 1 + points, t[2] + 1 + points};
        if (m.mesh.normals.empty())
          fmt::format_to(out, "f {} {} {}\n", v[0], v[1], v[2]);
        else
          fmt::format_to(out, "f {}//{} {}//{} {}//{}\n", v[0], t[0] + 1 + normals, v[1],
                         t[1] + 1 + normals, v[2], t[2] + 1 + normals);
      });
    }
    points += m.mesh.points.size();
    normals += m.mesh.normals.size();
  }
  const std::string text = fmt::to_string(b);
  write_together(std::array{FileBytes{colours, materials}, FileBytes{file, text}});
}

PointCloud points_of(std::span<const OutPart> parts) {
  PointCloud all;
  bool normals = true;
  for (const OutPart& p : parts) {
    const auto* cloud = std::get_if<PointCloud>(p.shape.get());
    const auto* mesh = std::get_if<TriangleMesh>(p.shape.get());
    const std::vector<Vec3>& points = cloud != nullptr ? cloud->points : mesh->points;
    const std::vector<Vec3>& n = cloud != nullptr ? cloud->normals : mesh->normals;
    all.points.insert(all.points.end(), points.begin(), points.end());
    all.normals.insert(all.normals.end(), n.begin(), n.end());
    normals = normals && n.size() == points.size();
  }
  if (!normals) all.normals.clear();
  return all;
}

std::string to_xyz(const PointCloud& cloud, double scale) {
  fmt::memory_buffer b;
  const auto out = std::back_inserter(b);
  for (std::size_t k = 0; k < cloud.points.size(); ++k) {
    const Vec3 p = cloud.points[k] * scale;
    fmt::format_to(out, "{:.9g} {:.9g} {:.9g}", p.x, p.y, p.z);
    if (!cloud.normals.empty())
      fmt::format_to(out, " {:.6f} {:.6f} {:.6f}", cloud.normals[k].x, cloud.normals[k].y,
                     cloud.normals[k].z);
    b.push_back('\n');
  }
  return fmt::to_string(b);
}

bool all_points(std::span<const OutPart> parts) {
  return std::all_of(parts.begin(), parts.end(),
                     [](const OutPart& p) { return std::holds_alternative<PointCloud>(*p.shape); });
}

std::string mesh_bytes(std::string_view ending, std::span<const OutMesh> meshes,
                       const OutOptions& o) {
  const double scale = 1.0 / millimetres_of(o.unit);
  if (ending == ".3mf") return to_3mf(meshes);
  if (ending == ".glb") return to_glb(meshes);
  if (ending == ".ply") return to_ply(meshes, scale);
  return o.text ? to_stl_text(meshes, scale)
                : to_stl(merged(meshes, scale), meshes.front().part->name);
}

}  // namespace

OutPart out_part(const Part& part, ShapePtr shape) {
  return {part.name,        part.layer,    part.look.colour,
          std::move(shape), part.material, part.face_looks};
}

double millimetres_of(OutUnit unit) {
  static constexpr std::array<double, 4> kFactors{1.0, 10.0, 1000.0, 25.4};
  return kFactors[static_cast<std::size_t>(unit)];
}

std::span<const OutFormat> out_formats() {
  return kFormats;
}

const OutFormat* out_format(const std::filesystem::path& file) {
  const std::string name = lower(file.filename().string());
  for (const OutFormat& f : kFormats)
    if (name.size() > f.ending.size() &&
        name.compare(name.size() - f.ending.size(), f.ending.size(), f.ending) == 0)
      return &f;
  return nullptr;
}

namespace {

// Edges that are seen: no seams, none along which faces meet smoothly.
std::vector<Curve> seen_edges(const Body& body) {
  Body whole;  // faces with their natural borders
  for (const Face& face : body.faces)
    if (!face.trimmed()) whole.faces.push_back(face);
  std::vector<Curve> curves = edge_curves(whole);
  const Topology t = topology(body);
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    const auto& uses = t.uses[e];
    if (!uses.empty() && !is_seam(uses) && !is_smooth_joint(body, uses) &&
        size(body.edges[e].curve) > 1e-9)
      curves.push_back(body.edges[e].curve);
  }
  return curves;
}

}  // namespace

std::vector<OutLine> lines_out(std::span<const OutPart> parts, double chord, bool seen_only) {
  std::vector<OutLine> lines;
  for (const OutPart& p : parts) {
    std::vector<Curve> curves;
    if (const auto* set = std::get_if<CurveSet>(p.shape.get())) curves = set->curves;
    if (const auto* body = std::get_if<Body>(p.shape.get()))
      curves = seen_only ? seen_edges(*body) : edge_curves(*body);
    for (const Curve& c : curves) {
      const Curve open = c.knots.periodic ? first_row(clamped(strip_of(c, {0, 0, 1}))) : c;
      OutLine line{&p, polyline(open, chord), false};
      const bool meets = line.places.size() > 2 &&
                         distance(line.places.front(), line.places.back()) < 1e-9 * (1.0 + size(c));
      line.closed = meets;
      if (meets) line.places.pop_back();
      lines.push_back(std::move(line));
    }
  }
  return lines;
}

namespace {

// Lengths are named to 0.1 mm, so the triangles they are taken from must lie closer, whatever chord is asked for.
constexpr double kDrawingChord = 0.02;

// Surfaces, forms and meshes by their outlines, curves as they are.
std::string drawing_of(std::span<const OutPart> parts, OutOptions o, Progress& progress) {
  o.chord = std::min(o.chord, kDrawingChord);
  std::vector<OutPart> skins;
  for (const OutPart& p : parts)
    if (!std::holds_alternative<CurveSet>(*p.shape)) skins.push_back(p);
  return to_drawing(meshes_of(skins, o, progress), lines_out(parts, o.chord, true), progress);
}

}  // namespace

std::vector<std::string> export_parts(std::span<const OutPart> parts,
                                      const std::filesystem::path& file, const OutOptions& o,
                                      Progress& progress) {
  const OutFormat format = format_for(file, o);
  std::vector<std::string> left_out;
  // Of a single part it is known what to do about it.
  if (parts.size() == 1 && parts[0].shape &&
      (is_empty(*parts[0].shape) || (kind_of(*parts[0].shape) & format.takes) == 0))
    refuse(*parts[0].shape, format);
  const std::vector<OutPart> fit = fitting(parts, format, left_out);
  const double scale = 1.0 / millimetres_of(o.unit);
  const std::string_view ending = format.ending;
  std::string bytes;
  if (ending == ".step" || ending == ".stp") {
    bytes = to_step_parts(fit);
  } else if (ending == ".iges" || ending == ".igs") {
    bytes = to_iges_parts(fit);
  } else if (ending == ".surface.json") {
    if (fit.size() != 1) throw Error(say("Surface numbers hold one part. Choose one."));
    export_shape(*fit.front().shape, file, {.name = fit.front().name, .chord = o.chord}, progress);
    return left_out;
  } else if (ending == ".dxf") {
    bytes = to_dxf(lines_out(fit, o.chord), scale);
  } else if (ending == ".svg" && o.views) {
    bytes = drawing_of(fit, o, progress);
  } else if (ending == ".svg") {
    bytes = to_svg(lines_out(fit, o.chord));
  } else if (ending == ".xyz") {
    bytes = to_xyz(points_of(fit), scale);
  } else if (ending == ".ply" && all_points(fit)) {
    bytes = to_ply(points_of(fit), scale);
  } else {
    std::vector<OutPart> skins;
    for (const OutPart& p : fit)
      if (std::holds_alternative<PointCloud>(*p.shape))
        left_out.push_back(p.name);
      else
        skins.push_back(p);
    const std::vector<OutMesh> meshes = meshes_of(skins, o, progress);
    if (ending == ".obj") {
      write_obj(meshes, scale, file);
      return left_out;
    }
    bytes = mesh_bytes(ending, meshes, o);
  }
  progress.check();
  write_atomically(file, bytes);
  progress.report(1.0);
  return left_out;
}

OutEstimate estimate(std::span<const OutPart> parts, const std::filesystem::path& file,
                     const OutOptions& o, Progress& progress) {
  const OutFormat format = format_for(file, o);
  std::vector<std::string> left_out;
  const std::vector<OutPart> fit = fitting(parts, format, left_out);
  OutEstimate e;
  if (format.ending == ".svg" && o.views) {  // what is seen is known only when it is drawn
    e.bytes = drawing_of(fit, o, progress).size();
    return e;
  }
  if ((format.takes & kMesh) == 0) {  // exact, or lines: the numbers of the shapes themselves
    for (const OutPart& p : fit) e.bytes += 2 * bytes_of(*p.shape) + 4000;
    return e;
  }
  if (all_points(fit)) {
    for (const OutPart& p : fit) e.bytes += std::get<PointCloud>(*p.shape).points.size() * 24;
    return e;
  }
  for (const OutMesh& m : meshes_of(fit, o, progress)) {
    e.triangles += m.mesh.triangles.size();
    const std::size_t t = m.mesh.triangles.size(), v = m.mesh.points.size();
    if (format.ending == ".stl")
      e.bytes += o.text ? t * 250 : t * 50 + 84;
    else if (format.ending == ".3mf")
      e.bytes += (t * 12 + v * 22) / 2;  // packed to about half
    else if (format.ending == ".glb")
      e.bytes += t * 12 + v * 24;
    else if (format.ending == ".ply")
      e.bytes += t * 13 + v * 27;
    else
      e.bytes += t * 36 + v * 62;
  }
  return e;
}

}  // namespace evenclay
