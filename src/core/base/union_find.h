// Which of numbered things hang together.
// Source: R. Tarjan, Efficiency of a good but not linear set union algorithm, 1975.
#pragma once

#include <cstdint>
#include <numeric>
#include <vector>

namespace evenclay {

/// Sets of the numbers below n, each with one number as its root; all apart at first.
class UnionFind {
 public:
  explicit UnionFind(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), 0U); }
  std::uint32_t root(std::uint32_t k) {
    while (parent_[k] != k) k = parent_[k] = parent_[parent_[k]];
    return k;
  }
  void join(std::uint32_t a, std::uint32_t b) { parent_[root(b)] = root(a); }

 private:
  std::vector<std::uint32_t> parent_;
};

}  // namespace evenclay
