// How two surfaces meet along an edge.
#pragma once

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// Measured at places along the edge of the first surface, each against the nearest place of the
/// other's edge.
struct Continuity {
  double gap = 0.0;  ///< mm, greatest distance of the edges (G0)
  double angle =
      0.0;  ///< degrees, greatest between the normals (G1); turned-over normals count alike
  /// Greatest difference of the normal curvatures across the joint, as a share of the greater one
  /// (G2); 0 where both are below 1e-4 /mm.
  double curvature = 0.0;
  /// The same for the change of that curvature along the surface (G3), 0 where both are below 1e-5
  /// /mm².
  double change = 0.0;
  /// Greatest of 0..3 that all thresholds allow, −1 for a gap.
  int level = -1;
};

/// G0 gap, G1 angle, G2 and G3 share that still count as continuous.
struct ContinuityLimits {
  double gap = 0.01;   ///< mm
  double angle = 0.1;  ///< degrees
  double curvature = 0.05;
  double change = 0.05;
};

/// The joint of edge `of_a` of `a` with edge `of_b` of `b` at `places` places (>= 2). The change of
/// curvature is taken from the curvature of the section across the joint at small steps inside, so it
/// is good to about 1e-4 of itself. Throws Error when an edge has no length (a pole, a closed
/// direction), Cancelled.
Continuity continuity(const Surface& a, Border of_a, const Surface& b, Border of_b,
                      Progress& progress, int places = 100, const ContinuityLimits& limits = {});

/// A place of a joint, seen from its two faces: parameters on both surfaces, the unit direction of the edge, and
/// about where it leads into the second one.
struct JointPlace {
  const Surface* a = nullptr;
  const Surface* b = nullptr;
  double ua = 0.0, va = 0.0, ub = 0.0, vb = 0.0;
  Vec3 along, into_b;
};
/// Takes one more place into a joint's measure; `step` (mm) as above, about 2e-4 of the size. Returns how bad this
/// place is: its angle in degrees.
double measure(Continuity& joint, const JointPlace& place, double step);
/// The level that all that was measured allows.
void settle(Continuity& joint, const ContinuityLimits& limits = {});

}  // namespace evenclay
