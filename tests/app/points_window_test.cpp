// Shaping points in the real window: scale, turn, pull the skin, falloff, selections, typed places.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>
#include <QToolButton>
#include <cmath>

#include "app/window_fixture.h"
#include "core/document/project_json.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

const Surface& net(Window& w) {
  REQUIRE(w.window.editor().net());
  return *w.window.editor().net()->shown.nets.front().surface();
}

QToolButton* bar_button(Window& w, const QString& text) {
  for (QToolButton* b : w.window.findChild<QFrame*>("hand_bar")->findChildren<QToolButton*>())
    if (b->text() == text) return b;
  FAIL("no button " << text.toStdString());
  return nullptr;
}

void type(Window& w, const QString& text) {
  auto* field = w.window.findChild<QLineEdit*>("typed_distance");
  REQUIRE(field->isVisible());
  field->selectAll();
  QTest::keyClicks(field, text);
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
}

double worst_asymmetry(const Surface& s) {
  const auto map = find_mirror(s, SymmetryPlane::XZ, 0.01);
  REQUIRE(map);
  return map->worst_gap;
}

// A sheet of 7 × 7 points in x–y, which nothing hides and no symmetry binds.
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
};

}  // namespace

TEST_CASE("scaling by hand and by number goes about the chosen centre, undone in one step") {
  SheetWindow w;
  const std::string before = to_project_json(w.window.model().document());
  w.window.editor().pick(row_through(net(w), {0, 3, 0}, 1));
  QTest::mouseClick(bar_button(w, "Scale"), Qt::LeftButton);
  QTest::mouseClick(bar_button(w, "y"), Qt::LeftButton);
  const Surface start = net(w);
  const QPoint at = w.point({0, 3, 6});
  w.drag(at, {100, 0});  // half-way to twice the size: the root of two
  w.settle();
  CHECK(net(w).points(3, 6).y == Approx(start.points(3, 6).y * std::sqrt(2.0)).epsilon(1e-6));
  CHECK(net(w).points(3, 3).y == Approx(0.0).margin(1e-9));
  CHECK(net(w).points(2, 6) == start.points(2, 6));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);

  // Typed, about the point picked last.
  w.choose("Sheet", 1);
  w.window.editor().pick(row_through(net(w), {0, 3, 0}, 1));
  w.window.editor().set_leader({0, 3, 0});
  w.window.editor().set_pivot(Pivot::Leader);
  w.key(Qt::Key_2);
  type(w, "2");
  CHECK(net(w).points(3, 0).y == Approx(start.points(3, 0).y));
  CHECK(net(w).points(3, 6).y == Approx(start.points(3, 0).y + 120.0));
}

TEST_CASE("turning by hand goes about the axis of the bar") {
  SheetWindow w;
  w.window.editor().pick(row_through(net(w), {0, 6, 0}, 1));
  QTest::mouseClick(bar_button(w, "Turn"), Qt::LeftButton);
  QTest::mouseClick(bar_button(w, "x"), Qt::LeftButton);
  const Surface start = net(w);
  w.drag(w.point({0, 6, 5}), {60, 0});  // half a degree a pixel
  w.settle();
  const Vec3 p = net(w).points(6, 6);
  const double angle = 30.0 * std::acos(-1.0) / 180.0;
  CHECK(p.y == Approx(start.points(6, 6).y * std::cos(angle)).epsilon(1e-9));
  CHECK(std::abs(p.z) == Approx(start.points(6, 6).y * std::sin(angle)).epsilon(1e-9));
  CHECK(p.x == Approx(start.points(6, 6).x));
}

TEST_CASE("the pulled skin follows the cursor, and the label says how far") {
  SheetWindow w;
  QTest::mouseClick(bar_button(w, "Pull the skin"), Qt::LeftButton);
  QTest::mouseClick(bar_button(w, "z"), Qt::LeftButton);
  // A place between the control points.
  const Surface start = net(w);
  const double u = 0.42;
  const double v = 0.61;
  const Vec3 place = evaluate(start, u, v);
  ModelView& view = w.window.view();
  const QPoint at = to_screen(view.camera(ViewName::Main), view.viewport(0), place).at.toPoint();
  w.drag(at, {0, -50});
  w.settle();
  const Vec3 now = evaluate(net(w), u, v);
  CHECK(now.z > 3.0);
  CHECK(now.z == Approx(w.window.editor().surface_moved()).epsilon(0.02));
  CHECK(std::hypot(now.x - place.x, now.y - place.y) < 1e-9);
  // On the screen the place went where the hand went.
  const QPointF screen = to_screen(view.camera(ViewName::Main), view.viewport(0), now).at;
  CHECK(std::abs(screen.y() - (at.y() - 50)) < 6.0);
  CHECK(w.window.model().session().undo_label() == "Pull the skin");
}

