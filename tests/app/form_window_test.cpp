// Subdivision forms in the window, with real clicks and keys.
#include <QCheckBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QToolButton>

#include "app/look/preferences.h"
#include "core/body/topology.h"
#include "core/document/evaluator.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"
#include "core/operations/catalogue.h"
#include "core/operations/form_picks.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

const Form& shown(Window& w) {
  return std::get<Form>(*w.window.model().answer()->shown);
}

QString message(Window& w) {
  return child_of<QLabel>(w.window, "step_message")->text();
}

void click_at(Window& w, const Vec3& place, Qt::KeyboardModifiers modifiers = {}) {
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, modifiers,
                    w.window.view().place_on_screen(place).toPoint());
  w.settle();
}

void type(QDoubleSpinBox* field, double value) {
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, QString::number(value));
  QTest::keyClick(field, Qt::Key_Return);
}

// A box of 84 × 60 × 30 mm, 4 × 3 × 1 faces, kept.
void begin_box(Window& w) {
  REQUIRE(w.window.run("source_form_box"));
  w.settle();
  type(child_of<QDoubleSpinBox>(w.window, "size_x"), 84);
  type(child_of<QDoubleSpinBox>(w.window, "size_y"), 60);
  type(child_of<QDoubleSpinBox>(w.window, "size_z"), 30);
  child_of<QSpinBox>(w.window, "faces_x")->setValue(4);
  child_of<QSpinBox>(w.window, "faces_y")->setValue(3);
  child_of<QSpinBox>(w.window, "faces_z")->setValue(1);
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  REQUIRE_FALSE(w.window.model().trial());
  REQUIRE(shown(w).faces.size() == 2 * (4 * 3 + 4 + 3));
  w.window.stages().open(Stage::Shaped);
  w.window.run("frame_all");
  w.settle();
}

bool enabled(Window& w, const char* id) {
  for (const ActionInfo& a : w.window.actions())
    if (a.id == id) return a.action->isEnabled();
  return false;
}

void press_tool(Window& w, const char* name) {
  auto* tool = child_of<QToolButton>(w.window, QString("tool_") + name);
  REQUIRE(tool->isEnabled());
  tool->click();
  w.settle();
}

}  // namespace

TEST_CASE(
    "a form is built by clicking faces and edges, converted, and written as a watertight mesh") {
  Window w(false);
  begin_box(w);
  w.key(Qt::Key_F);
  // Two neighbours of the upper side: the skin lies a little below the cage there.
  click_at(w, {-10.5, 0, 14});
  REQUIRE(w.window.editor().form_picked().size() == 1);
  click_at(w, {10.5, 0, 14}, Qt::ShiftModifier);
  REQUIRE(w.window.editor().form_picked().size() == 2);
  CHECK(w.window.editor().picked().size() == 6);
  press_tool(w, "extrude_faces");
  REQUIRE(w.window.model().trial());
  CHECK(shown(w).faces.size() == 38 + 6);
  type(child_of<QDoubleSpinBox>(w.window, "distance"), 20);
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  double top = 0.0;
  for (const Vec3& p : shown(w).points) top = std::max(top, p.z);
  CHECK(top == Approx(35.0));
  // The same faces are still picked, and the hand moves them.
  CHECK(w.window.editor().form_picked().size() == 2);
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 5.0, {}}));
  w.settle();
  for (const Vec3& p : shown(w).points) top = std::max(top, p.z);
  CHECK(top == Approx(40.0));
  // An edge along y at the end of the box: the loop goes round along x.
  w.key(Qt::Key_N);
  CHECK(w.window.editor().form_kind() == PickKind::Edge);
  click_at(w, {42, 0, 15});
  REQUIRE(w.window.editor().form_picked().size() == 1);
  press_tool(w, "insert_loop");
  const std::size_t one = shown(w).points.size();
  child_of<QCheckBox>(w.window, "both_sides")->click();
  type(child_of<QDoubleSpinBox>(w.window, "place"), 0.3);
  w.settle();
  CHECK(shown(w).points.size() > one);
  w.key(Qt::Key_Return);
  w.settle();
  click_at(w, {42, 10, 15});
  w.key(Qt::Key_E);
  CHECK(w.window.editor().form_picked().size() > 4);
  press_tool(w, "crease");
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(shown(w).creases.size() == w.window.editor().form_picked().size());
  REQUIRE(w.window.run("form_to_surfaces"));
  w.settle();
  CHECK(message(w).contains("closed body"));
  w.key(Qt::Key_Return);
  w.settle();
  const auto* body = std::get_if<Body>(w.window.model().answer()->shown.get());
  REQUIRE(body != nullptr);
  CHECK(bounds_volume(*body, 1e-5));
  const QTemporaryDir folder;
  const std::string file = folder.filePath("form.stl").toStdString();
  Progress progress;
  export_shape(*w.window.model().answer()->shown, file, {.name = "form", .chord = 0.05}, progress);
  const BroughtFile file_read = read_file(file, *read_attachment(file).bytes, 1, progress);
  const TriangleMesh& read = std::get<TriangleMesh>(*file_read.parts.front().shape);
  CHECK(check_edges(read).watertight());
  // Undo goes back step by step to the form, which can be saved and opened.
  w.window.model().undo();
  w.settle();
  CHECK(std::holds_alternative<Form>(*w.window.model().answer()->shown));
}

