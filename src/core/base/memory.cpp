#include "core/base/memory.h"

#include <cstdint>

#if __has_include(<sys/mman.h>)
#include <sys/mman.h>
#endif
#if defined(__GLIBC__) || __has_include(<malloc.h>)
#include <malloc.h>
#endif

namespace evenclay {

void keep_freed_memory() {
#ifdef M_MMAP_THRESHOLD
  mallopt(M_MMAP_THRESHOLD, 32 << 20);  // the most glibc takes
  mallopt(M_TRIM_THRESHOLD, 256 << 20);
#endif
}

void want_large_pages(void* begin, std::size_t bytes) {
#ifdef MADV_HUGEPAGE
  constexpr std::uintptr_t kPage = 2 << 20;
  const auto first = (reinterpret_cast<std::uintptr_t>(begin) + kPage - 1) / kPage * kPage;
  const auto last = (reinterpret_cast<std::uintptr_t>(begin) + bytes) / kPage * kPage;
  if (last < first + 2 * kPage) return;
  // Only advice: when it is not taken everything works as before.
  (void)madvise(reinterpret_cast<void*>(first), last - first, MADV_HUGEPAGE);
#else
  (void)begin;
  (void)bytes;
#endif
}

}  // namespace evenclay
