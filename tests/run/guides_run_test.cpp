// Guide curves and drawings through the headless runner.
#include <cstdio>

#include "run_support.h"

using namespace evenclay::testing;

TEST_CASE("guide curves are laid on a face and pulled by words") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string guided =
      " --add Sheet/plane --set Sheet/Plane.length_x=80 --set Sheet/Plane.length_y=60"
      " --add Sheet/guide_curves --set \"Sheet/Guide curves.places=50\"";
  const Json flat = Json::parse(run("measure " + file + guided + " --part Sheet").out);
  CHECK(flat["area_mm2"].get<double>() == Approx(4800.0).epsilon(1e-9));
  const Json pulled = Json::parse(
      run("measure " + file + guided + " --shape \"Sheet: pick [3]; move off_skin 9\" --part Sheet")
          .out);
  // A cubic guide of seven points: the middle one counts two thirds there.
  CHECK(pulled["box"]["max"][2].get<double>() == Approx(6.0).epsilon(0.03));
  const auto wrong = run("info " + file + guided + " --set \"Sheet/Guide curves.places=50, 130\"");
  CHECK(wrong.status == 2);
  CHECK(wrong.err.find("0 to 100") != std::string::npos);
}

TEST_CASE("a drawing of three views is written by the command line") {
  const Folder folder;
  const std::string file = uncut(folder);
  const std::string out = folder / "views.svg";
  REQUIRE(run("export " + file + " --part Shell --views --chord 0.1 --out " + out).status == 0);
  const std::string svg = read_file(out);
  for (const char* view : {"id=\"front\"", "id=\"above\"", "id=\"left\""})
    CHECK(svg.find(view) != std::string::npos);
  // The lengths that the drawing names are those that are measured.
  const Json measured = Json::parse(run("measure " + file + " --part Shell").out);
  for (std::size_t k = 0; k < 3; ++k) {
    const double length =
        measured["box"]["max"][k].get<double>() - measured["box"]["min"][k].get<double>();
    // They are taken from triangles within 0.02 mm, and rounded to 0.1 mm.
    bool named = false;
    for (const double less : {0.0, 0.04}) {
      char words[32];
      std::snprintf(words, sizeof words, ">%.1f</text>", length - less);
      named |= svg.find(words) != std::string::npos;
    }
    INFO(length);
    CHECK(named);
  }
}
