#include <QAction>
#include <QApplication>
#include <QDialog>
#include <QDir>
#include <QDoubleSpinBox>
#include <QFile>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QTest>
#include <QToolButton>
#include <catch2/catch.hpp>
#include <nlohmann/json.hpp>
#include <set>

#include "app/panels/gauges_strip.h"
#include "app/window/main_window.h"
#include "app/window_fixture.h"
#include "core/document/project_json.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

Vec3 displacement(Window& w, PointIndex p) {
  return w.window.editor().net()->shapings.front().displacements(p.i, p.j);
}

int colours_in(const QImage& image) {
  std::set<QRgb> seen;
  for (int y = 0; y < image.height(); y += 7)
    for (int x = 0; x < image.width(); x += 7) seen.insert(image.pixel(x, y));
  return static_cast<int>(seen.size());
}

double difference(const QImage& a, const QImage& b) {
  double sum = 0.0;
  int count = 0;
  for (int y = 0; y < a.height(); y += 3)
    for (int x = 0; x < a.width(); x += 3, ++count)
      sum += std::abs(qGray(a.pixel(x, y)) - qGray(b.pixel(x, y)));
  return sum / count;
}

}  // namespace

TEST_CASE("from the demo to an export: pick, drag, type, undo, rebuild, save, reopen") {
  Window w;
  const QTemporaryDir folder;
  const std::string before = to_project_json(w.window.model().document());

  // Pick a point by its place on the screen: the front one of the upper row.
  const PointIndex p{0, 8, 4};
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, w.point(p));
  REQUIRE(w.window.editor().picked() == Selection{p});

  // Drag it off the skin; its mirrored partner follows, gauges change.
  const QString gauge_before = w.gauge("gauge_deviation");
  const Vec3 start = displacement(w, p);
  w.drag(w.point(p), {-40, -30});
  w.settle();
  const Vec3 dragged = displacement(w, p) - start;
  CHECK(length(dragged) > 1.0);
  CHECK(w.gauge("gauge_deviation") != gauge_before);
  const Vec3 partner = displacement(w, {0, 2, 4});
  CHECK(partner.y == Approx(-displacement(w, p).y).margin(1e-12));
  CHECK(w.window.model().session().can_undo());

  // Type 2.5 and Enter: exactly 2.5 mm more along the normal.
  const Vec3 before_typing = displacement(w, p);
  w.window.view().setFocus();
  QTest::keyClicks(&w.window.view(), "2");
  auto* field = w.window.findChild<QLineEdit*>("typed_distance");
  REQUIRE(field != nullptr);
  REQUIRE(field->isVisible());
  QTest::keyClicks(field, ".5");
  CHECK(field->text() == "2.5");
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
  CHECK_FALSE(field->isVisible());
  CHECK(length(displacement(w, p) - before_typing) == Approx(2.5).epsilon(1e-9));

  // Undo all with the key: the project is what it was, byte for byte.
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK_FALSE(w.window.model().session().can_undo());
  CHECK((to_project_json(w.window.model().document()) == before));

  // Change Rebuild to 12 × 10 in the step list; the shaping follows.
  w.click(w.step_row(0, 1));
  w.settle();
  auto* points_u = w.window.findChild<QSpinBox*>("points_u");
  auto* points_v = w.window.findChild<QSpinBox*>("points_v");
  REQUIRE(points_u != nullptr);
  points_u->setFocus();
  points_u->selectAll();
  QTest::keyClicks(points_u, "12");
  points_v->setFocus();
  points_v->selectAll();
  QTest::keyClicks(points_v, "10");
  w.settle();
  CHECK(w.gauge("gauge_points").startsWith("120 · 12 × 10"));
  w.choose("Shell", 2);
  CHECK(w.gauge("gauge_points").startsWith("120 · 12 × 10"));
  auto* message = w.window.findChild<QLabel*>("step_message");
  CHECK(message->text().contains("12 × 10"));

  // Save, reopen, export.
  const QString file = folder.filePath("skerry.evenclay");
  w.window.save_file(file);
  w.settle();
  CHECK_FALSE(w.window.model().session().unsaved());
  const std::string saved = to_project_json(w.window.model().document());
  w.window.model().new_project();
  w.settle();
  w.window.open_file(file);
  w.settle();
  CHECK((to_project_json(w.window.model().document()) == saved));
  w.choose("Shell", 2);
  const auto exported = [&](const char* name) {
    if (!w.window.export_chosen(folder.filePath(name))) return false;
    return QTest::qWaitFor([&] { return !w.window.exporting(); }, 60000) &&
           QFile::exists(folder.filePath(name));
  };
  REQUIRE(exported("shell.surface.json"));
  QFile dump(folder.filePath("shell.surface.json"));
  REQUIRE(dump.open(QIODevice::ReadOnly));
  const auto j = nlohmann::json::parse(dump.readAll().toStdString());
  CHECK(j["surfaces"][0]["points"].size() == 15);
  for (const char* name : {"shell.stl", "shell.obj", "shell.step"}) CHECK(exported(name));
  REQUIRE(w.window.export_chosen("/no/such/folder/shell.stl"));
  REQUIRE(QTest::qWaitFor([&] { return !w.window.exporting(); }, 60000));
  CHECK(w.window.findChild<QLabel*>("message")->text().contains("cannot be written"));
}

