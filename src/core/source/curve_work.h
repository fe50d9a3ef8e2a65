// Work on finished curves: longer, shorter, in pieces, joined, beside themselves, laid on surfaces, between others.
// Source: The NURBS Book, chapters 5 and 9; the rest is described with each function. Thread-safe.
#pragma once

#include <functional>

#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// The curve through the places, in order: cubic, or of the highest degree that so few allow; by chord length
/// (The NURBS Book, 9.2.1). Closed ones come back without a seam (three places or more). Throws Error when
/// places next to each other coincide or there are fewer than two.
Curve curve_through(std::span<const Vec3> places, bool closed);

/// Longer (or, below 0, shorter) by `mm` at an end: the last span's polynomial goes on; the old part is unchanged.
/// Straight lengthening adds a tangent line instead. Throws Error for closed curves and when nothing would be left.
enum class CurveEnd { Begin, End };
Curve extended(const Curve& curve, CurveEnd end, double mm, bool straight);

/// The pieces between the places (parameters, in any order; outside the domain left out); of a closed curve one piece between
/// each two.
std::vector<Curve> split(const Curve& curve, std::span<const double> places);

/// Curves whose ends meet within `tolerance` joined into as few as possible; a joint whose directions
/// agree within 0.1° counts as smooth. `worst_gap` is the greatest that was closed, `left_gap` the least that was
/// not (0: none).
struct JoinedCurves {
  std::vector<Curve> curves;
  double worst_gap = 0.0, left_gap = 0.0;
  int joints = 0, corners = 0;
};
JoinedCurves joined(std::span<const Curve> curves, double tolerance);

/// The open curve closed: where its ends are within `tolerance` they become one, else a straight line
/// joins them.
Curve closed_curve(const Curve& curve, double tolerance);

/// `mm` beside the curve in the plane through `origin` with `normal`, to the right of its direction seen against the normal (below
/// 0 to the left); the curve must lie in it within `tolerance`. Fitted within `tolerance` between its places. Corners
/// (joints that are no smoother than position) are mitred. Throws Error when the plane does not hold the curve
/// or the offset is more than its least radius on that side, naming it.
Curve offset_in_plane(const Curve& curve, const Vec3& normal, double mm, double tolerance);

/// The curve carried onto the body: along a direction (both ways, to the nearest skin) or to the closest places.
/// Fitted within `tolerance`; pieces that miss the body are left out. Throws Error when all miss, Cancelled.
enum class ProjectionWay { Along, Closest };
std::vector<Curve> projected(const Curve& curve, const Body& body, ProjectionWay way,
                             const Vec3& direction, double tolerance, Progress& progress);

/// The curves in which the plane meets the body's faces, joined, fitted within `tolerance`. Throws Cancelled.
std::vector<Curve> section_curves(const Body& body, const Vec3& origin, const Vec3& normal,
                                  double tolerance, Progress& progress);

/// The exact iso-curve of a surface at u (running along v) or at v.
Curve iso_curve(const Surface& surface, Direction constant, double at);

/// A curve from an end of `a` to an end of `b` that goes on from both: with their position, tangent or
/// curvature (degree 1, 3, 5). `bulge` stretches the end directions: 1 is the distance between the ends over
/// 3 (over 5 for curvature). Conditions of the Bézier end points (G. Farin, Curves and Surfaces for CAGD,
/// chapter 11).
enum class BlendContinuity { Position, Tangent, Curvature };
struct BlendEnd {
  CurveEnd end = CurveEnd::End;
  BlendContinuity continuity = BlendContinuity::Curvature;
  double bulge = 1.0;
};
Curve blend(const Curve& a, const BlendEnd& at_a, const Curve& b, const BlendEnd& at_b);

/// A clamped cubic through a function within `tolerance`, laid on `pieces` first pieces and halved where
/// needed. For curves that are known by their places only.
Curve fitted_curve(const std::function<Vec3(double)>& place, double first, double last, int pieces,
                   double tolerance);

}  // namespace evenclay
