// The commands of evenclay-run. Each returns the exit status and throws Error for wrong calls and
// FileError for files.
#pragma once

#include <string>
#include <vector>

#include "core/base/error.h"
#include "core/base/progress.h"

namespace evenclay {

struct RunOptions {
  std::string project, out, part, against;
  std::vector<std::string> additions, numbers, settings, shapings, watches, limits;
  std::vector<std::string> parts;  ///< to export; none: all that are visible
  std::string unit = "mm";
  bool text = false, estimate = false;
  double chord = 0.01;
  bool progress = false;
  Progress* work = nullptr;  ///< of all that is computed; cancelled from outside
};

int run_demo(const RunOptions& options);
int run_operations();
int run_save(const RunOptions& options);
int run_info(const RunOptions& options);
int run_export(const RunOptions& options);
int run_measure(const RunOptions& options);
int run_check(const RunOptions& options);

}  // namespace evenclay
