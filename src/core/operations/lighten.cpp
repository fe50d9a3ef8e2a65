#include "core/operations/lighten.h"

#include <fmt/format.h>

#include <array>

#include "core/base/say.h"
#include "core/grid/lighten.h"
#include "core/operations/common.h"

namespace evenclay {

void LightenOperation::suit(const Beginning& b) {
  const Surface* s = first_surface(b.before);
  if (s == nullptr) return;
  degree_u = std::max(s->u.degree, 3);
  degree_v = std::max(s->v.degree, 3);
  if (s->rational()) spacing = Spacing::Even;  // see Rebuild
}

void LightenOperation::describe(ParameterVisitor& v) {
  v.number({"tolerance", "Tolerance", "The greatest deviation from the shape before."}, tolerance,
           {0.0001, 100.0, "mm", 0.01, 4});
  v.count({"degree_u", "Degree along u", "Higher is smoother; 1 gives flat facets."}, degree_u,
          {1, 11});
  v.count({"degree_v", "Degree along v", "Higher is smoother; 1 gives flat facets."}, degree_v,
          {1, 11});
  static constexpr std::array<Choice, 2> spacings{
      {{"keep_flow", "Keep the flow"}, {"even", "Even, by arc length"}}};
  visit_choice(v,
               {"spacing", "Spacing", "Keep the flow of the old grid lines, or even it out first."},
               spacing, spacings);
  static constexpr std::array<Choice, 2> kinds{
      {{"even", "Evenly spaced"}, {"uneven", "May stay where they are"}}};
  visit_choice(v,
               {"knots", "Grid lines",
                "Evenly spaced lines, or a choice of the old ones where that takes fewer points."},
               knots, kinds);
  v.count({"least_u", "At least along u",
           "Fewer control points are not taken, such as to fit a neighbour."},
          least_u, {2, 200});
  v.count({"least_v", "At least along v",
           "Fewer control points are not taken, such as to fit a neighbour."},
          least_v, {2, 200});
}

std::string LightenOperation::summary() const {
  return say("within {:g} mm", tolerance);
}

Outcome LightenOperation::apply(const Shape& before, const Inputs& inputs,
                                Progress& progress) const {
  const Body& body = faces_of(before, label());
  const std::vector<Surface> old_surfaces = surfaces_of(body);
  const std::vector<Lightened> lighter =
      lighten_together(old_surfaces,
                       {.tolerance = tolerance,
                        .degree_u = degree_u,
                        .degree_v = degree_v,
                        .uneven_knots = knots == LightenKnots::Uneven,
                        .spacing_even = spacing == Spacing::Even,
                        .least_u = least_u,
                        .least_v = least_v},
                       inputs.tolerance, progress);
  std::vector<Surface> result;
  Outcome outcome;
  for (std::size_t k = 0; k < lighter.size(); ++k) {
    const Surface& old = old_surfaces[k];
    const Surface& now = lighter[k].surface;
    outcome.notes.push_back(
        say("{} × {} control points became {} × {}, {:.0f} % of them; off by at most {:.3g} mm.",
            old.points.rows(), old.points.columns(), now.points.rows(), now.points.columns(),
            100.0 * static_cast<double>(now.points.values().size()) /
                static_cast<double>(old.points.values().size()),
            lighter[k].deviation.max));
    result.push_back(now);
  }
  outcome.shape =
      with_surfaces(body, std::move(result),
                    spacing == Spacing::Even ? NewParameters::Searched : NewParameters::Scaled);
  return outcome;
}

}  // namespace evenclay
