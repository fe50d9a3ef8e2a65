// From a scan to a faired surface in the window, with real lines drawn, fields typed and points dragged.
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QSpinBox>
#include <QToolButton>
#include <QTreeWidget>

#include "app/panels/checks_card.h"
#include "app/panels/export_card.h"
#include "core/check/watch.h"
#include "core/display/worker.h"
#include "core/operations/catalogue.h"
#include "core/operations/fit_steps.h"
#include "core/operations/scan_steps.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

void stage(Window& w, Stage which) {
  w.window.stages().open(which);
  w.settle();
}

void press(Window& w, const char* action) {
  auto* tool = child_of<QToolButton>(w.window, QString("tool_%1").arg(action));
  REQUIRE(tool->isEnabled());
  tool->click();
  w.settle();
}

void keep(Window& w) {
  QTest::keyClick(&w.window.view(), Qt::Key_Return);
  w.settle();
  REQUIRE_FALSE(w.window.model().trial());
}

// Draws a line around places of the scan, through the main view.
void draw_around(Window& w, const std::vector<Vec3>& places, Qt::KeyboardModifiers modifiers = {}) {
  ModelView* v = &w.window.view();
  const auto at = [&](std::size_t k) {
    return v->place_on_screen(places[k % places.size()], 0).toPoint();
  };
  QTest::mousePress(v, Qt::LeftButton, modifiers, at(0));
  for (std::size_t k = 1; k <= places.size(); ++k) {
    QMouseEvent move(QEvent::MouseMove, at(k), v->mapToGlobal(at(k)), Qt::NoButton, Qt::LeftButton,
                     modifiers);
    QApplication::sendEvent(v, &move);
  }
  QTest::mouseRelease(v, Qt::LeftButton, modifiers, at(places.size()));
  w.settle();
}

std::vector<Vec3> ring(double x, double y, double rx, double ry, double z) {
  std::vector<Vec3> places;
  for (int k = 0; k < 24; ++k)
    places.push_back({x + rx * std::cos(k * 0.2618), y + ry * std::sin(k * 0.2618), z});
  return places;
}

const TriangleMesh& mesh_shown(Window& w) {
  return std::get<TriangleMesh>(*w.window.model().answer()->shown);
}

// A scan of the palm rest seen from above, in a window of its own.
PartId scanned_in(Window& w) {
  auto scanner = std::make_shared<PracticeScannerOperation>();
  scanner->resolution = 0.8;
  scanner->holes = 0;
  const Added added = with_part({}, "Palm scan", scanner);
  w.window.model().commit(added.document, "Add", {});
  w.window.model().choose_part(added.part);
  w.window.view().bring_to_main(ViewName::Top);
  w.settle();
  w.window.view().frame_all();
  w.settle();
  return added.part;
}

void type_into(QAbstractSpinBox* field, const QString& text) {
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, text);
  QTest::keyClick(field, Qt::Key_Return);
}

QAbstractSpinBox* field_of(Window& w, const char* name) {
  return child_of<QAbstractSpinBox>(w.window, QString(name));
}

}  // namespace

TEST_CASE("a region of a scan is cut out by lines drawn in the view") {
  Window w(false);
  const PartId scan = scanned_in(w);
  const std::size_t all = mesh_shown(w).points.size();
  press(w, "clip_scan");
  REQUIRE(w.window.model().trial());
  draw_around(w, ring(0, 0, 30, 20, 20));
  const TriangleMesh first = mesh_shown(w);
  CHECK(first.points.size() < all / 2);
  for (const Vec3& p : first.points) CHECK(std::hypot(p.x / 30.0, p.y / 20.0) < 1.03);
  // A piece is taken away again, and another added.
  draw_around(w, ring(10, 0, 6, 6, 20), Qt::ControlModifier);
  const TriangleMesh holed = mesh_shown(w);
  CHECK(holed.points.size() < first.points.size());
  for (const Vec3& p : holed.points) CHECK(std::hypot(p.x - 10.0, p.y) > 5.5);
  draw_around(w, ring(-34, 0, 6, 6, 15));
  CHECK(mesh_shown(w).points.size() > holed.points.size());
  keep(w);
  const Document& d = w.window.model().document();
  CHECK(d.parts.size() == 2);
  CHECK(d.parts[0].id == scan);
  CHECK(std::get<TriangleMesh>(*w.window.model().drawn().at(scan).shape).points.size() == all);
  const auto& clip = dynamic_cast<const ClipScanOperation&>(*d.parts[1].steps[0].operation);
  REQUIRE(clip.regions.lassos.size() == 3);
  CHECK(clip.regions.lassos[1].remove);
  // A line drawn on the kept step changes it; undo takes it back.
  draw_around(w, ring(0, 12, 4, 4, 20), Qt::ControlModifier);
  CHECK(dynamic_cast<const ClipScanOperation&>(
            *w.window.model().document().parts[1].steps[0].operation)
            .regions.lassos.size() == 4);
  w.window.model().undo();
  w.settle();
  CHECK(dynamic_cast<const ClipScanOperation&>(
            *w.window.model().document().parts[1].steps[0].operation)
            .regions.lassos.size() == 3);
  // A click without a drag draws nothing.
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, QPoint(300, 300));
  w.settle();
  CHECK(dynamic_cast<const ClipScanOperation&>(
            *w.window.model().document().parts[1].steps[0].operation)
            .regions.lassos.size() == 3);
}

