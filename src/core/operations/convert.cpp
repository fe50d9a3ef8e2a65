#include "core/operations/convert.h"

#include <fmt/format.h>

#include <array>

#include "core/base/angles.h"
#include "core/base/say.h"
#include "core/check/measures.h"
#include "core/nurbs/projection.h"
#include "core/operations/common.h"
#include "core/scan/mesh_convert.h"
#include "core/source/convert.h"

namespace evenclay {

void ConvertOperation::describe(ParameterVisitor& v) {
  v.count({"points_u", "Points along u", "Control points of each new surface."}, points_u,
          {4, 200});
  v.count({"points_v", "Points along v", "Control points of each new surface."}, points_v,
          {4, 200});
  v.number({"sharp", "Sharp from", "Of a mesh: an edge sharper than this parts two surfaces."},
           sharp, {1.0, 180.0, "°", 5.0, 0});
  v.number({"smoothing", "Smoothing",
            "Of a mesh: 0 follows every point, 100 bends as little as it can."},
           smoothing, {0.0, 100.0, "%", 5.0, 1});
}

std::string ConvertOperation::summary() const {
  return grid_words(points_u, points_v, 3, 3);
}

Outcome ConvertOperation::convert(const TriangleMesh& mesh, int step, Progress& progress) const {
  const MeshConverted made =
      converted(mesh, {points_u, points_v, radians(sharp), smoothing / 100.0, step}, progress);
  const std::size_t faces = made.body.faces.size();
  std::vector<std::string> notes{
      say_of(faces, "The mesh became {} surface: at most {:.4f} mm off it, {:.4f} mm on average.",
             "The mesh became {} surfaces: at most {:.4f} mm off it, {:.4f} mm on average. They "
             "are not joined.",
             faces, made.max, made.mean)};
  if (made.trimmed > 0)
    notes.push_back(say_of(static_cast<std::size_t>(made.trimmed),
                           "{} of them is cut to the border of its region.",
                           "{} of them are cut to the borders of their regions.", made.trimmed));
  if (made.left_out > 0)
    notes.push_back(say_of(static_cast<std::size_t>(made.left_out),
                           "Left out: {} region too narrow for a surface.",
                           "Left out: {} regions too narrow for a surface.", made.left_out));
  return {made.body, std::move(notes)};
}

Outcome ConvertOperation::apply(const Shape& before, const Inputs& inputs,
                                Progress& progress) const {
  if (const auto* mesh = std::get_if<TriangleMesh>(&before))
    return convert(*mesh, inputs.step, progress);
  const Body& body = faces_of(before, label());
  Body result;
  std::array<int, 4> counts{};
  double worst = 0.0;
  for (std::size_t k = 0; k < body.faces.size(); ++k) {
    progress.check();
    progress.report(static_cast<double>(k) / static_cast<double>(body.faces.size()));
    const Face& old = body.faces[k];
    Progress inner;
    Converted made = converted(old, body, points_u, points_v, inner);
    ++counts[static_cast<std::size_t>(made.how)];
    Face face;
    face.tag = old.tag;
    face.flipped = old.flipped;
    face.surface = std::make_shared<const Surface>(std::move(made.surface));
    // Where trims are lost the new surface is larger; then only the way from the old face counts.
    if (made.how == Conversion::FourBorders || made.how == Conversion::Unweighted) {
      Body one;
      one.faces = {old};
      one.edges = body.edges;
      worst = std::max(worst, deviation(one, body_of({*face.surface}), progress, 4).max);
      // A patch between edges may run round the other way.
      const Surface& s = *face.surface;
      if (made.how == Conversion::FourBorders) {
        const Vec3 middle = evaluate(s, 0.5, 0.5);
        const SurfaceProjector onto(*old.surface);
        const Projection at = onto.closest(middle);
        if (dot(normal(s, 0.5, 0.5), normal(*old.surface, at.u, at.v)) < 0.0)
          face.flipped = !old.flipped;
      }
    }
    result.faces.push_back(std::move(face));
  }
  std::vector<std::string> notes;
  const auto add = [&](Conversion how, const std::string& what) {
    if (const int n = counts[static_cast<std::size_t>(how)]; n > 0)
      notes.push_back(say("{} of {} surfaces: {}.", n, body.faces.size(), what));
  };
  add(Conversion::FourBorders, say("their four edges are borders now"));
  add(Conversion::Unweighted, say("their weights are given up"));
  add(Conversion::TrimsLost, say("their trims are lost, and they reach beyond them"));
  add(Conversion::Unchanged, say("editable already, unchanged"));
  notes.push_back(say("They are at most {:.4f} mm off where edges or shapes were kept.", worst));
  return {std::move(result), std::move(notes)};
}

}  // namespace evenclay
