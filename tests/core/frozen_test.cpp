// Shapes that are kept: as bytes, as steps, and in lean files.
#include <unistd.h>
#include <catch2/catch.hpp>
#include <filesystem>
#include <numbers>
#include <random>

#include "../uncut_demo.h"
#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/document/project_file.h"
#include "core/document/shape_bytes.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"
#include "core/operations/frozen.h"
#include "core/operations/rebuild.h"
#include "core/operations/report.h"
#include "core/operations/sphere.h"
#include "core/subdivision/sources.h"

using namespace evenclay;

namespace {

struct TemporaryFolder {
  std::filesystem::path path =
      std::filesystem::temp_directory_path() / ("evenclay-frozen-" + std::to_string(::getpid()));
  TemporaryFolder() { std::filesystem::create_directories(path); }
  ~TemporaryFolder() { std::filesystem::remove_all(path); }
};

std::vector<Shape> one_of_each() {
  Form form = make_box_form({}, {20, 20, 20}, 3, 2, 1, 1);
  form.creases[form_edge(form.faces[0].points[0], form.faces[0].points[1])] = 2.5;
  Cage cage;
  cage.size = {10, 20, 30};
  cage.rest = {uniform_knots(3, 2, false), uniform_knots(2, 1, false), uniform_knots(4, 3, false),
               Grid<Vec3>::layered(3, 2, 4, {1, 2, 3})};
  cage.now = cage.rest;
  cage.now.points(1, 1, 2) = {4, 5, 6};
  cage.band = 0.25;
  Picture picture{
      std::make_shared<const std::string>("not really a picture"), {}, 30, 20, 0.5, true};
  return {body_of({make_sphere({}, 20), make_plane({}, 9, 9, 4, 4, 3, 3)}, 1),
          TriangleMesh{{{0, 0, 0}, {9, 0, 0}, {0, 9, 0}}, {}, {{0, 1, 2}}},
          CurveSet{{make_circle({}, 12), make_curve({{0, 0, 0}, {3, 0, 1}}, 1, false)}},
          picture,
          cage,
          form,
          PointCloud{{{1, 2, 3}, {4, 5, 6}}, {{0, 0, 1}, {1, 0, 0}}}};
}

PartResult computed(const Document& d, PartId part) {
  Progress progress;
  return Evaluator().evaluate(d, progress, {part}).parts.at(part);
}

// A ball on an even grid: source and rebuild.
struct Ball {
  Document document;
  PartId part;
  StepId source, rebuild;
};
Ball ball() {
  auto sphere = std::make_shared<SphereOperation>();
  sphere->radius = 30;
  const Added a = with_part({}, "Ball", sphere);
  const Added b = with_step(a.document, a.part, std::make_shared<RebuildOperation>());
  return {b.document, a.part, a.step, b.step};
}

}  // namespace

TEST_CASE("every kind of shape comes back from its bytes to the bit") {
  for (const Shape& shape : one_of_each()) {
    INFO("kind " << kind_of(shape));
    const std::string bytes = shape_bytes(shape);
    const Shape back = shape_from_bytes(bytes);
    REQUIRE(back.index() == shape.index());
    CHECK(shape_bytes(back) == bytes);
  }
  const auto mesh = std::get<TriangleMesh>(one_of_each()[1]);
  CHECK(std::get<TriangleMesh>(shape_from_bytes(shape_bytes(mesh))) == mesh);
  const auto cloud = std::get<PointCloud>(one_of_each()[6]);
  CHECK(std::get<PointCloud>(shape_from_bytes(shape_bytes(cloud))) == cloud);
  const auto form = std::get<Form>(one_of_each()[5]);
  const auto again = std::get<Form>(shape_from_bytes(shape_bytes(form)));
  CHECK(again.points == form.points);
  CHECK(again.creases == form.creases);
  CHECK(again.faces.size() == form.faces.size());
}

