// Tiles and patterns in the real window: flowing, the frame in the view, the tile view, stretch.
#include <QAction>
#include <QComboBox>
#include <QFile>
#include <QLabel>
#include <QListWidget>
#include <QSpinBox>
#include <QStandardPaths>
#include <QToolButton>
#include <cmath>

#include "core/operations/flow_pattern.h"
#include "core/pattern/shelf_tile.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

const FlowPatternOperation& flow_of(Window& w, const char* part) {
  const Part* p = find_part(w.window.model().document(), std::string_view(part));
  REQUIRE(p != nullptr);
  return dynamic_cast<const FlowPatternOperation&>(*p->steps.back().operation);
}

// A place of the pattern's frame on the screen: shares of the target.
QPoint frame_place(Window& w, double u, double v) {
  const auto facts = w.window.model().pattern();
  REQUIRE(facts);
  const Grid<Vec3>& g = facts->target;
  const int i = static_cast<int>(std::lround(u * (g.rows() - 1)));
  const int j = static_cast<int>(std::lround(v * (g.columns() - 1)));
  return w.window.view().place_on_screen(g(i, j)).toPoint();
}

// A flat sheet of 90 × 60 mm that carries 6 × 4 tiles, seen from above.
void flat_pattern(Window& w) {
  Document d = uncut_demo();
  for (const char* name : {"Grille", "Shell", "Knob ring"})
    d = without_part(d, find_part(d, std::string_view(name))->id);
  d = with_setting(d, "Dimple tile/Plane.centre_x=80");
  QTemporaryDir folder;
  const QString file = folder.filePath("flat.evenclay");
  save_project(d, file.toStdString());
  w.window.model().open(file);
  w.settle();
  w.window.run("source_plane");
  w.settle();
  child_of<QDoubleSpinBox>(w.window, "length_x")->setValue(90);
  child_of<QDoubleSpinBox>(w.window, "length_y")->setValue(60);
  w.window.model().keep_trial();
  w.settle();
  w.window.run("flow_pattern");
  w.settle();
  child_of<QComboBox>(w.window, "sizing")->setCurrentIndex(0);
  w.settle();
  child_of<QSpinBox>(w.window, "count_u")->setValue(6);
  child_of<QSpinBox>(w.window, "count_v")->setValue(4);
  w.settle();
  w.window.view().bring_to_main(ViewName::Top);
  w.window.view().frame_all();
  w.settle();
}

}  // namespace

TEST_CASE("a pattern is begun on the chosen part, with the sizes of its tile, and kept") {
  Window w;
  flat_pattern(w);
  CHECK(w.window.model().trial());
  const auto* message = testing::child_of<QLabel>(w.window, "message");
  CHECK(message->text().contains("frame"));  // what to do while it is tried
  const FlowPatternOperation& flow = flow_of(w, "Pattern");
  CHECK(flow.count_u == 6);
  CHECK(flow.v_from == 0.0);  // an open sheet is covered whole
  CHECK(flow.v_to == 1.0);
  const auto facts = w.window.model().pattern();
  REQUIRE(facts);
  CHECK(facts->tile_u == Approx(15));
  CHECK(facts->tile_v == Approx(15));
  w.key(Qt::Key_Return);
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  CHECK(message->text().isEmpty());
  CHECK(w.gauge("gauge_evenness").contains("%"));
  CHECK(w.gauge("gauge_radius").contains(QChar(0x00B0)));
}

