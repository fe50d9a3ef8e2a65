// Cutting a body along curves that are carried along a direction.
#pragma once

#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

/// Which pieces stay.
enum class TrimKeep {
  Outside,  ///< what lies inside the carried curves is taken away: an opening
  Inside    ///< only what lies inside stays
};

/// How far the curves are carried.
enum class TrimReach {
  BothWays,   ///< through the whole part
  Forwards,   ///< along the direction from where the curve lies
  Backwards,  ///< against it
  FirstSkin   ///< along the direction to the first skin that is met, and no further
};

struct TrimOptions {
  Vec3 direction{0, 0, 1};  ///< any length but 0
  TrimKeep keep = TrimKeep::Outside;
  TrimReach reach = TrimReach::BothWays;
  int step = 0;  ///< of the tags of new faces and edges
};

struct Trimmed {
  Body body;
  int pieces_taken = 0;  ///< faces or parts of faces that went
};

/// The body without the pieces that lie inside (or outside) of the closed curves seen along the
/// direction. The surfaces of what stays are the very ones that were cut, so points under the cut stay
/// shapeable; a face keeps its tag, the largest of several pieces keeps that of the face it came from,
/// the others and new edges get tags from options.step. The cut is made by the B-rep kernel: each edge
/// lies within its measured gap of its faces.
/// Throws Error: no curve, an open curve, no direction, a curve seen edge-on, a curve that misses the
/// part, nothing left. Throws Cancelled.
Trimmed trim(const Body& body, std::span<const Curve> curves, const TrimOptions& options,
             Progress& progress);

}  // namespace evenclay
