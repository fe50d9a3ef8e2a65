// Compiled with -march=x86-64-v3; reached only through best().
#include "core/nurbs/kernels.inl"

namespace evenclay::kernels {
const Table kAvx2{scattered, grid<double>, grid<float>, flow, "AVX2 + FMA"};
}
