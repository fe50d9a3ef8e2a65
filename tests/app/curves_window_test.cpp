// Curves drawn with the mouse and surfaces made from them, numbers that lift points, and reference pictures.
#include <QDoubleSpinBox>
#include <QImage>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QToolButton>
#include <cmath>

#include <fmt/format.h>

#include "app/panels/parts_field.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/document/project_json.h"
#include "core/operations/border_surface.h"
#include "core/operations/catalogue.h"
#include "core/operations/circle.h"
#include "core/operations/drawn_curves.h"
#include "core/operations/lifted_points.h"
#include "core/operations/outlines.h"
#include "core/operations/skinned.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

template <typename T>
T* child(Window& w, const QString& name) {
  return evenclay::testing::child_of<T>(w.window, name);
}

QPoint on_screen(Window& w, const Vec3& p) {
  return w.window.view().place_on_screen(p).toPoint();
}

void click(Window& w, const Vec3& p, Qt::KeyboardModifiers modifiers = {}) {
  ModelView* v = &w.window.view();
  const QPoint at = on_screen(w, p);
  QMouseEvent move(QEvent::MouseMove, at, v->mapToGlobal(at), Qt::NoButton, Qt::NoButton,
                   modifiers);
  QApplication::sendEvent(v, &move);
  QTest::mouseClick(v, Qt::LeftButton, modifiers, at);
  w.settle();
}

// From the top, so that the work plane is the picture.
void look_down(Window& w) {
  Camera& c = w.window.view().camera(ViewName::Main);
  c.target = {};
  c.height = 200.0;
  c.pitch = 90.0;
  c.yaw = 0.0;
  c.perspective = false;
  w.window.view().update();
  w.settle();
}

const Operation& chosen(Window& w) {
  return *find_step(w.window.model().document(), w.window.model().chosen_step())->operation;
}

// Four curves around a square of 60, drawn one by one.
std::vector<PartId> draw_square(Window& w) {
  std::vector<PartId> parts;
  const std::array<Vec3, 4> corners{Vec3{-30, -30, 0}, {30, -30, 0}, {30, 30, 0}, {-30, 30, 0}};
  for (std::size_t k = 0; k < 4; ++k) {
    w.window.run("source_profile");
    w.settle();
    w.window.model().change_parameter(w.window.model().chosen_step(), "places",
                                      fmt::format("{},{},0 {},{},0", corners[k].x, corners[k].y,
                                                  corners[(k + 1) % 4].x, corners[(k + 1) % 4].y),
                                      "Places", "");
    w.settle();
    w.key(Qt::Key_Return);
    w.settle();
    parts.push_back(w.window.model().chosen_part());
  }
  return parts;
}

}  // namespace

TEST_CASE(
    "a profile is drawn with lines and a tangent arc, a place is dragged, and it is revolved") {
  Window w(false);
  w.window.run("source_profile");
  w.settle();
  look_down(w);
  click(w, {10, 0, 0});
  click(w, {40, 0, 0});
  w.key(Qt::Key_A);
  click(w, {60, 20, 0});
  w.key(Qt::Key_L);
  click(w, {60, 60, 0});
  const auto& profile = dynamic_cast<const ProfileOperation&>(chosen(w));
  REQUIRE(profile.places.places.size() == 4);
  CHECK(profile.places.places[2].leg == Leg::Arc);
  CHECK(profile.places.places[3].leg == Leg::Line);
  CHECK(distance(profile.places.places[2].place, {60, 20, 0}) < 0.6);  // a pixel is a third of a mm
  w.key(Qt::Key_Return);
  w.settle();
  // 30 + a quarter circle of 20 + 40
  CHECK(w.gauge("gauge_area").section(' ', 0, 0).toDouble() ==
        Approx(30 + 10 * M_PI + 40).margin(1.5));
  // Dragging the last place is one undo, and the arc stays tangent: the length changes by the line's.
  const std::string before = to_project_json(w.window.model().document());
  w.drag(on_screen(w, {60, 60, 0}), {0, -40});
  w.settle();
  CHECK(to_project_json(w.window.model().document()) != before);
  CHECK(distance(dynamic_cast<const ProfileOperation&>(chosen(w)).places.places[3].place,
                 {60, 60, 0}) > 8.0);
  w.window.model().undo();
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);
  w.window.run("revolve");
  w.settle();
  w.window.model().change_parameter(w.window.model().chosen_step(), "axis", "y", "Axis", "");
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(std::holds_alternative<Body>(*w.window.model().answer()->shown));
  CHECK_FALSE(w.window.model().step_status().at(w.window.model().chosen_step()).failed);
}

