// Words that come from the core, which knows no languages: labels, helps, groups, choices, sentences.
#pragma once

#include <QString>
#include <string>
#include <string_view>

namespace evenclay::look {

/// In the language of the window, under the context "core"; as it is where there is no translation.
QString words(std::string_view from_core);

/// What the core's say() asks: the same, for patterns with {}. May be called on any thread.
std::string spoken(std::string_view pattern);

}  // namespace evenclay::look
