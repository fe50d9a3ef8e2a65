// Mean arc length along one direction of a surface region, and its inverse: the map that makes an
// uneven parameter even.
#pragma once

#include <span>
#include <vector>

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Part of a surface's domain. u_end may lie beyond the domain's end when u is periodic.
struct Region {
  double u_begin = 0.0, u_end = 1.0, v_begin = 0.0, v_end = 1.0;
};
Region whole(const Surface& surface);

/// s(w) = mean over 16 iso-curves (of each surface) of the arc length from the region's begin to w, divided by its
/// whole; w is u or v. Monotone, s in [0, 1], C1 between knots. Lengths by Gauss quadrature on at
/// least 256 cells that end at knots; cubic Hermite between them (error about 1e-10 of the length
/// on smooth surfaces). Throws Error when the region has no length in the direction.
/// Thread-safe after construction.
class ArcLengthMap {
 public:
  ArcLengthMap(const Surface& surface, Direction direction, const Region& region);
  /// The mean over several surfaces side by side, whose regions begin and end alike along the direction.
  ArcLengthMap(std::span<const Surface* const> surfaces, Direction direction,
               std::span<const Region> regions);

  double share_of(double parameter) const;  ///< s(w); outside the region continued linearly
  /// w(s) and its derivative dw/ds.
  struct Place {
    double parameter;
    double slope;
  };
  Place at_share(double share) const;
  double mean_length() const { return mean_length_; }  ///< mm

 private:
  std::vector<double> parameter_, share_, slope_;  ///< slope = ds/dw at each cell end
  double mean_length_ = 0.0;
};

}  // namespace evenclay
