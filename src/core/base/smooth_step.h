// A share that begins and ends without slope and bend.
#pragma once

#include <algorithm>

namespace evenclay {

/// 6x⁵ − 15x⁴ + 10x³: from 0 at x = 0 to 1 at x = 1, C² where it goes on as 0 and 1.
inline double smooth_step(double x) {
  x = std::clamp(x, 0.0, 1.0);
  return x * x * x * (x * (6.0 * x - 15.0) + 10.0);
}

}  // namespace evenclay
