// Plans of the limits of forms that are drawn again and again while their points move.
#pragma once

#include <list>

#include "core/display/display.h"
#include "core/subdivision/limit_plan.h"

namespace evenclay {

/// Not thread-safe: belongs to the thread that draws.
class FormPlans {
 public:
  /// The limit within the quality. A form drawn once is worked out plainly; when only its places have changed the next
  /// time, a plan is made, which serves from then on.
  TriangleMesh limit(const Form& form, const DisplayQuality& quality, Progress& progress);

 private:
  struct Kept {
    std::shared_ptr<const FormLinks> links;
    double chord_share = 0.0;
    int levels = 0;
    std::unique_ptr<LimitPlan> plan;
  };
  std::list<Kept> kept_;  // the one used last first
};

}  // namespace evenclay
