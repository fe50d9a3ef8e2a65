#include "core/base/memory.h"

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

}  // namespace evenclay
