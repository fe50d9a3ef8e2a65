// Parts of the demo that are made in files of their own. Only for core/demo.
#pragma once

#include "core/document/document.h"

namespace evenclay {

/// The lid of the travel case, which stands over the speaker: a rim, a collar with diagonal ribs, and a dome that goes on
/// from it with a hollow for the thumb.
Document with_case(const Document& document);

/// A ring with two sharp loops, and bridged to it the clasp that holds it at the back of the shell.
Document with_carry_loop(Document document);

/// A box whose back is sharp and whose middle is opened for a pin, as a solid.
Document with_badge(Document document);

}  // namespace evenclay
