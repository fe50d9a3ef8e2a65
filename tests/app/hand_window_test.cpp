// The hand in the real window: curves, snapping, weights, net lines, named selections, falloff after
// the drag, three points for a plane, movable borders, the looks that go with shaping.
#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QMenu>
#include <QSpinBox>
#include <QToolButton>
#include <cmath>

#include "app/view/overlay.h"
#include "app/window_fixture.h"
#include "core/document/project_json.h"
#include "core/operations/circle.h"
#include "core/operations/control_curve.h"
#include "core/operations/directions.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "core/operations/rebuild_curve.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

const Nets& nets(Window& w) {
  REQUIRE(w.window.editor().net());
  return w.window.editor().net()->shown;
}

Vec3 at(Window& w, PointIndex p) {
  return nets(w).point(p);
}

template <typename T>
T* child(Window& w, const char* name) {
  T* found = w.window.findChild<T*>(name);
  REQUIRE(found != nullptr);
  return found;
}

void press_bar(Window& w, const QString& text) {
  for (QToolButton* b : child<QFrame>(w, "hand_bar")->findChildren<QToolButton*>())
    if (b->text() == text) {
      QTest::mouseClick(b, Qt::LeftButton);
      return;
    }
  FAIL("no button " << text.toStdString());
}

void type(Window& w, const QString& text) {
  auto* field = child<QLineEdit>(w, "typed_distance");
  REQUIRE(field->isVisible());
  field->selectAll();
  QTest::keyClicks(field, text);
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
}

// A flat sheet of 7 × 7 points of 60 mm, and nothing else.
struct SheetWindow : Window {
  SheetWindow() : Window(false) {
    auto plane = std::make_shared<PlaneOperation>();
    plane->length_x = plane->length_y = 60;
    const Added sheet = with_part({}, "Sheet", plane);
    auto rebuild = std::make_shared<RebuildOperation>();
    rebuild->points_u = rebuild->points_v = 7;
    window.model().commit(with_step(sheet.document, sheet.part, rebuild).document, "sheet");
    settle();
    choose("Sheet", 1);
  }
  void look_from_top() {
    window.view().bring_to_main(ViewName::Top);
    QTest::qWait(30);
  }
};

// A ring of 44 points.
struct RingWindow : Window {
  RingWindow() : Window(false) {
    window.run("source_circle");
    settle();
    key(Qt::Key_Return);
    settle();
    window.run("rebuild");
    settle();
    child<QSpinBox>(*this, "points")->setValue(44);
    settle();
    key(Qt::Key_Return);
    settle();
    REQUIRE(nets(*this).size() == 44);
  }
};

int bumps(const Curve& c) {
  const CurveEvaluator e(c);
  int changes = 0;
  double last = 0.0;
  for (int k = 0; k <= 44 * 40; ++k) {
    const CurveDerivatives t = e.derivatives((k + 0.37) / (44 * 40), 2);
    const double bend = t.d1.x * t.d2.y - t.d1.y * t.d2.x;
    if (last * bend < 0.0) ++changes;
    if (bend != 0.0) last = bend;
  }
  return changes / 2;
}

}  // namespace

TEST_CASE("a ring of 44 in the window: every second point scaled to 0.9 gives 22 bumps") {
  RingWindow w;
  CHECK(w.gauge("gauge_points").contains("44"));
  CHECK(w.gauge("gauge_area").contains("mm"));
  const std::string before = to_project_json(w.window.model().document());
  w.window.editor().pick({{0, 0}});
  w.key(Qt::Key_E);
  CHECK(w.window.editor().picked().size() == 44);
  w.key(Qt::Key_T);
  type(w, "2");
  CHECK(w.window.editor().picked().size() == 22);
  press_bar(w, "Scale");
  press_bar(w, "z");
  press_bar(w, "Off skin");  // all directions
  w.key(Qt::Key_0);
  type(w, "0.9");
  CHECK(bumps(*nets(w).nets.front().curve()) == 22);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);
}

