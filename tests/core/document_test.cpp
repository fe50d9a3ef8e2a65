#include <catch2/catch.hpp>
#include <chrono>
#include <mutex>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/display/worker.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/document/session.h"
#include "core/operations/catalogue.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "core/operations/shaped_points.h"
#include "core/operations/sphere.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

Evaluation evaluate_all(const Document& d, Evaluator& e) {
  Progress progress;
  return e.evaluate(d, progress);
}

const Surface& surface_of(const Evaluation& e, PartId part) {
  return *std::get<Body>(*e.parts.at(part).shape).faces.front().surface;
}

}  // namespace

TEST_CASE("the demo evaluates without a failing step") {
  const Document d = make_demo();
  REQUIRE(d.parts.size() == 25);
  Evaluator evaluator;
  const Evaluation e = evaluate_all(d, evaluator);
  for (const Part& p : d.parts) {
    INFO(p.name);
    CHECK_FALSE(e.parts.at(p.id).failed);
    CHECK_FALSE(is_empty(*e.parts.at(p.id).shape));
  }
  // scenario: underside flattened at z = −34 mm
  double lowest = 0;
  for (const Vec3& p : surface_of(e, find_part(d, "Shell")->id).points.values())
    lowest = std::min(lowest, p.z);
  CHECK(lowest == Approx(-34));
}

TEST_CASE("an edit recomputes only what is downstream") {
  const Document d = uncut_demo();
  Evaluator evaluator;
  evaluate_all(d, evaluator);
  const std::size_t first = evaluator.applied();
  CHECK(first == 10);
  evaluate_all(d, evaluator);
  CHECK(evaluator.applied() == first);
  // The tile's last step: itself and the Grille that reads it.
  const Document edited = with_setting(d, "Dimple tile/Shaped points.point[2,2]=0,0,-1");
  evaluate_all(edited, evaluator);
  CHECK(evaluator.applied() == first + 2);
  evaluate_all(d, evaluator);  // undo finds its shapes again
  CHECK(evaluator.applied() == first + 2);
}

TEST_CASE("a failing step keeps its sentence and passes on the shape below") {
  Document d = uncut_demo();
  const Part* shell = find_part(d, "Shell");
  auto bad = std::make_shared<RebuildOperation>();
  bad->points_u = 3;
  bad->degree_u = 5;
  const Added added = with_step(d, shell->id, bad);
  Evaluator evaluator;
  const Evaluation e = evaluate_all(added.document, evaluator);
  const PartResult& r = e.parts.at(shell->id);
  REQUIRE(r.steps.size() == 4);
  CHECK(r.steps[3].failed);
  CHECK_THAT(r.steps[3].message, Catch::Contains("needs at least 6 control points"));
  CHECK(r.shape == r.steps[2].shape);
}

TEST_CASE("switching a step off passes on the shape below, and so does removing it") {
  const Document d = uncut_demo();
  const Part* shell = find_part(d, "Shell");
  const StepId shaped = shell->steps[2].id;
  Evaluator evaluator;
  const Evaluation off = evaluate_all(with_step_enabled(d, shaped, false), evaluator);
  const Evaluation gone = evaluate_all(without_step(d, shaped), evaluator);
  CHECK(surface_of(off, shell->id) == surface_of(gone, shell->id));
  CHECK_THROWS_WITH(without_step(d, shell->steps[0].id), Catch::Contains("Remove the part"));
}

TEST_CASE("changing Rebuild under shaped points carries the shaping over") {
  const Document d = uncut_demo();
  const Part* shell = find_part(d, "Shell");
  Evaluator evaluator;
  const Evaluation e = evaluate_all(
      with_setting(with_setting(d, "Shell/Rebuild.points_u=12"), "Shell/2.points_v=10"), evaluator);
  const PartResult& r = e.parts.at(shell->id);
  CHECK_FALSE(r.failed);
  const Surface& s = surface_of(e, shell->id);
  CHECK(s.points.rows() == 12);
  CHECK(s.points.columns() == 10);
  REQUIRE(r.steps[2].notes.size() == 1);
  CHECK_THAT(r.steps[2].notes[0], Catch::Contains("10 × 8") && Catch::Contains("12 × 10"));
  // The finished form itself stays: a 12 × 10 grid holds what the 10 × 8 one did within half a
  // millimetre, and the step says how well.
  Evaluator other;
  Progress progress;
  const Surface finished = surface_of(evaluate_all(d, other), shell->id);
  const Deviation off = deviation(s, finished, progress);
  CHECK(off.max < 0.5);
  REQUIRE(r.steps[2].kept);
  CHECK(r.steps[2].kept->max == Approx(off.max).epsilon(0.1));
  // A shaping that was lost would be off by its own size.
  CHECK(deviation(*std::get<Body>(*r.steps[1].shape).faces[0].surface, finished, progress).max >
        5.0);
}

