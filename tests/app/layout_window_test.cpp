// The list of parts, layers and locks, the rail's groups, the hand bar's chips, gauges at their places.
#include <QCheckBox>
#include <QComboBox>
#include <QContextMenuEvent>
#include <QDoubleSpinBox>
#include <QHelpEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSettings>
#include <QSpinBox>
#include <QToolButton>

#include "app/panels/hand_bar.h"
#include "app/stages/drawings.h"
#include "app/window/find_action.h"
#include "core/document/project_json.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

template <typename T>
T* child(Window& w, const QString& name) {
  return evenclay::testing::child_of<T>(w.window, name);
}

// Runs the entry of a row's menu.
void choose_in_menu(Window& w, QTreeWidgetItem* item, const QString& entry) {
  QMenu menu;
  w.window.parts().fill_menu(menu, item);
  for (QMenu* m : QList<QMenu*>{&menu} + menu.findChildren<QMenu*>())
    for (QAction* a : m->actions())
      if (a->text() == entry && a->menu() == nullptr) {
        REQUIRE(a->isEnabled());
        a->trigger();
        w.settle();
        return;
      }
  FAIL("no entry " << entry.toStdString());
}

const Document& document(Window& w) {
  return w.window.model().document();
}

void type_name(QTreeWidget* list, const QString& name) {
  auto* editor = list->viewport()->findChild<QLineEdit*>();
  REQUIRE(editor != nullptr);
  editor->selectAll();
  QTest::keyClicks(editor, name);
  QTest::keyClick(editor, Qt::Key_Return);
}

}  // namespace

TEST_CASE("the chosen part unfolds its steps and the others fold") {
  Window w;
  CHECK(w.part_row(0)->isExpanded());
  CHECK_FALSE(w.part_row(1)->isExpanded());
  w.click(w.part_row(2));
  w.settle();
  CHECK_FALSE(w.part_row(0)->isExpanded());
  CHECK(w.part_row(2)->isExpanded());
  CHECK(w.window.model().chosen_part() == document(w).parts[2].id);
  w.click(w.step_row(2, 0));
  w.settle();
  CHECK(w.window.model().chosen_step() == document(w).parts[2].steps[0].id);
  CHECK(w.step_row(2, 0)->data(0, row::kChosen).toBool());
}

TEST_CASE("at 1280 × 800 at least eight rows of the list are seen") {
  Window w;
  QTreeWidget* list = w.part_row(0)->treeWidget();
  const int row = list->visualItemRect(w.part_row(0)).height();
  CHECK(list->viewport()->height() / row >= 8);
  CHECK(w.window.width() == 1280);
}

TEST_CASE("double click and F2 rename parts and steps by their names alone") {
  Window w;
  QTreeWidget* list = w.part_row(0)->treeWidget();
  const QRect r = list->visualItemRect(w.step_row(0, 1));
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, r.center());
  w.settle();
  QTest::mouseDClick(list->viewport(), Qt::LeftButton, {}, r.center());
  auto* editor = list->viewport()->findChild<QLineEdit*>();
  REQUIRE(editor != nullptr);
  CHECK(editor->text() == "Rebuild");
  type_name(list, "Chosen grid");
  w.settle();
  CHECK(document(w).parts[0].steps[1].name == "Chosen grid");
  w.click(w.part_row(1));
  w.settle();
  list->setFocus();
  QTest::keyClick(list, Qt::Key_F2);
  type_name(list, "Quilt");
  w.settle();
  CHECK(document(w).parts[1].name == "Quilt");
  w.key(Qt::Key_Z, Qt::ControlModifier);
  CHECK(document(w).parts[1].name == "Dimple tile");
}

