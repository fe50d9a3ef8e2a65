// Curves by their measures: arcs, ellipses, rectangles, helices.
// Source of the exact conics: The NURBS Book, sections 7.3 and 7.5.
#pragma once

#include "core/nurbs/curve.h"

namespace evenclay {

/// The circular arc from `a` through `b` to `c`, exact and rational, degree 2, in pieces of at most a
/// quarter turn, over [0, 1]. Throws Error when two of them coincide or all lie on one line (to 1e-9 of
/// their distance).
Curve make_arc(const Vec3& a, const Vec3& b, const Vec3& c);

/// Exact, closed, starting on the frame's x axis; the half axes along its x and y. Throws Error when one is
/// not positive.
Curve make_ellipse(const Frame& frame, double half_x, double half_y);

/// About the frame's origin, closed without a seam, beginning on the side at +x. With a corner radius the
/// corners are exact quarter circles (degree 2, rational), else it is a polyline. Throws Error when a length
/// is not positive or the radius is not less than half a side.
Curve make_rectangle(const Frame& frame, double length_x, double length_y, double corner);

/// About the frame's z axis from its x axis, rising by `pitch` a turn (0 allowed: a circle run through
/// again is refused), counter-clockwise for positive turns. A helix is no spline: cubic pieces of a sixteenth
/// turn lie within 2e-7 of the radius of it. Throws Error when radius, turns or rise are not usable.
Curve make_helix(const Frame& frame, double radius, double pitch, double turns);

}  // namespace evenclay
