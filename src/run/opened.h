// What several commands begin and end with.
#pragma once

#include <string>
#include <thread>

#include "core/document/evaluator.h"
#include "run/commands.h"

namespace evenclay {

inline constexpr int kStepFailed = 4;

/// The project with all that the options change. Throws Error, FileError.
Document opened(const RunOptions& options);
/// Throws Error with the names that there are.
const Part& part_named(const Document& document, const std::string& name);
/// "Part / Step: sentence" of each step that failed.
std::vector<std::string> failures(const Document& document, const Evaluation& evaluation);
/// Says on stderr which steps failed; true when any did.
bool complain(const Document& document, const Evaluation& evaluation);

/// Prints the share of a Progress to stderr while it lives.
class ProgressPrinter {
 public:
  ProgressPrinter(const Progress& progress, bool wanted);

 private:
  std::jthread thread_;
};

}  // namespace evenclay