TEST_CASE("surfaces that faces share are kept once and stay shared") {
  Body body = body_of({make_plane({}, 9, 9, 40, 40, 3, 3)}, 1);
  body.faces.push_back(body.faces.front());
  body.faces.back().tag = 77;
  const std::size_t one = shape_bytes(body_of({make_plane({}, 9, 9, 40, 40, 3, 3)}, 1)).size();
  CHECK(shape_bytes(body).size() < one + 300);
  const auto back = std::get<Body>(shape_from_bytes(shape_bytes(body)));
  CHECK(back.faces[0].surface == back.faces[1].surface);
  CHECK(back.faces[1].tag == 77);
}

TEST_CASE("kept shapes that are cut off or spoiled are refused with a sentence") {
  std::mt19937 random(7);
  for (const Shape& shape : one_of_each()) {
    const std::string bytes = shape_bytes(shape);
    for (int k = 0; k < 120; ++k) {
      std::string tried = bytes;
      if (k % 2 == 0)
        tried.resize(random() % bytes.size());
      else
        tried[random() % tried.size()] = static_cast<char>(random() % 256);
      try {
        // What is taken is a shape like any other.
        const Shape taken = shape_from_bytes(tried);
        CHECK(shape_bytes(taken).size() > 0);
      } catch (const Error& e) {
        CHECK(std::string(e.what()).starts_with("The shape that was kept cannot be read"));
      }
    }
  }
  // Nested a million deep: a list in a list in a list …
  CHECK_THROWS_AS(shape_from_bytes(std::string(1'000'000, static_cast<char>(0x81))), Error);
  CHECK_THROWS_AS(shape_from_bytes(""), Error);
  // A row that claims four gigabytes.
  CHECK_THROWS_AS(shape_from_bytes(std::string("\xa1\x61\x78\x5a\xff\xff\xff\xff", 8)), Error);
}

TEST_CASE("frozen steps are not computed, and without Frozen they make the shape again") {
  const Ball b = ball();
  const PartResult before = computed(b.document, b.part);
  const Added frozen = with_frozen(b.document, b.rebuild, before.steps.back());
  // The source is spoiled; nobody notices while it is folded.
  Document d = with_step_parameter(frozen.document, b.source, "radius", "5");
  Evaluator evaluator;
  Progress progress;
  const PartResult after = evaluator.evaluate(d, progress).parts.at(b.part);
  CHECK(evaluator.applied() == 1);
  CHECK(after.steps[0].skipped);
  CHECK_FALSE(after.steps[2].skipped);
  CHECK(shape_bytes(*after.shape) == shape_bytes(*before.shape));
  // A ball of radius 30, well within what 10 × 8 points can do.
  const Report r = report(*after.shape, nullptr, {}, progress);
  REQUIRE(r.volume);
  CHECK(*r.volume == Approx(4.0 / 3.0 * std::numbers::pi * 27000.0).epsilon(0.06));
  // Off or away: the steps beneath count again.
  const PartResult off = computed(with_step_enabled(d, frozen.step, false), b.part);
  CHECK_FALSE(off.steps[0].skipped);
  CHECK(shape_bytes(*off.shape) != shape_bytes(*before.shape));
  const PartResult away = computed(without_step(frozen.document, frozen.step), b.part);
  CHECK(shape_bytes(*away.shape) == shape_bytes(*before.shape));
}

TEST_CASE("who reads a part at a step beneath Frozen still gets it") {
  const Ball b = ball();
  Document d =
      with_frozen(b.document, b.rebuild, computed(b.document, b.part).steps.back()).document;
  const Added reader = with_part(d, "Reader", make_operation("copy_of_part"));
  d = with_step_parameter(reader.document, reader.step, "part",
                          std::to_string(b.part) + ":" + std::to_string(b.source));
  Evaluator evaluator;
  Progress progress;
  const Evaluation e = evaluator.evaluate(d, progress);
  const auto& body = std::get<Body>(*e.parts.at(reader.part).shape);
  CHECK(body.faces.front().surface->rational());  // the exact sphere, before it was rebuilt
  CHECK(e.parts.at(b.part).steps.front().skipped);
  // One step alone, as the list shows it when it is chosen.
  CHECK_FALSE(evaluator.evaluate_until(d, b.part, b.source, progress).steps.front().skipped);
}