TEST_CASE("a curve is drawn by clicks in the top view, taken back, kept and dragged") {
  Window w(false);
  w.window.run("source_control_curve");
  w.settle();
  w.window.view().bring_to_main(ViewName::Top);
  w.settle();
  ModelView* v = &w.window.view();
  const QPoint places[] = {{200, 150}, {300, 100}, {400, 180}, {500, 120}, {600, 160}};
  for (const QPoint& p : places) {
    QTest::mouseClick(v, Qt::LeftButton, {}, p);
    w.settle();
  }
  REQUIRE(nets(w).size() == 5);
  for (int k = 0; k < 5; ++k) {
    CHECK(std::abs(at(w, {0, k}).z) < 1e-9);  // in the work plane
    CHECK((w.point({0, k}) - places[k]).manhattanLength() <= 2);
  }
  w.key(Qt::Key_Backspace);
  w.settle();
  CHECK(nets(w).size() == 4);
  w.key(Qt::Key_Return);
  w.settle();
  REQUIRE(w.window.model().document().parts.size() == 1);
  CHECK_FALSE(w.window.model().trial());
  // Now a click beside the points draws nothing, and a point is dragged like any other.
  QTest::mouseClick(v, Qt::LeftButton, {}, {250, 300});
  w.settle();
  CHECK(nets(w).size() == 4);
  press_bar(w, "y");
  const Vec3 start = at(w, {0, 1});
  w.drag(w.point({0, 1}), {0, -40});
  w.settle();
  CHECK(at(w, {0, 1}).y > start.y + 1.0);
  CHECK(at(w, {0, 1}).x == start.x);
  CHECK(w.window.model().document().parts.front().steps.size() == 2);
}

TEST_CASE("a dragged point snaps exactly to another point, to a curve and to the grid") {
  SheetWindow w;
  w.look_from_top();
  press_bar(w, "View");
  SnapKinds snap;
  snap.on = true;
  w.window.editor().set_snap(snap);
  CHECK(child<QCheckBox>(w, "snap")->isChecked());
  // Released 5 pixels beside another point, it lies on it.
  const QPoint from = w.point({0, 2, 2});
  const QPoint to = w.point({0, 4, 3}) + QPoint(4, -3);
  ModelView* v = &w.window.view();
  QTest::mousePress(v, Qt::LeftButton, {}, from);
  for (const QPoint& p : {from + QPoint(6, 0), to}) {
    QMouseEvent move(QEvent::MouseMove, QPointF(p), v->mapToGlobal(QPointF(p)), Qt::NoButton,
                     Qt::LeftButton, {});
    QApplication::sendEvent(v, &move);
    QTest::qWait(20);
  }
  CHECK(v->snapped_to().contains("control point"));
  QTest::mouseRelease(v, Qt::LeftButton, {}, to);
  w.settle();
  CHECK(distance(at(w, {0, 2, 2}), at(w, {0, 4, 3})) < 1e-12);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  // To the grid of the work plane: both coordinates are whole multiples of its spacing.
  snap.points = snap.ends = snap.edges = false;
  snap.grid = true;
  snap.grid_mm = 4.0;
  w.window.editor().set_snap(snap);
  w.choose("Sheet", 1);
  const double mm = pixel_size(v->camera(ViewName::Top), v->viewport(0), {});
  const QPoint by(static_cast<int>(std::lround((24.0 - at(w, {0, 4, 4}).x) / mm)),
                  -static_cast<int>(std::lround((20.0 - at(w, {0, 4, 4}).y) / mm)));
  w.drag(w.point({0, 4, 4}), by + QPoint(3, 2));
  w.settle();
  CHECK(distance(at(w, {0, 4, 4}), {24, 20, at(w, {0, 4, 4}).z}) < 1e-12);

  // To a curve of another part.
  auto circle = std::make_shared<CircleOperation>();
  circle->radius = 45;
  w.window.model().commit(with_part(w.window.model().document(), "Ring", circle).document, "ring");
  w.settle();
  w.window.view().frame_all();
  snap.grid = false;
  snap.edges = true;
  w.window.editor().set_snap(snap);
  w.choose("Sheet", 2);
  const Vec3 on_ring = Vec3{0.8, 0.6, 0} * 45.0;
  const QPoint end = to_screen(v->camera(ViewName::Top), v->viewport(0), on_ring).at.toPoint();
  const QPoint begin = w.point({0, 5, 5});
  w.drag(begin, end - begin);
  w.settle();
  const Vec3 there = at(w, {0, 5, 5});
  CHECK(std::hypot(there.x, there.y) == Approx(45.0).epsilon(1e-12));
  CHECK(std::abs(there.z) < 1e-12);
}

