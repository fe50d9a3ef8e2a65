// Even out: the grid's spacing follows arc length, the shape is kept.
#pragma once

#include "core/check/measures.h"

namespace evenclay {

struct EvenOutOptions {
  bool along_u = true;
  bool along_v = true;
  double tolerance = 0.01;  ///< mm; the greatest deviation that may remain, > 0
  bool add_points = true;   ///< counts grow until the tolerance is met; else they stay
};

struct EvenedOut {
  Surface surface;
  Evenness before, after;
  Deviation deviation;  ///< measured by the definition, 10 samples a span
  bool within_tolerance = false;
};

/// Reparameterised along the chosen directions by arc length (mean over iso-curves, monotone; a
/// border by its own length) and refitted on uniform knots with the same counts and degree. With
/// add_points the counts of both directions grow by about a seventh at a time, at most to 200,
/// until the deviation is within the tolerance. Throws Error when no direction is chosen or the
/// tolerance is not positive, Cancelled.
EvenedOut even_out(const Surface& surface, const EvenOutOptions& options, Progress& progress);

}  // namespace evenclay
