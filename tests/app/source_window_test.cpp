// Sources in the window: surfaces from curves that follow, mirror and array, numbers with sliders.
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QSlider>
#include <QToolButton>
#include <numbers>

#include "core/document/project_json.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

template <typename T>
T* child(Window& w, const QString& name) {
  return evenclay::testing::child_of<T>(w.window, name);
}

double number_in(QString text) {
  text.remove(QChar(0x202F));
  return text.section(' ', 0, 0).toDouble();
}

}  // namespace

TEST_CASE("an extruded curve follows its points, and every step stays in the list") {
  Window w;
  w.choose("Knob ring", 2);
  w.window.run("extrude");
  w.settle();
  REQUIRE(w.window.model().trial());
  auto* length = child<QDoubleSpinBox>(w, "length");
  length->setFocus();
  length->selectAll();
  QTest::keyClicks(length, "10");
  w.settle();
  // Area of a straight wall: the curve's length times its height.
  w.key(Qt::Key_Return);
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  const double area = number_in(w.gauge("gauge_area"));
  w.choose("Knob ring", 2);
  const double around = number_in(w.gauge("gauge_area"));  // its length
  CHECK(area == Approx(10.0 * around).epsilon(0.01));
  // A point of the curve is dragged: the wall gets longer with it.
  w.window.view().bring_to_main(ViewName::Top);
  w.settle();
  w.window.editor().set_direction(MoveDirection::OffSkin);
  w.drag(w.point({0, 0, 0}), {80, 0});
  w.settle();
  const double longer = number_in(w.gauge("gauge_area"));
  CHECK(longer > around + 0.5);
  w.choose("Knob ring", 3);
  CHECK(number_in(w.gauge("gauge_area")) == Approx(10.0 * longer).epsilon(0.01));
}

TEST_CASE("revolve makes a torus of the opening's circle once it stands upright beside the axis") {
  Window w;
  w.window.run("source_circle");
  w.settle();
  child<QDoubleSpinBox>(w, "centre_x")->setValue(40);
  child<QDoubleSpinBox>(w, "radius")->setValue(12);
  w.window.model().change_parameter(w.window.model().chosen_step(), "plane", "xz", "Plane", "");
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  w.window.run("revolve");
  w.settle();
  w.key(Qt::Key_Return);
  w.settle();
  const double pi = std::numbers::pi;
  CHECK(number_in(w.gauge("gauge_volume")) ==
        Approx(2 * pi * pi * 40 * 144 / 1000.0).margin(0.06));  // cm³, Pappus
  CHECK(number_in(w.gauge("gauge_area")) == Approx(4 * pi * pi * 40 * 12).margin(1.0));
}

TEST_CASE("mirror and array stand in Cut & join and work on what is chosen") {
  Window w;
  w.window.stages().open(Stage::CutAndJoin);
  QTest::qWait(20);
  for (const char* id : {"mirror", "array"}) {
    const std::string before = to_project_json(w.window.model().document());
    auto* tool = w.window.stages().findChild<QToolButton*>(QString("tool_") + id);
    REQUIRE(tool != nullptr);
    REQUIRE(tool->isEnabled());
    QTest::mouseClick(tool, Qt::LeftButton);
    w.settle();
    CHECK(w.window.model().trial());
    w.key(Qt::Key_Escape);
    w.settle();
    CHECK(to_project_json(w.window.model().document()) == before);
  }
}

TEST_CASE("a number's slider moves what uses it live, and letting go is one undo") {
  Window w;
  w.choose("Shell", 0);
  w.window.run("numbers");
  child<QLineEdit>(w, "new_name")->setText("size");
  child<QLineEdit>(w, "new_text")->setText("50");
  QTest::mouseClick(child<QPushButton>(w, "add_number"), Qt::LeftButton);
  w.settle();
  REQUIRE(w.window.model().document().numbers.size() >= 1);
  w.window.model().change_parameter(w.window.model().chosen_step(), "radius", "size + 1", "Radius",
                                    "");
  w.settle();
  CHECK(w.gauge("gauge_size").startsWith("102.0"));
  auto* slider = child<QSlider>(w, "slider_size");
  const std::string before = to_project_json(w.window.model().document());
  slider->setSliderDown(true);
  for (const int place : {520, 560, 600}) slider->setValue(place);
  // Live, and not yet an entry.
  CHECK(w.window.model().dragging());
  CHECK(w.window.model().session().undo_label() != "Change size");
  slider->setSliderDown(false);
  w.settle();
  // 600 of 1000 places between 0 and twice the value: 60, so the radius is 61.
  CHECK(w.gauge("gauge_size").startsWith("122.0"));
  CHECK(w.window.model().session().undo_label() == "Change size");
  w.window.run("undo");
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);
  // Its ends are set by hand; a formula takes the slider away; what is used stays.
  auto* most = child<QLineEdit>(w, "most_size");
  most->setFocus();
  most->setText("200");
  QTest::keyClick(most, Qt::Key_Return);
  w.settle();
  CHECK(w.window.model().document().numbers.back().most == 200.0);
  child<QLineEdit>(w, "new_name")->setText("half");
  child<QLineEdit>(w, "new_text")->setText("size / 2");
  QTest::keyClick(child<QLineEdit>(w, "new_text"), Qt::Key_Return);
  w.settle();
  CHECK_FALSE(child<QSlider>(w, "slider_half")->isEnabled());
  QTest::mouseClick(child<QToolButton>(w, "remove_size"), Qt::LeftButton);
  w.settle();
  CHECK(child<QLabel>(w, "message")->text().contains("is used by"));
  QTest::mouseClick(child<QToolButton>(w, "remove_half"), Qt::LeftButton);
  w.settle();
  for (const NamedNumber& n : w.window.model().document().numbers) CHECK(n.name != "half");
}

TEST_CASE("something else in the middle of a slider's drag takes the drag back first") {
  Window w;
  w.window.model().commit(with_number(w.window.model().document(), "lift", "4"), "number");
  w.window.run("numbers");
  auto* slider = child<QSlider>(w, "slider_lift");
  const std::string before = to_project_json(w.window.model().document());
  slider->setSliderDown(true);
  slider->setValue(900);
  REQUIRE(w.window.model().dragging());
  w.choose("Grille", 0);
  CHECK_FALSE(w.window.model().dragging());
  CHECK(to_project_json(w.window.model().document()) == before);
  slider->setSliderDown(false);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == before);
}
