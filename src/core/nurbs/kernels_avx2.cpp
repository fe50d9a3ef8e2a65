// Compiled with -march=x86-64-v3; reached only through best().
#include "core/nurbs/kernels.inl"
#include "core/nurbs/kernels_lines.inl"

namespace evenclay::kernels {
const Table kAvx2{scattered,    grid<double>,   grid<float>, flow,
                  combine_rows, combine_points, "AVX2 + FMA"};
}
