#include "core/nurbs/kernels.inl"
#include "core/nurbs/kernels_lines.inl"

namespace evenclay::kernels {
const Table kBaseline{scattered,    grid<double>,   grid<float>,   flow,
                      combine_rows, combine_points, "plain x86-64"};
}
