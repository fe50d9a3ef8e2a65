// ZIP containers, as projects and some exchange files are.
#pragma once

#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace evenclay {

/// Names and contents as the bytes of one ZIP file, equal for equal contents. Throws FileError.
std::string packed(const std::vector<std::pair<std::string, std::string_view>>& entries);

}  // namespace evenclay
