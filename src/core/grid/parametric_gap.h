// A quick judgement of how far a refit is off, for searches that try many grids.
#pragma once

#include "core/nurbs/projection.h"

namespace evenclay {

/// Compares surfaces at equal shares of their domains. Thread-safe after construction.
class ParametricGap {
 public:
  explicit ParametricGap(const Surface& surface);

  /// The greatest distance of `other` off the tangent planes of the surface, over 4 × 4 places in
  /// each span of whichever has more spans; on borders, off the border's tangent line. To first
  /// order the one-sided deviation of surfaces with the same flow.
  double to(const Surface& other) const;

  /// True when `other` is farther off than `mm` at one of the places where to() finds it farthest,
  /// measured to the foot on the surface that is nearest in the parameter: then the deviation is
  /// greater, too. False says nothing.
  bool exceeds(const Surface& other, double mm) const;

 private:
  struct Place {
    double gap = 0.0;
    Parameter at;  // on the surface
    Vec3 other;
  };
  template <typename Take>
  void compare(const Surface& other, const Take& take) const;

  KnotVector u_, v_;
  SurfaceProjector projector_;  // for feet near a seed
};

}  // namespace evenclay
