// Bending space by a lattice of control points.
// Source: T. Sederberg, S. Parry, Free-form deformation of solid geometric models, SIGGRAPH 1986, with a clamped B-spline
// lattice in place of the Bernstein one.
#pragma once

#include "core/base/progress.h"
#include "core/nurbs/lattice.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// A cage of n × m × k points (2..12 each), degree min(3, count − 1) a direction, its points at Greville places of
/// the box, so that undisturbed it changes nothing (to 1e-12 of the size). Throws Error when a length is not positive, a count is out of range, or the
/// band is not in 0..0.5.
Cage make_cage(const Frame& frame, const Vec3& size, int n, int m, int k, double band = 0.0);

/// A cage prepared for many places. Copies what it needs. Thread-safe after construction.
class CageMap {
 public:
  explicit CageMap(const Cage& cage);
  /// Where a place goes. With a band, places outside the box stay, and the bending fades in behind each wall by
  /// s(t) = 6t⁵ − 15t⁴ + 10t³, so that the shape stays C² across its border. Without one, places outside go as
  /// the nearest place of the box does.
  Vec3 operator()(const Vec3& place) const;
  bool idle() const { return idle_; }  ///< nothing has been moved

 private:
  Cage cage_;
  FlatKnots u_, v_, w_;
  Grid<Vec3> moves_;
  bool idle_ = true;
};

/// The surface whose places are those of `surface` carried by the cage, within `tolerance` mm between the places it
/// was fitted to: each span is halved `halvings` times in both directions first. `worst` is the distance left.
struct CarriedSurface {
  Surface surface;
  double worst = 0.0;
};
CarriedSurface carried(const Surface& surface, const CageMap& map, int halvings,
                       Progress& progress);

}  // namespace evenclay
