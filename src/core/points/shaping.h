// Point shaping as a value: what was done to the points of a net, kept apart from the net.
#pragma once

#include <array>
#include <optional>
#include <vector>

#include "core/body/body.h"
#include "core/points/selection.h"
#include "core/points/symmetry.h"

namespace evenclay {

/// Displacements (mm) and weight factors on the net they were made on. u, v and w are its knots; v
/// and w have none where the net has no such direction. weight_factors is empty when all are 1. An
/// empty value (no knots) changes nothing.
struct Shaping {
  KnotVector u, v;
  Grid<Vec3> displacements;
  Grid<double> weight_factors;
  KnotVector w = {};
  Tag face = 0;  ///< the face it was made on (body/body.h); 0: known by its place only
  /// Of a form: the names of the points that the displacements belong to; there are no knots then.
  std::vector<Tag> tags = {};

  bool empty() const { return displacements.empty(); }
  double weight_factor(int i, int j, int k = 0) const {
    return weight_factors.empty() ? 1.0 : weight_factors(i, j, k);
  }
  bool operator==(const Shaping&) const = default;
};

/// One for each net of a part.
using Shapings = std::vector<Shaping>;

/// No displacement on the net.
Shaping no_shaping(const Net& net);
Shapings no_shapings(const Nets& nets);

/// Throws Error when sizes do not fit or a number is not finite or a factor not positive.
void check(const Shaping& shaping);

/// The shaping on the net `below`. On the net it was made on it is unchanged. On another one the
/// shape is kept: `below` is brought back onto the old net (nurbs/refit.h), shaped there as it was,
/// and that shape refitted on the new one; the new displacements and factors are what leads there.
/// So the shaping follows every change of the shape below, and a finer net keeps what a coarser one
/// was given. Of a cage the bending is interpolated on the new counts. On a form every point keeps what was done to it,
/// by its name. Throws Error when a direction is closed in one
/// only, and when a curve became a surface or a cage, or the other way round.
struct CarriedShaping {
  Shaping shaping;
  bool refitted = false;
  std::optional<Net> wanted;  ///< when refitted: the shape on the old net, over [0, 1]²
};
CarriedShaping carry(const Shaping& shaping, const Net& below);

/// The same displacements and factors on a part of the domain, for a piece that was split off. The
/// ranges lie inside the domain. Exact (knot insertion), since displacements are a surface, too.
Shaping restricted(const Shaping& shaping, double u0, double u1, double v0, double v1);

/// below + displacements, weights × factors. The shaping must be on the net `below` (carry).
Net with_shaping(const Net& below, const Shaping& shaping);
/// What is united below stays united.
Nets with_shaping(const Nets& below, const Shapings& shapings);
Surface with_shaping(const Surface& below, const Shaping& shaping);

/// What an edge keeps while points are moved.
enum class EdgeRule {
  Free,
  Position,   ///< its row stays
  Tangent,    ///< two rows stay
  Curvature,  ///< three
  Change,     ///< four: the change of curvature
  /// The border may move and takes the row behind it along, so that the skin leaves the border in
  /// the same direction and with the same flow as before.
  FreeTangent
};

/// What every edit of points respects.
struct ShapeRules {
  std::vector<MirrorMap> mirrors;
  PointIndex leader;  ///< where a point and its partner both move, the side of this one decides
  std::array<EdgeRule, 4> edges{};  ///< in the order of Border; of curves the first two
};

/// Rows that a rule keeps: position 1, tangent 2, curvature 3, its change 4.
int rows_held(EdgeRule rule);

/// True when the rules keep the point, or one that is the same place, where it is.
bool is_held(const Nets& nets, PointIndex point, const std::array<EdgeRule, 4>& edges);

/// The shapings after moving each point by `moves` (mm); only points with a share take part.
/// `nets` is the part with the shapings applied. Held points stay; points that are one place move as
/// one (by the mean of the longest of each net); partners move mirrored, and points on a mirror plane
/// stay on it, so that symmetric nets stay symmetric to rounding.
Shapings with_moves(const Shapings& shapings, const Nets& nets, const PointMoves& moves,
                    const PointShares& shares, const ShapeRules& rules);

/// The side of `leader` decides: every partner takes the mirrored place of its point there, and
/// points on the plane go onto it exactly.
Shapings made_symmetric(const Shapings& shapings, const Nets& nets, const MirrorMap& mirror,
                        PointIndex leader);

/// Directions in which points are moved. Along the net: along the leg towards the next point of u, v
/// or w (for negative amounts towards the one before). On the skin and in the work plane: the part of
/// `vector` that lies in the tangent plane at each point (of a curve: along its tangent), or in the
/// work plane.
enum class MoveDirection { X, Y, Z, OffSkin, InView, OnSkin, AlongU, AlongV, WorkPlane, AlongW };

/// A move of a selection. For X, Y, Z, OffSkin and along the net `amount` (mm) is used; else
/// `vector`.
struct Move {
  MoveDirection direction = MoveDirection::OffSkin;
  double amount = 0.0;
  Vec3 vector;
  Vec3 plane_normal{0, 0, 1};  ///< of the work plane
};

/// By how much each point moves, weighted by its share.
PointMoves moves_of(const Nets& nets, const PointShares& shares, const Move& move);

/// Unit normal of the skin at the Greville place of a control point. For a row collapsed to a pole
/// that of the pole; where surfaces meet the mean. Of a curve: across it in the plane of the area it
/// goes round (its ends joined), outward; of a straight one across it and z (across x where it runs
/// along z). Of a cage: from its middle to the point.
Vec3 skin_normal(const Nets& nets, PointIndex at);

/// The unit direction of the leg from a point to the next one of its row (or from the one before).
Vec3 leg_direction(const Nets& nets, PointIndex at, int direction, bool forward);

/// Sets the weights of the points to `weight`, 0.01..100; cages have none and are left out. `below`
/// is the part under the shapings. Throws Error with the range.
Shapings with_weight(const Shapings& shapings, const Nets& below, const Selection& points,
                     double weight);
/// Multiplies them by `factor` instead, kept inside the range; `nets` has the shapings applied.
Shapings with_weight_factor(const Shapings& shapings, const Nets& nets, const Selection& points,
                            double factor);

/// Greville place of a control point; v is 0 for a curve.
struct GrevillePlace {
  double u, v;
};
GrevillePlace greville(const Nets& nets, PointIndex at);

/// For a part of one surface: the shaping after moving the selected points rigidly, with one mirror
/// plane at most.
Shaping moved(const Shaping& shaping, const Surface& surface, const Selection& selection,
              const Move& move, const std::optional<MirrorMap>& mirror, PointIndex leader);

}  // namespace evenclay
