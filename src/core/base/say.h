// Sentences for a person, in the language of the program that says them.
#pragma once

#include <fmt/core.h>

#include <cstddef>
#include <string>
#include <string_view>
#include <utility>

namespace evenclay {

/// The translation of an English pattern; the pattern itself where there is none. Called on any thread.
using Translation = std::string (*)(std::string_view pattern);

/// What say() asks from now on; null: English. Set before other threads begin.
void speak(Translation translation) noexcept;

/// `pattern` with its {} filled in. It is asked of the translation before; one that does not fit the
/// arguments is not used. What is kept in a file or compared is never said by this.
std::string said(std::string_view pattern, fmt::format_args arguments);

template <typename... Args>
std::string say(fmt::format_string<Args...> pattern, Args&&... args) {
  const fmt::string_view p = pattern;
  return said({p.data(), p.size()}, fmt::make_format_args(args...));
}

/// The first pattern where n is 1, else the second: languages bend more than the word that is counted.
template <typename... Args>
std::string say_of(std::size_t n, fmt::format_string<Args...> one, fmt::format_string<Args...> many,
                   Args&&... args) {
  const fmt::string_view p = n == 1 ? one : many;
  return said({p.data(), p.size()}, fmt::make_format_args(args...));
}

/// "1 face", "3 faces": n of what is called `one`. What is asked for is "{} face" or "{} faces".
std::string counted(std::size_t n, std::string_view one);

}  // namespace evenclay
