// The room that smooth surfaces mirror; the shader of the look Presentation draws the same one.
#pragma once

#include "core/base/vec3.h"

namespace evenclay {

/// Red, green and blue (0..1, lights a little above) seen along a unit direction in the world; `blur` 0 is a mirror's view, 1 a
/// dull surface's.
Vec3 studio_room(const Vec3& direction, double blur);

}  // namespace evenclay