TEST_CASE("weights are dragged, shown at the hand, and undone in one step") {
  SheetWindow w;
  w.window.editor().pick({{0, 3, 3}});
  press_bar(w, "Weight");
  w.drag(w.point({0, 3, 3}), {100, 0});  // 100 pixels double
  w.settle();
  CHECK(nets(w).weight({0, 3, 3}) == Approx(2.0).epsilon(1e-9));
  w.drag(w.point({0, 3, 3}), {100, 0});
  w.settle();
  CHECK(nets(w).weight({0, 3, 3}) == Approx(4.0).epsilon(1e-9));
  CHECK(w.window.model().session().undo_label().find("Weight") == 0);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(nets(w).weight({0, 3, 3}) == Approx(2.0).epsilon(1e-9));
  w.key(Qt::Key_7);
  type(w, "7");
  CHECK(nets(w).weight({0, 3, 3}) == Approx(7.0));
  w.window.run("reset_weight");
  w.settle();
  CHECK(nets(w).weight({0, 3, 3}) == 1.0);
  CHECK_FALSE(nets(w).nets.front().surface()->rational());
}

TEST_CASE("net lines are picked whole by a click on a leg and by boxes") {
  SheetWindow w;
  w.look_from_top();
  auto* filter = child<QComboBox>(w, "filter");
  filter->setCurrentIndex(1);
  Q_EMIT filter->activated(1);
  const QPoint leg = (w.point({0, 2, 3}) + w.point({0, 3, 3})) / 2;  // a leg along u
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, leg);
  CHECK(w.window.editor().picked() == row_through(nets(w), {0, 2, 3}, 0));
  // A box to the right takes the lines that lie in it whole: here the two outer lines along v.
  w.window.editor().pick({});
  const QPoint low = w.point({0, 0, 0}) + QPoint(-14, 14);
  const QPoint high = w.point({0, 1, 6}) + QPoint(12, -14);
  w.drag(low, high - low);
  CHECK(w.window.editor().picked().size() == 14);
  // To the left every line it touches: all seven along u as well.
  w.window.editor().pick({});
  w.drag(high, low - high);
  CHECK(w.window.editor().picked().size() == 49);
  filter->setCurrentIndex(2);
  Q_EMIT filter->activated(2);
  w.window.editor().pick({});
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, w.point({0, 5, 1}));
  CHECK(w.window.editor().picked() == Selection{{0, 5, 1}});
  w.window.run("ring");
  CHECK(w.window.editor().picked().size() == 16);  // one step from the edge of 7 × 7
}

TEST_CASE("picked points are kept under a name, found again, saved and forgotten") {
  SheetWindow w;
  w.window.editor().pick({{0, 1, 1}, {0, 1, 2}, {0, 6, 6}});
  w.window.run("name_selection");
  type(w, "lip");
  CHECK(w.window.editor().names() == QStringList{"lip"});
  w.window.editor().pick({});
  QMenu* named = nullptr;
  for (QMenu* m : w.window.findChildren<QMenu*>())
    if (m->title() == "Named selections") named = m;
  REQUIRE(named != nullptr);
  Q_EMIT named->aboutToShow();
  REQUIRE(named->actions().size() == 2);
  named->actions().front()->trigger();
  CHECK(w.window.editor().picked().size() == 3);
  // On another grid those that are left are taken, and it is said.
  auto smaller = std::make_shared<RebuildOperation>();
  smaller->points_u = smaller->points_v = 5;
  const Part& part = w.window.model().document().parts.front();
  w.window.model().commit(with_operation(w.window.model().document(), part.steps[1].id, smaller),
                          "rebuild");
  w.settle();
  w.window.editor().pick_named("lip");
  CHECK(w.window.editor().picked().size() == 2);
  CHECK(child<QLabel>(w, "message")->text().contains("2 of the 3"));
  w.window.editor().forget_named("lip");
  CHECK(w.window.editor().names().isEmpty());
  w.window.model().undo();
  CHECK(w.window.editor().names() == QStringList{"lip"});
}

