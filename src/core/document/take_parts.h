// Parts of another project.
#pragma once

#include <vector>

#include "core/document/document.h"

namespace evenclay {

/// The document with the wanted parts of `other` behind its own, and with all parts that those read (hidden, unless
/// they are wanted too). They get new numbers; names that are taken get a number behind them. Named numbers that
/// their formulas use come along; where a number of that name has another text here, the one that comes gets a
/// new name. Layers and selections stay with the parts. Throws Error when a wanted part is not there.
Added with_parts_of(const Document& document, const Document& other,
                    const std::vector<PartId>& wanted);

}  // namespace evenclay
