// Conversion of periodic directions to clamped form, for exchange.
#pragma once

#include "core/nurbs/surface.h"

namespace evenclay {

/// The same surface with both directions clamped: end knots raised to full multiplicity by knot
/// insertion (line_matrix.h). The first and last row of a formerly periodic direction coincide
/// exactly. A surface without periodic directions is returned as it is. Shape unchanged to
/// 1e-13 × size. Source: The NURBS Book A5.1 (knot insertion).
Surface clamped(const Surface& surface);

/// The same for one direction.
Surface clamped_along(const Surface& surface, Direction direction);

}  // namespace evenclay
