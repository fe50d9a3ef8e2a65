// Rows of control points that are collapsed to a pole and count as one point.
#pragma once

#include <vector>

#include "core/points/selection.h"

namespace evenclay {

inline constexpr double kPoleTolerance = 1e-9;  ///< mm; poles are exactly collapsed in our surfaces

/// The points of each collapsed row, in the order of Edge and of the row; surface number 0.
std::vector<std::vector<PointIndex>> pole_rows(const Surface& surface);

}  // namespace evenclay
