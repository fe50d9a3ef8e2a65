// Point shaping as a value: what was done to the points of a grid, kept apart from the grid.
#pragma once

#include <optional>

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

/// Which mirror plane is kept while shaping; the planes go through the origin.
enum class SymmetryPlane { None, YZ, XZ, XY };

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

Vec3 mirrored(const Vec3& p, SymmetryPlane plane);

/// Directions in which points are moved.
enum class MoveDirection { X, Y, Z, OffSkin, InView };

/// A move of a selection. For X, Y, Z and OffSkin `amount` (mm) is used; for InView `vector`.
struct Move {
  MoveDirection direction = MoveDirection::OffSkin;
  double amount = 0.0;
  Vec3 vector;
};

/// Unit surface normal at the Greville place of a control point; for a row collapsed to a pole the
/// normal of the pole.
Vec3 skin_normal(const Surface& surface, PointIndex at);

/// The shaping after moving the selected points. `surface` is the shape with `shaping` applied.
/// Rows collapsed to a pole move as one. With a mirror map the partners move mirrored; where a
/// point and its partner are both selected the side of `leader` decides, and points on the plane
/// stay on it, so that a symmetric grid stays symmetric to rounding.
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
