// Guide curves laid with the mouse, pulled by hand, and the face that follows.
#include <QSpinBox>
#include <QTemporaryDir>
#include <cmath>

#include "core/document/project_json.h"
#include "core/operations/guide_curves.h"
#include "core/operations/plane.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

const GuideCurvesOperation& guides_of(Window& w) {
  const Step* s = find_step(w.window.model().document(), w.window.model().chosen_step());
  REQUIRE(s != nullptr);
  const auto* guides = dynamic_cast<const GuideCurvesOperation*>(s->operation.get());
  REQUIRE(guides != nullptr);
  return *guides;
}

void click(Window& w, const Vec3& p) {
  ModelView* v = &w.window.view();
  const QPoint at = v->place_on_screen(p).toPoint();
  QMouseEvent move(QEvent::MouseMove, at, v->mapToGlobal(at), Qt::NoButton, Qt::NoButton, {});
  QApplication::sendEvent(v, &move);
  QTest::mouseClick(v, Qt::LeftButton, {}, at);
  w.settle();
}

const Surface& shown_surface(Window& w) {
  return *std::get<Body>(*w.window.model().answer()->shown).faces[0].surface;
}

// A plane of 80 × 60 mm, seen from above at an angle, with guides on trial.
void begin(Window& w) {
  w.window.run("source_plane");
  w.settle();
  w.window.model().change_parameter(w.window.model().chosen_step(), "length_x", "80", "Length", "");
  w.window.model().change_parameter(w.window.model().chosen_step(), "length_y", "60", "Length", "");
  w.key(Qt::Key_Return);
  w.settle();
  Camera& c = w.window.view().camera(ViewName::Main);
  c.target = {};
  c.height = 110.0;
  c.pitch = 50.0;
  c.yaw = -90.0;
  c.perspective = false;
  w.window.run("guide_curves");
  w.settle();
  REQUIRE(w.window.model().trial());
}

}  // namespace

TEST_CASE("guides are laid and taken away by clicks, and their points pull the face") {
  Window w(false);
  begin(w);
  REQUIRE(guides_of(w).places.places.size() == 3);
  click(w, {10, -24, 0});  // a tenth of the way across
  REQUIRE(guides_of(w).places.places.size() == 4);
  CHECK(guides_of(w).places.places.back().through->v == Approx(0.1).margin(0.01));
  click(w, {-20, -24, 0});  // on the same guide
  CHECK(guides_of(w).places.places.size() == 3);
  // Tangent held, then curvature held, then movable.
  click(w, {40, 8, 0});
  CHECK(guides_of(w).curvature.size() == 1);
  click(w, {40, 8, 0});
  CHECK(guides_of(w).curvature.empty());
  CHECK(guides_of(w).free.size() == 1);
  w.window.model().change_parameter(w.window.model().chosen_step(), "free", "", "Movable", "");
  w.key(Qt::Key_Return);
  w.settle();
  REQUIRE_FALSE(w.window.model().trial());

  // The middle point of the middle guide, off the skin.
  REQUIRE(w.window.editor().net());
  REQUIRE(w.window.editor().net()->shown.nets.size() == 3);
  const std::string flat = to_project_json(w.window.model().document());
  w.window.editor().set_direction(MoveDirection::OffSkin);
  w.drag(w.point({1, 3, 0, 0}), {0, -60});
  w.settle();
  const Shapings& moved = guides_of(w).guides.nets;
  REQUIRE(moved.size() == 3);
  const Vec3 way = moved[1].displacements(3, 0);
  CHECK(std::abs(way.x) + std::abs(way.y) < 1e-9);  // the face is level there
  REQUIRE(std::abs(way.z) > 5.0);
  // A cubic of seven points: the middle one counts two thirds where it is (uniform B-spline, 1/6 4/6 1/6).
  const double middle = evaluate(shown_surface(w), 0.5, 0.5).z;
  CHECK(middle == Approx(way.z * 2.0 / 3.0).epsilon(0.03));
  for (double t = 0.0; t <= 1.0; t += 0.1) {
    CHECK(std::abs(evaluate(shown_surface(w), t, 0.0).z) < 1e-9);
    CHECK(std::abs(evaluate(shown_surface(w), 1.0, t).z) < 1e-9);
  }
  // A point beside a held edge does not move.
  const std::string pulled = to_project_json(w.window.model().document());
  w.drag(w.point({1, 0, 0, 0}), {0, -40});
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == pulled);
  w.window.model().undo();
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == flat);
  w.window.model().redo();
  w.settle();

  // More points keep the form; the file keeps everything.
  QSpinBox* points = evenclay::testing::child_of<QSpinBox>(w.window, "points");
  points->setFocus();
  points->setValue(11);
  w.settle();
  CHECK(evaluate(shown_surface(w), 0.5, 0.5).z == Approx(middle).epsilon(0.03));
  REQUIRE(w.window.editor().net()->shown.nets[1].count(0) == 11);
  const QTemporaryDir folder;
  const QString file = folder.filePath("guided.evenclay");
  save_project(w.window.model().document(), file.toStdString());
  const std::string kept = to_project_json(w.window.model().document());
  w.window.model().open(file);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == kept);
}

TEST_CASE("guides on both sides move with their partners under live symmetry") {
  Window w(false);
  begin(w);
  const StepId step = w.window.model().chosen_step();
  w.window.model().change_parameter(step, "places", "20", "Places", "");
  w.window.model().change_parameter(step, "both_sides", "true", "Both sides", "");
  w.key(Qt::Key_Return);
  w.settle();
  REQUIRE(w.window.editor().net()->shown.nets.size() == 2);
  w.window.editor().set_symmetry(SymmetryPlane::XZ);
  w.settle();
  w.window.editor().pick({{0, 3, 0, 0}});
  w.window.editor().move_by({MoveDirection::Z, 6.0, {}});
  w.settle();
  const Surface& s = shown_surface(w);
  CHECK(evaluate(s, 0.5, 0.2).z == Approx(4.0).epsilon(0.05));
  for (double u = 0.05; u < 1.0; u += 0.1)
    for (double v = 0.05; v < 0.5; v += 0.1)
      CHECK(evaluate(s, u, v).z == Approx(evaluate(s, u, 1.0 - v).z).margin(1e-9));
}