TEST_CASE("picks stay where they are when a step below changes, and go with the trial") {
  Window w(false);
  begin_box(w);
  w.key(Qt::Key_F);
  press_tool(w, "extrude_faces");
  CHECK(message(w).contains("No face is picked"));
  click_at(w, {31.5, 0, 14});  // picked while the step is on trial
  CHECK(message(w).isEmpty());
  CHECK(shown(w).faces.size() == 38 + 4);
  w.key(Qt::Key_Return);
  w.settle();
  // A taller box: the face picked is the same one, 10 mm higher.
  const Part& part = w.window.model().document().parts.front();
  const double before = std::max_element(shown(w).points.begin(), shown(w).points.end(),
                                         [](const Vec3& a, const Vec3& b) { return a.z < b.z; })
                            ->z;
  w.window.model().change_operation(
      part.steps[0].id, with_parameter(*part.steps[0].operation, "size_z", "50"), "Height", {});
  w.settle();
  const auto highest = std::max_element(shown(w).points.begin(), shown(w).points.end(),
                                        [](const Vec3& a, const Vec3& b) { return a.z < b.z; });
  CHECK(highest->z == Approx(before + 10.0));
  CHECK(highest->x > 20.0);
  CHECK(shown(w).faces.size() == 38 + 4);
}

TEST_CASE("a picked face is dragged off the form, with falloff and symmetry") {
  Window w(false);
  begin_box(w);
  w.key(Qt::Key_P);
  w.window.editor().set_symmetry(SymmetryPlane::YZ);
  w.settle();
  w.key(Qt::Key_F);
  click_at(w, {31.5, 0, 14});
  REQUIRE(w.window.editor().form_picked().size() == 1);
  CHECK(w.window.editor().form_picks().size() == 2);  // with its mirror image
  w.window.editor().set_direction(MoveDirection::Z);
  const Form before = shown(w);
  w.drag(w.window.view().place_on_screen({31.5, 0, 14}).toPoint(), {0, -60});
  w.settle();
  const Form now = shown(w);
  int moved = 0;
  for (std::size_t k = 0; k < now.points.size(); ++k) {
    const double up = now.points[k].z - before.points[k].z;
    if (up > 1.0) ++moved;
  }
  CHECK(moved == 8);
  double asymmetry = 0.0;
  for (const Vec3& p : now.points) {
    double nearest = 1e9;
    for (const Vec3& q : now.points) nearest = std::min(nearest, distance({-p.x, p.y, p.z}, q));
    asymmetry = std::max(asymmetry, nearest);
  }
  CHECK(asymmetry < 1e-12);
  // Saved and opened, the moves belong to the same points.
  const QTemporaryDir folder;
  const std::string file = folder.filePath("form.evenclay").toStdString();
  save_project(w.window.model().document(), file);
  Progress progress;
  const Document opened = open_project(file, make_operation);
  const Evaluation e = Evaluator().evaluate(opened, progress);
  const Form& again = std::get<Form>(*e.parts.at(opened.parts.front().id).shape);
  CHECK(again.points == now.points);
  w.window.model().undo();
  w.settle();
  CHECK(shown(w).points == before.points);
}

