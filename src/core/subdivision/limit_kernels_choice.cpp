#include "core/subdivision/limit_kernels.h"

namespace evenclay::limit_kernels {

const Table& best() {
  static const bool fast = __builtin_cpu_supports("avx2") && __builtin_cpu_supports("fma");
  return fast ? kAvx2 : kBaseline;
}

}  // namespace evenclay::limit_kernels