TEST_CASE("the picture is not blank and Zebra differs from Clay") {
  Window w;
  w.window.view().set(&ViewSettings::look, ModelLook::Clay);
  QTest::qWait(60);
  const QImage clay = w.window.view().grabFramebuffer();
  CHECK(clay.width() > 700);
  CHECK(colours_in(clay) > 200);
  std::vector<QImage> looks{clay};
  for (const ModelLook look : {ModelLook::Zebra, ModelLook::Lines, ModelLook::SeeThrough}) {
    w.window.view().set(&ViewSettings::look, look);
    QTest::qWait(60);
    looks.push_back(w.window.view().grabFramebuffer());
  }
  CHECK(difference(looks[0], looks[1]) > 3.0);
  CHECK(difference(looks[0], looks[2]) > 0.05);
  // Iso-curves are dark lines on clay: many places become darker, and none of the lines is light.
  int darker = 0;
  int lighter = 0;
  for (int x = 0; x < clay.width(); ++x)
    for (int y = 0; y < clay.height(); ++y) {
      const int change = qGray(looks[2].pixel(x, y)) - qGray(clay.pixel(x, y));
      darker += change < -20 ? 1 : 0;
      lighter += change > 20 ? 1 : 0;
    }
  CHECK(darker > 1500);
  CHECK(lighter < darker / 10);
  CHECK(difference(looks[0], looks[3]) > 0.5);
}

TEST_CASE("a box takes points through the depth, Shift adds, Ctrl removes, a click clears") {
  Window w;
  const Surface& s = *w.window.editor().net()->shown.nets.front().surface();
  const QRect all = w.window.view().rect();
  // A box over the right half of the model holds front and back points alike.
  w.window.view().bring_to_main(ViewName::Front);
  QTest::qWait(30);
  const QPoint centre = w.window.view().rect().center();
  w.drag({centre.x() + 10, 30}, QPoint(all.width() - 60 - centre.x(), all.height() - 260));
  const Selection boxed = w.window.editor().picked();
  REQUIRE(boxed.size() > 6);
  bool front = false;
  bool back = false;
  for (const PointIndex& p : boxed) {
    front |= s.points(p.i, p.j).y < -1;
    back |= s.points(p.i, p.j).y > 1;
  }
  CHECK(front);
  CHECK(back);
  // Ctrl + click removes, Shift + click adds it again.
  const PointIndex p{0, 8, 4};
  w.window.editor().pick({p, {0, 7, 4}});
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, Qt::ControlModifier, w.point({0, 7, 4}));
  CHECK_FALSE(w.window.editor().picked().contains({0, 7, 4}));
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, Qt::ShiftModifier, w.point({0, 7, 4}));
  CHECK(w.window.editor().picked().contains({0, 7, 4}));
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, {300, 20});
  CHECK(w.window.editor().picked().empty());
}

