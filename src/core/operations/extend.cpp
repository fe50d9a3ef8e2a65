#include "core/operations/extend.h"

#include <fmt/format.h>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/grid/extend.h"
#include "core/operations/common.h"

namespace evenclay {

void ExtendOperation::suit(const Beginning& b) {
  if (const Surface* s = first_surface(b.before))
    all = std::clamp(std::round(0.05 * size(*s)), 1.0, 20.0);
}

void ExtendOperation::describe(ParameterVisitor& v) {
  const auto edge = [&](std::string_view name, std::string_view text, std::string_view help,
                        double& mm) {
    v.number({name, text, help}, mm, {-10000.0, 10000.0, "mm", 0.5, 3});
  };
  edge("all", "All free edges", "Every edge that is neither closed nor a pole; negative shrinks.",
       all);
  edge("u_begin", "Where u begins", "Added to the length for all edges; negative shrinks.",
       u_begin);
  edge("u_end", "Where u ends", "Added to the length for all edges; negative shrinks.", u_end);
  edge("v_begin", "Where v begins", "Added to the length for all edges; negative shrinks.",
       v_begin);
  edge("v_end", "Where v ends", "Added to the length for all edges; negative shrinks.", v_end);
  describe_face(v, on);
}

std::string ExtendOperation::summary() const {
  if (u_begin == 0.0 && u_end == 0.0 && v_begin == 0.0 && v_end == 0.0)
    return all == 0.0 ? "no edge yet" : say("all edges {:+g} mm", all);
  return fmt::format("u {:+g} {:+g}, v {:+g} {:+g} mm", all + u_begin, all + u_end, all + v_begin,
                     all + v_end);
}

Outcome ExtendOperation::apply(const Shape& before, const Inputs& inputs,
                               Progress& progress) const {
  const Body& body = faces_of(before, label());
  const FacePlace at = located(body, on);
  const std::size_t face = at.face;
  const Surface& s = *body.faces[face].surface;
  ExtendOptions o{{u_begin, u_end, v_begin, v_end}, inputs.tolerance};
  for (std::size_t e = 0; e < kBorders.size(); ++e) {
    const bool closed = e < 2 ? s.u.periodic : s.v.periodic;
    if (!closed && !is_pole(s, kBorders[e], 1e-9)) o.lengths[e] += all;
  }
  const Extended extended = extend(s, o, progress);
  Outcome outcome;
  if (!at.note.empty()) outcome.notes.push_back(at.note);
  if (extended.unweighted)
    outcome.notes.push_back(say(
        "Its weights could not be carried on; it goes on without weights, {:.2g} mm off at most, "
        "with {} × {} control points.",
        extended.unweighted->max, extended.surface.points.rows(),
        extended.surface.points.columns()));
  for (const double mm : o.lengths)
    if (mm > 0.0) {
      outcome.notes.push_back(say(
          "Across the old edges the surface goes on with the same curvature: gap {:.1g} mm, angle "
          "{:.1g}°, difference of curvature {:.1g} %.",
          extended.gap, extended.angle, 100.0 * extended.curvature_share));
      break;
    }
  // The old region keeps its parameters, so loops stay where they are.
  Body result = body;
  result.faces[face].surface = std::make_shared<const Surface>(extended.surface);
  if (result.faces[face].trimmed()) refresh_edges(result, {face});
  outcome.shape = std::move(result);
  return outcome;
}

}  // namespace evenclay
