// Parts united, subtracted and intersected.
#pragma once

#include <span>

#include "core/base/progress.h"
#include "core/body/body.h"

namespace evenclay {

enum class Combine {
  Unite,     ///< what lies in any of them
  Subtract,  ///< what lies in the first and in none of the others
  Intersect  ///< what lies in all of them
};

struct Combined {
  Body body;
  std::size_t shells = 1;  ///< pieces that do not touch
  double within =
      0.0;  ///< mm by which places were taken as one or the others moved to get through; 0: none
};

/// Of bodies that bound volumes; Subtract also takes an open first one, whose faces lose what lies in the others.
/// Faces and edges that are not cut keep their names and surfaces (kernel/history.h). The B-rep kernel does it; where
/// it fails, it is tried again with places taken as one, or the other parts moved, within up to `tolerance` (mm). The
/// result is sound by the kernel's checker, closed where the first one was, and judged by places of each part that lie
/// clearly inside or outside of another: the kernel may miss a crossing without a word.
/// Throws Error with a sentence: an open part (where its longest open edge is), nothing in common, nothing left, a
/// fault of the kernel. Throws Cancelled.
Combined combined(const Body& body, std::span<const Body> others, Combine how, double tolerance,
                  int step, Progress& progress);

}  // namespace evenclay
