// The demo project "Skerry", a palm-sized portable speaker by the invented Lowtide Workshop,
// made entirely by build steps.
#pragma once

#include "core/document/document.h"

namespace evenclay {

Document make_demo();

}  // namespace evenclay