TEST_CASE("circles of parts and missing parts are sentences, not endless loops") {
  Document d = uncut_demo();
  const PartId grille = find_part(d, "Grille")->id;
  const PartId tile = find_part(d, "Dimple tile")->id;
  auto circular = std::make_shared<FlowPatternOperation>();
  circular->tile = grille;
  circular->target = find_part(d, "Shell")->id;
  const Added other = with_part(d, "Other", circular);
  auto back = std::make_shared<FlowPatternOperation>(
      dynamic_cast<const FlowPatternOperation&>(*find_part(d, "Grille")->steps[0].operation));
  back->tile = other.part;
  const Document round = with_operation(other.document, find_part(d, "Grille")->steps[0].id, back);
  Evaluator evaluator;
  const Evaluation e = evaluate_all(round, evaluator);
  CHECK((e.parts.at(grille).failed || e.parts.at(other.part).failed));
  const Evaluation missing = evaluate_all(without_part(d, tile), evaluator);
  CHECK(missing.parts.at(grille).failed);
  CHECK_THAT(missing.parts.at(grille).steps[0].message, Catch::Contains("no longer there"));
}

TEST_CASE("undo and redo restore every document, and a preview leaves no trace") {
  Session s(uncut_demo());
  int notified = 0;
  s.changed = [&] { ++notified; };
  const std::size_t parts = s.current().parts.size();
  std::vector<std::string> documents{to_project_json(s.current())};
  for (int k = 0; k < 300; ++k) {
    s.commit(with_part(s.current(), "Ball", std::make_shared<SphereOperation>()).document, "Add");
    if (k % 30 == 29) documents.push_back(to_project_json(s.current()));
  }
  CHECK(s.current().parts.size() == parts + 300);
  CHECK(s.unsaved());
  s.preview(without_part(s.current(), s.current().parts[0].id));
  CHECK(s.shown().parts.size() == parts + 299);
  s.drop_preview();
  CHECK(s.shown().parts.size() == parts + 300);
  for (int k = 300; k > 0; --k) {
    if (k % 30 == 0)
      CHECK(to_project_json(s.current()) == documents[static_cast<std::size_t>(k / 30)]);
    s.undo();
  }
  CHECK(to_project_json(s.current()) == documents.front());
  CHECK(s.current().parts.size() == parts);
  CHECK_FALSE(s.can_undo());
  CHECK_FALSE(s.unsaved());
  s.undo();
  for (int k = 0; k < 300; ++k) s.redo();
  CHECK(to_project_json(s.current()) == documents.back());
  CHECK(s.current().parts.size() == parts + 300);
  CHECK(s.current().parts.back().name == "Ball 300");
  CHECK_FALSE(s.can_redo());
  CHECK(notified > 900);
}

TEST_CASE("changes of one field merge into one undo until the field is left") {
  Session s(uncut_demo());
  const auto set = [&](int n) {
    s.commit(with_setting(s.current(), "Shell/Rebuild.points_u=" + std::to_string(n)), "Points",
             "3.points_u");
  };
  set(11);
  set(12);
  set(13);
  s.close_merge();
  set(14);
  s.undo();
  CHECK(with_setting(s.current(), "Shell/Rebuild.points_u=13")
            .parts[0]
            .steps[1]
            .operation->summary() == s.current().parts[0].steps[1].operation->summary());
  s.undo();
  CHECK_FALSE(s.can_undo());
}

