// Exact changes of a surface's knots and degree, and the small tools around them. All return a new
// surface of the same shape unless said otherwise; shapes agree to 1e-12 × size.
// Source: The NURBS Book, chapter 5, by way of line_matrix.h. Thread-safe.
#pragma once

#include <span>
#include <utility>

#include "core/nurbs/surface.h"

namespace evenclay {

const KnotVector& knots_of(const Surface& surface, Direction direction);

/// Adds the given knots (inside the domain, in any order; equal ones add multiplicity). Throws
/// Error when a knot lies outside, would occur more often than the degree, or the count of points
/// would pass kMaxPoints.
Surface insert_knots(const Surface& surface, Direction direction, std::span<const double> knots);

/// The middle of every span is added.
Surface insert_halfway(const Surface& surface, Direction direction);

/// Takes away one copy of the inner knot nearest to `at`. The points beside it are refitted by
/// least squares on the control net, all others stay; a knot that is not needed is removed exactly.
/// Throws Error when the direction has no inner knot. The seam of a periodic direction stays.
Surface remove_knot(const Surface& surface, Direction direction, double at);

/// Raises the degree, 1..11; where both directions are raised, v first is quicker. Throws Error when `degree` is
/// lower than the surface's.
Surface raise_degree(Surface surface, Direction direction, int degree);

/// The two parts on both sides of `at`. Throws Error when the direction is periodic (open it
/// first) or `at` is not inside.
std::pair<Surface, Surface> split(const Surface& surface, Direction direction, double at);

/// A periodic direction made clamped, its ends meeting at `at`; a clamped one is returned as it is.
Surface opened(const Surface& surface, Direction direction, double at);

/// A clamped direction made periodic. The end rows must meet within `tolerance` mm and are made one
/// (their mean); the seam keeps as many knots as its smoothness needs within `tolerance`. Throws
/// Error with the gap.
Surface closed(const Surface& surface, Direction direction, double tolerance);

/// u or v runs the other way over the same domain; the normal turns over.
Surface reversed(const Surface& surface, Direction direction);

/// The domain becomes [first, last], first < last.
Surface reparameterised(const Surface& surface, Direction direction, double first, double last);

}  // namespace evenclay
