// Layers, locks, saved views, the order of steps, and the list of changes.
#include <catch2/catch.hpp>

#include "core/base/error.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/document/session.h"
#include "core/operations/catalogue.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"

using namespace evenclay;

namespace {

Document two_parts() {
  Document d = with_part({}, "Lid", std::make_shared<PlaneOperation>()).document;
  return with_part(d, "Base", std::make_shared<PlaneOperation>()).document;
}

std::string names_of(const Part& part) {
  std::string all;
  for (const Step& s : part.steps) all += s.name + ";";
  return all;
}

}  // namespace

TEST_CASE("a layer hides and locks the parts that lie in it, and they keep their own state") {
  Document d = two_parts();
  const PartId lid = d.parts[0].id;
  d = with_part_in_layer(d, lid, "Outside");
  REQUIRE(d.layers.size() == 1);
  CHECK(is_visible(d, d.parts[0]));
  d = with_layer(d, {"Outside", false, true});
  CHECK_FALSE(is_visible(d, d.parts[0]));
  CHECK(is_locked(d, d.parts[0]));
  CHECK(d.parts[0].look.visible);
  CHECK_FALSE(d.parts[0].locked);
  CHECK(is_visible(d, d.parts[1]));
  CHECK_FALSE(is_locked(d, d.parts[1]));
  d = without_layer(d, "Outside");
  CHECK(is_visible(d, d.parts[0]));
  CHECK(d.parts[0].layer.empty());
  d = with_lock(d, lid, true);
  CHECK(is_locked(d, d.parts[0]));
}

TEST_CASE("a renamed layer keeps its parts, and two layers never share a name") {
  Document d = with_part_in_layer(two_parts(), 1, "Outside");
  d = with_layer(d, {"Inside"});
  d = with_layer_name(d, "Outside", "Skin");
  CHECK(d.parts[0].layer == "Skin");
  CHECK_THROWS_WITH(with_layer_name(d, "Skin", "Inside"), Catch::Contains("another name"));
  CHECK_THROWS_AS(with_layer_name(d, "Skin", ""), Error);
  CHECK_THROWS_AS(with_layer_name(d, "no such", "x"), Error);
  CHECK_THROWS_AS(without_layer(d, "no such"), Error);
  CHECK_THROWS_AS(with_layer(d, {""}), Error);
}

TEST_CASE("layers, locks and saved views are read back as they were written") {
  Document d = with_part_in_layer(two_parts(), 1, "Outside");
  d = with_layer(d, {"Outside", false, true});
  d = with_layer(d, {"Empty"});
  d = with_lock(d, d.parts[1].id, true);
  d = with_view(d, {"from below", {1, -2.5, 3}, 30.0, -40.0, 75.5, false});
  const Document back = from_project_json(to_project_json(d), make_operation);
  CHECK((back.layers == d.layers));
  CHECK((back.views == d.views));
  CHECK(back.parts[0].layer == "Outside");
  CHECK(back.parts[1].locked);
  CHECK_FALSE(back.parts[0].locked);
}

TEST_CASE("a project whose part names a layer that is not written down still opens") {
  std::string text = to_project_json(with_part_in_layer(two_parts(), 1, "Outside"));
  const auto at = text.find("\"layers\"");
  REQUIRE(at != std::string::npos);
  text.replace(at, 8, "\"ignored\"");
  const Document d = from_project_json(text, make_operation);
  CHECK(find_layer(d, "Outside") != nullptr);
}

TEST_CASE("a view that looks from nowhere is refused with its name") {
  const Document d = two_parts();
  CHECK_THROWS_WITH(with_view(d, {"bad", {}, 0, 0, 0.0, true}), Catch::Contains("bad"));
  CHECK_THROWS_AS(with_view(d, {"bad", {}, 0, 91.0, 10.0, true}), Error);
  CHECK_THROWS_AS(with_view(d, {"", {}, 0, 0, 10.0, true}), Error);
  CHECK_THROWS_AS(without_view(d, "none"), Error);
  Document kept = with_view(d, {"a", {}, 0, 0, 10.0, true});
  kept = with_view(kept, {"a", {}, 5, 0, 10.0, true});
  REQUIRE(kept.views.size() == 1);
  CHECK(kept.views[0].yaw == 5.0);
  CHECK(without_view(kept, "a").views.empty());
}