TEST_CASE("the falloff of the last drag is changed afterwards, in the same undo step") {
  SheetWindow w;
  press_bar(w, "z");
  w.window.editor().pick({{0, 3, 3}});
  w.key(Qt::Key_6);
  type(w, "6");
  CHECK(at(w, {0, 3, 3}).z == Approx(6.0));
  CHECK(at(w, {0, 4, 3}).z == Approx(0.0).margin(1e-12));
  const std::string rigid = to_project_json(w.window.model().document());
  child<QSpinBox>(w, "reach_along")->setValue(2);
  w.settle();
  auto* shape = child<QComboBox>(w, "shape_along");
  shape->setCurrentIndex(static_cast<int>(FalloffShape::Ramp));
  Q_EMIT shape->activated(static_cast<int>(FalloffShape::Ramp));
  w.settle();
  CHECK(at(w, {0, 3, 3}).z == Approx(6.0));
  CHECK(at(w, {0, 4, 3}).z == Approx(4.0));
  CHECK(at(w, {0, 5, 3}).z == Approx(2.0));
  // Back to none gives what was; then one undo takes the whole move back.
  child<QSpinBox>(w, "reach_along")->setValue(0);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == rigid);
  child<QSpinBox>(w, "reach_along")->setValue(1);
  w.settle();
  CHECK(at(w, {0, 4, 3}).z == Approx(3.0));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(w.window.model().document().parts.front().steps.size() == 2);
  // After something else was done the falloff is for the next move only.
  w.choose("Sheet", 1);
  w.window.editor().pick({{0, 3, 3}});
  w.key(Qt::Key_6);
  type(w, "6");
  w.window.editor().pick({{0, 1, 1}});
  child<QSpinBox>(w, "reach_along")->setValue(2);
  w.settle();
  CHECK(at(w, {0, 4, 3}).z != Approx(4.0));
}

TEST_CASE("points are levelled to the plane through three clicked points") {
  SheetWindow w;
  press_bar(w, "z");
  for (const auto& [p, mm] : {std::pair{PointIndex{0, 0, 0}, "2"}, {PointIndex{0, 6, 0}, "5"}}) {
    w.window.editor().pick({p});
    w.key(Qt::Key_1);
    type(w, mm);
  }
  w.look_from_top();
  w.window.editor().pick({{0, 3, 3}, {0, 2, 4}});
  w.window.run("level_three");
  CHECK(w.window.editor().plane_points_missing() == 3);
  for (const PointIndex p : {PointIndex{0, 0, 0}, PointIndex{0, 6, 0}, PointIndex{0, 3, 6}})
    QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, w.point(p));
  w.settle();
  CHECK(w.window.editor().plane_points_missing() == 0);
  const Vec3 a = at(w, {0, 0, 0});
  const Vec3 n = normalized(cross(at(w, {0, 6, 0}) - a, at(w, {0, 3, 6}) - a));
  for (const PointIndex p : {PointIndex{0, 3, 3}, PointIndex{0, 2, 4}})
    CHECK(std::abs(dot(at(w, p) - a, n)) < 1e-12);
  CHECK(w.window.editor().picked().size() == 2);  // still picked
  // Esc leaves the asking.
  w.window.run("level_three");
  w.key(Qt::Key_Escape);
  CHECK(w.window.editor().plane_points_missing() == 0);
}

