// Parts of another project: with what they read, with the numbers they use, and computed alike.
#include <catch2/catch.hpp>
#include <set>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/document/take_parts.h"
#include "core/operations/catalogue.h"

using namespace evenclay;

namespace {

double area_of(const Document& d, std::string_view name) {
  Progress progress;
  const PartId id = find_part(d, name)->id;
  const PartResult r = Evaluator().evaluate(d, progress, {id}).parts.at(id);
  REQUIRE_FALSE(r.failed);
  double sum = 0.0;
  for (const Face& f : std::get<Body>(*r.shape).faces) sum += area(f, progress);
  return sum;
}

}  // namespace

TEST_CASE("a part comes with all that it reads, and is computed as there") {
  const Document demo = make_demo();
  const Added added = with_parts_of({}, demo, {find_part(demo, std::string_view("Knob"))->id});
  const Document& d = added.document;
  REQUIRE(d.parts.size() == 3);  // the ring and the profile come along
  CHECK(find_part(d, added.part)->name == "Knob");
  CHECK(find_part(d, std::string_view("Knob"))->look.visible);
  CHECK_FALSE(find_part(d, std::string_view("Knob profile"))->look.visible);
  CHECK(area_of(d, "Knob") == Approx(area_of(demo, "Knob")).epsilon(1e-12));
  CHECK(find_layer(d, "Controls") != nullptr);
  // It can be written and read like any other.
  CHECK(to_project_json(from_project_json(to_project_json(d), make_operation)) ==
        to_project_json(d));
}

TEST_CASE("names that are taken get a number, and numbers that mean something else a new name") {
  Document here = with_number({}, "radius", "10");
  const Document demo = make_demo();
  const PartId shell = find_part(demo, std::string_view("Shell"))->id;
  const Document once = with_parts_of(here, demo, {shell}).document;
  CHECK(once.numbers.size() == 6);  // its own radius, and five that the shell uses
  CHECK(once.numbers[0].text == "10");
  CHECK(once.numbers[1].name == "radius_2");
  CHECK(find_part(once, std::string_view("Shell"))->steps[0].formulas.at("radius") == "radius_2");
  const Document twice = with_parts_of(once, demo, {shell}).document;
  CHECK(find_part(twice, std::string_view("Shell 2")) != nullptr);
  CHECK(area_of(twice, "Shell 2") == Approx(area_of(demo, "Shell")).epsilon(1e-12));
  // Everything has a number of its own.
  std::set<int> ids;
  for (const Part& p : twice.parts) {
    CHECK(ids.insert(p.id).second);
    for (const Step& s : p.steps) CHECK(ids.insert(s.id).second);
  }
}

TEST_CASE("a part that is not there, or none at all, is refused") {
  CHECK_THROWS_AS(with_parts_of({}, make_demo(), {}), Error);
  CHECK_THROWS_AS(with_parts_of({}, make_demo(), {123456}), Error);
}
