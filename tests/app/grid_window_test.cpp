// The Grid stage in the real window: plot, colours, overlay, picked places, copies, several parts.
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QLabel>
#include <QSpinBox>
#include <QTemporaryDir>

#include "app/panels/count_plot.h"
#include "app/window_fixture.h"
#include "core/document/project_file.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"
#include "core/operations/directions.h"
#include "core/operations/grid_line.h"
#include "core/operations/lighten.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

const Step& last_step(Window& w, const char* part) {
  return find_part(w.window.model().document(), std::string_view(part))->steps.back();
}

template <typename T>
const T& operation(const Step& step) {
  const auto* o = dynamic_cast<const T*>(step.operation.get());
  REQUIRE(o != nullptr);
  return *o;
}

// Pictures of the model view with its overlay.
QImage picture(Window& w) {
  return w.window.view().grab().toImage();
}

double share_of_blue_and_orange(const QImage& image) {
  int coloured = 0;
  int all = 0;
  for (int y = 160; y < image.height() - 140; y += 3)
    for (int x = 200; x < image.width() - 40; x += 3, ++all) {
      const QColor c(image.pixel(x, y));
      if (c.blue() > c.red() + 25 || c.red() > c.blue() + 90) ++coloured;
    }
  return static_cast<double>(coloured) / all;
}

QPoint on_screen(Window& w, const Vec3& at) {
  ModelView& v = w.window.view();
  return to_screen(v.camera(ViewName::Main), v.viewport(0), at).at.toPoint();
}

void move_to(Window& w, const QPoint& at) {
  ModelView* v = &w.window.view();
  QMouseEvent move(QEvent::MouseMove, QPointF(at), v->mapToGlobal(QPointF(at)), Qt::NoButton,
                   Qt::NoButton, {});
  QApplication::sendEvent(v, &move);
}

const Surface& shown(Window& w) {
  return *std::get<Body>(*w.window.model().answer()->shown).faces.front().surface;
}

}  // namespace

TEST_CASE("the plot of Rebuild marks the choice, and a click on it takes another count") {
  Window w;
  w.choose("Shell", 1);
  auto* plot = w.window.findChild<CountPlot*>("count_plot");
  REQUIRE(plot != nullptr);
  REQUIRE(plot->isVisible());
  REQUIRE(w.window.model().plot());
  const auto places = *w.window.model().plot();
  REQUIRE(places.size() > 8);
  const std::size_t later = places.size() - 4;
  QTest::mouseClick(plot, Qt::LeftButton, {}, plot->place_of(later).toPoint());
  w.settle();
  const auto& rebuild = operation<RebuildOperation>(
      find_part(w.window.model().document(), std::string_view("Shell"))->steps[1]);
  CHECK(rebuild.points_u == places[later].points_u);
  CHECK(rebuild.points_v == places[later].points_v);
  // The gauge agrees with what the plot promised, within its coarser sampling.
  const double promised = places[later].max;
  const double measured = w.window.model().gauges()->deviation->max;
  CHECK(measured == Approx(promised).epsilon(0.1));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(shown(w).points.rows() == 10);
  w.choose("Shell", 2);
  CHECK_FALSE(plot->isVisible());
}

TEST_CASE(
    "pressing Off before colours the surface by its distance, and pressing again puts it away") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.choose("Shell", 1);
  for (const char* part : {"Grille", "Dimple tile"}) {
    const Part* p = find_part(w.window.model().document(), std::string_view(part));
    w.window.model().commit(with_look(w.window.model().document(), p->id, {p->look.colour, false}),
                            "hide");
  }
  w.settle();
  const QImage plain = picture(w);
  auto* card = w.window.findChild<GaugeCard*>("gauge_deviation");
  QTest::mouseClick(card, Qt::LeftButton);
  w.settle();
  CHECK(w.window.view().settings().look == ModelLook::Deviation);
  const auto& drawn = w.window.model().drawn().at(w.window.model().chosen_part());
  REQUIRE(drawn.deviation);
  CHECK(drawn.deviation->values.size() == drawn.mesh->vertices.size() / 6);
  CHECK(drawn.deviation->reach == Approx(w.window.model().gauges()->deviation->max).epsilon(0.02));
  const QImage coloured = picture(w);
  CHECK(share_of_blue_and_orange(coloured) > share_of_blue_and_orange(plain) + 0.03);
  QTest::mouseClick(card, Qt::LeftButton);
  w.settle();
  CHECK(w.window.view().settings().look == ModelLook::Clay);
}