TEST_CASE("over a form the cursor says what kind of thing a click takes, and how many are picked") {
  Window w(false);
  begin_box(w);
  const auto* label = child_of<QLabel>(w.window, "beside_cursor");
  const QPointF face = w.window.view().place_on_screen({31.5, 0, 14});
  w.key(Qt::Key_F);
  w.hover(face);
  CHECK(label->text() == "face of 4 points");
  click_at(w, {31.5, 0, 14});
  w.hover(face);
  CHECK(label->text() == QString::fromUtf8("face of 4 points · 1 picked"));
  w.key(Qt::Key_N);
  w.hover(w.window.view().place_on_screen({42, 0, 15}));
  CHECK(label->text() == QString::fromUtf8("edge · 4 picked"));  // those of the face
}

TEST_CASE("a field says in words what its least value stands for, and takes numbers all the same") {
  Window w(false);
  begin_box(w);
  REQUIRE(w.window.run("form_to_surfaces"));
  w.settle();
  const auto within = [&] { return child_of<QDoubleSpinBox>(w.window, "within"); };
  CHECK(within()->text() == "the project's");
  type(within(), 0.05);
  w.settle();
  CHECK(within()->text() == "0.0500 mm");
  CHECK(within()->value() == 0.05);
  type(within(), 0);
  w.settle();
  CHECK(within()->text() == "the project's");
  CHECK(within()->value() == 0.0);
  // Entered and left as it is, in another unit, too.
  for (const look::LengthUnit unit : {look::LengthUnit::Inch, look::LengthUnit::Millimetre}) {
    look::set_preferences({unit});
    within()->setFocus();
    QTest::keyClick(within(), Qt::Key_Return);
    w.settle();
    CHECK(within()->text() == "the project's");
    CHECK(within()->value() == 0.0);
  }
}

TEST_CASE("borders of 8 and 16 edges are stitched, and two openings bridged") {
  Window w(false);
  const auto cylinder = [&](int around, double foot) {
    REQUIRE(w.window.run("source_form_cylinder"));
    w.settle();
    child_of<QSpinBox>(w.window, "around")->setValue(around);
    child_of<QCheckBox>(w.window, "caps")->setChecked(false);
    type(child_of<QDoubleSpinBox>(w.window, "height"), 10);
    type(child_of<QDoubleSpinBox>(w.window, "centre_z"), foot);
    w.settle();
    w.key(Qt::Key_Return);
    w.settle();
  };
  cylinder(16, 25);
  cylinder(8, 0);
  w.window.stages().open(Stage::Shaped);
  press_tool(w, "take_in_form");
  w.key(Qt::Key_Return);
  w.settle();
  REQUIRE(shown(w).faces.size() == 16 + 32);
  w.window.run("frame_all");
  w.key(Qt::Key_N);
  // One edge of each rim, on the side that is seen: of the lower one the upper rim, of the upper one the lower.
  const auto edge_near = [&](double z) {
    Vec3 best;
    double nearest = 1e9;
    const Vec3 eye = w.window.view().camera(ViewName::Main).axes().z * 1000.0;
    const std::shared_ptr<const FormLinks> links = links_of(shown(w));
    for (const FormTopology::Edge& e : links->topology.edges) {
      const Vec3 m = (shown(w).points[e.points[0]] + shown(w).points[e.points[1]]) * 0.5;
      if (e.border() && std::abs(m.z - z) < 0.1 && distance(m, eye) < nearest) {
        nearest = distance(m, eye);
        best = m;
      }
    }
    return best;
  };
  click_at(w, edge_near(10));
  click_at(w, edge_near(25), Qt::ShiftModifier);
  REQUIRE(w.window.editor().form_picked().size() == 2);
  press_tool(w, "stitch");
  CHECK(message(w).isEmpty());
  CHECK(links_of(shown(w))->topology.shells == 1);
  CHECK(links_of(shown(w))->topology.borders == 2);
  CHECK(shown(w).faces.size() == 16 + 32 + 8);
  w.key(Qt::Key_Return);
  w.settle();
  press_tool(w, "fill_hole");
  child_of<QCheckBox>(w.window, "all")->setChecked(true);
  w.settle();
  CHECK(message(w).contains("2 holes closed"));
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(links_of(shown(w))->topology.borders == 0);
  CHECK(w.gauge("gauge_volume") != "–");
}