TEST_CASE("the common border of a split sheet is dragged as one, and both sides follow") {
  SheetWindow w;
  auto split = std::make_shared<SplitSurfaceOperation>();
  w.window.model().commit(
      with_step(w.window.model().document(), w.window.model().chosen_part(), split).document,
      "split");
  w.settle();
  w.choose("Sheet", 2);
  REQUIRE(nets(w).nets.size() == 2);
  const int last = nets(w).nets[0].count(0) - 1;
  w.look_from_top();
  press_bar(w, "View");
  const QPoint border = w.point({0, last, 3});
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, border);
  CHECK(w.window.editor().picked() == Selection{{0, last, 3}, {1, 0, 3}});
  w.drag(border, {30, -20});
  w.settle();
  CHECK(at(w, {0, last, 3}) == at(w, {1, 0, 3}));
  CHECK(at(w, {0, last, 3}).x > 1.0);
  // A point of the second surface alone.
  press_bar(w, "z");
  w.window.editor().pick({{1, 2, 3}});
  w.key(Qt::Key_3);
  type(w, "3");
  CHECK(at(w, {1, 2, 3}).z == Approx(3.0));
  CHECK(w.window.model().document().parts.front().steps.size() == 4);
}

TEST_CASE("a border that is free but keeps its tangent takes the row behind it along") {
  SheetWindow w;
  press_bar(w, "z");
  w.window.editor().pick({{0, 3, 3}});
  w.key(Qt::Key_1);
  type(w, "1");
  auto* hold = child<QComboBox>(w, "hold_u_begin");
  hold->setCurrentIndex(static_cast<int>(EdgeRule::FreeTangent));
  Q_EMIT hold->activated(static_cast<int>(EdgeRule::FreeTangent));
  w.settle();
  w.drag(w.point({0, 0, 3}), {0, -30});
  w.settle();
  CHECK(at(w, {0, 0, 3}).z > 1.0);
  CHECK(at(w, {0, 1, 3}).z == at(w, {0, 0, 3}).z);
  CHECK(at(w, {0, 2, 3}).z == Approx(0.0).margin(1e-12));
}

TEST_CASE("numbers, section combs and the range of curvature are shown and put away") {
  Window w;
  w.key(Qt::Key_W);
  QTest::qWait(60);
  CHECK(w.window.view().settings().point_numbers);
  const QImage numbers = w.window.grab().toImage();
  w.key(Qt::Key_W);
  QTest::qWait(60);
  CHECK(w.window.grab().toImage() != numbers);
  const double size = w.window.view().settings().point_size;
  const QImage usual = w.window.view().grabFramebuffer();
  w.window.run("larger_points");
  QTest::qWait(60);
  CHECK(w.window.view().settings().point_size == Approx(1.25 * size));
  CHECK(w.window.view().grabFramebuffer() != usual);
  CHECK(w.gauge("gauge_symmetry").contains("0.0000"));
  w.window.run("section_combs");
  w.settle();
  CHECK(w.window.view().settings().section_combs);
  REQUIRE(w.window.model().sections());
  CHECK(w.window.model().sections()->size() >= 1);
  const QImage section = w.window.view().grabFramebuffer();
  w.window.run("section_combs");
  w.settle();
  CHECK(w.window.view().grabFramebuffer() != section);
  const int teeth = w.window.view().settings().comb_density;
  w.window.run("denser_combs");
  CHECK(w.window.view().settings().comb_density > teeth);
  w.window.view().set(&ViewSettings::look, ModelLook::Curvature);
  w.settle();
  const QImage automatic = w.window.view().grabFramebuffer();
  w.window.run("curvature_range");
  type(w, "200");
  CHECK(w.window.view().settings().curvature_radius == 200.0);
  CHECK(w.window.view().grabFramebuffer() != automatic);
  w.window.view().set(&ViewSettings::look, ModelLook::Reflection);
  QTest::qWait(60);
  const QImage bands = w.window.view().grabFramebuffer();
  w.window.run("single_band");
  QTest::qWait(60);
  CHECK(w.window.view().grabFramebuffer() != bands);
}

