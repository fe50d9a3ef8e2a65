#pragma once

#include "core/exchange/brought_file.h"

namespace evenclay {

/// .obj, .stl and .ply by Assimp; see read_file().
BroughtFile read_mesh(const std::string& name, const std::string& bytes, const std::string& ending,
                      Progress& progress);

}  // namespace evenclay