TEST_CASE("rows and the like are said not to be of forms, and nothing is lost") {
  Window w(false);
  begin_box(w);
  w.key(Qt::Key_P);
  click_at(w, {42, 30, 15});
  REQUIRE(w.window.editor().picked().size() == 1);
  w.key(Qt::Key_E);
  CHECK(w.window.editor().picked().size() == 1);
  w.window.editor().pick_checker(false);
  CHECK(w.window.editor().picked().size() == 1);
  w.key(Qt::Key_Period);
  CHECK(w.window.editor().picked().size() == 4);
  w.key(Qt::Key_Comma);
  CHECK(w.window.editor().picked().size() == 1);
  // Chips that say nothing of forms are away.
  CHECK_FALSE(child_of<QToolButton>(w.window, "chip_7")->isVisible());
  REQUIRE(w.window.run("bridge"));
  w.settle();
  CHECK(message(w).contains("Pick two groups of faces"));
  w.key(Qt::Key_Escape);
  w.settle();
  CHECK(shown(w).faces.size() == 38);
}

TEST_CASE("crossings are counted, framed one by one with their faces picked, and mended") {
  Window w(false);
  begin_box(w);
  CHECK(w.gauge("gauge_evenness") == "none");
  CHECK_FALSE(enabled(w, "next_crossing"));
  // The middle of the upper side is pushed out below.
  w.key(Qt::Key_F);
  click_at(w, {-10.5, 0, 14});
  click_at(w, {10.5, 0, 14}, Qt::ShiftModifier);
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, -70.0, {}}));
  w.settle();
  CHECK(w.gauge("gauge_evenness").contains("longest"));
  REQUIRE(enabled(w, "next_crossing"));
  const auto before = w.window.view().camera(ViewName::Main).target;
  w.window.run("next_crossing");
  w.settle();
  CHECK(w.window.editor().form_picked().size() == 2);
  CHECK_FALSE(w.window.view().camera(ViewName::Main).target == before);
  w.window.stages().open(Stage::Shaped);
  press_tool(w, "pull_in_crossings");
  CHECK(message(w).contains("gone"));
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(w.gauge("gauge_evenness") == "none");
}

TEST_CASE(
    "flat faces and the smooth skin are two pictures of one form, and faces are picked on both") {
  Window w(false);
  begin_box(w);
  const PartId part = w.window.model().document().parts.front().id;
  const auto smooth = w.window.model().drawn().at(part).mesh;
  w.window.run("flat_faces");
  w.settle();
  const auto flat = w.window.model().drawn().at(part).mesh;
  CHECK(flat->indices.size() == 3 * 4 * 38);  // a triangle for each side of each face
  CHECK(flat->box.max.x == Approx(42.0));
  CHECK(smooth->box.max.x < 41.5);
  w.key(Qt::Key_F);
  click_at(w, {10.5, 0, 15});
  REQUIRE(w.window.editor().form_picked().size() == 1);
  const FormNet& net = *w.window.editor().form();
  const Pick pick = as_picks(net, PickKind::Face, w.window.editor().form_picked()).front();
  CHECK(pick.near.x == Approx(10.5));
  CHECK(pick.near.z == Approx(15.0));
  w.window.run("flat_faces");
  w.settle();
  CHECK(w.window.model().drawn().at(part).mesh->indices.size() == smooth->indices.size());
}

TEST_CASE("a face is drawn by its corners, and its edges are pulled out") {
  Window w(false);
  REQUIRE(w.window.run("source_form_face"));
  w.settle();
  for (const Vec3& p :
       {Vec3{-30, -20, 0}, Vec3{30, -20, 0}, Vec3{35, 20, 0}, Vec3{0, 30, 0}, Vec3{-35, 20, 0}})
    QTest::mouseClick(&w.window.view(), Qt::LeftButton, {},
                      w.window.view().place_on_screen(p).toPoint());
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  REQUIRE(shown(w).faces.size() == 1);
  CHECK(shown(w).faces[0].points.size() == 5);
  w.window.stages().open(Stage::Shaped);
  w.key(Qt::Key_N);
  const Vec3 edge = (shown(w).points[0] + shown(w).points[1]) * 0.5;
  click_at(w, edge);
  REQUIRE(w.window.editor().form_picked().size() == 1);
  press_tool(w, "pull_edges");
  type(child_of<QDoubleSpinBox>(w.window, "by_z"), 25);
  w.settle();
  CHECK(shown(w).faces.size() == 2);
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(links_of(shown(w))->topology.borders == 1);
}

