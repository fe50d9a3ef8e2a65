// Where a surface turns its outside in.
#pragma once

#include <optional>

#include "core/nurbs/surface.h"

namespace evenclay {

/// A place where the surface folds back on itself: where of 32 × 32 even places of its domain two neighbours look apart by
/// more than 135°, the pair that looks most apart. Creases are blunter, and poles are passed over. Nothing where there is
/// none. All places are evaluated at once, quick enough for each answer of a drag.
std::optional<Vec3> fold_of(const Surface& surface);

}  // namespace evenclay
