#include "core/operations/batch.h"

#include <algorithm>
#include <map>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/document/evaluator.h"
#include "core/grid/lighten.h"
#include "core/operations/lighten.h"
#include "core/operations/rebuild.h"

namespace evenclay {

namespace {

// The surfaces below each step, and whose they are.
struct Gathered {
  std::vector<Surface> surfaces;
  std::vector<std::size_t> step;  // of each surface
};

Gathered surfaces_below(const Document& d, std::span<const StepId> steps, Progress& progress) {
  const Evaluation e = Evaluator().evaluate(d, progress);
  Gathered result;
  for (std::size_t k = 0; k < steps.size(); ++k) {
    const Part* part = part_of_step(d, steps[k]);
    if (part == nullptr)
      throw Error(say("A step of the parts worked on together is no longer there."));
    std::size_t place = 0;
    while (part->steps[place].id != steps[k]) ++place;
    if (place == 0) continue;
    const auto* body = std::get_if<Body>(e.parts.at(part->id).steps[place - 1].shape.get());
    if (body == nullptr) continue;
    for (const Surface& s : surfaces_of(*body)) {
      result.surfaces.push_back(s);
      result.step.push_back(k);
    }
  }
  return result;
}

// What a group of linked directions is rebuilt to: the first word on it counts.
struct Wanted {
  int points, degree;
};

Document rebuild_alike(const Document& document, std::span<const StepId> steps, const Gathered& g,
                       const std::vector<std::array<int, 2>>& group) {
  std::map<int, Wanted> wanted;
  Document d = document;
  for (std::size_t k = 0; k < g.surfaces.size(); ++k) {
    const StepId id = steps[g.step[k]];
    const auto* old = dynamic_cast<const RebuildOperation*>(find_step(d, id)->operation.get());
    if (old == nullptr) continue;
    const Wanted u =
        wanted.emplace(group[k][0], Wanted{old->points_u, old->degree_u}).first->second;
    const Wanted v =
        wanted.emplace(group[k][1], Wanted{old->points_v, old->degree_v}).first->second;
    auto changed = std::make_shared<RebuildOperation>(*old);
    changed->points_u = u.points;
    changed->degree_u = u.degree;
    changed->points_v = v.points;
    changed->degree_v = v.degree;
    d = with_operation(d, id, changed);
  }
  return d;
}

Document lighten_alike(const Document& document, std::span<const StepId> steps, const Gathered& g,
                       const LightenOperation& first, Progress& progress) {
  const std::vector<Lightened> all =
      lighten_together(g.surfaces,
                       {.tolerance = first.tolerance,
                        .degree_u = first.degree_u,
                        .degree_v = first.degree_v,
                        .spacing_even = first.spacing == Spacing::Even},
                       document.settings.tolerance, progress);
  Document d = document;
  for (std::size_t k = 0; k < g.surfaces.size(); ++k) {
    const StepId id = steps[g.step[k]];
    const auto* old = dynamic_cast<const LightenOperation*>(find_step(d, id)->operation.get());
    if (old == nullptr) continue;
    auto changed = std::make_shared<LightenOperation>(*old);
    changed->knots = LightenKnots::Even;
    changed->least_u = std::max(changed->least_u, all[k].surface.points.rows());
    changed->least_v = std::max(changed->least_v, all[k].surface.points.columns());
    d = with_operation(d, id, changed);
  }
  return d;
}

}  // namespace

BatchSteps with_step_on(const Document& document, std::span<const PartId> parts,
                        const OperationPtr& operation) {
  BatchSteps result{document, {}};
  for (const PartId part : parts) {
    Added added = with_step(result.document, part, operation);
    result.document = std::move(added.document);
    result.steps.push_back(added.step);
  }
  return result;
}

Document with_common_borders(const Document& document, std::span<const StepId> steps,
                             Progress& progress) {
  if (steps.size() < 2) return document;
  const Step* first = find_step(document, steps.front());
  if (first == nullptr)
    throw Error(say("A step of the parts worked on together is no longer there."));
  const Gathered g = surfaces_below(document, steps, progress);
  if (dynamic_cast<const RebuildOperation*>(first->operation.get()) != nullptr)
    return rebuild_alike(document, steps, g,
                         linked_directions(g.surfaces, document.settings.tolerance));
  if (const auto* lighten = dynamic_cast<const LightenOperation*>(first->operation.get()))
    return lighten_alike(document, steps, g, *lighten, progress);
  return document;
}

}  // namespace evenclay
