#include "core/operations/rebuild_curve.h"

#include <fmt/format.h>

#include <array>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/operations/common.h"

namespace evenclay {

void RebuildCurveOperation::suit(const Beginning& b) {
  const auto* set = b.before ? std::get_if<CurveSet>(b.before.get()) : nullptr;
  if (set == nullptr || set->curves.empty()) return;
  points = std::clamp(set->curves.front().point_count(), 8, 60);
  if (set->curves.front().rational()) spacing = Spacing::Even;  // see Rebuild
}

void RebuildCurveOperation::describe(ParameterVisitor& v) {
  v.count({"points", "Points", "Control points of the curve."}, points, {2, 500});
  v.count({"degree", "Degree", "Higher is smoother; 1 gives a polyline."}, degree, {1, 11});
  static constexpr std::array<Choice, 2> spacings{
      {{"keep_flow", "Keep the flow"}, {"even", "Even, by arc length"}}};
  visit_choice(
      v, {"spacing", "Spacing", "Keep the flow of the old points, or space the new ones evenly."},
      spacing, spacings);
}

std::string RebuildCurveOperation::summary() const {
  return say("{} points, degree {}", points, degree);
}

CurveRebuildOptions RebuildCurveOperation::options() const {
  return {.points = points, .degree = degree, .even = spacing == Spacing::Even};
}

Outcome RebuildCurveOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  const auto* set = std::get_if<CurveSet>(&before);
  if (set == nullptr)
    throw Error(
        say("Rebuild curve works on curves. Choose a part made of curves, or use Rebuild."));
  if (set->curves.empty())
    throw Error(
        say("Rebuild curve has no curve to work on. Mend or switch on the steps below it first."));
  Outcome outcome;
  CurveSet result;
  bool rational = false;
  for (const Curve& c : set->curves) {
    rational |= c.rational();
    result.curves.push_back(rebuild(c, options(), progress));
  }
  outcome.shape = std::move(result);
  if (rational) outcome.notes.emplace_back(say("The weights from before are given up."));
  return outcome;
}

}  // namespace evenclay
