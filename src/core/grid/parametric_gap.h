// A quick judgement of how far a refit is off, for searches that try many grids.
#pragma once

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Compares surfaces at equal shares of their domains. Thread-safe after construction.
class ParametricGap {
 public:
  explicit ParametricGap(const Surface& surface);

  /// The greatest distance of `other` off the tangent planes of the surface, over 4 × 4 places in
  /// each span of whichever has more spans; on borders, off the border's tangent line. To first
  /// order the one-sided deviation of surfaces with the same flow.
  double to(const Surface& other) const;

 private:
  KnotVector u_, v_;
  SurfaceEvaluator evaluator_;
};

}  // namespace evenclay
