// Exact snapping: the move that brings a point just onto a place. What is near on the screen is the
// window's business. Thread-safe.
#pragma once

#include "core/points/shaping.h"

namespace evenclay {

/// The move in the direction of `like` that takes `leader` onto `target`, or, where the direction does
/// not lead there, to where it comes nearest: along an axis the coordinate becomes the target's, in
/// the work plane the target is seen along the plane's normal. Exact to rounding.
Move move_to(const Nets& nets, PointIndex leader, Move like, const Vec3& target);

/// The corner of a square grid of `spacing` mm on the plane's x and y that is nearest to `place`; the
/// height above the plane stays.
Vec3 grid_corner(const Frame& plane, double spacing, const Vec3& place);

/// The place of a curve that comes nearest to a line of sight, from the best of 32 samples a span by
/// golden section, to 1e-10 of its size.
CurvePlace closest_to_line(const CurveEvaluator& curve, const Vec3& origin, const Vec3& direction);

}  // namespace evenclay
