// Integrals of products of basis functions, from which energies of surfaces are made.
#pragma once

#include "core/base/grid.h"
#include "core/nurbs/knot_vector.h"

namespace evenclay {

/// ∫ N_i⁽ᵏ⁾ N_j⁽ᵏ⁾ over the domain as if it were `length` mm long, for all pairs of control points; `order` k is 0..3. Gauss-Legendre
/// with 8 points a span, exact up to degree 7. Zero above the degree.
Grid<double> gram(const KnotVector& knots, double length, int order);

}  // namespace evenclay