TEST_CASE(
    "Space and the eye show and hide, and Del removes a step of the list but never a source") {
  Window w;
  QTreeWidget* list = w.part_row(0)->treeWidget();
  w.click(w.part_row(2));
  w.settle();
  list->setFocus();
  QTest::keyClick(list, Qt::Key_Space);
  w.settle();
  CHECK_FALSE(document(w).parts[2].look.visible);
  w.click_sign(w.part_row(2));
  w.settle();
  CHECK(document(w).parts[2].look.visible);
  w.click(w.part_row(0));
  w.settle();
  w.click(w.step_row(0, 0));
  w.settle();
  QTest::keyClick(list, Qt::Key_Delete);
  w.settle();
  CHECK(document(w).parts[0].steps.size() == 3);
  CHECK(child<QLabel>(w, "message")->text().contains("source"));
}

TEST_CASE("parts go into layers, which hide and lock them together") {
  Window w;
  w.click(w.part_row(2));
  w.settle();
  choose_in_menu(w, w.part_row(2), "New layer");
  QTreeWidget* list = w.part_row(0)->treeWidget();
  type_name(list, "Cloth");
  w.settle();
  REQUIRE(document(w).layers.size() == 1);
  CHECK(document(w).layers[0].name == "Cloth");
  CHECK(document(w).parts[2].layer == "Cloth");
  QTreeWidgetItem* layer = w.window.parts().layer_row("Cloth");
  REQUIRE(layer != nullptr);
  CHECK(w.part_row(2)->parent() == layer);
  w.click_sign(layer);
  w.settle();
  // The part's own eye says why it does nothing.
  w.click_sign(w.part_row(2));
  w.settle();
  CHECK(child<QLabel>(w, "message")->text().contains("layer Cloth"));
  CHECK_FALSE(is_visible(document(w), document(w).parts[2]));
  CHECK(document(w).parts[2].look.visible);
  choose_in_menu(w, w.window.parts().layer_row("Cloth"), "Lock");
  CHECK(is_locked(document(w), document(w).parts[2]));
  choose_in_menu(w, w.window.parts().layer_row("Cloth"), "Remove layer (its parts stay)");
  CHECK(document(w).layers.empty());
  CHECK(document(w).parts.size() == 4);
  CHECK(w.part_row(2)->parent() == nullptr);
}

TEST_CASE("a locked part keeps its points, its numbers and its steps, and says why") {
  Window w;
  choose_in_menu(w, w.part_row(0), "Lock");
  const std::string before = to_project_json(document(w));
  auto* message = child<QLabel>(w, "message");
  const QPoint at = w.point({0, 8, 4});
  w.drag(at, {40, 0});
  w.settle();
  CHECK(to_project_json(document(w)) == before);
  CHECK(message->text().contains("locked"));
  w.window.run("extend");
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  w.click_sign(w.step_row(0, 1));
  w.click(w.step_row(0, 1));
  w.settle();
  auto* points_u = child<QSpinBox>(w, "points_u");
  CHECK_FALSE(points_u->isEnabled());
  points_u->setValue(14);
  w.settle();
  CHECK(points_u->value() == 10);
  CHECK(to_project_json(document(w)) == before);
  w.click(w.part_row(0));
  w.part_row(0)->treeWidget()->setFocus();
  QTest::keyClick(w.part_row(0)->treeWidget(), Qt::Key_Delete);
  CHECK(to_project_json(document(w)) == before);
  choose_in_menu(w, w.part_row(0), "Unlock");
  w.choose("Shell", 2);
  w.drag(w.point({0, 8, 4}), {40, 0});
  w.settle();
  CHECK(to_project_json(document(w)) != before);
}

TEST_CASE("steps move in the order by the menu, and their settings go along") {
  Window w;
  const StepId rebuild = document(w).parts[0].steps[1].id;
  choose_in_menu(w, w.step_row(0, 1), "Later in the order");
  CHECK(document(w).parts[0].steps[2].id == rebuild);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(document(w).parts[0].steps[1].id == rebuild);
}

TEST_CASE("show alone leaves the others out of the picture, not out of the project") {
  Window w;
  const std::string before = to_project_json(document(w));
  w.click(w.part_row(0));
  w.window.run("show_alone");
  w.settle();
  CHECK(w.window.model().is_shown(document(w).parts[0]));
  CHECK_FALSE(w.window.model().is_shown(document(w).parts[2]));
  CHECK(to_project_json(document(w)) == before);
  w.window.run("show_alone");
  CHECK(w.window.model().is_shown(document(w).parts[2]));
}

