// Loops over index ranges on all cores.
#pragma once

#include <cstddef>
#include <functional>

#include "core/base/progress.h"

namespace evenclay {

/// Calls body(begin, end) for disjoint blocks of at most `block` indices that cover [0, count),
/// on several threads. Checks progress between blocks and passes on what the body throws.
/// The hidden call per block keeps oneTBB out of every header; choose blocks of > 10 µs.
void parallel_blocks(std::size_t count, std::size_t block, Progress& progress,
                     const std::function<void(std::size_t, std::size_t)>& body);

}  // namespace evenclay
