#include "core/operations/rebuild.h"

#include <array>

#include "core/base/say.h"
#include "core/grid/rebuild.h"
#include "core/operations/common.h"

namespace evenclay {

void RebuildOperation::suit(const Beginning& b) {
  const Surface* s = first_surface(b.before);
  if (s == nullptr) return;
  points_u = std::clamp(s->points.rows(), 8, 40);
  points_v = std::clamp(s->points.columns(), 8, 40);
  // Exact rounds run unevenly in their parameters: even spacing meets them many times nearer.
  if (s->rational()) spacing = Spacing::Even;
}

void RebuildOperation::describe(ParameterVisitor& v) {
  v.count({"points_u", "Points along u", "Control points along u."}, points_u, {2, 200});
  v.count({"points_v", "Points along v", "Control points along v."}, points_v, {2, 200});
  v.count({"degree_u", "Degree along u", "Higher is smoother; 1 gives flat facets."}, degree_u,
          {1, 11});
  v.count({"degree_v", "Degree along v", "Higher is smoother; 1 gives flat facets."}, degree_v,
          {1, 11});
  static constexpr std::array<Choice, 2> spacings{
      {{"keep_flow", "Keep the flow"}, {"even", "Even, by arc length"}}};
  visit_choice(
      v,
      {"spacing", "Spacing", "Keep the flow of the old grid lines, or space the new ones evenly."},
      spacing, spacings);
}

std::string RebuildOperation::summary() const {
  return grid_words(points_u, points_v, degree_u, degree_v);
}

Outcome RebuildOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  bool rational = false;
  Outcome outcome = each_surface(
      before, label(),
      [&](const Surface& s) {
        rational |= s.rational();
        return rebuild(s, options(), progress);
      },
      spacing == Spacing::Even ? NewParameters::Searched : NewParameters::Scaled);
  if (rational) outcome.notes.emplace_back(say("The weights from before are given up."));
  return outcome;
}

OperationPtr RebuildOperation::with_counts(int along_u, int along_v) const {
  auto changed = std::make_shared<RebuildOperation>(*this);
  changed->points_u = along_u;
  changed->points_v = along_v;
  return changed;
}

std::vector<CountPlace> RebuildOperation::count_plot(const Shape& before,
                                                     Progress& progress) const {
  const auto* body = std::get_if<Body>(&before);
  if (body == nullptr || body->faces.empty()) return {};
  return evenclay::count_plot(*body->faces.front().surface, options(), progress);
}

RebuildOptions RebuildOperation::options() const {
  return {.points_u = points_u,
          .points_v = points_v,
          .degree_u = degree_u,
          .degree_v = degree_v,
          .even = spacing == Spacing::Even};
}

}  // namespace evenclay
