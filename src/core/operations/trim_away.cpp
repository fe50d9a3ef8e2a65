#include "core/operations/trim_away.h"

#include <fmt/format.h>

#include <array>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/cut/edge_edit.h"
#include "core/operations/common.h"
#include "core/operations/curves.h"

namespace evenclay {

void TrimAwayOperation::suit(const Beginning& b) {
  curve = other_curve(b);
  if (b.view) carried.view = *b.view;
}

void TrimAwayOperation::describe(ParameterVisitor& v) {
  v.part({"curve", "Curve", "The part with the closed curve that cuts."}, curve);
  carried.describe(v);
  static constexpr std::array<Choice, 4> reaches{{{"both", "Both ways, through all"},
                                                  {"forwards", "Forwards only"},
                                                  {"backwards", "Backwards only"},
                                                  {"first", "To the first skin"}}};
  visit_choice(v, {"reach", "Reach", "How far the cut goes from where the curve lies."}, reach,
               reaches);
  static constexpr std::array<Choice, 2> sides{
      {{"outside", "What is outside"}, {"inside", "What is inside"}}};
  visit_choice(v, {"keep", "Keep", "Which side of the curve stays."}, keep, sides);
}

std::string TrimAwayOperation::summary() const {
  return keep == TrimKeep::Outside ? "opening" : "the inside kept";
}

Outcome TrimAwayOperation::apply(const Shape& before, const Inputs& inputs,
                                 Progress& progress) const {
  const Body& body = faces_of(before, label());
  if (curve.empty())
    throw Error(
        say("Trim away has no curve yet. Choose a part with a closed curve in its settings."));
  const auto* set = std::get_if<CurveSet>(inputs.parts.at(curve).get());
  if (set == nullptr || set->curves.empty())
    throw Error(
        say("The part that should cut has no curve. Choose a part made of a closed curve."));
  const TrimOptions o{.direction = carried.along(set->curves.front()),
                      .keep = keep,
                      .reach = reach,
                      .step = inputs.step};
  Trimmed trimmed = trim(body, set->curves, o, progress);
  const double gap = greatest_gap(trimmed.body);
  std::string note =
      say_of(static_cast<std::size_t>(trimmed.pieces_taken),
             "{} piece was taken away; edges lie within {:.3f} mm of their surfaces.",
             "{} pieces were taken away; edges lie within {:.3f} mm of their surfaces.",
             trimmed.pieces_taken, std::max(gap, 0.001));
  return {std::move(trimmed.body), {std::move(note)}};
}

}  // namespace evenclay