TEST_CASE("a falloff carries the neighbours along and shows their share") {
  Window w;
  auto* reach = w.window.findChild<QSpinBox*>("reach_along");
  reach->setValue(2);
  w.window.findChild<QSpinBox*>("reach_across")->setValue(1);
  w.window.editor().pick({{0, 0, 4}});  // on the symmetry plane
  const PointShares& share = w.window.editor().shares();
  CHECK(share(0, 4) == 1.0);
  CHECK(share(1, 4) > share(2, 4));
  CHECK(share(1, 4) == share(9, 4));
  const Surface start = net(w);
  const double before = worst_asymmetry(start);
  QTest::mouseClick(bar_button(w, "Off skin"), Qt::LeftButton);
  w.drag(w.point({0, 0, 4}), {40, 0});
  w.settle();
  const double all = distance(net(w).points(0, 4), start.points(0, 4));
  REQUIRE(all > 1.0);
  CHECK(distance(net(w).points(1, 4), start.points(1, 4)) ==
        Approx(all * share(1, 4)).epsilon(1e-9));
  CHECK(worst_asymmetry(net(w)) <= std::max(before, 1e-12));
  reach->setValue(0);
  CHECK(w.window.editor().shares()(1, 4) == 0.0);
}

TEST_CASE("picking by row, every n-th, range, partners, growing and shrinking by key") {
  Window w;
  PointEditor& e = w.window.editor();
  e.pick({{0, 0, 3}});
  w.key(Qt::Key_E);
  REQUIRE(e.picked().size() == 10);
  w.key(Qt::Key_T);
  type(w, "2");
  CHECK(e.picked().size() == 5);
  e.pick({{0, 0, 3}});
  w.key(Qt::Key_E);
  w.key(Qt::Key_T);
  type(w, "3, 1");
  CHECK(e.picked() == Selection{{0, 1, 3}, {0, 4, 3}, {0, 7, 3}});
  e.pick({{0, 2, 4}});
  w.key(Qt::Key_Period);
  CHECK(e.picked().size() == 5);
  w.key(Qt::Key_Comma);
  CHECK(e.picked() == Selection{{0, 2, 4}});
  w.key(Qt::Key_Y);
  CHECK(e.picked() == Selection{{0, 8, 4}});
  // Ctrl and Shift together take everything between.
  e.pick({{0, 8, 4}});
  e.set_leader({0, 8, 4});
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, Qt::ControlModifier | Qt::ShiftModifier,
                    w.point({0, 8, 2}));
  CHECK(e.picked() == Selection{{0, 8, 2}, {0, 8, 3}, {0, 8, 4}});
  e.pick({{0, 2, 4}});
  w.key(Qt::Key_T);
  CHECK(w.window.findChild<QLabel*>("message")->text().contains("Pick a row"));
}

TEST_CASE("visible only leaves the far side out of a box") {
  Window w;
  const QRect all = w.window.view().viewport(0).adjusted(4, 4, -4, -260);
  const auto box = [&] {
    w.window.editor().pick({});
    w.drag(all.topLeft(), QPoint(all.width(), all.height()));
    return w.window.editor().picked().size();
  };
  const auto through = box();
  w.window.run("visible_only");
  const auto seen = box();
  CHECK(seen > 0);
  CHECK(seen < through);
}

TEST_CASE("the underside is flattened by a box through the depth and Set z") {
  Window w(false);
  w.window.run("source_sphere");
  w.settle();
  w.key(Qt::Key_Return);
  w.window.run("rebuild");
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  // In the front view, a box over the lowest third.
  const QRect r = w.window.view().viewport(2);
  const Camera& c = w.window.view().camera(ViewName::Front);
  const QPoint low = to_screen(c, r, {-75, 0, -32}).at.toPoint();
  const QPoint high = to_screen(c, r, {75, 0, -80}).at.toPoint();
  w.drag(low, high - low);
  const Selection picked = w.window.editor().picked();
  REQUIRE(picked.size() >= 16);
  w.window.run("set_z");
  type(w, "-34");
  for (const PointIndex& p : picked)
    CHECK(net(w).points(p.i, p.j).z == Approx(-34.0).epsilon(1e-12));
  CHECK(w.window.model().gauges()->box.min.z == Approx(-34.0).epsilon(1e-3));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(w.window.model().gauges()->box.min.z < -45.0);
}

