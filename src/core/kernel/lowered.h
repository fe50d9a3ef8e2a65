// What the B-rep kernel gives in degrees above ours, in lower ones.
#pragma once

#include <Geom_BSplineSurface.hxx>

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay::kernel {

/// The surface over the same parameters in degrees of at most kMaxDegree: a least-squares fit in degree 5 of each
/// direction whose degree is higher (of both when it has weights), as smooth at its knots as the given one, spans halved
/// until it lies within 1e-7 of its size. The kernel's roundings come in degrees up to 13.
/// The surface must not be periodic. Throws Error when that takes more than 200 000 points, Cancelled.
Surface lowered(const Handle(Geom_BSplineSurface) & surface, Progress& progress);

}  // namespace evenclay::kernel