TEST_CASE("a scan is clipped, fitted, watched, extended, shaped and faired") {
  Window w(false);
  scanned_in(w);
  press(w, "clip_scan");
  draw_around(w, ring(-2, 0, 34, 23, 20));
  keep(w);
  press(w, "fit_surface");
  REQUIRE(w.window.model().trial());
  auto* message = child_of<QLabel>(w.window, "step_message");
  CHECK(message->text().contains("Off the scan by at most"));
  const auto deviation = [&] { return w.window.model().gauges()->deviation->mean; };
  const double at_first = deviation();
  CHECK(at_first < 0.2);  // the noise of the scan is 0.15 mm: its mean size is 0.12
  // Degree lowered, orientation and smoothing changed, while the deviation is read.
  type_into(field_of(w, "degree_u"), "2");
  w.settle();
  CHECK(std::get<Body>(*w.window.model().answer()->shown).faces[0].surface->u.degree == 2);
  auto* off = child_of<QComboBox>(w.window, "off");
  off->setCurrentIndex(3);
  Q_EMIT off->activated(3);
  w.settle();
  type_into(field_of(w, "smoothing"), "95");
  w.settle();
  CHECK(deviation() > at_first);
  type_into(field_of(w, "smoothing"), "10");
  w.settle();
  CHECK(deviation() < at_first + 0.05);
  keep(w);
  // Watched against its own clip from now on.
  stage(w, Stage::Check);
  child_of<QToolButton>(w.window, "tool_watch_deviation")->click();
  w.settle();
  auto* against = child_of<QComboBox>(w.window, "watch_against");
  REQUIRE(against->count() >= 3);
  against->setCurrentIndex(1);
  Q_EMIT against->activated(1);
  w.settle();
  REQUIRE(w.window.model().gauges()->watched);
  CHECK(child_of<QLabel>(w.window, "watch_inside")->text().contains("within"));
  CHECK(child_of<GaugeCard>(w.window, "gauge_deviation")->value().contains("mm"));
  type_into(child_of<QDoubleSpinBox>(w.window, "watch_band"), "0.2");
  w.settle();
  const double inside = w.window.model().gauges()->watched->inside;
  CHECK(inside > 0.5);
  CHECK(inside < 1.0);
  stage(w, Stage::Grid);
  press(w, "extend");
  type_into(field_of(w, "all"), "4");
  w.settle();
  keep(w);
  CHECK(w.window.model().gauges()->watched->inside == Approx(inside).margin(0.02));
  // A point is dragged off the skin: the scan is measured in the same drag.
  stage(w, Stage::Shaped);
  w.window.view().bring_to_main(ViewName::Front);
  w.settle();
  const QPoint from = w.point({0, 3, 2});
  ModelView* v = &w.window.view();
  QTest::mousePress(v, Qt::LeftButton, {}, from);
  QTest::mouseRelease(v, Qt::LeftButton, {}, from);
  w.drag(from, {0, -30});
  w.settle();
  REQUIRE(w.window.model().gauges()->watched);
  CHECK(w.window.model().gauges()->watched->inside < inside);
  w.window.model().undo();
  w.settle();
  press(w, "fair");
  CHECK(message->text().contains("Combs turn over"));
  type_into(field_of(w, "tolerance"), "0.05");
  w.settle();
  keep(w);
  // A point is polished along the net: it stays on its leg, and the surface hardly leaves the scan.
  const double faired_inside = w.window.model().gauges()->watched->inside;
  const Vec3 before = w.window.editor().net()->shown.point({0, 3, 2});
  const Vec3 next = w.window.editor().net()->shown.point({0, 4, 2});
  const QPoint at = w.point({0, 3, 2});
  QTest::mousePress(v, Qt::LeftButton, {}, at);
  QTest::mouseRelease(v, Qt::LeftButton, {}, at);
  w.settle();
  REQUIRE(w.window.editor().picked().size() == 1);
  w.key(Qt::Key_G);
  const QPointF along =
      w.window.view().place_on_screen(next) - w.window.view().place_on_screen(before);
  w.drag(w.point({0, 3, 2}), (along * 0.2).toPoint());
  w.settle();
  const Vec3 after = w.window.editor().net()->shown.point({0, 3, 2});
  CHECK(distance(before, after) > 0.05 * distance(before, next));
  CHECK(length(cross(normalized(after - before), normalized(next - before))) < 0.02);
  CHECK(w.window.model().gauges()->watched->inside > faired_inside - 0.1);
  // Reflection lines show it: they run otherwise than before.
  w.window.editor().set_net_visible(false);
  w.window.view().set(&ViewSettings::look, ModelLook::Reflection);
  w.settle();
  const QImage polished = w.window.view().grabFramebuffer();
  w.window.model().undo();
  w.settle();
  const QImage rough = w.window.view().grabFramebuffer();
  int other = 0;
  for (int x = -40; x <= 40; x += 4)
    for (int y = -40; y <= 40; y += 4)
      other += polished.pixel(at + QPoint(x, y)) != rough.pixel(at + QPoint(x, y)) ? 1 : 0;
  CHECK(other > 20);
  const Document& d = w.window.model().document();
  const Document again = from_project_json(to_project_json(d), make_operation);
  CHECK(again.parts[1].watch == d.parts[1].watch);
  CHECK(again.parts[1].watch.band == Approx(0.2));
}