TEST_CASE("colours follow a drag") {
  Window w;
  w.window.view().set(&ViewSettings::look, ModelLook::Deviation);
  w.settle();
  const PartId shell = w.window.model().chosen_part();
  const std::vector<float> before = w.window.model().drawn().at(shell).deviation->values;
  w.window.editor().set_direction(MoveDirection::OffSkin);
  const QPoint at = w.point({0, 8, 4});
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, at);
  w.drag(at, {-60, -30});
  w.settle();
  const std::vector<float> after = w.window.model().drawn().at(shell).deviation->values;
  CHECK(after != before);
}

TEST_CASE("holding H lays the shape before the step over it") {
  Window w;
  w.window.editor().set_net_visible(false);
  w.settle();
  const QImage without = picture(w);
  QTest::keyPress(&w.window.view(), Qt::Key_H);
  w.settle();
  REQUIRE(w.window.model().before_mesh());
  const QImage with = picture(w);
  QTest::keyRelease(&w.window.view(), Qt::Key_H);
  w.settle();
  const QImage after = picture(w);
  const auto differing = [](const QImage& a, const QImage& b) {
    int n = 0;
    for (int y = 0; y < a.height(); y += 2)
      for (int x = 0; x < a.width(); x += 2)
        if (std::abs(qGray(a.pixel(x, y)) - qGray(b.pixel(x, y))) > 8) ++n;
    return n;
  };
  CHECK(differing(without, with) > 400);
  CHECK(differing(without, after) == 0);
  CHECK_FALSE(w.window.view().settings().before_overlay);
}

TEST_CASE("the evenness gauge colours the legs of the net by their length") {
  Window w;
  w.window.view().set(&ViewSettings::side_views, false);
  const QImage plain = picture(w);
  QTest::mouseClick(w.window.findChild<GaugeCard*>("gauge_evenness"), Qt::LeftButton);
  QTest::qWait(60);
  CHECK(w.window.view().settings().leg_colours);
  CHECK(picture(w) != plain);
  w.window.run("leg_colours");
  CHECK_FALSE(w.window.view().settings().leg_colours);
}

TEST_CASE("a grid line goes where the surface is clicked, and the shape stays") {
  Window w;
  w.window.run("add_grid_line");
  w.settle();
  REQUIRE(w.window.model().trial());
  const Surface below = *std::get<Body>(*w.window.model().answer()->before).faces.front().surface;
  // A place that is seen from the front left: found on the surface itself.
  const double u = 0.72;
  const double v = 0.46;
  const Vec3 at = evaluate(below, below.u.first() + u * below.u.length(),
                           below.v.first() + v * below.v.length());
  const QPoint pixel = on_screen(w, at);
  move_to(w, pixel);
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, pixel);
  w.settle();
  const auto& line = operation<AddGridLineOperation>(last_step(w, "Shell"));
  const Vec3 picked = evaluate(below, below.u.first() + line.on.u * below.u.length(),
                               below.v.first() + line.on.v * below.v.length());
  CHECK(distance(picked, at) < 1.0);  // a pixel is about 0.2 mm
  CHECK(shown(w).points.same_size(11, 9));
  CHECK(w.window.model().gauges()->deviation->max < 1e-9);
  w.key(Qt::Key_Return);
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  // Kept, the same place can be taken away again.
  w.window.run("remove_grid_line");
  w.settle();
  const QPoint again = on_screen(w, picked);
  QTest::mouseClick(&w.window.view(), Qt::LeftButton, {}, again);
  w.settle();
  CHECK(shown(w).points.same_size(10, 9));
  CHECK(w.window.model().gauges()->deviation->max < 1e-6);
  w.key(Qt::Key_Escape);
  w.settle();
  CHECK(shown(w).points.same_size(11, 9));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(shown(w).points.same_size(10, 8));
}