TEST_CASE("groups of the rail fold by a click and stay folded in the next window") {
  {
    Window w;
    w.window.stages().open(Stage::Shaped);
    QTest::qWait(20);
    REQUIRE(w.window.stages().findChild<QToolButton*>("tool_smooth")->isVisible());
    QTest::mouseClick(child<QToolButton>(w, "group_Order"), Qt::LeftButton);
    QTest::qWait(20);
    CHECK(w.window.stages().findChild<QToolButton*>("tool_smooth") == nullptr);
    CHECK(w.window.stages().findChild<QToolButton*>("tool_make_symmetric") != nullptr);
    w.window.model().save("/dev/null");
    w.window.close();
    QTest::qWait(50);
  }
  QSettings().setValue("folded", QStringList{"2/Order"});
  Window again;
  again.window.stages().open(Stage::Shaped);
  QTest::qWait(20);
  CHECK(again.window.stages().findChild<QToolButton*>("tool_smooth") == nullptr);
  QTest::mouseClick(child<QToolButton>(again, "group_Order"), Qt::LeftButton);
  QTest::qWait(20);
  CHECK(again.window.stages().findChild<QToolButton*>("tool_smooth") != nullptr);
  QSettings().remove("folded");
}

TEST_CASE("every tool of the rail says in a card what it does, with a drawing, and what it needs") {
  Window w;
  for (const ActionInfo& a : w.window.actions()) {
    if (!a.stage || !a.in_rail) continue;
    INFO(a.id.toStdString());
    CHECK_FALSE(a.group.isEmpty());
    CHECK(has_drawing(a.id));
    CHECK_FALSE(drawing_of(a.id, 2.0).isNull());
  }
  w.window.stages().open(Stage::Shaped);
  w.window.editor().pick({});
  auto* tool = w.window.stages().findChild<QToolButton*>("tool_smooth");
  QHelpEvent hover(QEvent::ToolTip, {5, 5}, tool->mapToGlobal(QPoint(5, 5)));
  QApplication::sendEvent(tool, &hover);
  auto* card = child<QFrame>(w, "hover_card");
  CHECK(card->isVisible());
  CHECK(card->findChild<QLabel*>("needs")->isVisible());
  CHECK(card->findChild<QLabel*>("needs")->text().contains("Pick control points"));
  CHECK_FALSE(card->findChild<QLabel*>("drawing")->pixmap().isNull());
  CHECK(w.window.rect().contains(card->geometry()));
  QEvent leave(QEvent::Leave);
  QApplication::sendEvent(tool, &leave);
  CHECK_FALSE(card->isVisible());
}

TEST_CASE("the hand bar has two slim rows and is there only where something can be shaped") {
  Window w;
  auto* bar = child<QFrame>(w, "hand_bar");
  w.window.stages().open(Stage::Shaped);
  CHECK(bar->isVisible());
  CHECK(bar->height() <= 90);
  CHECK(bar->height() <= 2 * 34);
  for (const Stage s :
       {Stage::Grid, Stage::Pattern, Stage::CutAndJoin, Stage::Check, Stage::Deliver}) {
    w.window.stages().open(s);
    CHECK_FALSE(bar->isVisible());
  }
  w.window.stages().open(Stage::Shaped);
  w.choose("Grille", 0);
  CHECK_FALSE(bar->isVisible());
  w.choose("Shell", 2);
  CHECK(bar->isVisible());
  // Nothing of it lies over the side views.
  for (std::size_t k = 1; k < 4; ++k)
    CHECK_FALSE(bar->geometry().intersects(w.window.view().viewport(k)));
}

