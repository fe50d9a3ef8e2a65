// A form moved as a whole.
#pragma once

#include "core/body/body.h"

namespace evenclay {

/// The body moved by `way` (mm). Tags, parameters and loops stay. Throws Error when `way` is no number.
Body shifted(const Body& body, const Vec3& way);

}  // namespace evenclay
