// Meshes made into surfaces in the window, gaps along other parts, and the brow of the demo that follows its number.
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFile>
#include <QLabel>
#include <QSlider>
#include <QSpinBox>
#include <QToolButton>

#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/edge_edit.h"
#include "core/operations/catalogue.h"
#include "trial_support.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

double volume_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += volume(f, progress);
  return sum;
}

template <typename Field>
void type_into(Window& w, const char* name, const QString& text) {
  auto* field = child_of<Field>(w.window, name);
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, text);
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
}

// A wedge of triangles as a file: its sides are a rectangle, two squares' halves, and so on; all edges are sharp.
QString wedge_file(const QTemporaryDir& folder) {
  const QString name = folder.filePath("wedge.obj");
  QFile file(name);
  REQUIRE(file.open(QIODevice::WriteOnly));
  file.write(
      "v 0 0 0\nv 40 0 0\nv 0 30 0\nv 0 0 20\nv 40 0 20\nv 0 30 20\n"
      "f 1 3 2\nf 4 5 6\nf 1 2 5\nf 1 5 4\nf 2 3 6\nf 2 6 5\nf 3 1 4\nf 3 4 6\n");
  return name;
}

}  // namespace

TEST_CASE("a mesh brought in becomes surfaces by one tool, is joined, and all of it is undone") {
  Window w(false);
  const QTemporaryDir folder;
  w.window.bring_in(wedge_file(folder));
  w.settle();
  REQUIRE(std::holds_alternative<TriangleMesh>(*w.window.model().answer()->shown));
  w.window.stages().open(Stage::Grid);
  press(w, "convert");
  CHECK(message(w).contains("became 5 surfaces: at most 0.0000 mm off it"));
  CHECK(message(w).contains("2 of them are cut to the borders of their regions"));
  type_into<QSpinBox>(w, "points_u", "5");
  CHECK(shown(w).faces.at(0).surface->points.rows() == 5);
  // Beyond a right angle the sides hang together, and turn too much for one surface each.
  type_into<QDoubleSpinBox>(w, "sharp", "10");
  CHECK(shown(w).faces.size() == 5);
  keep(w);
  Progress progress;
  double skin = 0.0;
  for (const Face& f : shown(w).faces) skin += area(f, progress);
  // Two triangles of 40 × 30 / 2, and 20 high walls along 40, 30 and 50.
  CHECK(skin == Approx(2 * 600.0 + 20.0 * (40 + 30 + 50)).epsilon(1e-4));

  w.window.stages().open(Stage::CutAndJoin);
  press(w, "close_solid");
  INFO(message(w).toStdString());
  REQUIRE_FALSE(w.window.model().step_status().at(w.window.model().chosen_step()).failed);
  CHECK(topology(with_edges(shown(w))).closed);
  keep(w);
  CHECK(volume_of(shown(w)) == Approx(600.0 * 20.0).epsilon(1e-4));
  while (w.window.model().session().can_undo()) w.window.model().undo();
  w.settle();
  CHECK(w.window.model().document().parts.empty());
}

TEST_CASE("a ball is split along a sheet with a gap that is typed") {
  Window w(false);
  const PartId sheet = add_part(w, "Sheet", "plane", {{"length_x", "90"}, {"length_y", "90"}});
  add_part(w, "Ball", "sphere", {{"radius", "20"}});
  w.window.stages().open(Stage::CutAndJoin);
  press(w, "split_part");
  auto* by = child_of<QComboBox>(w.window, "by");
  by->setCurrentIndex(0);
  Q_EMIT by->activated(0);
  w.settle();
  w.window.model().change_parameter(w.window.model().chosen_step(), "part", std::to_string(sheet),
                                    "Part", "");
  w.settle();
  INFO(message(w).toStdString());
  CHECK(message(w).contains("2 pieces stay"));
  type_into<QDoubleSpinBox>(w, "gap", "4");
  INFO(message(w).toStdString());
  CHECK(message(w).contains("1 taken away"));
  CHECK(topology(with_edges(shown(w))).closed);
  // What lies between 2 mm and the top of a ball of 20 mm: π (2/3 r³ − r² h + h³ / 3), twice.
  const double pi = 3.14159265358979, h = 2.0, r = 20.0;
  CHECK(volume_of(shown(w)) ==
        Approx(2.0 * pi * (2.0 / 3.0 * r * r * r - r * r * h + h * h * h / 3.0)).epsilon(1e-5));
  keep(w);
  w.window.run("undo");
  w.settle();
  CHECK(shown(w).faces.size() == 1);
}

TEST_CASE("the brow of the demo follows its number's slider, and the shell keeps its names") {
  Window w(false);
  w.window.model().open_demo();
  w.settle();
  const Part* shell = find_part(w.window.model().document(), std::string_view("Shell"));
  std::size_t brow = 0;
  while (brow < shell->steps.size() && shell->steps[brow].name != "Brow") ++brow;
  REQUIRE(brow < shell->steps.size());
  w.choose("Shell", brow);
  const Tag before = shown(w).faces.at(0).tag;
  const auto point = [&] { return shown(w).faces.at(0).surface->points(0, 5); };
  const Vec3 first = point();
  w.window.run("numbers");
  auto* slider = child_of<QSlider>(w.window, "slider_lift");
  slider->setSliderDown(true);
  for (const int place : {650, 700, 800}) slider->setValue(place);
  CHECK(w.window.model().dragging());
  slider->setSliderDown(false);
  w.settle();
  // 800 of 1000 places between 0 and 15 mm: 12 mm, three more than before, off the skin.
  CHECK(distance(point(), first) == Approx(3.0).margin(1e-6));
  CHECK(shown(w).faces.at(0).tag == before);
  CHECK(w.window.model().session().undo_label() == "Change lift");
  w.window.run("undo");
  w.settle();
  CHECK(distance(point(), first) < 1e-12);
}