TEST_CASE("all looks of the checks draw the model, and the chosen one is remembered") {
  Window w;
  w.choose("Shell", 2);
  stage(w, Stage::Check);
  for (const char* look : {"look_gaussian", "look_mean_curvature", "look_isophotes",
                           "look_surroundings", "look_draft", "look_thickness"}) {
    INFO(look);
    w.window.view().set(&ViewSettings::look, ModelLook::Clay);
    w.settle();
    const QImage clay = w.window.view().grabFramebuffer();
    child_of<QToolButton>(w.window, QString("tool_%1").arg(look))->click();
    w.settle();
    const QImage shown = w.window.view().grabFramebuffer();
    const QPoint middle = w.point({0, 4, 3});
    int other = 0;
    for (int x = -60; x <= 60; x += 10)
      for (int y = -60; y <= 60; y += 10)
        other += clay.pixel(middle + QPoint(x, y)) != shown.pixel(middle + QPoint(x, y)) ? 1 : 0;
    CHECK(other > 30);
  }
}

TEST_CASE("the checks list every visible part, follow limits, and frame a place") {
  Window w(false);
  OperationPtr sphere = with_parameter(*make_operation("sphere"), "radius", "30");
  const Added ball = with_part({}, "Ball", sphere);
  Document d = with_step(ball.document, ball.part,
                         with_parameter(*make_operation("thicken"), "thickness", "2"))
                   .document;
  w.window.model().commit(d, "Add", {});
  w.window.model().choose_part(ball.part);
  w.settle();
  stage(w, Stage::Check);
  child_of<QToolButton>(w.window, "tool_checks")->click();
  auto* card = child_of<ChecksCard>(w.window, "checks");
  auto* list = child_of<QTreeWidget>(*card, "checks_list");
  const auto row = [&](const QString& what) -> QTreeWidgetItem* {
    const auto found = list->findItems(what, Qt::MatchExactly | Qt::MatchRecursive);
    return found.isEmpty() ? nullptr : found.front();
  };
  REQUIRE(QTest::qWaitFor([&] { return row("Closed") != nullptr; }, 20000));
  CHECK(row("Thickness") == nullptr);
  type_into(child_of<QDoubleSpinBox>(*card, "limit_thickness"), "2.5");
  REQUIRE(QTest::qWaitFor([&] { return row("Thickness") != nullptr; }, 20000));
  CHECK(row("Thickness")->text(1) == "bad");
  CHECK(w.window.model().document().limits.thickness == Approx(2.5));
  list->scrollToItem(row("Thickness"));
  QTest::mouseClick(list->viewport(), Qt::LeftButton, {},
                    list->visualItemRect(row("Thickness")).center());
  REQUIRE(w.window.view().settings().mark);
  const Vec3 at = w.window.view().settings().mark->at;
  const double off = length(at);  // on one of the two skins of the ball, 30 and 28 mm
  CHECK(std::min(std::abs(off - 30.0), std::abs(off - 28.0)) < 0.1);
  const QPointF on_screen = w.window.view().place_on_screen(at, 0);
  CHECK(std::hypot(on_screen.x() - w.window.view().width() / 2.0,
                   on_screen.y() - w.window.view().height() / 2.0) < 100.0);
  w.window.model().undo();
  REQUIRE(QTest::qWaitFor([&] { return row("Thickness") == nullptr; }, 20000));
  card->close();
  QApplication::processEvents();
  QApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
  CHECK_FALSE(w.window.view().settings().mark);
}

