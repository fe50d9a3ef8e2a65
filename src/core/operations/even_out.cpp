#include "core/operations/even_out.h"

#include <fmt/format.h>

#include <array>

#include "core/base/say.h"
#include "core/grid/even_out.h"
#include "core/operations/common.h"

namespace evenclay {

void EvenOutOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 3> directions{
      {{"both", "u and v"}, {"u", "u only"}, {"v", "v only"}}};
  visit_choice(v, {"along", "Along", "Directions whose spacing becomes even."}, along, directions);
  v.number({"tolerance", "Tolerance", "The greatest deviation from the shape before."}, tolerance,
           {0.0001, 100.0, "mm", 0.01, 4});
  v.toggle({"add_points", "Add points where the tolerance needs them",
            "Off keeps the counts and shows the deviation that remains."},
           add_points);
}

std::string EvenOutOperation::summary() const {
  return say("{}, within {:g} mm",
             along == EvenOutAlong::Both ? "u and v" : (along == EvenOutAlong::U ? "u" : "v"),
             tolerance);
}

Outcome EvenOutOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  Outcome outcome;
  const Body& body = faces_of(before, label());
  std::vector<Surface> result;
  for (const Surface& s : surfaces_of(body)) {
    const EvenedOut r = even_out(s,
                                 {.along_u = along != EvenOutAlong::V,
                                  .along_v = along != EvenOutAlong::U,
                                  .tolerance = tolerance,
                                  .add_points = add_points},
                                 progress);
    outcome.notes.push_back(
        say("Evenness u {:.0f} → {:.0f} %, v {:.0f} → {:.0f} %; off by at most {:.3g} mm; {} × {} "
            "control points.",
            r.before.u_percent, r.after.u_percent, r.before.v_percent, r.after.v_percent,
            r.deviation.max, r.surface.points.rows(), r.surface.points.columns()));
    if (!r.within_tolerance)
      outcome.notes.push_back(say(
          "That is more than the tolerance of {:g} mm. {}", tolerance,
          add_points ? say("Even 200 points a direction are not enough; allow a greater tolerance.")
                     : say("Let points be added, or allow a greater tolerance.")));
    result.push_back(r.surface);
  }
  outcome.shape = with_surfaces(body, std::move(result), NewParameters::Searched);
  return outcome;
}

}  // namespace evenclay
