// Pictures, frozen and lean projects, materials and tables of variants by the command line.
#include <numbers>
#include <sstream>

#include "run_support.h"

using namespace evenclay::testing;

namespace {

// A ball whose radius is a named number.
std::string ball(const Folder& folder) {
  const std::string file = folder / "ball.evenclay";
  evenclay::save_project({}, folder / "empty.evenclay");
  const Result r = run("save " + (folder / "empty.evenclay") + " --out " + file +
                       " --add Ball/sphere --number 'size=20' --set 'Ball/Sphere.radius=size' "
                       "--material 'Ball=gloss, #A8512F'");
  INFO(r.err);
  REQUIRE(r.status == 0);
  return file;
}

std::vector<std::string> lines(const std::string& text) {
  std::vector<std::string> all;
  std::istringstream in(text);
  for (std::string line; std::getline(in, line);) all.push_back(line);
  return all;
}

std::vector<std::string> fields(const std::string& line) {
  std::vector<std::string> all;
  std::istringstream in(line);
  for (std::string field; std::getline(in, field, ',');) all.push_back(field);
  return all;
}

}  // namespace

TEST_CASE("render writes a picture of the size that was asked for") {
  const Folder folder;
  const std::string file = ball(folder), png = folder / "ball.png";
  const Result r = run("render " + file + " --out " + png + " --size 64x48 --rays 4 --transparent");
  INFO(r.err);
  REQUIRE(r.status == 0);
  const std::string bytes = read_file(png);
  REQUIRE(bytes.size() > 33);
  CHECK(bytes.substr(1, 3) == "PNG");
  CHECK(static_cast<int>(bytes[19]) == 64);
  CHECK(static_cast<int>(bytes[23]) == 48);
  for (const char* wrong :
       {"--size 64", "--size 9000x10", "--from x", "--view Nowhere", "--rays 0", "--part Nobody"}) {
    INFO(wrong);
    CHECK(run("render " + file + " --out " + png + " " + wrong).status == 2);
  }
  CHECK(run("render " + file + " --out /nowhere/ball.png --size 32x32 --rays 1").status == 3);
}

TEST_CASE("a face gets its colour by words, and the picture and the files have it") {
  const Folder folder;
  evenclay::save_project({}, folder / "empty.evenclay");
  const std::string file = folder / "box.evenclay", obj = folder / "box.obj";
  const Result r = run("save " + (folder / "empty.evenclay") + " --out " + file +
                       " --add Box/box --material 'Box face 0,0,99=#C0392B, metal 1'");
  INFO(r.err);
  REQUIRE(r.status == 0);
  REQUIRE(run("export " + file + " --part Box --out " + obj).status == 0);
  const std::string colours = read_file(folder / "box.mtl");
  CHECK(colours.find("Kd 0.7529 0.2235 0.1686") != std::string::npos);  // 0xC0392B ÷ 255
  CHECK(colours.find("Pm 1.0000") != std::string::npos);
  CHECK(read_file(obj).find("usemtl part2") != std::string::npos);
  const Result wrong = run("save " + file + " --out " + file + " --material 'Box face 0,0=gloss'");
  CHECK(wrong.status == 2);
  CHECK(wrong.err.find("Box face 0,0") != std::string::npos);
}

TEST_CASE("a table becomes variants with measures by formula, files and pictures") {
  const Folder folder;
  const std::string file = ball(folder);
  std::ofstream(folder / "table.csv") << "name,size,Ball/Sphere.centre_z\r\n"
                                         "small,10,0\n\"wide, \"\"one\"\"\",20,5\n\nlarge,30,0\n";
  const std::string out = folder / "variants";
  const Result r = run("batch " + file + " --table " + (folder / "table.csv") + " --out " + out +
                       " --file stl --file png --size 32x32 --rays 1 --chord 0.05");
  INFO(r.err);
  REQUIRE(r.status == 0);
  const std::vector<std::string> rows = lines(read_file(out + "/measures.csv"));
  REQUIRE(rows.size() == 4);
  const std::vector<std::string> head = fields(rows[0]);
  const auto column = [&](const std::string& name) {
    return static_cast<std::size_t>(std::find(head.begin(), head.end(), name) - head.begin());
  };
  REQUIRE(column("Ball volume mm3") < head.size());
  for (const auto& [row, radius] : {std::pair{1U, 10.0}, {3U, 30.0}}) {
    const std::vector<std::string> cells = fields(rows[row]);
    CHECK(std::stod(cells[column("Ball volume mm3")]) ==
          Approx(4.0 / 3.0 * std::numbers::pi * radius * radius * radius).epsilon(1e-5));
    CHECK(std::stod(cells[column("Ball x mm")]) == Approx(2.0 * radius).epsilon(1e-5));
  }
  CHECK(rows[2].starts_with("\"wide, \"\"one\"\"\","));
  for (const char* name : {"small.stl", "small.png", "large.stl", "large.png", "wide, -one-.stl"}) {
    INFO(name);
    CHECK(fs::exists(fs::path(out) / name));
  }
  // A triangle a facet of 50 bytes behind a head of 84 (binary STL).
  CHECK((fs::file_size(fs::path(out) / "small.stl") - 84) % 50 == 0);
}

