// Writing shapes to files of other programs.
#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/document/shape.h"

namespace evenclay {

/// Endings that export_shape() knows, such as ".stl"; for file choosers and messages.
std::vector<std::string> export_endings();

struct ExportOptions {
  std::string name = "part";  ///< put into formats that hold names
  double chord = 0.01;        ///< mm; greatest distance of triangles from surfaces in mesh formats
};

/// Format by ending: .stl (binary), .obj, .step/.stp, .surface.json. Written atomically.
/// Curves go into .step and .surface.json. Throws Error when the shape is empty or its kind does not fit the format, FileError when the
/// file cannot be written, Cancelled.
void export_shape(const Shape& shape, const std::filesystem::path& file,
                  const ExportOptions& options, Progress& progress);

/// One mesh of the whole shape; surfaces within `chord`. Closed bodies give watertight meshes: joined
/// faces share the vertices of their common edges.
TriangleMesh mesh_of(const Shape& shape, double chord, Progress& progress);

/// How finely triangles follow a shape: within `chord` mm, and the shape's normals at two corners of a triangle within `angle`
/// degrees of each other (0: any), but where no triangle is small enough (at poles of cones, and creases inside a face) and
/// beyond 256 triangles a span.
struct Fineness {
  double chord = 0.01;
  double angle = 0.0;
};
/// Throws Error when the angle would take more than two million triangles.
TriangleMesh mesh_of(const Shape& shape, const Fineness& fineness, Progress& progress);
/// The same of a body; `faces` gets the face of each triangle.
TriangleMesh mesh_of(const Body& body, const Fineness& fineness, std::vector<std::uint32_t>& faces,
                     Progress& progress);

// The single formats, as bytes.
std::string to_stl(const TriangleMesh& mesh, const std::string& name);
std::string to_obj(const TriangleMesh& mesh, const std::string& name);
/// The plainest dump there is; see docs/runner.md. Periodic directions are written clamped.
std::string to_surface_json(const Body& body);
/// {"curves": [{"degree", "knots", "points", "weights", "closed"}]}, written clamped.
std::string to_curve_json(const CurveSet& set);
/// ISO 10303-214, through the B-rep kernel. Closed surfaces become solids. Throws Error.
std::string to_step(const Body& body, const std::string& name);
std::string to_step(const CurveSet& set, const std::string& name);

}  // namespace evenclay
