// Faces laid into planes. Only for cut/.
#pragma once

#include "core/body/body.h"

namespace evenclay {

/// The face gets a plane through `origin` with outside `out`, large enough for its edges, which lie in it; they are
/// laid in its parameters anew. The edges' walks stay.
void lay_flat(Body& body, std::size_t face, const Vec3& origin, const Vec3& out);

}  // namespace evenclay
