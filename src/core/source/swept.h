// Surfaces made from curves by moving them: extruded, revolved, ruled.
// Source: The NURBS Book, sections 8.3 (extrusion), 8.4 (ruled), 8.5 (revolution, A8.1).
#pragma once

#include "core/nurbs/curve.h"

namespace evenclay {

/// u runs along the curve, v from the curve moved by `from` to the curve moved by `to` with `rows` rows of
/// points (2..200, degree 1). Exact, also for rational curves. Throws Error when the way has no length.
Surface extrude(const Curve& curve, const Vec3& from, const Vec3& to, int rows = 2);

/// u runs around the axis (the frame's z), counter-clockwise, v along the profile. A whole turn is
/// periodic (8 points), less is clamped in pieces of at most a quarter turn. Exact, also for rational
/// profiles. A profile point within 1e-9 of its size from the axis is brought onto it (a pole). Throws Error when
/// `degrees` is not in (0, 360], the profile lies on the axis whole, or, lying flat with the axis, crosses it.
Surface revolve(const Curve& profile, const Frame& axis, double degrees);

/// u along the curves, v straight from the first to the second. Throws Error when they are one.
Surface ruled(const Curve& a, const Curve& b);

/// True when the surface's normals look, on the whole, towards `inside` more than away from it.
bool looks_inward(const Surface& surface, const Vec3& inside);

}  // namespace evenclay