TEST_CASE(
    "legs take a typed length and angle, Shift keeps to steps, and Backspace takes a place back") {
  Window w(false);
  w.window.run("source_profile");
  w.settle();
  look_down(w);
  click(w, {0, 0, 0});
  QTest::keyClicks(&w.window.view(), "2");
  auto* field = child<QLineEdit>(w, "typed_distance");
  REQUIRE(field->isVisible());
  QTest::keyClicks(field, "5 30");
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
  const auto places = [&] {
    return dynamic_cast<const ProfileOperation&>(chosen(w)).places.places;
  };
  REQUIRE(places().size() == 2);
  const Vec3 leg = places()[1].place - places()[0].place;
  CHECK(length(leg) == Approx(25.0));
  CHECK(std::atan2(leg.y, leg.x) * 180 / M_PI == Approx(30.0));
  click(w, {-30, 20, 0});
  CHECK(places().size() == 3);
  w.key(Qt::Key_Backspace);
  w.settle();
  CHECK(places().size() == 2);
  // What is no length is refused with a sentence and changes nothing.
  QTest::keyClicks(&w.window.view(), "1");
  field->setText("wide");
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
  CHECK(places().size() == 2);
  w.key(Qt::Key_Escape);
}

TEST_CASE("a border surface is made of four clicked curves, pushed, and one rib shaped by hand") {
  Window w(false);
  const std::vector<PartId> curves = draw_square(w);
  look_down(w);
  w.window.run("border_surface");
  w.settle();
  REQUIRE(w.window.model().trial());
  // The chosen curve is in the list; the others are clicked in the view.
  click(w, {0, -30, 0});
  click(w, {30, 0, 0});
  click(w, {0, 30, 0});
  const auto* step = dynamic_cast<const BorderSurfaceOperation*>(&chosen(w));
  REQUIRE(step != nullptr);
  REQUIRE(step->border.size() == 4);
  CHECK(child<PartsField>(w, "border")->shown().size() == 4);
  CHECK(w.gauge("gauge_area").section(' ', 0, 0).remove(QChar(0x202F)).toDouble() ==
        Approx(3600.0).margin(2));
  child<QDoubleSpinBox>(w, "push")->setValue(6.0);
  w.settle();
  CHECK(w.gauge("gauge_size").contains("6.0"));
  w.key(Qt::Key_Return);
  w.settle();
  // The ribs' points are those of the hand: the middle of a rib is dragged upward.
  REQUIRE(w.window.editor().net());
  REQUIRE(w.window.editor().net()->shown.nets.size() == 6);
  Camera& c = w.window.view().camera(ViewName::Main);
  c.pitch = 35.0;
  w.settle();
  w.window.editor().pick({{1, 3, 0, 0}});
  w.window.editor().set_direction(MoveDirection::Z);
  w.window.editor().move_by({MoveDirection::Z, 9.0, {}});
  w.settle();
  const Surface& shaped = *std::get<Body>(*w.window.model().answer()->shown).faces[0].surface;
  CHECK(std::abs(evaluate(shaped, 0.5, 0.5).z) > 6.0 + 5.9);  // two thirds of 9 on top of the push
  CHECK(find_part(w.window.model().document(), w.window.model().chosen_part())->steps.size() == 1);
  // By mouse as well, with undo.
  const std::string before = to_project_json(w.window.model().document());
  w.drag(w.point({1, 3, 0, 0}), {0, -30});
  w.settle();
  CHECK(to_project_json(w.window.model().document()) != before);
  w.window.model().undo();
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);
  // A border is moved, and the surface follows.
  w.window.model().choose_part(curves[0]);
  w.settle();
  w.window.model().change_parameter(w.window.model().chosen_step(), "places",
                                    "-30,-30,0 0,-40,0 30,-30,0", "Places", "");
  w.settle();
  w.window.model().choose_part(
      find_part(w.window.model().document(), std::string_view("Border surface"))->id);
  w.settle();
  const Surface& followed = *std::get<Body>(*w.window.model().answer()->shown).faces[0].surface;
  CHECK(tight_box(followed).min.y == Approx(-40.0).margin(0.01));
}

