// Plane sections of surfaces, with their curvature.
#pragma once

#include <vector>

#include "core/check/comb.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

struct SectionPlane {
  Vec3 origin, normal;  ///< the normal has length 1
};

/// One run of a section: places on the surface in order, each within 1e-9 × size of the plane.
struct SectionRun {
  std::vector<Parameter> at;
  bool closed = false;  ///< the last place is followed by the first
};

/// Where a surface meets a plane: found on a grid of `per_span` × `per_span` cells a span (runs that
/// hide inside one cell are missed), then each place refined by Newton's method along the gradient of
/// the distance. Places where the surface touches the plane without crossing it are left out.
std::vector<SectionRun> section(const Surface& surface, const SectionPlane& plane,
                                int per_span = 8);

/// The comb of one run: the curvature vector of the section, from the normal curvature in its
/// direction by Meusnier's theorem (M. do Carmo, Differential Geometry of Curves and Surfaces, 1976,
/// section 3-2). Places where the plane is tangent to the surface have no tooth. At a pole, where the
/// parameters have no direction, the comb has the limits from both sides.
Comb section_comb(const Surface& surface, const SectionPlane& plane, const SectionRun& run);

}  // namespace evenclay
