// How few control points a direction can have.
#pragma once

#include <algorithm>

namespace evenclay {

/// Fewest control points of a direction: one more than the degree, and 3 where it is closed.
inline int fewest_points(int degree, bool periodic) {
  return std::max(degree + 1, periodic ? 3 : 2);
}

}  // namespace evenclay
