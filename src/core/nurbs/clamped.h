// Conversion of periodic directions to clamped form, for exchange.
#pragma once

#include "core/nurbs/surface.h"

namespace evenclay {

/// The same surface with both directions clamped: end knots raised to full multiplicity by knot
/// insertion. The first and last row of a formerly periodic direction coincide exactly. A surface
/// without periodic directions is returned as it is. Shape unchanged to 1e-13 × size.
/// Source: The NURBS Book A5.1 (knot insertion), carried out by blossoming of each span's ends.
Surface clamped(const Surface& surface);

}  // namespace evenclay
