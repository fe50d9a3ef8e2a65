// Edges of which nothing is seen.
#pragma once

#include <vector>

#include "core/body/topology.h"

namespace evenclay {

/// Whether two faces meet with one tangent plane (within 0.5°) all along an edge, so that nothing is seen of it.
bool is_smooth_joint(const Body& body, const std::vector<UsePlace>& uses);

/// Whether a face is joined with itself along an edge: the seam of a closed surface.
bool is_seam(const std::vector<UsePlace>& uses);

}  // namespace evenclay