TEST_CASE("rows along u and v by key, all and none by key") {
  Window w;
  w.window.editor().pick({{0, 3, 4}});
  w.key(Qt::Key_E);
  CHECK(w.window.editor().picked().size() == 10);
  w.window.editor().pick({{0, 3, 4}});
  w.key(Qt::Key_R);
  // Eight points, two of them poles that are taken whole.
  CHECK(w.window.editor().picked().size() == 6 + 10 + 10);
  w.key(Qt::Key_A, Qt::ControlModifier);
  CHECK(w.window.editor().picked().size() == 80);
  w.key(Qt::Key_A, Qt::ControlModifier | Qt::ShiftModifier);
  CHECK(w.window.editor().picked().empty());
}

TEST_CASE("each direction moves along itself, in the main and in a side view") {
  Window w;
  const PointIndex p{0, 8, 4};
  w.window.editor().set_symmetry(SymmetryPlane::None);
  w.settle();
  const struct {
    Qt::Key key;
    std::size_t axis;
  } axes[] = {{Qt::Key_X, 0}, {Qt::Key_C, 1}, {Qt::Key_Z, 2}};
  for (const auto& a : axes) {
    w.window.editor().pick({p});
    w.key(a.key);
    const Vec3 before = displacement(w, p);
    w.drag(w.point(p), {36, -28});
    w.settle();
    const Vec3 d = displacement(w, p) - before;
    for (std::size_t k = 0; k < 3; ++k)
      if (k == a.axis)
        CHECK(std::abs(d[k]) > 0.5);
      else
        CHECK(d[k] == 0.0);
    w.window.model().undo();
    w.settle();
  }
  // In the front side view, "in the view" moves in x and z only.
  w.window.editor().pick({p});
  w.key(Qt::Key_V);
  const Vec3 before = displacement(w, p);
  w.drag(w.point(p, 2), {10, -6});
  w.settle();
  const Vec3 d = displacement(w, p) - before;
  CHECK(d.x > 1.0);
  CHECK(d.z > 1.0);
  CHECK(std::abs(d.y) < 1e-12);
}

TEST_CASE("drag ratio, step length and Shift make the hand finer") {
  Window w;
  const PointIndex p{0, 8, 4};
  w.key(Qt::Key_X);
  const auto drag_x = [&](Qt::KeyboardModifiers m) {
    w.window.editor().pick({p});
    const Vec3 before = displacement(w, p);
    w.window.editor().set_leader(p);
    w.drag(w.point(p), {50, 0}, m);
    w.settle();
    const double moved = displacement(w, p).x - before.x;
    w.window.model().undo();
    w.settle();
    return moved;
  };
  const double full = drag_x({});
  REQUIRE(std::abs(full) > 1.0);
  CHECK(drag_x(Qt::ShiftModifier) == Approx(full / 10).epsilon(0.02));
  w.window.editor().set_ratio(10);
  CHECK(drag_x({}) == Approx(full / 10).epsilon(0.02));
  w.window.editor().set_ratio(1);
  w.window.editor().set_step_length(0.5);
  const double stepped = drag_x({});
  CHECK(std::abs(stepped / 0.5 - std::round(stepped / 0.5)) < 1e-9);
}

TEST_CASE("Esc during a drag leaves nothing behind") {
  Window w;
  const std::string before = to_project_json(w.window.model().document());
  const PointIndex p{0, 8, 4};
  const QPoint from = w.point(p);
  ModelView* v = &w.window.view();
  QTest::mousePress(v, Qt::LeftButton, {}, from);
  for (int k = 1; k < 6; ++k) {
    const QPointF at = from + QPointF(6.0 * k, -5.0 * k);
    QMouseEvent move(QEvent::MouseMove, at, v->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(v, &move);
    QTest::qWait(10);
  }
  CHECK(w.window.editor().dragging());
  CHECK(w.window.editor().points_moved() > 0.5);
  CHECK(w.window.editor().surface_moved() > 0.0);
  CHECK(w.window.editor().surface_moved() < w.window.editor().points_moved());
  QTest::keyClick(v, Qt::Key_Escape);
  QTest::mouseRelease(v, Qt::LeftButton, {}, from);
  w.settle();
  CHECK((to_project_json(w.window.model().document()) == before));
  CHECK_FALSE(w.window.model().session().can_undo());
}

TEST_CASE("dragging a point of a rebuilt part adds a Shaped points step on top") {
  Window w(false);
  w.window.run("source_sphere");
  w.window.model().keep_trial();
  w.settle();
  w.window.run("rebuild");
  w.settle();
  REQUIRE(w.window.model().trial());
  w.key(Qt::Key_Return);
  CHECK_FALSE(w.window.model().trial());
  w.settle();
  const auto steps = [&] { return w.window.model().document().parts[0].steps.size(); };
  REQUIRE(steps() == 2);
  const PointIndex p{0, 6, 4};
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, w.point(p));
  REQUIRE_FALSE(w.window.editor().picked().empty());
  w.drag(w.point(*w.window.editor().picked().begin()), {-30, -20});
  w.settle();
  CHECK(steps() == 3);
  CHECK(w.window.model().document().parts[0].steps[2].operation->kind() == "shaped_points");
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(steps() == 2);
}

