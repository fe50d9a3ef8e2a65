// Writing where there is no room, no folder or no right to, and names as people give them.
#include <algorithm>
#include <vector>

#include "run_support.h"

using namespace evenclay::testing;

namespace {

// Runs with files limited to so many kilobytes: a write beyond fails, as on a full disk. The signal that goes with
// the limit is ignored, since a full disk sends none.
Result run_with_room(int blocks, const std::string& arguments) {
  const std::string base =
      (fs::temp_directory_path() / ("evenclay-full-" + std::to_string(::getpid()))).string();
  const std::string command = "bash -c \"trap '' XFSZ; ulimit -f " + std::to_string(blocks) +
                              "; exec '" + EVENCLAY_RUN + "' " + arguments + "\" 2>" + base +
                              ".err >/dev/null </dev/null";
  const int status = std::system(command.c_str());
  Result r{WEXITSTATUS(status), {}, read_file(base + ".err")};
  fs::remove(base + ".err");
  return r;
}

std::vector<std::string> files_in(const fs::path& folder) {
  std::vector<std::string> names;
  for (const auto& entry : fs::directory_iterator(folder))
    names.push_back(entry.path().filename().string());
  std::sort(names.begin(), names.end());
  return names;
}

}  // namespace

TEST_CASE("a full disk keeps the older file and leaves no half one") {
  const Folder folder;
  const std::string file = demo(folder);  // its attached files make it large enough
  const std::string before = read_file(file);
  REQUIRE(before.size() > 4096);
  const std::string quick = uncut(folder);
  const auto was = files_in(folder.path);
  const Result saved = run_with_room(4, "save " + file + " --out " + file);
  INFO(saved.err);
  CHECK(saved.status == 3);
  CHECK(saved.err.find("cannot be written") != std::string::npos);
  CHECK(read_file(file) == before);
  CHECK(files_in(folder.path) == was);
  for (const char* ending : {"stl", "obj", "ply", "3mf", "glb", "step", "iges", "surface.json"}) {
    const Result r =
        run_with_room(4, "export " + quick + " --part Shell --out " + (folder / "out.") + ending);
    INFO(ending << ": " << r.err);
    CHECK(r.status == 3);
    CHECK(r.err.size() > 20);
    CHECK(files_in(folder.path) == was);
  }
}

TEST_CASE("a folder that is not there or takes no files is said") {
  const Folder folder;
  const std::string file = uncut(folder);
  for (const char* where : {"/nowhere/at/all/x.evenclay", "/proc/x.evenclay"}) {
    const Result r = run("save " + file + " --out " + where);
    INFO(where << ": " << r.err);
    CHECK(r.status == 3);
    CHECK(r.err.find(where) != std::string::npos);
  }
  CHECK(run("export " + file + " --part Shell --out /proc/x.stl").status == 3);
}

TEST_CASE("names with spaces, umlauts and quotes are written and read") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string name = (folder.path / "M\u00FCllers L\u00F6we \u201E1\u201C.evenclay").string();
  REQUIRE(run("save " + file + " --out '" + name + "'").status == 0);
  CHECK(run("info '" + name + "'").status == 0);
  const std::string mesh = (folder.path / "Schale \u00E4u\u00DFere.stl").string();
  REQUIRE(run("export '" + name + "' --part Shell --out '" + mesh + "'").status == 0);
  CHECK(fs::file_size(mesh) > 1000);
}