TEST_CASE("a bridge shows what it matches, and names keep what was picked on a form") {
  Window w(false);
  begin_box(w);
  w.key(Qt::Key_F);
  click_at(w, {10.5, 0, 14});
  w.window.editor().name_selection("end");
  w.settle();
  // The same face below: seen from there.
  const FormNet net = *w.window.editor().form();
  std::vector<Tag> both = w.window.editor().form_picked();
  for (const Tag t : tags_where(
           net, PickKind::Face,
           [](const Vec3& p) { return p.z < 0 && p.x > -1 && p.x < 22 && std::abs(p.y) < 11; },
           false))
    both.push_back(t);
  REQUIRE(both.size() == 2);
  w.window.editor().pick_form(both);
  press_tool(w, "bridge");
  INFO(message(w).toStdString());
  REQUIRE(w.window.model().answer()->marks.size() == 4);
  for (const auto& [a, b] : w.window.model().answer()->marks) {
    CHECK(a.x == Approx(b.x));  // straight through
    CHECK(a.y == Approx(b.y));
  }
  child_of<QSpinBox>(w.window, "twist")->setValue(1);
  w.settle();
  const auto& first = w.window.model().answer()->marks[0];
  CHECK(std::abs(first[0].x - first[1].x) + std::abs(first[0].y - first[1].y) > 1.0);
  w.key(Qt::Key_Escape);
  w.settle();
  // A loop put in below changes the numbers of points, not what the name holds.
  w.window.editor().pick_form({});
  const Part& part = w.window.model().document().parts.front();
  w.window.model().change_operation(
      part.steps[0].id, with_parameter(*part.steps[0].operation, "size_x", "100"), "Length", {});
  w.settle();
  REQUIRE(w.window.model().document().parts.front().selections.size() == 1);
  REQUIRE(w.window.model().document().parts.front().selections.front().picks.size() == 1);
  REQUIRE(w.window.editor().form() != nullptr);
  w.window.editor().pick_named("end");
  REQUIRE(w.window.editor().form_picked().size() == 1);
  CHECK(w.window.editor().picked_centre().x == Approx(12.5));
}

TEST_CASE("the place of a loop and how far it slides are dragged by handles, one undo each") {
  Window w(false);
  begin_box(w);
  w.key(Qt::Key_N);
  click_at(w, {42, 0, 15});
  REQUIRE(w.window.editor().form_picked().size() == 1);
  press_tool(w, "insert_loop");
  const auto handles = [&] { return w.window.model().answer()->handles; };
  REQUIRE(handles().size() == 1);
  CHECK(handles()[0].parameter == "place");
  CHECK(distance(place_of(handles()[0]), {42, 0, 15}) < 1e-9);
  const auto at = [&](const Vec3& p) { return w.window.view().place_on_screen(p).toPoint(); };
  auto* place = child_of<QDoubleSpinBox>(w.window, "place");
  const bool forward = handles()[0].path[0].y < handles()[0].path[1].y;
  // The diamond stands beside the point, which can still be taken itself.
  const auto handle = [&] { return w.window.view().handle_on_screen(0).toPoint(); };
  CHECK((handle() - at({42, 0, 15})).manhattanLength() > 12);
  w.drag(handle(), at({42, 5, 15}) - at({42, 0, 15}));
  w.settle();
  // From −10 to 10 mm: 5 mm lie three quarters along.
  CHECK(place->value() == Approx(forward ? 0.75 : 0.25).margin(0.03));
  CHECK(distance(place_of(handles()[0]), {42, 5, 15}) < 0.6);
  w.key(Qt::Key_Return);
  w.settle();
  const std::size_t undos = w.window.model().session().changes().size();
  // After it is kept a drag is an undo of its own.
  w.drag(handle(), at({42, -5, 15}) - at(place_of(handles()[0])));
  w.settle();
  CHECK(distance(place_of(handles()[0]), {42, -5, 15}) < 0.6);
  CHECK(w.window.model().session().changes().size() == undos + 1);
  // Esc while dragging leaves it where it was.
  QTest::mousePress(&w.window.view(), Qt::LeftButton, {}, handle());
  const QPointF there = at({42, 4, 15});
  QMouseEvent move(QEvent::MouseMove, there, w.window.view().mapToGlobal(there), Qt::NoButton,
                   Qt::LeftButton, {});
  QApplication::sendEvent(&w.window.view(), &move);
  w.key(Qt::Key_Escape);
  QTest::mouseRelease(&w.window.view(), Qt::LeftButton, {}, there.toPoint());
  w.settle();
  CHECK(distance(place_of(handles()[0]), {42, -5, 15}) < 0.6);
  CHECK(w.window.model().session().changes().size() == undos + 1);
  w.window.run("undo");
  w.settle();
  CHECK(distance(place_of(handles()[0]), {42, 5, 15}) < 0.6);
  // Sliding: the handle's path leads to both sides.
  click_at(w, {42, 7, 15});
  if (w.window.editor().form_picked().empty()) click_at(w, {42, -7, 15});
  press_tool(w, "slide_loop");
  REQUIRE(handles().size() == 1);
  CHECK(handles()[0].parameter == "share");
  CHECK(handles()[0].path.size() == 3);
  const Vec3 target = handles()[0].path[2] * 0.5 + handles()[0].path[1] * 0.5;
  w.drag(handle(), at(target) - at(place_of(handles()[0])));
  w.settle();
  CHECK(child_of<QDoubleSpinBox>(w.window, "share")->value() == Approx(0.475).margin(0.05));
}

