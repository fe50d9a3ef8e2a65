// The headless runner as a user drives it: by its command line, in a folder of its own.
#pragma once

#include <sys/wait.h>
#include <unistd.h>

#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <string>

#include "../uncut_demo.h"
#include "core/document/project_file.h"

namespace evenclay::testing {

using Json = nlohmann::json;
namespace fs = std::filesystem;

struct Folder {
  fs::path path = fs::temp_directory_path() / ("evenclay-run-" + std::to_string(::getpid()));
  Folder() { fs::create_directories(path); }
  ~Folder() { fs::remove_all(path); }
  std::string operator/(const char* name) const { return (path / name).string(); }
};

struct Result {
  int status;
  std::string out, err;
};

inline std::string read_file(const std::string& name) {
  std::ifstream in(name, std::ios::binary);
  return {std::istreambuf_iterator<char>(in), {}};
}

inline Result run(const std::string& arguments) {
  const std::string base =
      (fs::temp_directory_path() / ("evenclay-out-" + std::to_string(::getpid()))).string();
  const std::string command = std::string("'") + EVENCLAY_RUN + "' " + arguments + " >" + base +
                              ".out 2>" + base + ".err </dev/null";
  const int status = std::system(command.c_str());
  Result r{WEXITSTATUS(status), read_file(base + ".out"), read_file(base + ".err")};
  fs::remove(base + ".out");
  fs::remove(base + ".err");
  return r;
}

inline std::string demo(const Folder& folder) {
  const std::string file = folder / "d.evenclay";
  REQUIRE(run("demo " + file).status == 0);
  return file;
}

// The demo as it is before the opening is cut.
inline std::string uncut(const Folder& folder) {
  const std::string file = folder / "u.evenclay";
  save_project(evenclay::testing::uncut_demo(), file);
  return file;
}

}  // namespace evenclay::testing
