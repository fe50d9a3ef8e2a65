// A surface between two chains of edges that goes on from the faces beside them.
#pragma once

#include <array>
#include <vector>

#include "core/base/progress.h"
#include "core/check/continuity.h"
#include "core/cut/edge_chain.h"

namespace evenclay {

/// One side of a blend.
struct BlendSide {
  int continuity = 2;  ///< G0 to G3 with the face beside the chain
  double bulge = 1.0;  ///< how far its direction is felt: 1 is the distance across
};

/// Other bulges at a place; between places they go over smoothly.
struct BlendSection {
  double share = 0.5;  ///< of the first chain's length, from its seam
  double bulge_a = 1.0, bulge_b = 1.0;
};

struct BlendOptions {
  BlendSide a, b;
  bool reversed = false;  ///< the second chain is walked against the proposal
  double seam =
      0.0;  ///< of closed chains: the second one's seam moved on by this share of its length
  std::vector<BlendSection> sections = {};
  double tolerance = 0.01;  ///< mm
};

struct BlendedSurface {
  Surface surface;  ///< u along the chains, v from the first to the second
  Continuity at_a, at_b;
  Vec3 worst_a, worst_b;                     ///< where the angle is greatest
  std::vector<std::array<Vec3, 2>> matched;  ///< places of equal share, the seam first
  /// Of closed chains where the second seam would lie with BlendOptions::seam from −0.5 to 0.5, in equal steps.
  std::vector<Vec3> seams;
  double shortest = 0.0, longest = 0.0;  ///< of the matched lines, mm
};

/// At places along both chains (equal shares of their lengths; closed chains are turned to where the squared distances
/// are least, by 64 steps, refined) stands a Bézier cross curve whose derivatives at its ends up to the wanted order
/// are those of the neighbour along the straight parameter line that leaves it square to the edge. So all of the
/// neighbour's derivatives across the joint are met, and with them its geometric continuity (G. Farin, Curves and
/// Surfaces for CAGD, the chapter on geometric continuity). The control points of the cross curves are fitted along
/// the chains by cubic splines whose knots are those of both neighbours, spans being doubled until both joints measure
/// what was asked for, or some hundreds are reached.
/// Throws Error: one chain closed and the other not, chains that meet, a blend that folds over (naming the place and
/// what to change). Throws Cancelled.
BlendedSurface blended(const EdgeChain& a, const Body& body_a, const EdgeChain& b,
                       const Body& body_b, const BlendOptions& options, Progress& progress);

}  // namespace evenclay
