#include "core/subdivision/limit_kernels.inl"

namespace evenclay::limit_kernels {
const Table kBaseline{patch, stencil};
}