TEST_CASE("a tile that is chosen is carried over the large part, and thickened for printing") {
  Window w;
  w.window.model().new_project();
  w.settle();
  const auto keep = [&](const char* tool) {
    w.window.run(tool);
    w.settle();
    w.key(Qt::Key_Return);
    w.settle();
  };
  keep("source_cylinder");
  // Alone it has no tile: the step says how to get one, and nothing is measured.
  w.window.run("flow_pattern");
  w.settle();
  const AppModel& model = w.window.model();
  const StepStatus& alone = model.step_status().at(model.chosen_step());
  CHECK(alone.failed);
  CHECK(alone.message.find("Tile from the shelf") != std::string::npos);
  for (const char* gauge : {"gauge_size", "gauge_area", "gauge_points"})
    CHECK(w.gauge(gauge) == QString::fromUtf8("–"));
  w.key(Qt::Key_Escape);
  w.settle();
  keep("source_shelf_tile");
  w.window.run("flow_pattern");
  w.settle();
  const FlowPatternOperation& flow = flow_of(w, "Pattern");
  CHECK(flow.tile.part == find_part(model.document(), std::string_view("Tile"))->id);
  CHECK(flow.target.part == find_part(model.document(), std::string_view("Cylinder"))->id);
  CHECK(flow.tile_u == Approx(8.0));  // the tile's own size
  CHECK(flow.v_to == 1.0);            // an open target is covered whole
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(w.gauge("gauge_volume") == QString::fromUtf8("–"));
  const auto beneath = [&] { return model.drawn().at(flow.target.part).mesh->indices.size(); };
  const std::size_t left = beneath();
  w.window.run("thicken");
  w.settle();
  // A dimple is too narrow for 2 mm: the step says for how much there is room.
  const auto status = [&]() -> const StepStatus& {
    return model.step_status().at(model.chosen_step());
  };
  CHECK(status().failed);
  CHECK(status().message.find("There is room") != std::string::npos);
  child_of<QDoubleSpinBox>(w.window, "thickness")->setValue(0.4);
  w.settle();
  CHECK_FALSE(status().failed);
  CHECK(w.gauge("gauge_volume").endsWith(QString::fromUtf8("cm³")));
  CHECK(beneath() == left);  // the thick pattern covers its target as the thin one did
}

TEST_CASE(
    "a click on a corner of the frame turns the tiles, a click on an arrow mirrors them, and both "
    "are undone") {
  Window w;
  flat_pattern(w);
  w.window.model().keep_trial();
  w.settle();
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, frame_place(w, 1, 1));
  w.settle();
  CHECK(flow_of(w, "Pattern").corner == TargetCorner::UVMax);
  w.window.model().undo();
  w.settle();
  CHECK(flow_of(w, "Pattern").corner == TargetCorner::UVMin);
  // The arrow along u ends at a seventh of the way.
  const auto facts = w.window.model().pattern();
  const Vec3 from = facts->target(0, 0);
  const Vec3 to = facts->target(facts->target.rows() - 1, 0);
  const QPoint tip = w.window.view().place_on_screen(from + (to - from) * 0.14).toPoint();
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, tip);
  w.settle();
  CHECK(flow_of(w, "Pattern").flip_u);
  CHECK_FALSE(flow_of(w, "Pattern").flip_v);
}

TEST_CASE("a border of the frame is dragged, the pattern follows, and it is one undo") {
  Window w;
  flat_pattern(w);
  w.window.model().keep_trial();
  w.settle();
  const QPoint from = frame_place(w, 0.5, 1.0);
  const QPoint to = frame_place(w, 0.5, 0.75);
  w.drag(from, to - from);
  w.settle();
  CHECK(flow_of(w, "Pattern").v_to == Approx(0.75).margin(0.02));
  const auto facts = w.window.model().pattern();
  REQUIRE(facts);
  CHECK(facts->tile_v == Approx(0.25 * 60 * flow_of(w, "Pattern").v_to).margin(0.1));
  w.window.model().undo();
  w.settle();
  CHECK(flow_of(w, "Pattern").v_to == 1.0);
}

TEST_CASE("a locked pattern keeps its frame") {
  Window w;
  flat_pattern(w);
  w.window.model().keep_trial();
  w.settle();
  const Part* p = find_part(w.window.model().document(), std::string_view("Pattern"));
  w.window.model().commit(with_lock(w.window.model().document(), p->id, true), "Lock");
  w.settle();
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, frame_place(w, 1, 1));
  w.settle();
  CHECK(flow_of(w, "Pattern").corner == TargetCorner::UVMin);
}

TEST_CASE("the tile view shows nine tiles and follows while one is shaped") {
  Window w;
  w.choose("Dimple tile", 2);
  child_of<QAction>(w.window, "tile_view")->trigger();
  w.settle();
  const auto tile = w.window.model().tile();
  REQUIRE(tile);
  const auto single = w.window.model().drawn().at(w.window.model().chosen_part()).mesh;
  CHECK(tile->mesh->box.max.x - tile->mesh->box.min.x ==
        Approx(3 * (single->box.max.x - single->box.min.x)).margin(1e-6));
  CHECK(tile->pairing.gap < 1e-9);
  CHECK(tile->pairing.angle > 1);  // its inner points are raised beside the edges
  // One edge raised: the gap is said where it is.
  w.window.editor().pick({{0, 0, 2}});
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 0.4, {}}));
  w.settle();
  CHECK(w.window.model().tile()->pairing.gap > 0.05);
  // A step that pairs the edges mends it.
  w.window.run("pair_edges");
  w.settle();
  w.window.model().keep_trial();
  w.settle();
  CHECK(w.window.model().tile()->pairing.gap < 1e-9);
  CHECK(w.window.model().tile()->pairing.angle < 0.1);
  child_of<QAction>(w.window, "tile_view")->trigger();
  w.settle();
  CHECK_FALSE(w.window.view().settings().tile_view);
}

