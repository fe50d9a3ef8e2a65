// What the demo's parts are made of, from where they are looked at, and how one would be printed.
#pragma once

#include "core/document/document.h"

namespace evenclay {

/// Throws Error when a part of the demo is not there.
Document with_finish(const Document& demo);

}  // namespace evenclay
