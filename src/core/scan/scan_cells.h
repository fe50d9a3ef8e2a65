// Equal cells of the parameters of a scan's points, and cheap loops over them. Only for core/scan.
#pragma once

#include <algorithm>
#include <cmath>
#include <cstddef>
#include <functional>

#include "core/base/parallel.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Calls use(begin, end) for blocks of places that cost little each.
inline void in_blocks(std::size_t count, const std::function<void(std::size_t, std::size_t)>& use) {
  Progress quiet;
  parallel_blocks(count, 65536, quiet, use);
}

/// How many across, for `each` points a cell where they lie evenly; 1 to `most`.
inline int cells_across(std::size_t points, double each, int most) {
  return std::clamp(static_cast<int>(std::sqrt(static_cast<double>(points) / each)), 1, most);
}

/// Of parameters 0..1.
inline std::size_t cell_of(const Parameter& p, int across) {
  const auto along = [across](double t) {
    return static_cast<std::size_t>(std::clamp(static_cast<int>(t * across), 0, across - 1));
  };
  return along(p.u) * static_cast<std::size_t>(across) + along(p.v);
}

}  // namespace evenclay