TEST_CASE("a circle clicked on a tilted work plane lies in it") {
  Window w(false);
  const double c = std::sqrt(0.5);
  const Frame tilted{{5, 0, 0}, {1, 0, 0}, {0, c, c}, {0, -c, c}};
  w.window.editor().set_work_plane(tilted);
  w.window.run("source_circle");
  w.settle();
  look_down(w);
  click(w, tilted.to_world({0, 0, 0}));
  click(w, tilted.to_world({20, 10, 0}));
  w.key(Qt::Key_Return);
  w.settle();
  const auto& circle = dynamic_cast<const CircleOperation&>(chosen(w));
  CHECK(circle.plane == FlatPlane::Turned);
  CHECK(circle.radius == Approx(std::hypot(20.0, 10.0)).margin(0.6));
  const Curve& made = std::get<CurveSet>(*w.window.model().answer()->shown).curves[0];
  for (double t = 0.0; t < 1.0; t += 0.1) {
    CHECK(std::abs(dot(evaluate(made, t) - tilted.origin, tilted.z)) < 0.01);
    CHECK(distance(evaluate(made, t), circle.centre) == Approx(circle.radius).epsilon(1e-9));
  }
}

TEST_CASE("curves are taken out of a list by a click and by its sign") {
  Window w(false);
  draw_square(w);
  look_down(w);
  w.window.run("fill");
  w.settle();
  for (const Vec3& p : {Vec3{0, -30, 0}, {30, 0, 0}, {0, 30, 0}}) click(w, p);
  const auto count = [&] { return dynamic_cast<const FillOperation&>(chosen(w)).border.size(); };
  REQUIRE(count() == 4);
  click(w, {0, 30, 0});
  CHECK(count() == 3);
  const StepId step = w.window.model().chosen_step();
  CHECK(w.window.model().step_status().at(step).failed);  // the border is open now, and says so
  CHECK(w.window.model().step_status().at(step).message.find("not closed") != std::string::npos);
  click(w, {0, 30, 0});
  CHECK_FALSE(w.window.model().step_status().at(step).failed);
  child<QToolButton>(w, "take_out_1")->click();
  w.settle();
  CHECK(count() == 3);
}

TEST_CASE("a number's slider moves three lifted points") {
  Window w;
  w.choose("Dimple tile", 2);
  w.window.editor().pick({{0, 1, 1, 0}, {0, 3, 1, 0}, {0, 3, 3, 0}});
  w.window.run("lifted_points");
  w.settle();
  REQUIRE(w.window.model().trial());
  const auto* step = dynamic_cast<const LiftedPointsOperation*>(&chosen(w));
  REQUIRE(step != nullptr);
  REQUIRE(step->rows.rows.size() == 3);
  for (int k = 1; k <= 3; ++k) {
    auto* field = child<QDoubleSpinBox>(w, QString("amount_%1").arg(k));
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, "tile / 4");
    QTest::keyClick(field, Qt::Key_Tab);
    w.settle();
  }
  w.key(Qt::Key_Return);
  w.settle();
  const auto lifted = [&] {
    const auto answer = w.window.model().answer();
    const Surface& now = *std::get<Body>(*answer->shown).faces[0].surface;
    const Surface& below = *std::get<Body>(*answer->before).faces[0].surface;
    std::vector<double> result;
    for (const auto& [i, j] : {std::pair{1, 1}, {3, 1}, {3, 3}})
      result.push_back(distance(now.points(i, j), below.points(i, j)));
    return result;
  };
  for (const double mm : lifted()) CHECK(mm == Approx(2.0));
  w.window.model().commit(with_number(w.window.model().document(), "tile", "10"), "Number");
  w.settle();
  for (const double mm : lifted()) CHECK(mm == Approx(2.5));
}

