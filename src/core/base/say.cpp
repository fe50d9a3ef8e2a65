#include "core/base/say.h"

#include <fmt/format.h>

#include <atomic>

namespace evenclay {

namespace {

// As with the locale of a process, there is one language at a time; results only read it.
std::atomic<Translation> spoken{nullptr};

fmt::string_view view(std::string_view s) {
  return {s.data(), s.size()};
}

}  // namespace

void speak(Translation translation) noexcept {
  spoken = translation;
}

std::string said(std::string_view pattern, fmt::format_args arguments) {
  if (const Translation translation = spoken.load()) {
    try {
      return fmt::vformat(view(translation(pattern)), arguments);
    } catch (const fmt::format_error&) {
      // A translation with other places for the arguments: the English sentence is better than none.
    }
  }
  return fmt::vformat(view(pattern), arguments);
}

std::string counted(std::size_t n, std::string_view one) {
  std::string pattern = "{} ";
  pattern += one;
  if (n != 1) pattern += 's';
  return said(pattern, fmt::make_format_args(n));
}

}  // namespace evenclay
