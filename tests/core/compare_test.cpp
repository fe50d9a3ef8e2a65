// Two versions of a project, made to differ in known ways.
#include <catch2/catch.hpp>

#include "../uncut_demo.h"
#include "core/document/compare.h"
#include "core/document/materials.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"

using namespace evenclay;

namespace {

Document start() {
  Document d = with_number({}, "size", "20");
  Added ball = with_part(d, "Ball", make_operation("sphere"));
  d = with_step_parameter(ball.document, ball.step, "radius", "size");
  d = with_step(d, ball.part, make_operation("rebuild")).document;
  d = with_step(d, ball.part, make_operation("even_out")).document;
  return with_part(d, "Sheet", make_operation("plane")).document;
}

// As another program run would have it: nothing is shared with the first.
Document reread(const Document& d) {
  return from_project_json(to_project_json(d), make_operation, nullptr);
}

const ChangeLine* line(const std::vector<ChangeLine>& lines, const std::string& what) {
  for (const ChangeLine& l : lines)
    if (l.what == what) return &l;
  return nullptr;
}

}  // namespace

TEST_CASE("a project is the same as itself, also when it comes from a file") {
  CHECK(compare(start(), start()).same());
  CHECK(compare(start(), reread(start())).same());
  const Document demo = evenclay::testing::uncut_demo();
  CHECK(compare(demo, reread(demo)).same());
}

TEST_CASE("changed numbers, formulas and settings are named with what they were") {
  const Document before = start();
  Document after = with_number(reread(before), "size", "25");
  after = with_number(after, "wall", "2");
  after = with_setting(after, "Ball/Rebuild.points_u=14");
  after = with_setting(after, "Ball/Sphere.radius=size / 2");
  after = with_setting(after, "Ball/3.enabled=false");
  after = with_material_words(after, "Ball=gloss, #112233");
  const Comparison c = compare(before, after);
  REQUIRE(line(c.numbers, "size") != nullptr);
  CHECK(line(c.numbers, "size")->before == "20");
  CHECK(line(c.numbers, "size")->after == "25");
  CHECK(line(c.numbers, "wall")->how == Difference::Added);
  REQUIRE(c.parts.size() == 1);
  CHECK(c.parts[0].name == "Ball");
  const auto& lines = c.parts[0].lines;
  REQUIRE(line(lines, "2 Rebuild.points_u") != nullptr);
  CHECK(line(lines, "2 Rebuild.points_u")->after == "14");
  REQUIRE(line(lines, "1 Sphere.radius") != nullptr);
  CHECK(line(lines, "1 Sphere.radius")->before == "= size (20.0)");
  CHECK(line(lines, "1 Sphere.radius")->after == "= size / 2 (12.5)");
  REQUIRE(line(lines, "3 Even out.switched off") != nullptr);
  CHECK(line(lines, "colour")->after == "#112233");
  CHECK(line(lines, "clear coat")->after == "0.9");
}

TEST_CASE("what follows a changed number by the same formula is said in one line") {
  Document before = with_number(start(), "size", "20");
  before = with_setting(before, "Ball/Sphere.radius=size / 2");
  const Comparison c = compare(before, with_number(before, "size", "25"));
  REQUIRE(c.numbers.size() == 1);
  REQUIRE(c.parts.size() == 1);
  REQUIRE(c.parts[0].lines.size() == 1);
  CHECK(c.parts[0].lines[0].what == "1 Sphere follows its numbers");
}

TEST_CASE("steps and parts that came, went or changed places are told") {
  const Document before = start();
  const PartId ball = before.parts[0].id;
  Document after = reread(before);
  after = with_step(after, ball, make_operation("lighten")).document;
  after = with_step_moved(after, after.parts[0].steps[2].id, -1);
  after = without_part(after, after.parts[1].id);
  after = with_part(after, "Ring", make_operation("circle")).document;
  after = with_part_name(after, ball, "Head");
  const Comparison c = compare(before, after);
  REQUIRE(c.parts.size() == 3);
  CHECK(c.parts[0].name == "Head");
  CHECK(line(c.parts[0].lines, "name")->before == "Ball");
  CHECK(line(c.parts[0].lines, "4 Lighten")->how == Difference::Added);
  CHECK(line(c.parts[0].lines, "order of steps") != nullptr);
  CHECK(c.parts[1].name == "Ring");
  CHECK(c.parts[1].how == Difference::Added);
  CHECK(c.parts[2].name == "Sheet");
  CHECK(c.parts[2].how == Difference::Removed);
  // The other way round what came has gone.
  const Comparison back = compare(after, before);
  CHECK(line(back.parts[0].lines, "Lighten")->how == Difference::Removed);
}

TEST_CASE("projects that have nothing in common match by names") {
  const Document before = start();
  Document other = with_part({}, "Sheet", make_operation("plane")).document;
  other = with_setting(other, "Sheet/Plane.length_x=77");
  const Comparison c = compare(before, other);
  const auto sheet = std::find_if(c.parts.begin(), c.parts.end(),
                                  [](const PartChange& p) { return p.name == "Sheet"; });
  REQUIRE(sheet != c.parts.end());
  CHECK(sheet->how == Difference::Changed);
  CHECK(compare({}, {}).same());
}
