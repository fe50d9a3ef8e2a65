#include "app/view/look_runs.h"

namespace evenclay {

const std::vector<LookRange>& LookRuns::of(const Part& part, const DisplayPart& drawn) {
  std::vector<Pick> picks;
  for (const FaceLook& l : part.face_looks) picks.push_back(l.pick);
  Kept& k = kept_[part.id];
  if (k.mesh.lock() != drawn.mesh || k.picks != picks)
    k = {drawn.mesh, std::move(picks), look_ranges(*drawn.mesh, *drawn.shape, part.face_looks)};
  return k.ranges;
}

}  // namespace evenclay