TEST_CASE("a reference picture is chosen, shown, and scaled by two clicks and a distance") {
  Window w(false);
  const QTemporaryDir folder;
  QImage image(400, 200, QImage::Format_RGB32);
  image.fill(QColor(200, 40, 40));
  const QString file = folder.filePath("side.png");
  REQUIRE(image.save(file));
  w.window.run("source_reference_picture");
  w.settle();
  const StepId step = w.window.model().chosen_step();
  w.window.model().change_parameter(step, "file", file.toStdString(), "File", "");
  w.window.model().change_parameter(step, "plane", "xy", "Plane", "");
  w.window.model().change_parameter(step, "opacity", "100", "Opacity", "");
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  look_down(w);
  REQUIRE(QTest::qWaitFor([&] { return w.window.view().refined(); }, 20000));
  const QImage shot = w.window.view().picture();
  const double ratio = shot.width() / static_cast<double>(w.window.view().width());
  const QPoint at = on_screen(w, {10, 5, 0});
  const QColor seen =
      shot.pixelColor(static_cast<int>(at.x() * ratio), static_cast<int>(at.y() * ratio));
  CHECK(seen.red() > 150);
  CHECK(seen.green() < 90);
  const auto width = [&] { return std::get<Picture>(*w.window.model().answer()->shown).width; };
  CHECK(width() == Approx(100.0));
  w.window.run("scale_picture");
  click(w, {-20, 0, 0});
  click(w, {20, 0, 0});
  auto* field = child<QLineEdit>(w, "typed_distance");
  REQUIRE(field->isVisible());
  QTest::keyClick(field, Qt::Key_A, Qt::ControlModifier);
  QTest::keyClicks(field, "80");
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
  CHECK(width() == Approx(200.0).epsilon(0.02));
  // A drag moves it in its plane, as far as the hand; a click that trembles does not, Esc gives up.
  const auto centre = [&] {
    return std::get<Picture>(*w.window.model().answer()->shown).frame.origin;
  };
  const Vec3 was = centre();
  const std::size_t undos = w.window.model().session().changes().size();
  const auto from = [&](const Vec3& p) { return on_screen(w, p); };
  w.drag(from({0, 0, 0}), from({25, -10, 0}) - from({0, 0, 0}));
  w.settle();
  CHECK(distance(centre() - was, {25, -10, 0}) < 0.5);
  CHECK(w.window.model().session().changes().size() == undos + 1);
  w.drag(from({0, 0, 0}), {1, 1});
  w.settle();
  CHECK(w.window.model().session().changes().size() == undos + 1);
  w.window.run("undo");
  w.settle();
  CHECK(distance(centre(), was) < 1e-9);
  // Locked it stays.
  const PartId picture = w.window.model().chosen_part();
  w.window.model().commit(with_lock(w.window.model().document(), picture, true), "Lock");
  w.drag(from({0, 0, 0}), {60, 0});
  w.settle();
  CHECK(distance(centre(), was) < 1e-9);
  w.window.model().commit(with_lock(w.window.model().document(), picture, false), "Unlock");
  w.settle();
  // It is kept in the project's file.
  const QString project = folder.filePath("with-picture.evenclay");
  w.window.model().save(project);
  w.settle();
  const Document back = open_project(project.toStdString(), make_operation);
  Progress progress;
  const PartId id = back.parts[0].id;
  CHECK(std::holds_alternative<Picture>(
      *Evaluator().evaluate(back, progress, {id}).parts.at(id).shape));
}

TEST_CASE("parts of another project are ticked in a list and come with what they read") {
  Window w;
  const QTemporaryDir folder;
  const QString file = folder.filePath("other.evenclay");
  save_project(make_demo(), file.toStdString());
  const std::size_t parts = w.window.model().document().parts.size();
  w.window.bring_in(file);
  w.settle();
  auto* list = child<QListWidget>(w, "parts_to_take");
  REQUIRE(QTest::qWaitFor([&] { return list->isVisible() && list->count() > 10; }, 10000));
  for (int k = 0; k < list->count(); ++k)
    if (list->item(k)->text().startsWith("Foot –")) {
      list->scrollToItem(list->item(k));
      list->setCurrentRow(k);
    }
  QTest::keyClick(list, Qt::Key_Space);
  // Small pictures come in beside the window: that of the shell is of its clay colour.
  REQUIRE(QTest::qWaitFor(
      [&] { return list->item(0)->icon().pixmap(40, 40).toImage().pixelColor(20, 20).red() > 120; },
      30000));
  child<QPushButton>(w, "take_parts_now")->click();
  w.settle();
  CHECK_FALSE(list->isVisible());
  CHECK(w.window.model().document().parts.size() == parts + 3);  // with its two parts of borders
  CHECK(find_part(w.window.model().document(), w.window.model().chosen_part())->name == "Foot");
  CHECK_FALSE(w.window.model().step_status().at(w.window.model().chosen_step()).failed);
  w.window.model().undo();
  w.settle();
  CHECK(w.window.model().document().parts.size() == parts);
}

