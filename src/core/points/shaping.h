// Point shaping as a value: what was done to the points of a grid, kept apart from the grid.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/points/selection.h"

namespace evenclay {

/// Displacements (mm) and weight factors on the grid they were made on. Sizes fit u and v;
/// weight_factors is empty when all are 1. An empty value (no knots) changes nothing.
struct Shaping {
  KnotVector u, v;
  Grid<Vec3> displacements;
  Grid<double> weight_factors;

  bool empty() const { return displacements.empty(); }
  double weight_factor(int i, int j) const {
    return weight_factors.empty() ? 1.0 : weight_factors(i, j);
  }
  bool operator==(const Shaping&) const = default;
};

/// No displacement on the grid of `surface`.
Shaping no_shaping(const Surface& surface);

/// Throws Error when sizes do not fit or a number is not finite or a factor not positive.
void check(const Shaping& shaping);

/// The shaping on the grid of `below`. On the grid it was made on it is unchanged. On another grid
/// the shape is kept: `below` is brought back onto the old grid (nurbs/refit.h), shaped there as it
/// was, and that shape refitted on the new grid; the new displacements and factors are what leads
/// there. So the shaping follows every change of the shape below, and a finer grid keeps what a
/// coarser one was given. Throws Error when a direction is closed in one only.
struct CarriedShaping {
  Shaping shaping;
  bool refitted = false;
  Surface wanted;  ///< when refitted: the shape on the old grid, over [0, 1]²
};
CarriedShaping carry(const Shaping& shaping, const Surface& below);

/// below + displacements, weights × factors. The shaping must be on the grid of `below` (carry).
Surface apply(const Surface& below, const Shaping& shaping);

/// Which mirror planes are kept while shaping, one to three; the planes go through the origin.
enum class SymmetryPlane { None, YZ, XZ, XY, YZAndXZ, XZAndXY, YZAndXY, All };

/// The single planes of a choice, in the order y–z, x–z, x–y.
std::vector<SymmetryPlane> planes_of(SymmetryPlane choice);

/// Partner of each control point in a mirror plane.
struct MirrorMap {
  SymmetryPlane plane = SymmetryPlane::None;
  Grid<PointIndex> partner;
  bool on_grid = false;    ///< found as a symmetry of the grid, not by nearness alone
  double worst_gap = 0.0;  ///< mm between a point's mirror image and its partner
};

/// Looks for a map of whole rows and columns (shift and reversal in u and v) that takes the grid to
/// its mirror image within `tolerance` mm; failing that, the nearest point is the partner.
/// Nothing when even that leaves a gap greater than `tolerance`.
std::optional<MirrorMap> find_mirror(const Surface& surface, SymmetryPlane plane, double tolerance);

/// The map of each plane of the choice; nothing when one of them is not a symmetry of the points.
std::optional<std::vector<MirrorMap>> find_mirrors(const Surface& surface, SymmetryPlane choice,
                                                   double tolerance);

/// In one single plane.
Vec3 mirrored(const Vec3& p, SymmetryPlane plane);

/// What every edit of points respects.
struct ShapeRules {
  std::vector<MirrorMap> mirrors;
  PointIndex leader;  ///< where a point and its partner both move, the side of this one decides
  std::array<int, 4> held_rows{};  ///< rows kept at each edge, in the order of Edge
};

/// Rows that an edge hold keeps: position 1, tangent 2, curvature 3, its change 4.
bool is_held(const Surface& surface, PointIndex point, const std::array<int, 4>& held_rows);

/// The shaping after moving each point by `moves` (mm); only points with a share take part.
/// `surface` is the shape with `shaping` applied. Held points stay; rows collapsed to a pole move as
/// one; partners move mirrored, and points on a mirror plane stay on it, so that a symmetric grid
/// stays symmetric to rounding.
Shaping with_moves(const Shaping& shaping, const Surface& surface, const Grid<Vec3>& moves,
                   const Grid<double>& shares, const ShapeRules& rules);

/// The side of `leader` decides: every partner takes the mirrored place of its point there, and
/// points on the plane go onto it exactly.
Shaping made_symmetric(const Shaping& shaping, const Surface& surface, const MirrorMap& mirror,
                       PointIndex leader);

/// Directions in which points are moved. Along the net: along the leg towards the next point of u or
/// v (for negative amounts towards the one before). On the skin and in the work plane: the part of
/// `vector` that lies in the tangent plane at each point, or in the work plane.
enum class MoveDirection { X, Y, Z, OffSkin, InView, OnSkin, AlongU, AlongV, WorkPlane };

/// A move of a selection. For X, Y, Z, OffSkin and along the net `amount` (mm) is used; else
/// `vector`.
struct Move {
  MoveDirection direction = MoveDirection::OffSkin;
  double amount = 0.0;
  Vec3 vector;
  Vec3 plane_normal{0, 0, 1};  ///< of the work plane
};

/// By how much each point moves, weighted by its share.
Grid<Vec3> moves_of(const Surface& surface, const Grid<double>& shares, const Move& move);

/// Unit surface normal at the Greville place of a control point; for a row collapsed to a pole the
/// normal of the pole.
Vec3 skin_normal(const Surface& surface, PointIndex at);

/// The shaping after moving the selected points rigidly: with_moves for one mirror plane at most.
Shaping moved(const Shaping& shaping, const Surface& surface, const Selection& selection,
              const Move& move, const std::optional<MirrorMap>& mirror, PointIndex leader);

/// Sets the weights of the selected points (and their partners) to `weight`, 0.01..100.
/// `below` is the surface under the shaping.
Shaping with_weight(const Shaping& shaping, const Surface& below, const Selection& selection,
                    double weight, const std::optional<MirrorMap>& mirror);

/// Greville place of a control point.
struct GrevillePlace {
  double u, v;
};
GrevillePlace greville(const Surface& surface, PointIndex at);

}  // namespace evenclay