TEST_CASE("parts are exported from the card, with an estimate before") {
  Window w;
  w.choose("Shell", 2);
  stage(w, Stage::Deliver);
  child_of<QToolButton>(w.window, "tool_export")->click();
  auto* card = child_of<ExportCard>(w.window, "export_card");
  auto* says = child_of<QLabel>(*card, "export_says");
  auto* format = child_of<QComboBox>(*card, "export_format");
  format->setCurrentIndex(format->findData(".stl"));
  REQUIRE(QTest::qWaitFor([&] { return says->text().contains("triangles"); }, 20000));
  CHECK(child_of<QComboBox>(*card, "export_unit")->isEnabled());
  // A small angle takes more triangles: the estimate says so before anything is written.
  auto* angle = child_of<QDoubleSpinBox>(*card, "export_angle");
  CHECK(angle->text() == "any");
  const QString any = says->text();
  angle->setValue(2.0);
  REQUIRE(QTest::qWaitFor([&] { return says->text().contains("triangles") && says->text() != any; },
                          20000));
  angle->setValue(0.0);
  const QTemporaryDir folder;
  const QString one = folder.filePath("shell with space.stl");
  card->write(one);
  REQUIRE(QTest::qWaitFor([&] { return QFile::exists(one); }, 20000));
  format->setCurrentIndex(format->findData(".glb"));
  CHECK_FALSE(child_of<QComboBox>(*card, "export_unit")->isEnabled());
  child_of<QComboBox>(*card, "export_parts")->setCurrentIndex(1);
  const QString all = folder.filePath("äll.glb");
  card->write(all);
  REQUIRE(QTest::qWaitFor([&] { return QFile::exists(all); }, 20000));
  CHECK(QFileInfo(all).size() > 100000);
  // A mesh is no exact surface: the card says so before anything is written.
  child_of<QComboBox>(*card, "export_parts")->setCurrentIndex(0);
  w.choose("Grille", 0);
  format->setCurrentIndex(format->findData(".step"));
  REQUIRE(QTest::qWaitFor([&] { return says->text().contains("None of the parts"); }, 20000));
  // As a drawing it can be seen all the same.
  auto* views = child_of<QCheckBox>(*card, "export_views");
  CHECK_FALSE(views->isEnabled());
  format->setCurrentIndex(format->findData(".svg"));
  REQUIRE(views->isEnabled());
  child_of<QDoubleSpinBox>(*card, "export_chord")->setValue(0.5);
  views->click();
  REQUIRE(QTest::qWaitFor([&] { return !says->text().contains("None of the parts"); }, 20000));
  const QString drawing = folder.filePath("grille.svg");
  card->write(drawing);
  REQUIRE(QTest::qWaitFor([&] { return QFile::exists(drawing); }, 20000));
  QFile file(drawing);
  REQUIRE(file.open(QIODevice::ReadOnly));
  CHECK(file.readAll().contains("id=\"above\""));
  card->close();
}