TEST_CASE("a tool previews live until Keep or Drop, and Drop leaves nothing") {
  Window w;
  const std::string before = to_project_json(w.window.model().document());
  w.choose("Dimple tile", 2);
  w.window.stages().open(Stage::Grid);
  auto* tool = w.window.findChild<QToolButton*>("tool_rebuild");
  REQUIRE(tool != nullptr);
  QTest::mouseClick(tool, Qt::LeftButton);
  w.settle();
  REQUIRE(w.window.model().trial());
  auto* points_u = w.window.findChild<QSpinBox*>("points_u");
  REQUIRE(points_u != nullptr);
  const QString first = w.gauge("gauge_deviation");
  points_u->setValue(14);
  w.settle();
  CHECK(w.gauge("gauge_points").contains("14 ×"));
  CHECK(w.gauge("gauge_deviation") != first);
  auto* drop = w.window.findChild<QPushButton*>("drop");
  QTest::mouseClick(drop, Qt::LeftButton);
  w.settle();
  CHECK((to_project_json(w.window.model().document()) == before));
}

TEST_CASE("weight of the picked points from the bar, reset from the stage") {
  Window w;
  w.choose("Dimple tile", 2);
  CHECK(w.window.editor().net()->shown.nets.front().surface()->weight(2, 2) == Approx(2.0));
  w.window.editor().pick({{0, 1, 1}});
  auto* weight = w.window.findChild<QDoubleSpinBox*>("weight");
  REQUIRE(weight != nullptr);
  REQUIRE(weight->isEnabled());
  CHECK_FALSE(weight->isVisible());
  auto* chip = w.window.findChild<QToolButton*>("chip_7");
  REQUIRE(chip != nullptr);
  QTest::mouseClick(chip, Qt::LeftButton);
  REQUIRE(weight->isVisible());
  weight->setFocus();
  weight->selectAll();
  QTest::keyClicks(weight, "3.5");
  QTest::keyClick(weight, Qt::Key_Return);
  w.settle();
  CHECK(w.window.editor().net()->shown.nets.front().surface()->weight(1, 1) == Approx(3.5));
  CHECK(w.window.run("reset_weight"));
  w.settle();
  CHECK(w.window.editor().net()->shown.nets.front().surface()->weight(1, 1) == Approx(1.0));
}

TEST_CASE("a failing step shows its sentence and the shape below stays in view") {
  Window w;
  w.choose("Shell", 1);
  auto* degree = w.window.findChild<QSpinBox*>("degree_u");
  REQUIRE(degree != nullptr);
  degree->setValue(11);
  w.settle();
  auto* message = w.window.findChild<QLabel*>("step_message");
  CHECK(message->isVisible());
  CHECK(message->text().contains("needs at least 12 control points"));
  CHECK(colours_in(w.window.view().grabFramebuffer()) > 200);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK_FALSE(message->text().contains("needs at least"));
}

TEST_CASE("steps are switched off and on and removed in the list") {
  Window w;
  const QString shaped = w.gauge("gauge_volume");
  w.click_sign(w.step_row(0, 2));
  w.settle();
  CHECK_FALSE(w.window.model().document().parts[0].steps[2].enabled);
  CHECK(w.gauge("gauge_volume") != shaped);
  w.click_sign(w.step_row(0, 2));
  w.settle();
  CHECK(w.gauge("gauge_volume") == shaped);
  // Removed, the shape is that without it; undone, it is back.
  const std::string document = to_project_json(w.window.model().document());
  const std::size_t count = w.window.model().document().parts[0].steps.size();
  w.click(w.step_row(0, 2));
  w.settle();
  w.step_row(0, 2)->treeWidget()->setFocus();
  QTest::keyClick(w.step_row(0, 2)->treeWidget(), Qt::Key_Delete);
  w.settle();
  CHECK(w.window.model().document().parts[0].steps.size() == count - 1);
  CHECK(w.gauge("gauge_volume") != shaped);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == document);
}

