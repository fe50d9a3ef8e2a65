// What the caller gives those that need surfaces at a distance.
#pragma once

#include <functional>

#include "core/nurbs/surface.h"

namespace evenclay {

/// One surface whose places lie `mm` off another along du × dv, in the same parameters, within `tolerance` mm; given by
/// the caller (source/in_between.h). Throws Error.
using OffsetSurface = std::function<Surface(const Surface&, double mm)>;

}  // namespace evenclay