TEST_CASE("steps change places within their part, and the source stays the first") {
  Document d = two_parts();
  const PartId lid = d.parts[0].id;
  for (const char* name : {"one", "two", "three"}) {
    const Added added = with_step(d, lid, std::make_shared<RebuildOperation>());
    d = with_step_name(added.document, added.step, name);
  }
  const auto id = [&](std::size_t k) { return d.parts[0].steps[k].id; };
  CHECK(names_of(with_step_moved(d, id(1), 2).parts[0]) == "Plane;two;three;one;");
  CHECK(names_of(with_step_moved(d, id(3), -2).parts[0]) == "Plane;three;one;two;");
  CHECK(names_of(with_step_moved(d, id(2), 1).parts[0]) == "Plane;one;three;two;");
  CHECK_THROWS_WITH(with_step_moved(d, id(0), 1), Catch::Contains("source"));
  CHECK_THROWS_AS(with_step_moved(d, id(1), -1), Error);
  CHECK_THROWS_AS(with_step_moved(d, id(3), 1), Error);
  CHECK_THROWS_AS(with_step_moved(d, 999, 1), Error);
}

TEST_CASE("the list of changes names them all, and going to one is as many undos or redos") {
  Session s(two_parts());
  std::vector<Document> states{s.current()};
  for (const char* name : {"A", "B", "C"}) {
    s.commit(with_part_name(s.current(), 1, name), std::string("Rename to ") + name);
    states.push_back(s.current());
  }
  REQUIRE(s.changes().size() == 3);
  CHECK(s.changes()[1].label == "Rename to B");
  CHECK(s.done() == 3);
  s.go_to(1);
  CHECK(s.done() == 1);
  CHECK(s.current().parts[0].name == "A");
  CHECK(s.changes().size() == 3);
  CHECK(s.changes()[2].label == "Rename to C");
  s.go_to(99);
  CHECK(s.done() == 3);
  CHECK(s.current().parts[0].name == "C");
  s.go_to(0);
  CHECK(to_project_json(s.current()) == to_project_json(states[0]));
  CHECK_FALSE(s.unsaved());
  s.undo();  // nothing left: no error
  CHECK(s.done() == 0);
}

TEST_CASE("changes that continue each other are one entry") {
  Session s(two_parts());
  s.commit(with_part_name(s.current(), 1, "A"), "Move point", "drag");
  s.commit(with_part_name(s.current(), 1, "B"), "Move point", "drag");
  CHECK(s.changes().size() == 1);
  s.close_merge();
  s.commit(with_part_name(s.current(), 1, "C"), "Move point", "drag");
  CHECK(s.changes().size() == 2);
  CHECK(s.changes()[0].when <= s.changes()[1].when);
}

TEST_CASE("layers and views that are no such things are refused with a sentence") {
  Document d = with_part_in_layer(two_parts(), 1, "Outside");
  d = with_view(d, {"from below", {1, 2, 3}, 30.0, -40.0, 75.5, false});
  const auto with = [&](const std::string& from, const std::string& to) {
    std::string text = to_project_json(d);
    const auto at = text.find(from);
    REQUIRE(at != std::string::npos);
    return from_project_json(text.replace(at, from.size(), to), make_operation);
  };
  CHECK_THROWS_WITH(with("\"height_mm\": 75.5", "\"height_mm\": -1"),
                    Catch::Contains("from below"));
  CHECK_THROWS_WITH(with("\"pitch\": -40.0", "\"pitch\": 400"), Catch::Contains("from below"));
  CHECK_THROWS_WITH(with("\"name\": \"Outside\"", "\"name\": \"\""),
                    Catch::Contains("needs a name"));
  CHECK_THROWS_WITH(with("\"visible\": true,\n   \"locked\"", "\"visible\": 7,\n   \"locked\""),
                    Catch::Contains("not written as it should be") || Catch::Contains("damaged"));
  CHECK_THROWS_AS(with("\"yaw\": 30.0", "\"yaw\": \"left\""), Error);
}

TEST_CASE("locks and layers change nothing of what is computed") {
  Document d = two_parts();
  const auto parts_of = [](const Document& doc) {
    Progress progress;
    return Evaluator().evaluate(doc, progress).parts.size();
  };
  const std::size_t before = parts_of(d);
  d = with_lock(with_part_in_layer(d, 1, "Outside"), d.parts[1].id, true);
  d = with_layer(d, {"Outside", false, true});
  CHECK(parts_of(d) == before);
  // What is locked by hand can still be changed by words.
  CHECK(with_setting(d, "Lid/1.length_x=33").parts[0].locked == d.parts[0].locked);
}
