// Set degree: exact upwards, measured downwards.
#pragma once

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// The surface with the given degrees, 1..11. Raising a direction keeps the shape to 1e-12 × size
/// (nurbs/knot_operations.h). Lowering refits on the same spans with as much smoothness at each
/// knot as before where the degree allows it; weights are kept. A surface that was raised before
/// comes back to 1e-10 × size. Throws Error, Cancelled.
Surface set_degree(const Surface& surface, int degree_u, int degree_v, Progress& progress);

}  // namespace evenclay
