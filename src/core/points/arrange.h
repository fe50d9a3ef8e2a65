// Bringing control points into order: scale, turn, set a coordinate, level, straighten, smooth,
// relax, pull the skin. Each returns by how much every point would move (mm), weighted by its share;
// shaping.h turns that into a Shaping with symmetry and holds kept. Thread-safe.
#pragma once

#include "core/base/frame.h"
#include "core/points/selection.h"

namespace evenclay {

/// Scaled about a centre by a factor along each axis of the frame (its origin is the centre).
PointMoves scale(const Nets& nets, const PointShares& shares, const Frame& about,
                 const Vec3& factors);

/// Turned about an axis through `centre`; a point with half the share turns half the angle.
PointMoves turn(const Nets& nets, const PointShares& shares, const Vec3& centre, const Vec3& axis,
                double degrees);

/// The coordinate along a world axis (0 x, 1 y, 2 z) becomes `mm`.
PointMoves set_coordinate(const Nets& nets, const PointShares& shares, int axis, double mm);

/// Along the plane's normal into the plane.
struct LevelPlane {
  Vec3 origin, normal;  ///< the normal has length 1
};
PointMoves level(const Nets& nets, const PointShares& shares, const LevelPlane& plane);

/// The plane through the picked points' mean with the smallest sum of squared distances; its normal
/// is the direction of the smallest singular value. Throws Error for fewer than 3 points or points on
/// one line.
LevelPlane mean_plane(const Nets& nets, const Selection& picked);

/// The plane through three points. Throws Error when they lie on one line.
LevelPlane plane_through(const Vec3& a, const Vec3& b, const Vec3& c);

/// Onto the line between the two picked points that are farthest apart, moving within the plane
/// seen along `view` only: what is seen as a line becomes a line, depth is kept. Throws Error for
/// fewer than 3 points.
PointMoves straighten_in_view(const Nets& nets, const PointShares& shares, const Selection& picked,
                              const Vec3& view);

/// Onto the line between the first and last picked point of each row, keeping their share of the
/// way. Throws Error when no row has 3 picked points.
PointMoves straighten_rows(const Nets& nets, const PointShares& shares, const Selection& picked,
                           int direction);

/// One step of smoothing: each point goes the share `amount` (0..1) of the way to the mean of its
/// neighbours in each direction, weighted by Greville spacing (nearer in the parameter weighs more).
/// Borders stay.
PointMoves smooth(const Nets& nets, const PointShares& shares, double amount);

/// Inner points take the places of the bilinearly blended Coons net of the border rows.
/// Source: S. Coons, Surfaces for computer-aided design of space forms, 1967; G. Farin, Curves and
/// Surfaces for CAGD. Of a curve the points between its ends go onto the line between them, by
/// Greville spacing. Throws Error for what is closed in a direction, and for cages.
PointMoves relax_from_borders(const Nets& nets, const PointShares& shares);

/// A place on the skin of a part: number of the net and its own parameters; v is not used of curves.
struct SkinPlace {
  int net = 0;
  double u = 0.0, v = 0.0;
};
/// The point there.
Vec3 skin_point(const Nets& nets, const SkinPlace& place);

/// The move of the points that takes the skin at a place by exactly `way` with the least sum of
/// squared moves, each point counting by its share. Source: B. Fowler, R. Bartels, Constraint-based
/// curve manipulation, 1993 (from memory). Throws Error when no point with a share reaches there.
PointMoves pull_skin(const Nets& nets, const PointShares& shares, const SkinPlace& place,
                     const Vec3& way);

}  // namespace evenclay