TEST_CASE("settings by text find parts, steps and parameters, and say what there is") {
  const Document d = uncut_demo();
  const Document by_place = with_setting(d, "Shell/1.radius=40");
  CHECK(by_place.parts[0].steps[0].operation->summary() == "radius 40 mm");
  const Document retargeted = with_setting(d, "Grille/Flow pattern.target=Dimple tile");
  CHECK(retargeted.parts[2].steps[0].operation->inputs()[1] == find_part(d, "Dimple tile")->id);
  CHECK_FALSE(with_setting(d, "Shell/Rebuild.enabled=false").parts[0].steps[1].enabled);
  CHECK_THROWS_WITH(with_setting(d, "Shel/Rebuild.points_u=9"),
                    Catch::Contains("Shell, Dimple tile, Grille"));
  CHECK_THROWS_WITH(with_setting(d, "Shell/Rebild.points_u=9"), Catch::Contains("Rebuild"));
  CHECK_THROWS_WITH(with_setting(d, "Shell/Rebuild.points=9"), Catch::Contains("points_u"));
  CHECK_THROWS_WITH(with_setting(d, "Shell/Rebuild.points_u=nine"),
                    Catch::Contains("no number 'nine'"));
  CHECK_THROWS_WITH(with_setting(d, "Shell/Rebuild.points_u=1e9"), Catch::Contains("2 to 200"));
  CHECK_THROWS_WITH(with_setting(d, "Shell/Rebuild.points_u=8.5"), Catch::Contains("whole number"));
  CHECK_THROWS_AS(with_setting(d, "nonsense"), Error);
  CHECK_THROWS_WITH(with_setting(d, "Shell/Shaped points.point[99,0]=0,0,1"),
                    Catch::Contains("outside the grid"));
  CHECK_THROWS_AS(with_setting(d, "Shell/Shaped points.point[0,0]=nan,0,1"), Error);
}

TEST_CASE("every operation describes each parameter with a name, a label and a help sentence") {
  class Check : public ParameterVisitor {
   public:
    int seen = 0;
    void number(const ParameterInfo& i, double& v, const NumberRange& r) override {
      look(i);
      CHECK((v >= r.min && v <= r.max));
    }
    void count(const ParameterInfo& i, int& v, const CountRange& r) override {
      look(i);
      CHECK((v >= r.min && v <= r.max));
    }
    void toggle(const ParameterInfo& i, bool&) override { look(i); }
    void choice(const ParameterInfo& i, int& v, std::span<const Choice> c) override {
      look(i);
      CHECK((v >= 0 && v < static_cast<int>(c.size())));
    }
    void part(const ParameterInfo& i, PartRef&) override { look(i); }
    void parts(const ParameterInfo& i, std::vector<PartRef>& v, const PartsRange& r) override {
      look(i);
      CHECK(v.size() <= static_cast<std::size_t>(r.most));
    }
    void picks(const ParameterInfo& i, std::vector<Pick>&, const PickRange& r) override {
      look(i);
      CHECK_FALSE(r.kinds.empty());
      CHECK(r.most >= 1);
    }
    void file(const ParameterInfo& i, FileAttachment&,
              std::span<const std::string_view> endings) override {
      look(i);
      CHECK_FALSE(endings.empty());
    }
    void data(const ParameterInfo& i, DataParameter&) override { look(i); }

   private:
    void look(const ParameterInfo& i) {
      ++seen;
      CHECK_FALSE(i.name.empty());
      CHECK_FALSE(i.label.empty());
      CHECK(i.help.back() == '.');
    }
  };
  REQUIRE(catalogue().size() >= 5);
  for (const OperationPtr& o : catalogue()) {
    Check visitor;
    o->clone()->describe(visitor);
    INFO(o->kind());
    CHECK(visitor.seen >= 1);
    CHECK(make_operation(o->kind()) != nullptr);
  }
  CHECK(make_operation("no such kind") == nullptr);
}

namespace {

// Collects the answers of a worker.
struct Answers {
  std::mutex mutex;
  std::vector<std::shared_ptr<const DisplayAnswer>> all;
  void add(std::shared_ptr<const DisplayAnswer> a) {
    const std::scoped_lock lock(mutex);
    all.push_back(std::move(a));
  }
};

void wait_until_idle(const DisplayWorker& worker) {
  for (int k = 0; k < 60000 && !worker.idle(); ++k)
    std::this_thread::sleep_for(std::chrono::milliseconds(10));
  REQUIRE(worker.idle());
}

}  // namespace

