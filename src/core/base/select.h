// The n-th of many numbers, on all cores.
#pragma once

#include <cstddef>
#include <span>

namespace evenclay {

/// The n-th smallest, from 0, of numbers that are finite and not negative: what std::nth_element would put there. One pass
/// counts them by the first 16 bits of their patterns, which are in the order of the numbers (IEEE 754); only those
/// of one count are sorted out. n must be below their count.
double nth_smallest(std::span<const double> values, std::size_t n);

}  // namespace evenclay
