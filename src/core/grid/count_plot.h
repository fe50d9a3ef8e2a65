// What other counts would do: the consequence of a choice beside the choice itself.
#pragma once

#include <vector>

#include "core/check/measures.h"
#include "core/grid/rebuild.h"

namespace evenclay {

/// One place of the plot: a grid and how far the rebuilt surface would be off.
struct CountPlace {
  int points_u = 0, points_v = 0;
  double max = 0.0, mean = 0.0;  ///< mm, two-sided, with 6 samples a span
  int total() const { return points_u * points_v; }
};

/// Rebuilds along the proportion points_u : points_v of `chosen`, from few control points to four
/// times as many in each direction, within 2..200; the chosen grid itself is one of the places.
/// In the order of growing counts. Throws Error when the chosen counts are out of range; Cancelled.
std::vector<CountPlace> count_plot(const Surface& surface, const RebuildOptions& chosen,
                                   Progress& progress);

}  // namespace evenclay
