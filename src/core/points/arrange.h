// Bringing control points into order: scale, turn, set a coordinate, level, straighten, smooth,
// relax. Each returns by how much every point would move (mm), weighted by its share; shaping.h
// turns that into a Shaping with symmetry and holds kept. Thread-safe.
#pragma once

#include "core/base/frame.h"
#include "core/points/selection.h"

namespace evenclay {

using PointShares = Grid<double>;  ///< 0..1 of each point; 0 stays

/// Scaled about a centre by a factor along each axis of the frame (its origin is the centre).
Grid<Vec3> scale(const Surface& surface, const PointShares& shares, const Frame& about,
                 const Vec3& factors);

/// Turned about an axis through `centre`; a point with half the share turns half the angle.
Grid<Vec3> turn(const Surface& surface, const PointShares& shares, const Vec3& centre,
                const Vec3& axis, double degrees);

/// The coordinate along a world axis (0 x, 1 y, 2 z) becomes `mm`.
Grid<Vec3> set_coordinate(const Surface& surface, const PointShares& shares, int axis, double mm);

/// Along the plane's normal into the plane.
struct LevelPlane {
  Vec3 origin, normal;  ///< the normal has length 1
};
Grid<Vec3> level(const Surface& surface, const PointShares& shares, const LevelPlane& plane);

/// The plane through the picked points' mean with the smallest sum of squared distances; its normal
/// is the direction of the smallest singular value. Throws Error for fewer than 3 points or points on
/// one line.
LevelPlane mean_plane(const Surface& surface, const Selection& picked);

/// The plane through three points. Throws Error when they lie on one line.
LevelPlane plane_through(const Vec3& a, const Vec3& b, const Vec3& c);

/// Onto the line between the two picked points that are farthest apart, moving within the plane
/// seen along `view` only: what is seen as a line becomes a line, depth is kept. Throws Error for
/// fewer than 3 points.
Grid<Vec3> straighten_in_view(const Surface& surface, const PointShares& shares,
                              const Selection& picked, const Vec3& view);

/// Onto the line between the first and last picked point of each row, keeping their share of the
/// way. Throws Error when no row has 3 picked points.
Grid<Vec3> straighten_rows(const Surface& surface, const PointShares& shares,
                           const Selection& picked, bool along_u);

/// One step of smoothing: each point goes the share `amount` (0..1) of the way to the mean of its
/// four neighbours, weighted by Greville spacing (nearer in the parameter weighs more). Borders stay.
Grid<Vec3> smooth(const Surface& surface, const PointShares& shares, double amount);

/// Inner points take the places of the bilinearly blended Coons net of the border rows.
/// Source: S. Coons, Surfaces for computer-aided design of space forms, 1967; G. Farin, Curves and
/// Surfaces for CAGD. Throws Error for a surface that is closed in either direction.
Grid<Vec3> relax_from_borders(const Surface& surface, const PointShares& shares);

/// The move of the points that takes the surface at (u, v) by exactly `way` with the least sum of
/// squared moves, each point counting by its share. Source: B. Fowler, R. Bartels, Constraint-based
/// curve manipulation, 1993 (from memory). Throws Error when no point with a share reaches there.
Grid<Vec3> pull_skin(const Surface& surface, const PointShares& shares, double u, double v,
                     const Vec3& way);

}  // namespace evenclay
