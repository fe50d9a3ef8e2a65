// Words without the spaces around them.
#pragma once

#include <string_view>

namespace evenclay {

inline std::string_view trimmed(std::string_view text) {
  while (!text.empty() && text.front() == ' ') text.remove_prefix(1);
  while (!text.empty() && text.back() == ' ') text.remove_suffix(1);
  return text;
}

}  // namespace evenclay
