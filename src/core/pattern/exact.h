// A pattern of surfaces: the faces of a tile carried onto the target and refitted.
#pragma once

#include "core/pattern/flow.h"

namespace evenclay {

/// The pattern as one body.
struct FlowedBody {
  Body body;
  double deviation =
      0.0;  ///< greatest distance of the surfaces from the exact map at places between samples, mm
  double tilt = 0.0;  ///< greatest angle of the normals along borders from the exact map's, degrees
  double gap = 0.0;   ///< greatest along joined edges, mm
  std::size_t open = 0;  ///< edges that border on nothing
};

/// Each face of each repeat refitted within `tolerance` (mm), and within 0.04° along borders where that can be had, all with the same refinement of their knots, so that
/// what was shared stays shared; trims stay in (u, v); repeats are joined where their borders meet within the
/// tolerance. `step` names the new faces. At most 4000 faces. Throws Error as FlowPlan does, when there are too many
/// faces, or when the tolerance cannot be kept. Throws Cancelled.
FlowedBody flow_surfaces(const Body& tile, const PatternBase& base, const Chart& chart,
                         const FlowOptions& options, const HeightRule& heights, double tolerance,
                         int step, Progress& progress);

}  // namespace evenclay
