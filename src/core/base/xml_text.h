// Text that is put into XML or HTML.
#pragma once

#include <string>
#include <string_view>

namespace evenclay {

/// With the signs that mean something there written as entities, and without control characters.
inline std::string xml_text(std::string_view text) {
  std::string out;
  for (const char c : text) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else if (static_cast<unsigned char>(c) >= 0x20)
      out += c;
  }
  return out;
}

}  // namespace evenclay
