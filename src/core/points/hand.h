// The hand that shapes points: what is picked on which nets, under which rules, and the edits it can
// make. The window and the words of the runner build the same edits, and one function carries them
// out. Thread-safe.
#pragma once

#include <variant>

#include "core/points/arrange.h"
#include "core/points/falloff.h"
#include "core/points/shaping.h"

namespace evenclay {

/// The centre of scaling and turning: the mean of the picked points, the middle of the box of all
/// points, the point picked last, or the picked mean brought onto the symmetry planes.
enum class Pivot { Picked, Part, Leader, Symmetry };

struct Hand {
  Nets below;         ///< what lies under the shaping
  Shapings shapings;  ///< on the nets of `below`
  Nets shown;         ///< below with the shapings applied
  SymmetryPlane symmetry = SymmetryPlane::None;
  std::vector<MirrorMap> mirrors;   ///< of the planes of `symmetry` on `shown` (find_mirrors)
  std::array<EdgeRule, 4> holds{};  ///< in the order of Border
  Selection picked;
  PointIndex leader;  ///< the point picked last; its side decides where both sides move
  Falloff falloff;
};

// --- the edits ----------------------------------------------------------------------------------

struct MovePoints {
  Move move;
};
struct ScalePoints {
  Frame about;  ///< its origin is the centre
  Vec3 factors{1, 1, 1};
};
struct TurnPoints {
  Vec3 centre, axis;
  double degrees = 0.0;
};
struct SetCoordinate {
  int axis = 0;  ///< 0 x, 1 y, 2 z
  double mm = 0.0;
};
struct LevelToMean {};
struct LevelTo {
  LevelPlane plane;
};
struct StraightenRows {};
struct StraightenInView {
  Vec3 view;  ///< the direction of sight
};
struct SmoothPoints {
  double share = 0.5;  ///< of the way, 0..1
};
struct RelaxPoints {};
struct SetWeight {
  double weight = 1.0;
};
struct MultiplyWeight {
  double factor = 1.0;
};
/// The skin at a place goes by exactly `way`; what is picked plays no part.
struct PullSkin {
  SkinPlace place;
  Vec3 way;
};
/// The side of the leader decides.
struct MakeSymmetric {
  SymmetryPlane planes = SymmetryPlane::XZ;
};
/// The picked points and their partners go back to where the grid below has them, with its weights.
struct BringBack {};

using PointEdit = std::variant<MovePoints, ScalePoints, TurnPoints, SetCoordinate, LevelToMean,
                               LevelTo, StraightenRows, StraightenInView, SmoothPoints, RelaxPoints,
                               SetWeight, MultiplyWeight, PullSkin, MakeSymmetric, BringBack>;

/// The shapings after the edit; the hand's shapings are where it begins. Throws Error with what to do
/// when nothing is picked that it could work on, when symmetry is asked for but the points are not
/// symmetric (check_symmetry), when no side answers the other, and as the edit's own function says
/// (arrange.h, shaping.h).
Shapings edited(const Hand& hand, const PointEdit& edit);

/// Throws Error when the hand is to keep a symmetry that its points do not have.
void check_symmetry(const Hand& hand);

/// How much of a move each point takes: 1 for picked ones, less for those the falloff reaches.
PointShares shares_of(const Hand& hand);

/// Which points a pull of the skin at a place moves, and from which one its falloff counts: the
/// nearest to the place. Without a falloff every point may move; held ones never.
struct PullReach {
  PointIndex leader;
  PointShares shares;
};
PullReach pull_reach(const Hand& hand, const SkinPlace& place);

/// What every edit respects.
ShapeRules rules_of(const Hand& hand);

/// The points and their mirrored partners, in every plane after the other.
Selection with_partners(const std::vector<MirrorMap>& mirrors, Selection points);

/// Box of all control points.
Box3 box_of(const Nets& nets);

Vec3 pivot_place(const Nets& nets, const Selection& picked, PointIndex leader,
                 SymmetryPlane symmetry, Pivot pivot);

/// A place in shares (0..1) of each direction of a net, as parameters of the net.
SkinPlace skin_place(const Nets& nets, int net, double share_u, double share_v);

}  // namespace evenclay
