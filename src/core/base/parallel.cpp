#include "core/base/parallel.h"

#if defined(__SANITIZE_THREAD__)
#include <atomic>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>
#else
#include <oneapi/tbb/blocked_range.h>
#include <oneapi/tbb/parallel_for.h>
#endif

namespace evenclay {

namespace {

using Block = std::function<void(std::size_t, std::size_t)>;

#if defined(__SANITIZE_THREAD__)
// oneTBB is compiled without the thread sanitizer, which would report its bookkeeping: plain threads instead.
void on_all_cores(std::size_t count, std::size_t block, const Block& body) {
  std::atomic<std::size_t> next{0};
  std::exception_ptr first;
  std::mutex mutex;
  const auto work = [&] {
    for (std::size_t begin = next.fetch_add(block); begin < count; begin = next.fetch_add(block)) {
      try {
        body(begin, std::min(begin + block, count));
      } catch (...) {
        const std::scoped_lock hold(mutex);
        if (!first) first = std::current_exception();
        next = count;
      }
    }
  };
  std::vector<std::thread> threads;
  for (int k = 0; k < 3; ++k) threads.emplace_back(work);
  work();
  for (std::thread& t : threads) t.join();
  if (first) std::rethrow_exception(first);
}
#else
void on_all_cores(std::size_t count, std::size_t block, const Block& body) {
  oneapi::tbb::parallel_for(
      oneapi::tbb::blocked_range<std::size_t>(0, count, block),
      [&](const oneapi::tbb::blocked_range<std::size_t>& range) {
        body(range.begin(), range.end());
      },
      oneapi::tbb::simple_partitioner());
}
#endif

}  // namespace

void parallel_blocks(std::size_t count, std::size_t block, Progress& progress, const Block& body) {
  progress.check();
  if (count <= block) {
    if (count > 0) body(0, count);
    return;
  }
  on_all_cores(count, block, [&](std::size_t begin, std::size_t end) {
    progress.check();
    body(begin, end);
  });
}

}  // namespace evenclay
