#include "core/display/rays.h"

namespace evenclay {

// The mesh's own numbers: a position every six floats, with a normal behind it.
MeshRays::MeshRays(std::shared_ptr<const DisplayMesh> mesh)
    : mesh_(std::move(mesh)), scene_(mesh_->vertices, 6, mesh_->indices) {}

}  // namespace evenclay
