// Surfaces inside borders: four borders with ribs, and closed borders of any number of edges.
// Source: S. Coons 1967 (bilinearly blended patch; G. Farin, Curves and Surfaces for CAGD, chapter 22); W. Gordon
// 1969 (curve networks: blends of the curves less their crossings); the thin-plate energy after
// G. Celniker, D. Gossard, Deformable curve and surface finite elements, 1991 (from memory).
#pragma once

#include <array>
#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// Curves in the order in which they go round, each running on where the one before it ended. A closed curve
/// alone is its own loop. Throws Error with the gap in mm and where it is when an end has no neighbour within
/// `tolerance`, and when curves cross themselves into more than one loop.
std::vector<Curve> border_loop(std::span<const Curve> curves, double tolerance);

/// Four curves as the borders of a rectangle: bottom and top run along u, left and right along v; ends that
/// meet are one place.
///    top     v^  +--top--+
///                left  right
///    bottom      +-bottom+ -> u
struct FourBorders {
  Curve bottom, right, top, left;
};
/// Throws Error as border_loop() does, and when there are not four.
FourBorders four_borders(std::span<const Curve> curves, double tolerance);

/// The bilinearly blended Coons patch. Its borders are the curves (to 1e-12 of the size). Curves with weights
/// are blended in homogeneous form; throws Error when a weight would not stay positive.
Surface coons(const FourBorders& borders);

/// How far inner curves are moved from the patch: a curve of moves (mm) for each rib, over [0, 1], 0 at both ends.
struct RibMoves {
  std::vector<Curve> across_u;  ///< ribs at u = 1/(n+1), 2/(n+1), …, running along v
  std::vector<Curve> across_v;  ///< ribs at v = 1/(m+1), …, running along u
};

/// The surface moved so that each rib moves by its curve and, where others cross it, by theirs as well: the sum of
/// spline blends of both families. Borders stay. Knots of the ribs are added, degrees become 3 at least.
Surface with_ribs(const Surface& surface, const RibMoves& moves);

/// The inner area moved along the normal of its middle by `mm`, with no change of place or direction along
/// all four borders. Knots at quarters are added, degrees become 3 at least.
Surface pushed(const Surface& surface, double mm);

/// Which way a surface has to leave a border so that it goes on from what lies beside it: the unit vector in the
/// neighbour's tangent plane, at a right angle to `along`, away from the neighbour's inside. Nothing where there is no
/// neighbour.
using Onward = std::function<std::optional<Vec3>(const Vec3& place, const Vec3& along)>;

/// The surface bent so that along its four borders it goes on from the neighbours, where there are some along
/// the whole border. Borders stay; corners keep the directions that their borders give them. Knots are added along
/// a border until the angle left is below 0.05°, four halvings at most.
struct MadeTangent {
  Surface surface;
  double worst_degrees = 0.0;  ///< the greatest angle left, measured at 100 places a border
  int borders = 0;             ///< that have a neighbour along their whole length
};
MadeTangent made_tangent(const Surface& surface, const Onward& onward);

struct FillOptions {
  int points_u = 12, points_v = 12;  ///< 5..100
  double puff = 0.0;                 ///< mm that the middle of the area is raised
  Onward onward = {};                ///< tangent to the neighbour where there is one
  double reach = 1.0;                ///< how far the tangent directions reach, 0.05..5
};

/// A face inside a closed border: a bicubic surface of the chosen counts that bends as little as it can (thin-plate
/// energy). Inside four borders it is a whole face; else it is laid out in the border's mean plane and trimmed by
/// it, so the border must not overlap itself there. A flat border without neighbours and puff is filled flat.
/// Throws Error when the border overlaps itself in its mean plane, Cancelled.
struct Filled {
  Body body;
  double gap = 0.0;            ///< greatest distance from the border, mm
  double worst_degrees = 0.0;  ///< from the neighbours' tangent planes
  bool tangent = false;        ///< there is a neighbour somewhere
};
Filled fill(std::span<const Curve> loop, const FillOptions& options, int step, Progress& progress);

}  // namespace evenclay
