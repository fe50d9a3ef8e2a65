// All faces of a body at a distance, for thicken.h and split.h.
#pragma once

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/cut/offset_surface.h"

namespace evenclay {

/// The same faces and edges on surfaces that lie `mm` off along their outside. Faces that meet smoothly still do; at
/// other edges they come apart, as the gaps of the result say. Throws what `offset` throws; Cancelled.
Body offset_body(const Body& body, double mm, const OffsetSurface& offset, Progress& progress);

}  // namespace evenclay