TEST_CASE("what only folded steps read is not computed either") {
  Ball b = ball();
  const Added other = with_part(b.document, "Other", make_operation("sphere"));
  const Added reader = with_part(other.document, "Reader", make_operation("copy_of_part"));
  const Document d =
      with_step_parameter(reader.document, reader.step, "part", std::to_string(other.part));
  const Document frozen =
      with_frozen(d, reader.step, computed(d, reader.part).steps.back()).document;
  Evaluator evaluator;
  Progress progress;
  CHECK_FALSE(evaluator.evaluate(frozen, progress, {reader.part}).parts.at(reader.part).failed);
  CHECK(evaluator.applied() == 1);  // Frozen alone
  Evaluator until;
  const StepId last = find_part(frozen, reader.part)->steps.back().id;
  (void)until.evaluate_until(frozen, reader.part, last, progress);
  CHECK(until.applied() == 1);
}

TEST_CASE("what cannot be frozen says why") {
  const Ball b = ball();
  StepResult failed{std::make_shared<const Shape>(Body{}), true, "It does not meet."};
  CHECK_THROWS_WITH(with_frozen(b.document, b.rebuild, failed),
                    Catch::Contains("cannot be computed") && Catch::Contains("It does not meet."));
  StepResult empty{std::make_shared<const Shape>(Body{}), false, {}};
  CHECK_THROWS_WITH(with_frozen(b.document, b.rebuild, empty), Catch::Contains("has no shape"));
  const Added once = with_frozen(b.document, b.rebuild, computed(b.document, b.part).steps.back());
  CHECK_THROWS_WITH(
      with_frozen(once.document, once.step, computed(once.document, b.part).steps.back()),
      Catch::Contains("frozen there already"));
  CHECK_THROWS_AS(with_frozen(b.document, 999, failed), Error);
}

TEST_CASE("frozen parts survive a file") {
  const Ball b = ball();
  const PartResult before = computed(b.document, b.part);
  const Document d = with_frozen(b.document, b.rebuild, before.steps.back()).document;
  const TemporaryFolder folder;
  save_project(d, folder.path / "ball.evenclay");
  const Document back = open_project(folder.path / "ball.evenclay", make_operation);
  CHECK(shape_bytes(*computed(back, b.part).shape) == shape_bytes(*before.shape));
  CHECK(back.parts.front().steps.size() == 3);
}

TEST_CASE("a lean file holds the shapes and nothing of how they were made") {
  const Document demo = testing::uncut_demo();
  Evaluator evaluator;
  Progress progress;
  const Evaluation e = evaluator.evaluate(demo, progress);
  const TemporaryFolder folder;
  save_project(lean(demo, e), folder.path / "lean.evenclay");
  const Document back = open_project(folder.path / "lean.evenclay", make_operation);
  REQUIRE(back.parts.size() == demo.parts.size());
  CHECK(back.numbers.empty());
  const Evaluation again = Evaluator().evaluate(back, progress);
  for (const Part& part : back.parts) {
    INFO(part.name);
    REQUIRE(part.steps.size() == 1);
    CHECK_FALSE(again.parts.at(part.id).failed);
    CHECK(shape_bytes(*again.parts.at(part.id).shape) == shape_bytes(*e.parts.at(part.id).shape));
    CHECK(part.look.colour == find_part(demo, part.id)->look.colour);
  }
  CHECK_THROWS_WITH(lean({}, {}), Catch::Contains("nothing to save"));
}
