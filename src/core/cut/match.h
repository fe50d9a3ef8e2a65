// An edge of a surface brought to a neighbour by moving its first rows of points.
#pragma once

#include "core/base/progress.h"
#include "core/check/continuity.h"
#include "core/cut/edge_chain.h"

namespace evenclay {

struct MatchOptions {
  int continuity = 1;  ///< G0 to G3: one row for each, and the border's own
  bool ends_to_ends =
      true;  ///< equal shares of both lengths meet; else each place goes to the nearest one
  bool reversed = false;    ///< the neighbour's edges are walked the other way
  bool add_points = false;  ///< grid lines along the edge are added until the continuity is reached
  double tolerance = 0.01;  ///< mm
};

struct Matched {
  Surface surface;
  Continuity joint;
  Vec3 worst;             ///< where the angle is greatest
  int rows = 0;           ///< that were moved
  int added = 0;          ///< grid lines
  double farthest = 0.0;  ///< mm that a control point went
};

/// The border's row goes onto the chain; behind it, row by row, the derivatives across become those of the neighbour
/// along its parameter line square to the edge, with the length (and the tangential share of the higher ones) that the surface
/// had: so its flow stays and all geometric conditions are met (as in blend.h). Rows are fitted along the edge on the
/// surface's own knots; corners are met exactly. Throws Error: a rational surface, a closed direction or pole at the
/// border, a closed border against an open chain, too few rows; Cancelled.
Matched matched(const Surface& surface, Border border, const EdgeChain& onto, const Body& neighbour,
                const MatchOptions& options, Progress& progress);

}  // namespace evenclay
