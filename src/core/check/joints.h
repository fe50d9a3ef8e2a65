// How the faces of bodies meet along their edges.
#pragma once

#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"
#include "core/check/continuity.h"

namespace evenclay {

/// The edges between the same two faces, measured together.
struct Joint {
  Continuity measured;
  Vec3 at;              ///< the worst place by angle; of a gap the middle of the longest edge
  double length = 0.0;  ///< mm
  std::size_t face_a = 0, face_b = 0;
};

/// All joints of a body, at `places` places an edge. Edges that one face uses twice (seams) are left out. Throws
/// Cancelled.
std::vector<Joint> joints_of(const Body& body, int places, Progress& progress);

/// How an open edge of `a` meets the skin of `b`, each place against the nearest one there; `edges` of `a` together.
/// Throws Error when `b` has no faces, Cancelled.
Joint joint_with(const Body& a, const std::vector<std::size_t>& edges, const Body& b, int places,
                 Progress& progress);

}  // namespace evenclay
