// Errors a user can cause. The text is a sentence for a designer: what happened, to what, and
// what to do next. Mistakes of programming are assertions instead.
#pragma once

#include <stdexcept>
#include <string>

namespace evenclay {

class Error : public std::runtime_error {
 public:
  explicit Error(const std::string& sentence) : std::runtime_error(sentence) {}
};

/// A file that cannot be read or written; the runner answers it with exit status 3.
class FileError : public Error {
 public:
  using Error::Error;
};

/// A rational shape whose weights would not stay positive.
class WeightError : public Error {
 public:
  using Error::Error;
};

/// Thrown out of long work after Progress::cancel(). Not an Error: nothing went wrong.
class Cancelled : public std::runtime_error {
 public:
  Cancelled() : std::runtime_error("Cancelled.") {}
};

}  // namespace evenclay