TEST_CASE("find an action lists by words and runs the chosen one") {
  Window w;
  w.key(Qt::Key_K, Qt::ControlModifier);
  auto* find = w.window.findChild<QFrame*>("find_action");
  REQUIRE(find != nullptr);
  REQUIRE(find->isVisible());
  auto* field = find->findChild<QLineEdit*>();
  QTest::keyClicks(field, "zebra");
  auto* list = find->findChild<QListWidget*>();
  REQUIRE(list->count() >= 1);
  QTest::keyClick(field, Qt::Key_Return);
  CHECK(w.window.view().settings().look == ModelLook::Zebra);
  CHECK_FALSE(find->isVisible());
}

TEST_CASE("every action has a name, a help sentence and an icon, and no key is used twice") {
  // Two kinds of steps share one entry; it has the name of the one for surfaces.
  {
    Window w;
    for (const ActionInfo& a : w.window.actions())
      if (a.id == "rebuild") CHECK(a.label == "Rebuild");
  }
  Window w(false);
  std::set<QString> keys;
  REQUIRE(w.window.actions().size() > 30);
  for (const ActionInfo& a : w.window.actions()) {
    INFO(a.id.toStdString());
    CHECK_FALSE(a.label.isEmpty());
    CHECK(a.help.endsWith('.'));
    CHECK_FALSE(a.action->icon().isNull());
    if (a.key.isEmpty()) continue;
    CHECK(keys.insert(a.key.toString()).second);
  }
}

TEST_CASE(
    "the sheet of keys closes with the key that opened it, and with Esc wherever the focus is") {
  Window w;
  const auto sheet = [&] { return w.window.findChild<QDialog*>("keys"); };
  for (const Qt::Key closing : {Qt::Key_F1, Qt::Key_Escape}) {
    w.key(Qt::Key_F1);
    REQUIRE(sheet() != nullptr);
    CHECK(sheet()->isVisible());
    QTest::qWait(60);
    QTest::keyClick(sheet(), closing);
    REQUIRE(QTest::qWaitFor([&] { return sheet() == nullptr; }, 60000));
  }
  // With the focus back in the view.
  w.key(Qt::Key_F1);
  REQUIRE(sheet() != nullptr);
  w.window.activateWindow();
  REQUIRE(QTest::qWaitForWindowActive(&w.window));
  w.key(Qt::Key_Escape);
  CHECK(QTest::qWaitFor([&] { return sheet() == nullptr; }, 60000));
}

TEST_CASE("the demo is called Skerry until it has a file of its own") {
  Window w(false);
  CHECK(w.window.windowTitle().startsWith("untitled"));
  w.window.model().open_demo();
  w.settle();
  CHECK(w.window.windowTitle().startsWith("Skerry"));
  CHECK(w.window.findChild<QLabel*>("project_name")->text().startsWith("Skerry"));
  w.window.model().new_project();
  CHECK(w.window.windowTitle().startsWith("untitled"));
}

TEST_CASE("an empty project offers the demo and survives every action") {
  Window w(false);
  auto* offer = w.window.findChild<QFrame*>("start_offer");
  REQUIRE(offer != nullptr);
  CHECK(offer->isVisible());
  for (const char* id : {"rebuild", "flow_pattern", "row_u", "select_all", "invert", "symmetry",
                         "reset_weight", "remove_part", "undo", "redo", "frame_all", "frame_picked",
                         "look_zebra", "net", "export_stl"})
    w.window.run(id);
  CHECK(w.window.model().document().parts.empty());
  w.window.open_file("/no/such/file.evenclay");
  REQUIRE(QTest::qWaitFor([&] { return !w.window.model().background().busy(); }, 10000));
  auto* message = w.window.findChild<QLabel*>("message");
  CHECK(message->text().contains("cannot be read"));
}

