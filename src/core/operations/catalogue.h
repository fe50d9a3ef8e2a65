// The list of all operations. Adding one is a line in catalogue.cpp.
#pragma once

#include <span>
#include <string_view>

#include "core/document/operation.h"

namespace evenclay {

/// One of each, with default parameters, in the order of the work.
std::span<const OperationPtr> catalogue();

/// The operation of that kind with default parameters; null when there is none.
std::shared_ptr<Operation> make_operation(std::string_view kind);

}  // namespace evenclay