TEST_CASE("tables that do not fit are refused with the line") {
  const Folder folder;
  const std::string file = ball(folder);
  const auto tried = [&](const std::string& text) {
    std::ofstream(folder / "t.csv") << text;
    return run("--json batch " + file + " --table " + (folder / "t.csv") + " --out " +
               (folder / "o"));
  };
  CHECK_THAT(tried("size\n1\n1,2\n").err, Catch::Contains("Line 3 of the table has 2 fields"));
  CHECK(tried("").status == 3);
  CHECK(tried("size\n\"1").status == 3);
  // Two rows of one name, also where only what no file may be called differs, would write over each other.
  CHECK_THAT(tried("name,size\na,1\nb,2\na,3\n").err, Catch::Contains("Rows 1 and 3"));
  CHECK_THAT(tried("name,size\na/b,1\na:b,2\n").err, Catch::Contains("Rows 1 and 2"));
  CHECK_FALSE(fs::exists(folder / "o"));
  const Result wrong = tried("Ball/Sphere.nothing\n1\n");
  CHECK(wrong.status == 2);
  const Json j = Json::parse(wrong.err);
  CHECK(j["status"] == 2);
  CHECK(j["error"].get<std::string>().size() > 10);
  CHECK(run("batch " + file + " --table /nowhere.csv --out x").status == 3);
}

TEST_CASE("a part is frozen by words, and a lean project has no steps but those that keep shapes") {
  const Folder folder;
  const std::string file = ball(folder), frozen = folder / "f.evenclay",
                    lean = folder / "l.evenclay";
  REQUIRE(run("save " + file + " --out " + frozen + " --freeze Ball --number size=99").status == 0);
  // Frozen after the number was changed; another change does not reach it any more.
  const Result m = run("measure " + frozen + " --part Ball --number size=5");
  REQUIRE(m.status == 0);
  CHECK(Json::parse(m.out)["volume_mm3"].get<double>() ==
        Approx(4.0 / 3.0 * std::numbers::pi * 99 * 99 * 99).epsilon(1e-8));
  const Json info = Json::parse(run("info " + frozen).out);
  CHECK(info["parts"][0]["steps"][0]["folded"] == true);
  CHECK(info["parts"][0]["steps"][1]["folded"] == false);
  REQUIRE(run("save " + file + " --out " + lean + " --lean").status == 0);
  const Json left = Json::parse(run("info " + lean).out);
  REQUIRE(left["parts"][0]["steps"].size() == 1);
  CHECK(left["parts"][0]["steps"][0]["kind"] == "frozen");
  CHECK(left["numbers"].empty());
  CHECK(run("save " + file + " --out " + frozen + " --freeze Ball/Nothing").status == 2);
}

TEST_CASE("print check by the command line says bed, layers and material") {
  const Folder folder;
  const std::string file = ball(folder), checked = folder / "p.evenclay";
  REQUIRE(run("save " + file + " --out " + checked +
              " --add 'Print check/print_check' --set 'Print check/Print check.of=Ball'")
              .status == 0);
  const Json j = Json::parse(run("info " + checked).out);
  std::string notes;
  for (const Json& n : j["parts"][1]["steps"][0]["notes"]) notes += n.get<std::string>() + "\n";
  CHECK_THAT(notes, Catch::Contains("Fits: 40.0 × 40.0 × 40.0 mm"));
  CHECK_THAT(notes, Catch::Contains("200 layers"));
}

TEST_CASE("two versions are compared by the command line, with the deviation by formula") {
  const Folder folder;
  const std::string file = ball(folder), newer = folder / "newer.evenclay";
  REQUIRE(run("save " + file + " --out " + newer + " --number size=21").status == 0);
  const Result r = run("compare " + file + " " + newer);
  REQUIRE(r.status == 0);
  const Json j = Json::parse(r.out);
  CHECK(j["same"] == false);
  CHECK(j["numbers"][0]["what"] == "size");
  CHECK(j["numbers"][0]["after"] == "21");
  CHECK(j["parts"][0]["deviation"]["max_mm"].get<double>() == Approx(1.0).epsilon(1e-3));
  CHECK(Json::parse(run("compare " + file + " " + file).out)["same"] == true);
  CHECK(run("compare " + file + " /nowhere.evenclay").status == 3);
}
