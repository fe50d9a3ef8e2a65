// Compiled with -march=x86-64-v3; reached only through best().
#include "core/subdivision/limit_kernels.inl"

namespace evenclay::limit_kernels {
const Table kAvx2{patch, stencil};
}