TEST_CASE("the worker answers the newest request exactly, with gauges") {
  const Document d = uncut_demo();
  const PartId shell = find_part(d, "Shell")->id;
  Answers answers;
  DisplayWorker worker([&](auto a) { answers.add(a); });
  std::size_t last = 0;
  for (int k = 9; k <= 30; ++k)
    last = worker.post(
        {with_setting(d, "Shell/Rebuild.points_u=" + std::to_string(k)), shell, 0, false});
  wait_until_idle(worker);
  REQUIRE_FALSE(answers.all.empty());
  const auto& final = answers.all.back();
  CHECK(final->request == last);
  CHECK(final->exact);
  REQUIRE(final->gauges);
  CHECK(final->gauges->points_u == 30);
  CHECK(answers.all[answers.all.size() - 2]->parts.size() == 4);
}

TEST_CASE("a drag gets a coarse answer of the chosen part before the exact one") {
  const Document d = uncut_demo();
  const PartId shell = find_part(d, "Shell")->id;
  Answers answers;
  DisplayWorker worker([&](auto a) { answers.add(a); });
  worker.post({d, shell, find_part(d, "Shell")->steps[2].id, true});
  wait_until_idle(worker);
  REQUIRE(answers.all.size() >= 3);
  CHECK_FALSE(answers.all.front()->exact);
  CHECK(answers.all.front()->parts.size() == 1);
  CHECK(answers.all.front()->parts[0].small->indices.size() <=
        answers.all.front()->parts[0].mesh->indices.size());
  CHECK(answers.all.back()->exact);
  CHECK(answers.all.front()->before != nullptr);
}

TEST_CASE("cancel leaves the worker ready for the next request") {
  Document d = uncut_demo();
  d = with_setting(d, "Grille/Flow pattern.count_u=400");
  d = with_setting(d, "Grille/Flow pattern.count_v=100");
  Answers answers;
  DisplayWorker worker([&](auto a) { answers.add(a); });
  worker.post({d, find_part(d, "Grille")->id, 0, false});
  std::this_thread::sleep_for(std::chrono::milliseconds(30));
  worker.cancel();
  wait_until_idle(worker);
  const Document demo = uncut_demo();
  const std::size_t number = worker.post({demo, find_part(demo, "Shell")->id, 0, false});
  wait_until_idle(worker);
  CHECK(answers.all.back()->request == number);
}

TEST_CASE("named selections live in the part, are undone like all else and survive the file") {
  const Document d = uncut_demo();
  const PartId shell = find_part(d, "Shell")->id;
  const Document named = with_selection(d, shell, {"brow", {{0, 1, 5, 0}, {0, 9, 5, 0}}});
  CHECK(find_part(d, shell)->selections.empty());
  REQUIRE(find_part(named, shell)->selections.size() == 1);
  const Document again = from_project_json(to_project_json(named), make_operation);
  CHECK(find_part(again, shell)->selections == find_part(named, shell)->selections);
  const Document replaced = with_selection(named, shell, {"brow", {{0, 0, 5, 0}}});
  CHECK(find_part(replaced, shell)->selections.size() == 1);
  CHECK(find_part(replaced, shell)->selections.front().points.size() == 1);
  CHECK(find_part(without_selection(named, shell, "brow"), shell)->selections.empty());
  CHECK_THROWS_AS(without_selection(named, shell, "nose"), Error);
  CHECK_THROWS_AS(with_selection(d, shell, {"", {{0, 0, 0, 0}}}), Error);
  CHECK_THROWS_AS(with_selection(d, shell, {"none", {}}), Error);
  // A cage's point has four numbers; a damaged list is refused.
  const Document deep = with_selection(d, shell, {"deep", {{0, 1, 2, 3}}});
  CHECK(find_part(from_project_json(to_project_json(deep), make_operation), shell)->selections ==
        find_part(deep, shell)->selections);
  std::string text = to_project_json(named);
  const auto at = text.find("\"brow\"");
  REQUIRE(at != std::string::npos);
  text.replace(text.find("[", text.find("points", at)), 1, "[\"x\", [");
  CHECK_THROWS_AS(from_project_json(text, make_operation), FileError);
}