TEST_CASE("chips say how the hand is set, and open one card at a time, which Esc closes alone") {
  Window w;
  w.window.stages().open(Stage::Shaped);
  auto* falloff = child<QToolButton>(w, "chip_2");
  auto* snap = child<QToolButton>(w, "chip_3");
  CHECK(falloff->text() == "Falloff off");
  w.window.editor().pick({{0, 8, 4}});
  QTest::mouseClick(falloff, Qt::LeftButton);
  auto* reach = child<QSpinBox>(w, "reach_along");
  CHECK(reach->isVisible());
  reach->setValue(2);
  CHECK(falloff->text() == "Falloff 2 × 0");
  QTest::mouseClick(snap, Qt::LeftButton);
  CHECK_FALSE(reach->isVisible());
  CHECK(child<QWidget>(w, "snap_grid")->isVisible());
  // Esc ends the card, not the picking; in the card as well as in the view.
  QTest::keyClick(child<QWidget>(w, "snap_grid"), Qt::Key_Escape);
  CHECK_FALSE(child<QWidget>(w, "snap_grid")->isVisible());
  CHECK(w.window.editor().picked().size() == 1);
  QTest::mouseClick(snap, Qt::LeftButton);
  w.key(Qt::Key_Escape);
  CHECK_FALSE(w.window.hand_bar().card_open());
  CHECK(w.window.editor().picked().size() == 1);
  w.key(Qt::Key_Escape);
  CHECK(w.window.editor().picked().empty());
}

TEST_CASE("gauges keep their places whatever they say") {
  Window w;
  const auto places = [&] {
    std::vector<QRect> all;
    for (const char* name : {"gauge_points", "gauge_evenness", "gauge_deviation", "gauge_radius",
                             "gauge_symmetry", "gauge_size", "gauge_area", "gauge_volume"}) {
      auto* card = child<GaugeCard>(w, name);
      CHECK(card->isVisible());
      all.push_back(card->geometry());
    }
    return all;
  };
  const auto first = places();
  w.drag(w.point({0, 8, 4}), {60, 10});
  w.settle();
  CHECK((places() == first));
  for (const auto& [part, step] : {std::pair{"Grille", 0}, {"Knob ring", 0}, {"Shell", 0}}) {
    w.choose(part, static_cast<std::size_t>(step));
    CHECK((places() == first));
  }
  w.choose("Grille", 0);
  CHECK(w.gauge("gauge_radius").contains(QChar(0x00B0)));  // the angle between its tiles
}

TEST_CASE("the size gauge says the lengths of the box and shows them in the view") {
  Window w;
  w.choose("Shell", 0);  // a sphere of radius 52
  CHECK(w.gauge("gauge_size") == QString::fromUtf8("104.0 · 104.0 · 104.0 mm"));
  QTest::mouseClick(child<GaugeCard>(w, "gauge_size"), Qt::LeftButton);
  CHECK(w.window.view().settings().size_box);
  QTest::mouseClick(child<GaugeCard>(w, "gauge_size"), Qt::LeftButton);
  CHECK_FALSE(w.window.view().settings().size_box);
}

TEST_CASE("limits of a gauge are set by hand, colour the card and are kept") {
  Window w;
  w.choose("Shell", 0);
  auto* radius = child<GaugeCard>(w, "gauge_radius");
  CHECK(radius->property("level").toString().isEmpty());
  QContextMenuEvent menu(QContextMenuEvent::Mouse, {5, 5}, radius->mapToGlobal(QPoint(5, 5)));
  QApplication::sendEvent(radius, &menu);
  auto* caution = child<QDoubleSpinBox>(w, "limit_caution");
  REQUIRE(caution->isVisible());
  caution->setValue(60.0);  // the sphere's radius is 52
  CHECK(radius->property("level").toString() == "caution");
  child<QDoubleSpinBox>(w, "limit_bad")->setValue(55.0);
  CHECK(radius->property("level").toString() == "bad");
  child<QWidget>(w, "limits")->close();
  Window next(false);
  CHECK(next.window.findChild<GaugeCard*>("gauge_radius")->limits()->caution == 60.0);
  QSettings().remove("limits");
}