TEST_CASE("dragging over the surface moves the place of a split live") {
  Window w;
  w.window.run("split_surface");
  w.settle();
  REQUIRE(w.window.model().trial());
  const auto start = operation<SplitSurfaceOperation>(last_step(w, "Shell")).on.v;
  CHECK(operation<SplitSurfaceOperation>(last_step(w, "Shell")).along == AlongDirection::V);
  const QPoint from = on_screen(w, {0, -46, 4});
  w.drag(from, {0, -70});
  w.settle();
  const auto now = operation<SplitSurfaceOperation>(last_step(w, "Shell")).on.v;
  CHECK(now != Approx(start));
  CHECK(now > 0.5);
  CHECK(std::get<Body>(*w.window.model().answer()->shown).faces.size() == 2);
}

TEST_CASE("lighten says how many points are left and never leaves its tolerance") {
  Window w;
  w.window.run("lighten");
  w.settle();
  auto* tolerance = w.window.findChild<QDoubleSpinBox*>("tolerance");
  REQUIRE(tolerance != nullptr);
  tolerance->setValue(0.5);
  w.settle();
  auto* message = w.window.findChild<QLabel*>("step_message");
  CHECK(message->isVisible());
  CHECK(message->text().contains("control points became"));
  CHECK(w.window.model().gauges()->deviation->max <= 0.5);
  const auto coarse = shown(w).points.values().size();
  tolerance->setValue(2.0);
  w.settle();
  CHECK(w.window.model().gauges()->deviation->max <= 2.0);
  CHECK(shown(w).points.values().size() <= coarse);
  w.key(Qt::Key_Escape);
}

TEST_CASE("every grid tool previews, is kept, undone, saved and opened again") {
  Window w;
  const QTemporaryDir folder;
  for (const char* tool : {"rebuild", "lighten", "set_degree", "even_out", "add_grid_line",
                           "remove_grid_line", "split_surface", "open_close", "directions"}) {
    INFO(tool);
    w.choose("Shell", 2);
    const std::string before = to_project_json(w.window.model().document());
    REQUIRE(w.window.run(tool));
    w.settle();
    REQUIRE(w.window.model().trial());
    const StepId step = w.window.model().chosen_step();
    const auto status = w.window.model().step_status().find(step);
    REQUIRE(status != w.window.model().step_status().end());
    INFO(status->second.message);
    CHECK_FALSE(status->second.failed);
    w.key(Qt::Key_Return);
    w.settle();
    const std::string kept = to_project_json(w.window.model().document());
    CHECK(kept != before);
    const QString file = folder.filePath(QString(tool) + ".evenclay");
    w.window.save_file(file);
    w.settle();
    CHECK(to_project_json(open_project(file.toStdString(), make_operation)) == kept);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    CHECK(to_project_json(w.window.model().document()) == before);
  }
}

TEST_CASE("extend says why a closed form has no edge, and grows the edges of an open one") {
  Window w;
  w.choose("Dimple tile", 2);
  w.window.run("extend");
  w.settle();
  auto* all = w.window.findChild<QDoubleSpinBox*>("all");
  all->setValue(1.0);
  w.settle();
  const Box3 box = w.window.model().gauges()->box;
  CHECK(box.max.x - box.min.x == Approx(10.0).epsilon(0.05));  // the mean length is 1 mm each side
  CHECK(w.window.findChild<QLabel*>("step_message")->text().contains("same curvature"));
  w.key(Qt::Key_Escape);
  w.settle();
  w.choose("Shell", 2);
  w.window.run("extend");
  w.settle();
  auto* end = w.window.findChild<QDoubleSpinBox*>("u_end");
  end->setValue(2.0);
  w.settle();
  CHECK(w.window.findChild<QLabel*>("step_message")->text().contains("u is closed"));
  w.key(Qt::Key_Escape);
}

TEST_CASE("a rebuild as a new part keeps the old part") {
  Window w;
  w.choose("Shell", 2);
  const auto steps =
      find_part(w.window.model().document(), std::string_view("Shell"))->steps.size();
  w.window.run("rebuild");
  w.settle();
  auto* box = w.window.findChild<QCheckBox*>("as_new_part");
  REQUIRE(box->isVisible());
  QTest::mouseClick(box, Qt::LeftButton, {}, {8, box->height() / 2});
  w.settle();
  REQUIRE(w.window.model().document().parts.size() == 5);
  CHECK(find_part(w.window.model().document(), std::string_view("Shell"))->steps.size() == steps);
  auto* points_u = w.window.findChild<QSpinBox*>("points_u");
  points_u->setValue(20);
  w.settle();
  CHECK(shown(w).points.rows() == 20);
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(w.window.model().document().parts.size() == 5);
  CHECK(w.window.model().document().parts.back().steps.size() == 2);
  CHECK_FALSE(find_part(w.window.model().document(), std::string_view("Shell"))->look.visible);
  // The copy follows its part.
  const double volume = *w.window.model().gauges()->volume;
  Document d = with_setting(w.window.model().document(), "Shell/Sphere.radius=56");
  w.window.model().commit(d, "radius");
  w.settle();
  CHECK(*w.window.model().gauges()->volume > volume * 1.1);
}

