// Whole projects, or some of their parts, as files of other programs.
#pragma once

#include <filesystem>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/progress.h"
#include "core/document/document.h"

namespace evenclay {

struct OutPart {
  std::string name, layer;          ///< the layer may be empty
  std::uint32_t colour = 0xC9A48C;  ///< 0xRRGGBB
  ShapePtr shape;
  Material material = {};                 ///< of glTF and OBJ
  std::vector<FaceLook> face_looks = {};  ///< of bodies, in STEP, glTF, OBJ and 3MF
};

/// A part of a project with its shape.
OutPart out_part(const Part& part, ShapePtr shape);

enum class OutUnit { Millimetres, Centimetres, Metres, Inches };
double millimetres_of(OutUnit unit);

struct OutOptions {
  double chord = 0.01;  ///< mm; greatest distance of triangles and polylines from the shapes
  double angle = 0.0;  ///< degrees by which the shape may turn within a triangle (Fineness); 0: any
  OutUnit unit = OutUnit::
      Millimetres;     ///< of formats that say none: STL, OBJ, PLY, XYZ, DXF; others say theirs
  bool text = false;   ///< STL as text
  bool views = false;  ///< SVG as a drawing of three views with sizes
};

/// What a kind of file can hold.
struct OutFormat {
  std::string_view ending, name;  ///< ".glb", "glTF"
  unsigned takes;                 ///< kinds of shapes as in operation.h
  bool has_unit;                  ///< the file says its unit
  bool several;                   ///< keeps several parts apart
};
std::span<const OutFormat> out_formats();
/// By the ending of a file's name; null when there is none.
const OutFormat* out_format(const std::filesystem::path& file);

/// By ending: .step .stp (ISO 10303-242 with names, colours and layers; solids where closed), .iges .igs (IGES 5.3), .stl, .obj (with
/// a .mtl beside it for the colours), .ply (binary; points with their normals), .3mf (3MF Core Specification 1.3: objects with names
/// and colours), .glb (glTF 2.0: metres, y up, a material for each part), .xyz (points), .dxf (release 12, polylines in a layer each), .svg
/// (millimetres, seen along z: curves, and the edges of bodies). Parts whose kind the format cannot hold are left out; their
/// names come back. Written beside and then renamed. Throws Error when no part is left or the ending is unknown, FileError, Cancelled.
std::vector<std::string> export_parts(std::span<const OutPart> parts,
                                      const std::filesystem::path& file, const OutOptions& options,
                                      Progress& progress);

/// Before it is written: triangles (0 of exact formats) and about how many bytes. Throws as export_parts().
struct OutEstimate {
  std::size_t triangles = 0, bytes = 0;
};
OutEstimate estimate(std::span<const OutPart> parts, const std::filesystem::path& file,
                     const OutOptions& options, Progress& progress);

/// A part with its triangles.
struct OutMesh {
  const OutPart* part;
  TriangleMesh mesh;
  /// Of each triangle the place in part->face_looks, -1 for the part's own look; empty where it has no others.
  std::vector<int> looks = {};
};

/// Triangles of a part that look alike.
struct OutRun {
  std::string name;  ///< the part's, with a number behind it for the looks of faces
  std::uint32_t colour = 0xC9A48C;
  Material material = {};
  std::vector<std::size_t> triangles = {};  ///< empty: all of the mesh
};
/// The part's own look first, then those of faces; looks without triangles are left out.
std::vector<OutRun> runs_of(const OutMesh& mesh);
/// The triangles of a run, in the order of the mesh.
template <typename F>
void for_triangles(const OutMesh& m, const OutRun& run, const F& f) {
  if (run.triangles.empty())
    for (const auto& t : m.mesh.triangles) f(t);
  for (const std::size_t t : run.triangles) f(m.mesh.triangles[t]);
}

/// All triangles as one mesh; with normals when all have them.
TriangleMesh merged(std::span<const OutMesh> meshes, double scale);

// The single formats, as bytes; lengths of the meshes are mm.
std::string to_3mf(std::span<const OutMesh> meshes);
std::string to_glb(std::span<const OutMesh> meshes);
std::string to_ply(std::span<const OutMesh> meshes, double scale);
std::string to_ply(const PointCloud& cloud, double scale);
std::string to_stl_text(std::span<const OutMesh> meshes, double scale);
std::string to_step_parts(std::span<const OutPart> parts);
std::string to_iges_parts(std::span<const OutPart> parts);
/// Polylines of curves and edges; each with the number of its part.
struct OutLine {
  const OutPart* part;
  std::vector<Vec3> places;
  bool closed = false;
};
/// `seen_only`: of bodies without seams and smooth joints.
std::vector<OutLine> lines_out(std::span<const OutPart> parts, double chord,
                               bool seen_only = false);
std::string to_dxf(std::span<const OutLine> lines, double scale);
std::string to_svg(std::span<const OutLine> lines);
/// At 1 : 1 in millimetres, what is hidden left out: from the front (against y), from above beneath it, from the left
/// to the right of it (first angle projection, ISO 5456-2), with the lengths of the box (ISO 129-1). Paths "front", "above"
/// and "left". Throws Cancelled.
std::string to_drawing(std::span<const OutMesh> meshes, std::span<const OutLine> lines,
                       Progress& progress);

}  // namespace evenclay