TEST_CASE("a click on another part's surface chooses that part") {
  Window w;
  w.choose("Dimple tile", 2);
  w.window.editor().set_net_visible(false);
  const QRect r = w.window.view().viewport(0);
  const OnScreen front = to_screen(w.window.view().camera(ViewName::Main), r, {0, -50, 20});
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, front.at.toPoint());
  w.settle();
  const Part* chosen = find_part(w.window.model().document(), w.window.model().chosen_part());
  REQUIRE(chosen != nullptr);
  CHECK((chosen->name == "Grille" || chosen->name == "Shell"));
}

TEST_CASE("Enter in a settings field keeps the step being tried") {
  Window w;
  w.window.run("rebuild");
  w.settle();
  REQUIRE(w.window.model().trial());
  auto* points_u = w.window.findChild<QSpinBox*>("points_u");
  points_u->setFocus();
  points_u->selectAll();
  QTest::keyClicks(points_u, "16");
  QTest::keyClick(points_u, Qt::Key_Return);
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  CHECK(w.window.model().document().parts[0].steps.size() == 4);
  CHECK(w.gauge("gauge_points").contains("16 ×"));
}

TEST_CASE("work that was not saved is offered after a crash") {
  QString left;
  std::string before;
  {
    Window w;
    w.window.editor().pick({{0, 8, 4}});
    REQUIRE(w.window.editor().move_by({MoveDirection::X, 3.0, {}}));
    w.settle();
    before = to_project_json(w.window.model().document());
    w.window.recovery().write_if_needed();
    left = w.window.recovery().own_copy();
    REQUIRE(QTest::qWaitFor([&] { return !w.window.recovery().writing(); }, 10000));
    REQUIRE(QFile::exists(left));
    // Another running program does not take the copy of this one.
    Window second(false);
    CHECK_FALSE(second.window.recovery().left_behind().contains(left));
  }
  // The window went without being closed, as when the process dies.
  Window w(false);
  CHECK(w.window.findChild<QLabel*>("message")->text().contains("Restore unsaved work"));
  REQUIRE(w.window.run("restore"));
  w.settle();
  CHECK((to_project_json(w.window.model().document()) == before));
  CHECK(w.window.model().session().unsaved());
  REQUIRE(QTest::qWaitFor([&] { return !QFile::exists(left); }, 10000));
  REQUIRE(QTest::qWaitFor([&] { return !w.window.recovery().writing(); }, 10000));
  CHECK(QFile::exists(w.window.recovery().own_copy()));
  w.window.recovery().forget();
  CHECK_FALSE(QFile::exists(w.window.recovery().own_copy()));
}

TEST_CASE("orbit, pan and zoom move the camera, and zoom keeps the place under the cursor") {
  Window w;
  Camera& c = w.window.view().camera(ViewName::Main);
  ModelView* v = &w.window.view();
  const double yaw = c.yaw;
  QTest::mousePress(v, Qt::MiddleButton, {}, {300, 200});
  QMouseEvent move(QEvent::MouseMove, QPointF(360, 230), v->mapToGlobal(QPointF(360, 230)),
                   Qt::NoButton, Qt::MiddleButton, {});
  QApplication::sendEvent(v, &move);
  QTest::mouseRelease(v, Qt::MiddleButton, {}, {360, 230});
  CHECK(c.yaw != yaw);
  const Vec3 at = c.target + c.axes().x * 20.0 + c.axes().y * 10.0;
  const QPointF before = to_screen(c, v->viewport(0), at).at;
  QWheelEvent wheel(before, v->mapToGlobal(before), {}, {0, 240}, {}, {}, Qt::NoScrollPhase, false);
  QApplication::sendEvent(v, &wheel);
  const QPointF after = to_screen(c, v->viewport(0), at).at;
  CHECK(std::hypot(after.x() - before.x(), after.y() - before.y()) < 1.0);
}

TEST_CASE("symmetry that the net does not have is refused with a sentence") {
  Window w;
  w.window.editor().set_symmetry(SymmetryPlane::XY);  // the underside is flat, the top is not
  CHECK(w.window.editor().symmetry() == SymmetryPlane::XZ);
  auto* message = w.window.findChild<QLabel*>("message");
  CHECK(message->text().contains("not symmetric"));
}
