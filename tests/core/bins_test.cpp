// A counting sort on all cores against std::stable_sort.
#include "core/base/bins.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <numeric>
#include <random>

using namespace evenclay;

TEST_CASE("places come bin by bin in their order, as a stable sort puts them") {
  std::mt19937 random(7);
  Progress progress;
  for (const std::size_t count : {0UL, 1UL, 5000UL, 100'003UL})
    for (const std::size_t bins : {1UL, 7UL, 4000UL}) {
      std::vector<std::size_t> bin(count);
      for (std::size_t& b : bin) b = random() % bins;
      const Bins sorted = sorted_into_bins(
          count, bins, [&](std::size_t k) { return bin[k]; }, progress);
      std::vector<std::uint32_t> expected(count);
      std::iota(expected.begin(), expected.end(), 0U);
      std::stable_sort(expected.begin(), expected.end(),
                       [&](std::uint32_t a, std::uint32_t b) { return bin[a] < bin[b]; });
      CHECK(sorted.order == expected);
      REQUIRE(sorted.first.size() == bins + 1);
      CHECK(sorted.first.back() == count);
      bool right = true;
      for (std::size_t b = 0; b < bins; ++b)
        for (std::size_t k = sorted.first[b]; k < sorted.first[b + 1]; ++k)
          right = right && bin[sorted.order[k]] == b;
      CHECK(right);
    }
}

TEST_CASE("a cancelled sort ends") {
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(sorted_into_bins(
                      100'000, 10, [](std::size_t k) { return k % 10; }, cancelled),
                  Cancelled);
}
