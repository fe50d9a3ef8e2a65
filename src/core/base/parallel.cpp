#include "core/base/parallel.h"

#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/parallel_for.h>

#if defined(__SANITIZE_THREAD__)
#include <sanitizer/tsan_interface.h>
#endif

namespace evenclay {

namespace {

// oneTBB itself is compiled without the thread sanitizer, which therefore has to be told that blocks
// begin after the loop did and that the loop ends after its blocks.
#if defined(__SANITIZE_THREAD__)
void hand_over(void* place) {
  __tsan_release(place);
}
void take_over(void* place) {
  __tsan_acquire(place);
}
#else
void hand_over(void*) {}
void take_over(void*) {}
#endif

}  // namespace

void parallel_blocks(std::size_t count, std::size_t block, Progress& progress,
                     const std::function<void(std::size_t, std::size_t)>& body) {
  progress.check();
  if (count <= block) {
    if (count > 0) body(0, count);
    return;
  }
  int begun = 0, ended = 0;  // only their places matter
  hand_over(&begun);
  oneapi::tbb::parallel_for(
      oneapi::tbb::blocked_range<std::size_t>(0, count, block),
      [&](const oneapi::tbb::blocked_range<std::size_t>& range) {
        progress.check();
        take_over(&begun);
        body(range.begin(), range.end());
        hand_over(&ended);
      },
      oneapi::tbb::simple_partitioner());
  take_over(&ended);
}

}  // namespace evenclay
