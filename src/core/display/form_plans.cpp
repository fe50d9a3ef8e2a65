#include "core/display/form_plans.h"

#include <algorithm>

#include "core/subdivision/refine.h"

namespace evenclay {

namespace {
constexpr std::size_t kMostKept = 8;
}

TriangleMesh FormPlans::limit(const Form& form, const DisplayQuality& quality, Progress& progress) {
  const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const Kept& k) {
    return form.links && k.links == form.links && k.chord_share == quality.chord_share;
  });
  if (found != kept_.end()) {
    kept_.splice(kept_.begin(), kept_, found);
    Kept& k = kept_.front();
    if (!k.plan || !k.plan->fits(form, k.levels))
      k.plan = std::make_unique<LimitPlan>(form, k.levels, progress);
    return k.plan->mesh(form.points);
  }
  const double chord = std::max(size(form), 1e-6) * quality.chord_share;
  const int levels = levels_for(form, chord, quality.most_triangles, progress);
  if (form.links) kept_.push_front({form.links, quality.chord_share, levels, nullptr});
  if (kept_.size() > kMostKept) kept_.pop_back();
  return limit_mesh(form, levels, progress);
}

}  // namespace evenclay
