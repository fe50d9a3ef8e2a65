// Knot operations as sparse matrices of blossom values: one row for each new control point of a
// line, applied to all lines of a surface at once.
// Source: T. Lyche, E. Cohen, R. Riesenfeld, Discrete B-splines and subdivision techniques, 1980
// (the coefficients of refinement, all in [0, 1]); L. Ramshaw, Blossoms are polar forms, 1989
// (control points as blossom values; degree raising as their mean).
#pragma once

#include <span>
#include <vector>

#include "core/nurbs/surface.h"

namespace evenclay {

/// new point r = sum over k in [begin[r], begin[r + 1]) of value[k] * old point(point[k]).
struct LineMatrix {
  std::vector<std::size_t> begin{0};
  std::vector<int> point;
  std::vector<double> value;

  int rows() const { return static_cast<int>(begin.size()) - 1; }
};

/// Control points on `to` of any spline on `from`: same degree, every knot of `from` inside the
/// domain also in `to` (bit for bit) at least as often. A periodic `from` may become clamped over
/// the same domain. Rows are convex combinations, so no digits are lost. Thread-safe.
LineMatrix refinement(const KnotVector& from, const KnotVector& to);

/// The same for one degree more; `to` must be raised_knots(from).
LineMatrix raising(const KnotVector& from, const KnotVector& to);
KnotVector raised_knots(const KnotVector& knots);

/// The last `degree` points of a clamped line whose end knots move to `end`, the polynomial of the
/// last span being carried on (or cut back, inside the last span).
LineMatrix end_moved(const KnotVector& from, double end);

/// The surface with `matrix` applied to every line along `direction`, on the knots `to`. Rational
/// surfaces are treated in homogeneous form. Throws WeightError when a weight would not stay positive.
Surface applied(const LineMatrix& matrix, const Surface& surface, Direction direction,
                const KnotVector& to);

}  // namespace evenclay
