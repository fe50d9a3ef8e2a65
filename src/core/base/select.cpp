#include "core/base/select.h"

#include <algorithm>
#include <bit>
#include <cstdint>
#include <mutex>
#include <vector>

#include "core/base/parallel.h"

namespace evenclay {

namespace {

constexpr std::size_t kKeys = std::size_t{1} << 16U;
constexpr std::size_t kBlock = 65536;

std::size_t key_of(double x) {
  return static_cast<std::size_t>(std::bit_cast<std::uint64_t>(x + 0.0) >> 48U);  // −0 becomes 0
}

std::vector<std::size_t> counted(std::span<const double> values) {
  std::vector<std::size_t> all(kKeys, 0);
  std::mutex adding;
  Progress quiet;
  parallel_blocks(values.size(), kBlock, quiet, [&](std::size_t begin, std::size_t end) {
    std::vector<std::uint32_t> mine(kKeys, 0);
    for (std::size_t k = begin; k < end; ++k) ++mine[key_of(values[k])];
    const std::lock_guard lock(adding);
    for (std::size_t key = 0; key < kKeys; ++key) all[key] += mine[key];
  });
  return all;
}

}  // namespace

double nth_smallest(std::span<const double> values, std::size_t n) {
  std::vector<double> some;
  if (values.size() <= kBlock) {
    some.assign(values.begin(), values.end());
  } else {
    const std::vector<std::size_t> counts = counted(values);
    std::size_t key = 0;
    for (; n >= counts[key]; ++key) n -= counts[key];
    some.reserve(counts[key]);
    for (const double x : values)
      if (key_of(x) == key) some.push_back(x);
  }
  const auto at = some.begin() + static_cast<std::ptrdiff_t>(n);
  std::nth_element(some.begin(), at, some.end());
  return *at;
}

}  // namespace evenclay