TEST_CASE("digits have one width, so that numbers keep theirs while they change") {
  Window w(false);
  for (const int weight : {400, 500, 600}) {
    QFont font = QApplication::font();
    CHECK(font.family() == "Even Clay Text");
    font.setWeight(static_cast<QFont::Weight>(weight));
    const QFontMetricsF metrics(font);
    for (int d = 1; d < 10; ++d)
      CHECK(metrics.horizontalAdvance(QString::number(d)) ==
            Approx(metrics.horizontalAdvance("0")));
  }
}

TEST_CASE("each card sets what its chip then says") {
  Window w;
  w.window.stages().open(Stage::Shaped);
  PointEditor& editor = w.window.editor();
  const auto chip = [&](int k) { return child<QToolButton>(w, QString("chip_%1").arg(k)); };
  const auto choose = [&](const char* name, int k) {
    auto* box = child<QComboBox>(w, name);
    box->setCurrentIndex(k);
    Q_EMIT box->activated(k);
  };
  choose("ratio", 2);
  CHECK(editor.ratio() == 5.0);
  child<QDoubleSpinBox>(w, "step_length")->setValue(0.5);
  CHECK(editor.step_length() == 0.5);
  CHECK(chip(4)->text() == "Fine 1:5, 0.5 mm");
  choose("pivot", 3);
  CHECK(editor.pivot() == Pivot::Symmetry);
  CHECK(chip(5)->text() == "About symmetry");
  child<QCheckBox>(w, "visible_only_box")->click();
  CHECK(editor.visible_only());
  child<QCheckBox>(w, "visible_only_box")->click();
  choose("filter", 1);
  CHECK(editor.filter() == PickFilter::NetLines);
  CHECK(chip(6)->text() == "Pick lines");
  choose("symmetry", 0);
  w.settle();
  CHECK(editor.symmetry() == SymmetryPlane::None);
  CHECK(chip(1)->text() == "Symmetry off");
  choose("symmetry", 2);
  w.settle();
  CHECK(editor.symmetry() == SymmetryPlane::XZ);
  CHECK(chip(1)->text().contains("x–z"));
  CHECK(chip(1)->property("lit").toBool());
  editor.pick({});
  CHECK(chip(7)->text() == "Weight –");
  editor.set_leader({0, 8, 4});
  editor.pick({{0, 8, 4}});
  CHECK(chip(7)->text() == "Weight 1");
}

TEST_CASE(
    "in a narrow window the bar breaks its rows and the last gauges give way to the message") {
  Window w;
  w.window.stages().open(Stage::Shaped);
  w.window.resize(1024, 700);
  QTest::qWait(40);
  auto* bar = child<QFrame>(w, "hand_bar");
  CHECK(bar->isVisible());
  INFO(bar->x() << " " << bar->y() << " " << bar->width() << " " << bar->height() << " in "
                << w.window.view().width() << " " << w.window.view().height());
  CHECK(w.window.view().rect().contains(bar->geometry()));
  for (std::size_t k = 1; k < 4; ++k)
    CHECK_FALSE(bar->geometry().intersects(w.window.view().viewport(k)));
  CHECK(child<GaugeCard>(w, "gauge_points")->isVisible());
  CHECK_FALSE(child<GaugeCard>(w, "gauge_volume")->isVisible());
  CHECK(child<QLabel>(w, "message")->width() >= 100);
  w.window.resize(1280, 800);
  QTest::qWait(40);
  CHECK(child<GaugeCard>(w, "gauge_volume")->isVisible());
}

TEST_CASE("a removed layer or part leaves the rows of the others as they were") {
  Window w;
  const std::string before = to_project_json(document(w));
  w.click(w.part_row(1));
  w.settle();
  choose_in_menu(w, w.part_row(1), "New layer");
  w.settle();
  w.window.run("undo");
  w.settle();
  CHECK(to_project_json(document(w)) == before);
  CHECK(w.part_row(1)->parent() == nullptr);
  choose_in_menu(w, w.part_row(1), "Remove part");
  CHECK(document(w).parts.size() == 3);
  CHECK(w.part_row(0) != nullptr);
  CHECK(w.part_row(2) != nullptr);
  w.window.run("undo");
  w.settle();
  CHECK(to_project_json(document(w)) == before);
}
