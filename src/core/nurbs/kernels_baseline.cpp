#include "core/nurbs/kernels.inl"

namespace evenclay::kernels {
const Table kBaseline{scattered, grid<double>, grid<float>, flow, "plain x86-64"};
}
