// The list of checks as a page to be read and handed on.
#pragma once

#include "core/operations/checks.h"

namespace evenclay {

/// One HTML page that needs nothing beside it: a picture of all visible parts, and for each part one with the places its lines
/// name and the lines themselves, the worst first. `title` is shown above. Throws Cancelled.
std::string checks_html(const Document& document, const CheckList& list, const std::string& title,
                        Evaluator& evaluator, Progress& progress);

}  // namespace evenclay
