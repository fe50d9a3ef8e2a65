// Meshes from files, gaps along parts and the demo's numbers by the command line.
#include <numbers>

#include "run_support.h"

using namespace evenclay::testing;

namespace {

constexpr double kPi = std::numbers::pi;

// A wedge: half of a box of 40 × 30 × 20.
void write_wedge(const std::string& file) {
  std::ofstream(file) << "v 0 0 0\nv 40 0 0\nv 0 30 0\nv 0 0 20\nv 40 0 20\nv 0 30 20\n"
                         "f 1 3 2\nf 4 5 6\nf 1 2 5\nf 1 5 4\nf 2 3 6\nf 2 6 5\nf 3 1 4\nf 3 4 6\n";
}

Json measured(const std::string& file, const char* part, const std::string& more = "") {
  const Result r = run("measure " + file + " --part " + part + more);
  INFO(r.err);
  REQUIRE(r.status == 0);
  return Json::parse(r.out);
}

}  // namespace

TEST_CASE("a mesh file becomes a solid of surfaces by the command line, and goes out as STEP") {
  const Folder folder;
  const std::string wedge = folder / "wedge.obj", project = folder / "wedge.evenclay";
  write_wedge(wedge);
  const Result saved = run(
      "save " + uncut(folder) + " --add \"Wedge/bring_in\" --set \"Wedge/Bring in.file=" + wedge +
      "\" --add \"Wedge/convert\" --set \"Wedge/Convert to editable.points_u=5\""
      " --add \"Wedge/close_solid\" --out " +
      project);
  INFO(saved.err);
  REQUIRE(saved.status == 0);
  const Json m = measured(project, "Wedge");
  CHECK(m["closed"] == true);
  CHECK(m["volume_mm3"].get<double>() == Approx(12000.0).epsilon(1e-5));
  CHECK(m["area_mm2"].get<double>() == Approx(2 * 600.0 + 20.0 * 120.0).epsilon(1e-5));
  CHECK(m["grid"]["surfaces"] == 5);
  // What the steps say is there for scripts, too.
  const Json info = Json::parse(run("info " + project).out);
  bool said = false;
  for (const Json& part : info["parts"])
    for (const Json& step : part["steps"])
      for (const Json& note : step["notes"])
        said |= note.get<std::string>().find("became 5 surfaces") != std::string::npos;
  CHECK(said);
  const std::string out = folder / "wedge.step";
  REQUIRE(run("export " + project + " --part Wedge --out " + out).status == 0);
  CHECK(read_file(out).find("MANIFOLD_SOLID_BREP") != std::string::npos);
}

TEST_CASE(
    "a mesh that cannot be converted fails with a sentence, and the project is written all the "
    "same") {
  const Folder folder;
  const std::string thread = folder / "thread.obj", project = folder / "thread.evenclay";
  std::ofstream(thread) << "v 0 0 0\nv 40 0 0\nv 20 0.0000001 0\nf 1 2 3\n";
  const Result r = run("save " + uncut(folder) +
                       " --add \"Thread/bring_in\" --set \"Thread/Bring in.file=" + thread +
                       "\" --add \"Thread/convert\" --out " + project);
  CHECK((r.status == 0 || r.status == 4));
  const Result m = run("measure " + project + " --part Thread");
  CHECK(m.status == 4);
  INFO(m.err);
  CHECK(m.err.find("greater angle") != std::string::npos);
}

TEST_CASE("a ball split along a sheet with a gap has the volume of two caps by the command line") {
  const Folder folder;
  const std::string project = folder / "gap.evenclay";
  const Result saved = run(
      "save " + uncut(folder) +
      " --add \"Sheet/plane\" --set \"Sheet/Plane.length_x=90\" --set \"Sheet/Plane.length_y=90\""
      " --add \"Ball/sphere\" --set \"Ball/Sphere.radius=20\" --add \"Ball/split_part\""
      " --set \"Ball/Split.by=part\" --set \"Ball/Split.part=Sheet\" --set \"Ball/Split.gap=4\""
      " --out " +
      project);
  INFO(saved.err);
  REQUIRE(saved.status == 0);
  const double r = 20.0, h = 2.0;
  const Json m = measured(project, "Ball");
  CHECK(m["volume_mm3"].get<double>() ==
        Approx(2.0 * kPi * (2.0 / 3.0 * r * r * r - r * r * h + h * h * h / 3.0)).epsilon(1e-5));
  CHECK(m["closed"] == true);
  // A ball has one face; those of a box meet at angles.
  const Result box = run("measure " + project +
                         " --part Ball --add \"Block/box\" --set \"Ball/Split.part=Block\"");
  CHECK(box.status == 4);
  CHECK(box.err.find("meet at angles") != std::string::npos);
}

TEST_CASE(
    "a bowl hollowed by the command line has a flat rim, in the colour of the face that was "
    "opened") {
  const Folder folder;
  const std::string project = folder / "bowl.evenclay";
  const Result saved =
      run("save " + uncut(folder) +
          " --add \"Bowl/sphere\" --set \"Bowl/Sphere.radius=40\" --add \"Bowl/split_part\""
          " --set \"Bowl/Split.by=plane\" --set \"Bowl/Split.normal=z\" --set \"Bowl/Split.at=14\""
          " --set \"Bowl/Split.keep=second\" --add \"Bowl/shell\" --set \"Bowl/Shell.thickness=4\""
          " --set \"Bowl/Shell.faces=face 0,0,14\" --out " +
          project);
  INFO(saved.err);
  REQUIRE(saved.status == 0);
  // What of a ball lies below z: π (2/3 r³ + r² z − z³ / 3).
  const auto below = [](double r) {
    return kPi * (2.0 / 3.0 * r * r * r + 14.0 * r * r - 14.0 * 14.0 * 14.0 / 3.0);
  };
  const Json m = measured(project, "Bowl");
  CHECK(m["closed"] == true);
  CHECK(m["volume_mm3"].get<double>() == Approx(below(40.0) - below(36.0)).epsilon(1e-4));
  CHECK(m["box"]["max"][2].get<double>() == Approx(14.0).margin(1e-6));
  const Json info = Json::parse(run("info " + project).out);
  for (const Json& part : info["parts"])
    if (part["name"] == "Bowl")
      for (const Json& step : part["steps"])
        for (const Json& note : step["notes"])
          CHECK(note.get<std::string>().find("square to the skin") == std::string::npos);
}

TEST_CASE("the number of the brow lifts it in proportion from the command line") {
  const Folder folder;
  const std::string demo = folder / "demo.evenclay";
  REQUIRE(run("demo " + demo).status == 0);
  const auto bounded = [&](const char* number) {
    const Json m = measured(
        demo, "Shell",
        std::string(" --number \"lift=") + number +
            "\" --set \"Shell/In cage.enabled=false\" --set \"Shell/Trim away.enabled=false\""
            " --set \"Shell/Split.enabled=false\" --set \"Shell/Thicken.enabled=false\"");
    return m["volume_mm3"].get<double>();
  };
  // Three points go along fixed ways, so that what the shell holds grows nearly in proportion.
  const double flat = bounded("0"), half = bounded("6"), whole = bounded("12");
  CHECK(half - flat > 1000.0);
  CHECK((whole - flat) / (half - flat) == Approx(2.0).margin(0.1));
  CHECK(run("measure " + demo + " --part Shell --number \"lift=much\"").status == 2);
}
