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
  std::vector<std::string> additions, numbers, settings, shapings, watches, limits, materials;
  std::vector<std::string> parts;   ///< to export; none: all that are visible
  std::vector<std::string> frozen;  ///< "Part" or "Part/Step" to be kept as they are
  bool lean = false;                ///< plain geometry only
  std::string unit = "mm";
  bool text = false, estimate = false, views = false;
  double chord = 0.01;
  double angle = 0.0;
  std::string size = "1280x800";  ///< of a picture, pixels
  std::string view, from;         ///< a saved view, or degrees about z and above the horizon
  bool transparent = false;
  int rays = 16;
  int edge = 256;                    ///< of a small square picture, pixels
  std::string table;                 ///< of numbers, comma-separated
  std::vector<std::string> endings;  ///< of the files that each row of a table becomes
  bool json_errors = false;
  bool progress = false;
  Progress* work = nullptr;  ///< of all that is computed; cancelled from outside
};

int run_demo(const RunOptions& options);
int run_operations();
int run_save(const RunOptions& options);
int run_info(const RunOptions& options);
int run_export(const RunOptions& options);
int run_measure(const RunOptions& options);
int run_compare(const RunOptions& options);
int run_check(const RunOptions& options);
int run_render(const RunOptions& options);
int run_thumbnail(const RunOptions& options);
int run_batch(const RunOptions& options);

}  // namespace evenclay