TEST_CASE("the stretch of a form's faces is drawn and its worst place called out") {
  Window w(false);
  begin_box(w);
  w.window.view().set(&ViewSettings::look, ModelLook::Stretch);
  w.settle();
  const auto drawn = w.window.model().drawn().find(w.window.model().chosen_part());
  REQUIRE(drawn->second.stretch);
  CHECK(drawn->second.stretch->values.size() == drawn->second.mesh->vertices.size() / 6);
  const auto gauges = w.window.model().gauges();
  REQUIRE(gauges->form_stretch);
  CHECK(gauges->form_stretch->worst > 10.0);  // faces of 21 × 20 and of 30 mm beside each other
  const auto largest =
      *std::max_element(drawn->second.stretch->values.begin(), drawn->second.stretch->values.end());
  CHECK(static_cast<double>(largest) == Approx(gauges->form_stretch->worst).epsilon(1e-3));
}

TEST_CASE("edits of one kind in a row lie folded beneath the last of them") {
  Window w(false);
  begin_box(w);
  const PartId part = w.window.model().chosen_part();
  w.key(Qt::Key_N);
  for (const double y : {0.0, 20.0, -20.0, 0.0}) {
    click_at(w, {42, y, 15});
    if (w.window.editor().form_picked().empty()) click_at(w, {42, y + 3.0, 15});
    press_tool(w, "crease");
    w.key(Qt::Key_Return);
    w.settle();
  }
  const Part& p = *find_part(w.window.model().document(), part);
  REQUIRE(p.steps.size() == 5);
  QTreeWidgetItem* last = w.window.parts().step_row(p.steps[4].id);
  REQUIRE(last != nullptr);
  CHECK(last->childCount() == 3);
  CHECK(last->text(0).contains("3 more before"));
  CHECK_FALSE(last->isExpanded());
  // Choosing one of them unfolds the row; another kind behind them leaves it as it is.
  w.window.model().choose_step(p.steps[2].id);
  w.settle();
  CHECK(w.window.parts().step_row(p.steps[2].id)->parent() ==
        w.window.parts().step_row(p.steps[4].id));
  CHECK(w.window.parts().step_row(p.steps[4].id)->isExpanded());
  w.window.model().choose_step(p.steps[4].id);
  w.settle();
  CHECK_FALSE(w.window.parts().step_row(p.steps[4].id)->isExpanded());
  for (int k = 0; k < 2; ++k) {
    w.window.run("undo");
    w.settle();
  }
  const Part& now = *find_part(w.window.model().document(), part);
  CHECK(w.window.parts().step_row(now.steps.back().id)->childCount() == 0);
}
