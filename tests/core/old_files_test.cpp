// Projects saved by earlier states of the program, with the measures that those printed (tests/projects): they open, nothing in
// them is lost, and their shapes are the same.
#include <unistd.h>
#include <catch2/catch.hpp>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>

#include "core/document/compare.h"
#include "core/document/evaluator.h"
#include "core/document/project_file.h"
#include "core/operations/catalogue.h"
#include "core/operations/report.h"

using namespace evenclay;
namespace fs = std::filesystem;

TEST_CASE("projects of earlier states open unchanged, and their shapes have the measures of then") {
  std::size_t opened = 0;
  for (const auto& entry : fs::directory_iterator(EVENCLAY_OLD_PROJECTS)) {
    if (entry.path().extension() != ".evenclay") continue;
    INFO(entry.path().filename().string());
    const Document d = open_project(entry.path(), make_operation);
    // Each step is known, and written again it reads as the same.
    for (const Part& part : d.parts)
      for (const Step& s : part.steps) CHECK(s.operation->info().kind == s.operation->kind());
    const fs::path again = fs::temp_directory_path() /
                           ("old-" + std::to_string(::getpid()) + entry.path().filename().string());
    save_project(d, again);
    CHECK(compare(d, open_project(again, make_operation)).same());
    fs::remove(again);
    std::ifstream in(fs::path(entry.path()).replace_extension(".json"));
    const auto then = nlohmann::json::parse(in);
    REQUIRE(then.size() > 0);
    Progress progress;
    Evaluator evaluator;
    for (const auto& [name, measures] : then.items()) {
      INFO(name);
      const Part* part = find_part(d, std::string_view(name));
      REQUIRE(part != nullptr);
      const PartResult result = evaluator.evaluate(d, progress, {part->id}).parts.at(part->id);
      CHECK_FALSE(result.failed);
      const Report r = report(*result.shape, nullptr, {}, progress);
      CHECK(r.area == Approx(measures["area_mm2"].get<double>()).epsilon(1e-4));
      if (measures.contains("volume_mm3")) {
        REQUIRE(r.volume);
        CHECK(*r.volume == Approx(measures["volume_mm3"].get<double>()).epsilon(1e-4));
      }
    }
    ++opened;
  }
  CHECK(opened >= 3);
}