TEST_CASE("the grid changes under finished shaping and the shape is kept") {
  Window w;
  const Surface finished = shown(w);
  w.choose("Shell", 1);
  w.window.findChild<QSpinBox*>("points_u")->setValue(14);
  w.window.findChild<QSpinBox*>("points_v")->setValue(10);
  w.settle();
  w.choose("Shell", 2);
  CHECK(shown(w).points.same_size(14, 10));
  Progress p;
  const Surface now = shown(w);
  const Deviation d = deviation(finished, now, p);
  CHECK(d.max < 0.6);
  CHECK(d.mean < 0.1);
  // The gauge and the step say what remains.
  auto* kept = w.window.findChild<GaugeCard*>("gauge_kept");
  CHECK(kept->isVisible());
  CHECK(kept->value().startsWith("0."));
  CHECK(w.window.findChild<QLabel*>("step_message")->text().contains("kept on a grid of 14 × 10"));
  // Shaping goes on, on the new grid.
  w.window.editor().pick({{0, 3, 5}});
  REQUIRE(w.window.editor().move_by({MoveDirection::Z, 2.0, {}}));
  w.settle();
  CHECK_FALSE(kept->isVisible());
  CHECK(shown(w).points(3, 5).z == Approx(now.points(3, 5).z + 2.0).epsilon(1e-9));
}

TEST_CASE("several parts are rebuilt and lightened at once with common borders") {
  Window w(false);
  AppModel& m = w.window.model();
  // Two sheets that meet along x = 0, bent alike there; the second runs the other way.
  Document d;
  for (const auto& [name, x] : {std::pair{"Left", -20.0}, {"Right", 20.0}}) {
    auto plane = std::make_shared<PlaneOperation>();
    plane->length_x = 40;
    plane->length_y = 60;
    plane->centre = {x, 0, 0};
    const Added added = with_part(d, name, plane);
    d = added.document;
    if (x > 0) {
      auto turned = std::make_shared<DirectionsOperation>();
      turned->swap = true;
      d = with_step(d, added.part, turned).document;
    }
  }
  m.commit(d, "two sheets");
  w.settle();
  w.click(w.part_row(0));
  w.click(w.part_row(1), Qt::ControlModifier);
  w.settle();
  REQUIRE(m.picked_parts().size() == 2);
  w.window.run("rebuild");
  w.settle();
  CHECK(m.trial_parts() == 2);
  w.window.findChild<QSpinBox*>("points_u")->setValue(6);
  w.window.findChild<QSpinBox*>("points_v")->setValue(9);
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  // v runs along the border on the part chosen last, u on the other: 9 points on both.
  const auto rebuilt = [&](std::size_t part) {
    return operation<RebuildOperation>(m.document().parts[part].steps.back());
  };
  CHECK(rebuilt(0).points_v == rebuilt(1).points_u);
  Progress p;
  const Evaluation e = Evaluator().evaluate(m.document(), p);
  const auto surface = [&](std::size_t part) {
    return *std::get<Body>(*e.parts.at(m.document().parts[part].id).shape).faces.front().surface;
  };
  const Surface left = surface(0);
  const Surface right = surface(1);
  for (int k = 0; k < left.points.columns(); ++k)
    CHECK(distance(left.points(left.points.rows() - 1, k), right.points(k, 0)) < 1e-9);
  // One undo takes the step from both.
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(m.document().parts[0].steps.size() == 1);
  CHECK(m.document().parts[1].steps.size() == 2);
  // Lighten on both, kept.
  w.window.run("lighten");
  w.settle();
  REQUIRE(m.trial_parts() == 2);
  w.key(Qt::Key_Return);
  w.settle();
  CHECK(operation<LightenOperation>(m.document().parts[0].steps.back()).least_v ==
        operation<LightenOperation>(m.document().parts[1].steps.back()).least_u);
}
