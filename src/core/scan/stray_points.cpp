#include "core/scan/stray_points.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <span>

#include "core/base/bins.h"
#include "core/base/parallel.h"
#include "core/base/select.h"
#include "core/scan/scan_cells.h"

namespace evenclay {

namespace {

double middle_of(std::vector<double>& values) {
  if (values.empty()) return 0.0;
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

// Points by their cells.
Bins in_cells(const std::vector<Parameter>& at, Progress& progress) {
  const int across = cells_across(at.size(), 24.0, 256);
  return sorted_into_bins(
      at.size(), static_cast<std::size_t>(across) * static_cast<std::size_t>(across),
      [&](std::size_t k) { return cell_of(at[k], across); }, progress);
}

}  // namespace

std::vector<double> strayness(const std::vector<double>& off, const std::vector<Parameter>& at,
                              double size, Progress& progress) {
  constexpr double kToDeviation = 1.4826, kOfAll = 10.0, kOfNeighbours = 6.0, kLeast = 1e-5;
  const Bins cells = in_cells(at, progress);
  std::vector<double> apart(off.size()), about(off.size());
  parallel_blocks(cells.first.size() - 1, 256, progress, [&](std::size_t begin, std::size_t end) {
    std::vector<double> here;
    for (std::size_t c = begin; c < end; ++c) {
      const std::span run(cells.order.data() + cells.first[c], cells.first[c + 1] - cells.first[c]);
      here.clear();
      for (const std::uint32_t k : run) here.push_back(off[k]);
      const double middle = middle_of(here);
      for (double& x : here) x = std::abs(x - middle);
      const double spread = middle_of(here);
      for (const std::uint32_t k : run) {
        apart[k] = std::abs(off[k] - middle);
        about[k] = spread;
      }
    }
  });
  const double middle = apart.empty() ? 0.0 : nth_smallest(apart, apart.size() / 2);
  const double least = std::max(kOfAll * kToDeviation * middle, kLeast * size);
  in_blocks(apart.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k)
      apart[k] /= std::max(least, kOfNeighbours * kToDeviation * about[k]);
  });
  return apart;
}

std::vector<double> weights_for(const std::vector<double>& strayness) {
  std::vector<double> w(strayness.size());
  in_blocks(w.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const double r = strayness[k];
      w[k] = r < 1.0 ? (1.0 - r * r) * (1.0 - r * r) : 0.0;
    }
  });
  return w;
}

}  // namespace evenclay
