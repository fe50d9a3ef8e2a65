// Cutting and bringing in, in the window; and what follows a drag.
#include <QComboBox>
#include <QLabel>
#include <QTemporaryDir>
#include <QToolButton>
#include <numbers>

#include "core/body/topology.h"
#include "core/demo/skerry.h"
#include "core/exchange/export.h"
#include "core/operations/catalogue.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

const Body& shown(Window& w) {
  return std::get<Body>(*w.window.model().answer()->shown);
}

std::shared_ptr<const DisplayMesh> drawn(Window& w, const char* part) {
  const Part* p = find_part(w.window.model().document(), std::string_view(part));
  REQUIRE(p != nullptr);
  const auto found = w.window.model().drawn().find(p->id);
  return found != w.window.model().drawn().end() ? found->second.mesh : nullptr;
}

}  // namespace

TEST_CASE("an opening is cut with preview, kept, undone and follows its curve") {
  Window w;
  REQUIRE(w.window.run("source_circle"));
  w.settle();
  w.window.model().keep_trial();
  w.settle();
  w.choose("Shell", 2);
  REQUIRE(shown(w).faces[0].loops.empty());
  w.window.stages().open(Stage::CutAndJoin);
  auto* tool = w.window.findChild<QToolButton*>("tool_trim_away");
  REQUIRE(tool != nullptr);
  REQUIRE(tool->isEnabled());
  tool->click();
  w.settle();
  REQUIRE(w.window.model().trial());
  // Of the two curves the first was taken; the circle lies in x–y about the origin.
  auto* curve = w.window.findChild<QComboBox*>("curve");
  REQUIRE(curve != nullptr);
  curve->setCurrentIndex(curve->findText("Circle"));
  auto* reach = w.window.findChild<QComboBox*>("reach");
  reach->setCurrentIndex(1);  // forwards only
  w.settle();
  REQUIRE_FALSE(shown(w).faces[0].loops.empty());
  CHECK(w.window.findChild<QLabel*>("step_message")->text().contains("taken away"));
  CHECK(drawn(w, "Shell")->indices.size() > 1000);
  QTest::keyClick(&w.window.view(), Qt::Key_Return);
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  const QString area = w.gauge("gauge_area");
  // A larger circle takes more away.
  const Part* circle = find_part(w.window.model().document(), std::string_view("Circle"));
  w.window.model().change_operation(circle->steps[0].id,
                                    with_parameter(*circle->steps[0].operation, "radius", "25"),
                                    "Radius", {});
  w.settle();
  CHECK(w.gauge("gauge_area") != area);
  w.window.model().undo();
  w.settle();
  CHECK(w.gauge("gauge_area") == area);
  w.window.model().undo();
  w.settle();
  CHECK(shown(w).faces[0].loops.empty());
}

TEST_CASE("points of a cut shell are dragged and the opening goes with them") {
  Window w(false);
  w.window.model().open_demo();
  w.settle();
  // Without the lid and the wall, which come after the opening.
  Document d = w.window.model().document();
  const PartId shell = find_part(d, std::string_view("Shell"))->id;
  while (find_part(d, shell)->steps.size() > 6)
    d = without_step(d, find_part(d, shell)->steps.back().id);
  w.window.model().commit(d, "Without wall", {});
  w.settle();
  w.choose("Shell", 5);
  REQUIRE(shown(w).faces[0].trimmed());
  const Box3 before = drawn(w, "Shell")->box;
  w.window.editor().pick({{0, 0, 6}, {0, 5, 6}});
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 6.0, {}}));
  w.settle();
  CHECK(find_part(w.window.model().document(), std::string_view("Shell"))->steps.size() == 7);
  REQUIRE(shown(w).faces[0].trimmed());
  for (const Edge& e : shown(w).edges) CHECK(e.gap < 1e-3);
  CHECK(drawn(w, "Shell")->box.max.z > before.max.z + 0.2);
}

TEST_CASE("the pattern follows while a point of its target is dragged") {
  Window w;
  const auto before = drawn(w, "Grille");
  REQUIRE(before != nullptr);
  w.window.editor().pick({{0, 8, 4}});
  REQUIRE(w.window.editor().begin_drag());
  bool followed = false;
  for (int k = 1; k <= 20 && !followed; ++k) {
    w.window.editor().drag_to({MoveDirection::OffSkin, 0.5 * k, {}});
    QTest::qWait(60);
    followed = drawn(w, "Grille") != before;
  }
  CHECK(followed);
  CHECK(w.window.editor().dragging());
  w.window.editor().end_drag();
  w.settle();
}

TEST_CASE("hidden parts are computed when they are shown") {
  Window w;
  const Part grille = *find_part(w.window.model().document(), std::string_view("Grille"));
  w.window.model().commit(
      with_look(w.window.model().document(), grille.id, {grille.look.colour, false}), "Hide");
  w.settle();
  const auto before = drawn(w, "Grille");
  w.window.editor().pick({{0, 8, 4}});
  REQUIRE(w.window.editor().move_by({MoveDirection::OffSkin, 4.0, {}}));
  w.settle();
  CHECK(drawn(w, "Grille") == before);
  w.window.model().commit(
      with_look(w.window.model().document(), grille.id, {grille.look.colour, true}), "Show");
  w.settle();
  CHECK(drawn(w, "Grille") != before);
}

TEST_CASE("a STEP file is brought in beside the window as one undo entry") {
  QTemporaryDir folder;
  Window w;
  const QString file = folder.filePath("tile.step");
  w.choose("Dimple tile", 2);
  REQUIRE(w.window.export_chosen(file));
  REQUIRE(QTest::qWaitFor([&] { return !w.window.exporting(); }, 30000));
  const std::size_t parts = w.window.model().document().parts.size();
  w.window.model().bring_in(file);
  w.settle();
  REQUIRE(w.window.model().document().parts.size() == parts + 1);
  CHECK(w.window.model().chosen_part() == w.window.model().document().parts.back().id);
  CHECK(w.gauge("gauge_points").startsWith("25 · 5 × 5"));
  // Its points are shapeable like any others.
  w.window.editor().pick({{0, 2, 2}});
  CHECK(w.window.editor().move_by({MoveDirection::Z, 1.0, {}}));
  w.settle();
  w.window.model().undo();
  w.window.model().undo();
  w.settle();
  CHECK(w.window.model().document().parts.size() == parts);
  w.window.model().bring_in("/no/such/file.step");
  REQUIRE(QTest::qWaitFor([&] { return !w.window.model().background().busy(); }, 10000));
  CHECK(w.window.findChild<QLabel*>("message")->text().contains("cannot be read"));
}

TEST_CASE("every operation of the catalogue that is offered has its place in the rail") {
  Window w;
  for (const OperationPtr& operation : catalogue()) {
    const OperationInfo& info = operation->info();
    if (!info.offered) continue;
    const std::string name(info.action.empty() ? info.kind : info.action);
    const QString id = (info.takes == kNothing ? "source_" : "") + QString::fromStdString(name);
    INFO(id.toStdString());
    w.window.stages().open(info.stage);
    auto* tool = w.window.stages().findChild<QToolButton*>("tool_" + id);
    REQUIRE(tool != nullptr);
    CHECK_FALSE(tool->toolTip().isEmpty());
  }
  // What does not fit the chosen part is dimmed and says what it needs.
  w.choose("Knob ring", 2);
  w.window.stages().open(Stage::CutAndJoin);
  auto* trim = w.window.stages().findChild<QToolButton*>("tool_trim_away");
  CHECK_FALSE(trim->isEnabled());
  CHECK(trim->toolTip().contains("surfaces"));
}