TEST_CASE("ordering tools act on the picked points and say what they need") {
  SheetWindow w;
  auto* message = w.window.findChild<QLabel*>("message");
  w.window.editor().pick({{0, 2, 2}});
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 8.0, {}}));
  w.settle();
  w.window.editor().pick({{0, 2, 2}, {0, 3, 3}});
  w.window.run("level_mean");
  CHECK(message->text().contains("at least 3 points"));
  w.window.editor().pick({{0, 2, 2}, {0, 4, 2}, {0, 2, 4}});
  w.window.run("plane_from_picked");
  CHECK(std::abs(w.window.editor().work_plane().z.z) < 0.999);
  w.window.editor().pick({{0, 3, 3}});
  w.window.run("level_work_plane");
  w.settle();
  const Frame plane = w.window.editor().work_plane();
  CHECK(dot(net(w).points(3, 3) - plane.origin, plane.z) == Approx(0.0).margin(1e-9));
  w.window.editor().pick({{0, 2, 2}});
  const double high = net(w).points(2, 2).z;
  w.window.run("smooth");
  w.settle();
  CHECK(net(w).points(2, 2).z < high);
  w.window.run("select_all");
  w.window.run("relax");
  w.settle();
  CHECK(net(w).points(2, 2).z == Approx(0.0).margin(1e-9));
  w.window.editor().pick(row_through(net(w), {0, 0, 3}, 0));
  w.window.run("straighten_row");
  w.settle();
  CHECK(net(w).points(3, 3).z == Approx(0.0).margin(1e-9));
}

TEST_CASE("a held edge stays, shows it, and says why") {
  SheetWindow w;
  w.window.editor().pick({{0, 3, 3}});
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 5.0, {}}));
  w.settle();
  auto* hold = w.window.findChild<QComboBox*>("hold_u_begin");
  REQUIRE(hold != nullptr);
  hold->setCurrentIndex(2);  // tangent: two rows
  w.settle();
  CHECK(w.window.editor().held({0, 0, 3}));
  CHECK(w.window.editor().held({0, 1, 3}));
  CHECK_FALSE(w.window.editor().held({0, 2, 3}));
  const Surface start = net(w);
  w.window.editor().pick({{0, 1, 3}});
  CHECK_FALSE(w.window.editor().move_by({MoveDirection::Z, 5.0, {}}));
  CHECK(w.window.findChild<QLabel*>("message")->text().contains("held by an edge"));
  w.window.editor().pick(row_through(net(w), {0, 0, 3}, 0));
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 5.0, {}}));
  w.settle();
  CHECK(net(w).points(0, 3) == start.points(0, 3));
  CHECK(net(w).points(1, 3) == start.points(1, 3));
  CHECK(net(w).points(4, 3).z == Approx(start.points(4, 3).z + 5.0));
}

TEST_CASE("symmetry is made again from the side of the point picked last") {
  Window w;
  w.window.editor().set_symmetry(SymmetryPlane::None);
  w.settle();
  w.window.editor().pick({{0, 2, 4}});
  REQUIRE(w.window.editor().move_by({MoveDirection::OffSkin, 4.0, {}}));
  w.settle();
  CHECK_FALSE(find_mirror(net(w), SymmetryPlane::XZ, 0.01));
  const Vec3 kept = net(w).points(2, 4);
  REQUIRE(w.window.editor().make_symmetric());
  w.settle();
  CHECK(worst_asymmetry(net(w)) < 1e-12);
  CHECK(net(w).points(2, 4) == kept);
}

TEST_CASE("every look draws another picture, and stripes can be changed") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.window.view().set(&ViewSettings::side_views, false);
  w.settle();
  std::vector<QImage> pictures;
  for (const char* id : {"look_clay", "look_lines", "look_see_through", "look_zebra",
                         "look_reflection", "look_curvature", "look_deviation"}) {
    w.window.run(id);
    w.settle();
    pictures.push_back(w.window.view().grabFramebuffer());
    for (std::size_t k = 0; k + 1 < pictures.size(); ++k) {
      INFO(id << " against " << k);
      CHECK(pictures[k] != pictures.back());
    }
  }
  REQUIRE(w.window.model().drawn().at(w.window.model().chosen_part()).deviation);
  w.window.run("look_zebra");
  const QImage stripes = w.window.view().grabFramebuffer();
  w.window.run("more_stripes");
  const QImage finer = w.window.view().grabFramebuffer();
  w.window.run("upright_stripes");
  const QImage upright = w.window.view().grabFramebuffer();
  CHECK(stripes != finer);
  CHECK(finer != upright);
  w.window.run("upright_stripes");
  w.window.run("fewer_stripes");
  CHECK(w.window.view().grabFramebuffer() == stripes);
}

TEST_CASE("combs follow the point picked last and their length is set") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.settle();
  const QImage none = w.window.view().grabFramebuffer();
  w.window.run("combs");
  const QImage some = w.window.view().grabFramebuffer();
  CHECK(none != some);
  w.window.run("longer_combs");
  CHECK(w.window.view().grabFramebuffer() != some);
  w.window.editor().set_leader({0, 5, 2});
  w.window.view().update();
  CHECK(w.window.view().grabFramebuffer() != some);
}
