#include "core/base/parallel.h"

#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/parallel_for.h>

namespace evenclay {

void parallel_blocks(std::size_t count, std::size_t block, Progress& progress,
                     const std::function<void(std::size_t, std::size_t)>& body) {
  progress.check();
  if (count <= block) {
    if (count > 0) body(0, count);
    return;
  }
  oneapi::tbb::parallel_for(
      oneapi::tbb::blocked_range<std::size_t>(0, count, block),
      [&](const oneapi::tbb::blocked_range<std::size_t>& range) {
        progress.check();
        body(range.begin(), range.end());
      },
      oneapi::tbb::simple_partitioner());
}

}  // namespace evenclay
