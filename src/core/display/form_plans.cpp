#include "core/display/form_plans.h"

#include <algorithm>

#include "core/subdivision/refine.h"

namespace evenclay {

namespace {
constexpr std::size_t kMostKept = 8;
}

// Few moved points are followed one by one; beyond a quarter of them all faces are reached anyway.
void FormPlans::bring_up_to_date(Kept& k, const Form& form) const {
  std::vector<std::uint32_t> moved;
  for (std::uint32_t p = 0; p < form.points.size(); ++p)
    if (form.points[p] != k.points[p]) moved.push_back(p);
  if (moved.empty()) return;
  if (4 * moved.size() < form.points.size())
    k.plan.update(form.points, moved, k.mesh);
  else
    k.plan.renew(form.points, k.mesh);
  k.points = form.points;
}

const TriangleMesh& FormPlans::limit(const Form& form, const DisplayQuality& quality,
                                     Progress& progress) {
  const auto found = std::find_if(kept_.begin(), kept_.end(), [&](const Kept& k) {
    return form.links && k.links == form.links && k.chord_share == quality.chord_share;
  });
  int levels = 0;
  if (found != kept_.end()) {
    kept_.splice(kept_.begin(), kept_, found);
    Kept& k = kept_.front();
    levels = k.levels;
    if (k.plan.fits(form, levels)) {
      bring_up_to_date(k, form);
      return k.mesh;
    }
    kept_.pop_front();  // creases have changed
  } else {
    const double chord = std::max(size(form), 1e-6) * quality.chord_share;
    levels = levels_for(form, chord, quality.most_triangles, progress);
  }
  TriangleMesh mesh;
  LimitPlan plan(form, levels, progress, &mesh);
  kept_.push_front(
      {std::move(plan), levels, quality.chord_share, form.links, form.points, std::move(mesh)});
  if (kept_.size() > kMostKept) kept_.pop_back();
  return kept_.front().mesh;
}

}  // namespace evenclay