TEST_CASE("hovering a point shows its address, and tools that need surfaces refuse curves") {
  RingWindow w;
  auto* v = &w.window.view();
  const QPoint p = w.point({0, 3});
  QMouseEvent move(QEvent::MouseMove, QPointF(p), v->mapToGlobal(QPointF(p)), Qt::NoButton,
                   Qt::NoButton, {});
  QTest::mouseMove(v, p);  // the pointer itself, too
  QApplication::sendEvent(v, &move);
  QTest::qWait(80);
  auto* label = v->findChild<QLabel*>("beside_cursor");
  REQUIRE(label != nullptr);
  CHECK(label->isVisible());
  CHECK(label->text().contains("[3]"));
  CHECK(address_words(w.window.editor().net()->shown, {0, 3}) == "[3]");
  for (const ActionInfo& a : w.window.actions()) {
    if (a.id == "even_out" || a.id == "export_stl") CHECK_FALSE(a.action->isEnabled());
    if (a.id == "rebuild" || a.id == "export_step") CHECK(a.action->isEnabled());
  }
}

TEST_CASE("a symmetric pair of rows is spread about the centre by hand in a side view") {
  Window w;
  const auto asymmetry = [&] {
    const auto map = find_mirror(nets(w), SymmetryPlane::XZ, 0.01);
    REQUIRE(map);
    double worst = 0.0;
    for_each_point(nets(w), [&](PointIndex p) {
      worst =
          std::max(worst, distance(mirrored(at(w, p), SymmetryPlane::XZ), at(w, map->partner(p))));
    });
    return worst;
  };
  const double before = asymmetry();
  const std::string document = to_project_json(w.window.model().document());
  Selection rows = row_through(nets(w), {0, 2, 3}, 1);
  rows.merge(row_through(nets(w), {0, 8, 3}, 1));
  w.window.editor().pick(rows);
  w.window.editor().set_leader({0, 2, 4});
  w.window.editor().set_pivot(Pivot::Symmetry);
  press_bar(w, "Scale");
  press_bar(w, "y");
  const Vec3 start = at(w, {0, 2, 4});
  w.drag(w.point({0, 2, 4}, 1), {40, 0});  // in the top view: 200 pixels double
  w.settle();
  CHECK(at(w, {0, 2, 4}).y == Approx(start.y * std::exp2(0.2)).epsilon(1e-9));
  CHECK(at(w, {0, 2, 4}).x == start.x);
  CHECK(asymmetry() <= std::max(before, 1e-12));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == document);
}

TEST_CASE("a move of a drag is drawn once, with its surface") {
  Window w;
  w.window.view().set(&ViewSettings::refine, false);
  // Nothing follows.
  const Part* grille = find_part(w.window.model().document(), std::string_view("Grille"));
  w.window.model().commit(
      with_look(w.window.model().document(), grille->id, {grille->look.colour, false}), "Hide", {});
  w.settle();
  ModelView& v = w.window.view();
  const auto send = [&](QEvent::Type type, const QPointF& at, Qt::MouseButton button) {
    QMouseEvent e(type, at, v.mapToGlobal(at), button,
                  type == QEvent::MouseButtonRelease ? Qt::NoButton : Qt::LeftButton, {});
    QApplication::sendEvent(&v, &e);
  };
  w.window.editor().pick({{0, 8, 4}});
  const QPointF start = v.point_on_screen({0, 8, 4});
  send(QEvent::MouseButtonPress, start, Qt::LeftButton);
  send(QEvent::MouseMove, start + QPointF(8, 8), Qt::NoButton);
  REQUIRE(w.window.editor().dragging());
  int twice = 0;
  for (int k = 1; k <= 8; ++k) {
    const std::size_t frames = v.frames_painted();
    const std::size_t request = w.window.model().answer()->request;
    send(QEvent::MouseMove, start + QPointF(8 + 3 * k, 8 - 2 * k), Qt::NoButton);
    REQUIRE(QTest::qWaitFor(
        [&] { return w.window.model().answer()->request > request && v.frames_painted() > frames; },
        20000));
    for (int n = 0; n < 3; ++n) QApplication::processEvents();
    twice += v.frames_painted() > frames + 1 ? 1 : 0;
  }
  send(QEvent::MouseButtonRelease, start + QPointF(32, -8), Qt::LeftButton);
  w.settle();
  CHECK(
      twice <=
      2);  // the label that first appears; a hand that rests for a moment has its exact answer drawn, too
}