TEST_CASE("the gauge of stretch colours pattern and target, and puts the colours away again") {
  Window w;
  w.choose("Grille", 0);
  auto* card = child_of<GaugeCard>(w.window, "gauge_evenness");
  QTest::mouseClick(card, Qt::LeftButton);
  w.settle();
  CHECK(w.window.view().settings().look == ModelLook::Stretch);
  const auto& drawn = w.window.model().drawn();
  const auto id = [&](const char* name) {
    return find_part(w.window.model().document(), std::string_view(name))->id;
  };
  REQUIRE(drawn.at(id("Grille")).stretch);
  REQUIRE(drawn.at(id("Shell")).stretch);
  CHECK(drawn.at(id("Grille")).stretch->values.size() ==
        drawn.at(id("Grille")).mesh->vertices.size() / 6);
  CHECK_FALSE(drawn.at(id("Dimple tile")).stretch);
  QTest::mouseClick(card, Qt::LeftButton);
  w.settle();
  CHECK(w.window.view().settings().look == ModelLook::Clay);
}

TEST_CASE("what lies under tiles is not drawn, and is drawn again when the pattern is hidden") {
  Window w;
  const auto triangles = [&] {
    const PartId shell = find_part(w.window.model().document(), std::string_view("Shell"))->id;
    return w.window.model().drawn().at(shell).mesh->indices.size();
  };
  const std::size_t covered = triangles();
  const Part grille = *find_part(w.window.model().document(), std::string_view("Grille"));
  w.window.model().commit(
      with_look(w.window.model().document(), grille.id, {grille.look.colour, false}), "Hide");
  w.settle();
  CHECK(triangles() > covered * 5 / 4);
}

TEST_CASE("settings fold under headings that stay open") {
  Window w;
  w.choose("Grille", 0);
  auto* corner = child_of<QComboBox>(w.window, "corner");
  CHECK_FALSE(corner->isVisible());
  QTest::mouseClick(child_of<QToolButton>(w.window, "group Place and direction"), Qt::LeftButton);
  CHECK(corner->isVisible());
  w.choose("Shell", 0);
  w.choose("Grille", 0);
  corner = child_of<QComboBox>(w.window, "corner");
  CHECK(corner->isVisible());
  corner->setCurrentIndex(2);
  w.settle();
  CHECK(flow_of(w, "Grille").corner == TargetCorner::UVMax);
}

TEST_CASE("a tile put on the shelf is taken from there in another project") {
  QStandardPaths::setTestModeEnabled(true);
  QFile::remove(MainWindow::shelf_file());
  {
    Window w;
    child_of<QAction>(w.window, "take_from_shelf")->trigger();
    w.settle();
    CHECK(child_of<QLabel>(w.window, "message")->text().contains("shelf is empty"));
    w.choose("Dimple tile", 2);
    child_of<QAction>(w.window, "put_on_shelf")->trigger();
    w.settle();
    REQUIRE(QFile::exists(MainWindow::shelf_file()));
  }
  Window w;
  w.window.model().new_project();
  w.settle();
  child_of<QAction>(w.window, "take_from_shelf")->trigger();
  w.settle();
  auto* list = child_of<QListWidget>(w.window, "parts_to_take");
  REQUIRE(list->isVisible());
  REQUIRE(list->count() == 1);
  CHECK(list->item(0)->text().startsWith("Dimple tile"));
  list->item(0)->setCheckState(Qt::Checked);
  QTest::keyClick(list, Qt::Key_Return);
  w.settle();
  REQUIRE(w.window.model().document().parts.size() == 1);
  CHECK(w.window.model().document().parts[0].name == "Dimple tile");
  QFile::remove(MainWindow::shelf_file());
  QStandardPaths::setTestModeEnabled(false);
}
