// Words that come from the core, which knows no languages: labels, helps, groups, choices.
#pragma once

#include <QString>
#include <string_view>

namespace evenclay::look {

/// In the language of the window, under the context "core"; as it is where there is no translation.
QString words(std::string_view from_core);

}  // namespace evenclay::look
