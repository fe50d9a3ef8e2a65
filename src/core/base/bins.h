// Places sorted into bins on all cores: a counting sort that keeps their order.
#pragma once

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <vector>

#include "core/base/parallel.h"

namespace evenclay {

struct Bins {
  std::vector<std::uint32_t> order;  ///< numbers of the places, bin by bin; in a bin they increase
  std::vector<std::size_t> first;    ///< where each bin begins in it, and at last their count
};

/// `bin_of(k)` says the bin, below `bins`, of place k; it is asked twice and on several threads. Throws Cancelled.
/// Source: D. Knuth, The Art of Computer Programming, volume 3, section 5.2 (distribution counting).
template <typename BinOf>
Bins sorted_into_bins(std::size_t count, std::size_t bins, const BinOf& bin_of,
                      Progress& progress) {
  // A few long shares: each has a count of its own for every bin.
  constexpr std::size_t kShares = 8, kLeast = 4096;
  const std::size_t share = std::max(kLeast, (count + kShares - 1) / kShares);
  const std::size_t shares = (count + share - 1) / share;
  std::vector<std::uint32_t> next(shares * bins, 0);
  parallel_blocks(shares, 1, progress, [&](std::size_t s, std::size_t) {
    std::uint32_t* mine = next.data() + s * bins;
    for (std::size_t k = s * share; k < std::min(count, (s + 1) * share); ++k) ++mine[bin_of(k)];
  });
  Bins result;
  result.first.resize(bins + 1);
  std::uint32_t sum = 0;
  for (std::size_t b = 0; b < bins; ++b) {
    result.first[b] = sum;
    for (std::size_t s = 0; s < shares; ++s) {
      const std::uint32_t here = next[s * bins + b];
      next[s * bins + b] = sum;
      sum += here;
    }
  }
  result.first[bins] = sum;
  result.order.resize(count);
  parallel_blocks(shares, 1, progress, [&](std::size_t s, std::size_t) {
    std::uint32_t* mine = next.data() + s * bins;
    for (std::size_t k = s * share; k < std::min(count, (s + 1) * share); ++k)
      result.order[mine[bin_of(k)]++] = static_cast<std::uint32_t>(k);
  });
  return result;
}

}  // namespace evenclay
