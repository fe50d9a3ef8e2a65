// Plans of the limits of forms that are drawn again and again while their points move.
#pragma once

#include <list>

#include "core/display/display.h"
#include "core/subdivision/limit_plan.h"

namespace evenclay {

/// Not thread-safe: belongs to the thread that draws.
class FormPlans {
 public:
  /// The limit within the quality; valid until the next call. When only places have changed since it was asked for last,
  /// what they reach is evaluated again, and the subdivisions stay as many as they were.
  const TriangleMesh& limit(const Form& form, const DisplayQuality& quality, Progress& progress);

 private:
  struct Kept {
    LimitPlan plan;
    int levels = 0;
    double chord_share = 0.0;
    std::shared_ptr<const FormLinks> links;
    std::vector<Vec3> points;  // that `mesh` is of
    TriangleMesh mesh;
  };
  void bring_up_to_date(Kept& kept, const Form& form) const;
  std::list<Kept> kept_;  // the one used last first
};

}  // namespace evenclay