TEST_CASE("circle, rectangle and arc are clicked, and their measures are what was clicked") {
  Window w(false);
  w.window.run("source_circle");
  w.settle();
  look_down(w);
  click(w, {0, 0, 0});
  click(w, {-24, 0, 0});
  const auto& circle = dynamic_cast<const CircleOperation&>(chosen(w));
  CHECK(circle.radius == Approx(24.0).margin(0.6));
  CHECK(length(circle.centre) < 0.6);
  CHECK(child<QDoubleSpinBox>(w, "radius")->value() == Approx(circle.radius).margin(0.001));
  w.key(Qt::Key_Return);
  w.settle();
  w.window.run("source_rectangle");
  w.settle();
  click(w, {-40, -20, 0});
  click(w, {10, 30, 0});
  const auto& rectangle = dynamic_cast<const RectangleOperation&>(chosen(w));
  CHECK(rectangle.length == Approx(50.0).margin(1.0));
  CHECK(rectangle.width == Approx(50.0).margin(1.0));
  CHECK(distance(rectangle.centre, {-15, 5, 0}) < 1.0);
  w.key(Qt::Key_Return);
  w.settle();
  w.window.run("source_arc");
  w.settle();
  click(w, {-30, -30, 0});
  click(w, {-30, 30, 0});
  click(w, {0, 0, 0});
  const auto& arc = dynamic_cast<const ArcOperation&>(chosen(w));
  CHECK(distance(arc.to, {-30, 30, 0}) < 0.7);
  CHECK(distance(arc.over, {0, 0, 0}) < 0.7);
  CHECK_FALSE(w.window.model().step_status().at(w.window.model().chosen_step()).failed);
  // A half circle of radius 30.
  CHECK(w.gauge("gauge_area").section(' ', 0, 0).toDouble() == Approx(30 * M_PI).margin(2.0));
}

TEST_CASE(
    "a cage is put around the shell, its points are shaped, and the shell follows in the same "
    "drag") {
  Window w;
  w.choose("Shell", 2);
  const auto area = [&] {
    const auto drawn = w.window.model().drawn().find(
        find_part(w.window.model().document(), std::string_view("Shell"))->id);
    return tight_box(*std::get<Body>(*drawn->second.shape).faces[0].surface).max.z;
  };
  const double top = area();
  w.window.run("cage");
  w.settle();
  REQUIRE(w.window.model().trial());
  w.key(Qt::Key_Return);
  w.settle();
  const Part* shell = find_part(w.window.model().document(), std::string_view("Shell"));
  CHECK(shell->steps.back().operation->kind() == "in_cage");
  REQUIRE(w.window.editor().net());
  REQUIRE(w.window.editor().net()->shown.nets[0].lattice() != nullptr);
  CHECK(w.window.editor().net()->shown.size() == 36);  // 3 x 3 x 4
  Selection upper;
  for (int i = 0; i < 3; ++i)
    for (int j = 0; j < 3; ++j) upper.insert({0, i, j, 3});
  w.window.editor().pick(upper);
  w.window.editor().set_direction(MoveDirection::Z);
  w.window.editor().move_by({MoveDirection::Z, 12.0, {}});
  w.settle();
  CHECK(area() > top + 8.0);
  const std::string before = to_project_json(w.window.model().document());
  // By mouse: a corner of the cage is dragged, and given back by undo.
  w.window.editor().pick({});
  w.drag(w.point({0, 2, 0, 3}), {30, -10});
  w.settle();
  CHECK(to_project_json(w.window.model().document()) != before);
  w.window.model().undo();
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);
}
