// Units shown, the button that turns the view, and how often unsaved work is copied.
#include <QComboBox>
#include <QSettings>
#include <QSpinBox>
#include <cmath>

#include "app/look/preferences.h"
#include "app/panels/formula_spin.h"
#include "core/operations/sphere.h"
#include "window_fixture.h"

using namespace evenclay;
using evenclay::testing::Window;

namespace {

// Puts the preferences back, whatever a test does.
struct AsDelivered {
  ~AsDelivered() { look::set_preferences({}); }
};

template <typename T>
T* child(Window& w, const char* name) {
  return evenclay::testing::child_of<T>(w.window, name);
}

double radius(Window& w) {
  const Step& s = w.window.model().document().parts[0].steps[0];
  return dynamic_cast<const SphereOperation&>(*s.operation).radius;
}

QString text(const char* words) {
  return QString::fromUtf8(words);
}

}  // namespace

// 1 in = 25.4 mm exactly (international inch, 1959).
TEST_CASE("lengths, areas and volumes in a text are shown in inches and centimetres") {
  using look::LengthUnit;
  const auto inches = [](const char* words) {
    return look::in_unit(text(words), LengthUnit::Inch);
  };
  CHECK(inches("25.4 mm") == "1.00 in");
  CHECK(inches("radius 254 mm, 3 faces") == "radius 10.0 in, 3 faces");
  CHECK(inches("98.9 · 99.4 · 85.4 mm") == text("3.89 · 3.91 · 3.36 in"));
  CHECK(inches("use 25.4 to 50.8 mm") == "use 1.00 to 2.00 in");
  CHECK(inches("6\u202F451.6 mm²") == text("10.0000 in²"));
  CHECK(inches("16.387064 cm³") == text("1.0000000 in³"));
  CHECK(inches("−2.54 mm") == text("−0.100 in"));
  CHECK(inches("±0.05 mm") == text("±0.002 in"));
  // What is no length stays.
  for (const char* words : {"10 × 8, degree 3", "5 %", "12 min", "comma 3", "0.5°", "x4 mmx"})
    CHECK(inches(words) == text(words));
  CHECK(look::in_unit(text("12.5 mm · 3 mm²"), LengthUnit::Centimetre) ==
        text("1.25 cm · 0.03 cm²"));
  CHECK(look::in_unit(text("12.5 mm"), LengthUnit::Millimetre) == "12.5 mm");
}

TEST_CASE("fields and gauges follow the shown unit, and what is typed is in it") {
  const AsDelivered after;
  Window w;
  w.choose("Shell", 0);
  CHECK(w.gauge("gauge_size").endsWith("mm"));
  w.window.run("preferences");
  auto* unit = child<QComboBox>(w, "shown_unit");
  unit->setFocus();
  QTest::keyClick(unit, Qt::Key_End);  // inches
  w.settle();
  REQUIRE(look::preferences().unit == look::LengthUnit::Inch);
  CHECK(w.gauge("gauge_size").endsWith("in"));
  auto* field = child<QDoubleSpinBox>(w, "radius");
  CHECK(field->suffix() == " in");
  CHECK(field->text().contains("2.0472"));  // 52 / 25.4
  const double before = radius(w);
  CHECK(before == Approx(52.0));  // showing changes nothing
  field->setFocus();
  field->selectAll();
  QTest::keyClicks(field, "2.5");
  QTest::keyClick(field, Qt::Key_Return);
  w.settle();
  CHECK(radius(w) == Approx(63.5).margin(0.001));
  // A change, a formula, and another unit.
  for (const auto& [typed, wanted] :
       {std::pair{"+0.1", 66.04}, std::pair{"30 + 10", 40.0}, std::pair{"5 cm", 50.0}}) {
    field = child<QDoubleSpinBox>(w, "radius");
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, typed);
    QTest::keyClick(field, Qt::Key_Return);
    w.settle();
    INFO(typed);
    CHECK(radius(w) == Approx(wanted).margin(0.001));
  }
  unit->setCurrentIndex(0);
  w.settle();
  CHECK(child<QDoubleSpinBox>(w, "radius")->text().contains("50.000 mm"));
  CHECK(w.gauge("gauge_size").endsWith("mm"));
}

TEST_CASE("lengths of cards and limits are in the shown unit, too") {
  const AsDelivered after;
  Window w;
  w.choose("Shell", 0);
  look::set_preferences({look::LengthUnit::Inch});
  const auto type = [&](QDoubleSpinBox* field, const char* words) {
    field->setFocus();
    field->selectAll();
    QTest::keyClicks(field, words);
    QTest::keyClick(field, Qt::Key_Return);
    w.settle();
  };
  // The place of the section: an inch is 25.4 mm, and other units may be typed.
  w.window.run("section_view");
  QTest::qWait(30);
  auto* place = child<QDoubleSpinBox>(w, "section_place");
  CHECK(place->suffix() == " in");
  const auto cut_at = [&] { return std::abs(w.window.view().settings().section.d); };
  type(place, "1");
  CHECK(cut_at() == Approx(25.4).margin(1e-6));
  type(place, "2 cm");
  CHECK(cut_at() == Approx(20.0).margin(1e-6));
  CHECK(place->text().startsWith("0.787"));  // 20 / 25.4
  // What is no length changes nothing.
  type(place, "wide");
  CHECK(cut_at() == Approx(20.0).margin(1e-6));

  // Limits of a gauge of lengths; those of a share stay as they are.
  auto* radius = child<GaugeCard>(w, "gauge_radius");
  QContextMenuEvent menu(QContextMenuEvent::Mouse, {5, 5}, radius->mapToGlobal(QPoint(5, 5)));
  QApplication::sendEvent(radius, &menu);
  auto* caution = child<QDoubleSpinBox>(w, "limit_caution");
  CHECK(caution->suffix() == " in");
  type(caution, "3");  // the sphere's radius is 52 mm, some 2 inches
  CHECK(radius->limits()->caution == Approx(76.2));
  CHECK(radius->property("level").toString() == "caution");
  child<QWidget>(w, "limits")->close();
  QSettings().remove("limits");

  // Fields that are open while the unit changes take it when they are shown again.
  look::set_preferences({});
  w.window.view().set(&ViewSettings::section_view, false);
  QTest::qWait(30);
  w.window.view().set(&ViewSettings::section_view, true);
  QTest::qWait(30);
  CHECK(place->suffix() == " mm");
  CHECK(place->value() == Approx(-w.window.view().settings().section.d).margin(1e-9));
}

TEST_CASE("the right button turns the view when it is chosen, the middle one pans then") {
  const AsDelivered after;
  Window w;
  const auto dragged = [&](Qt::MouseButton button) {
    const Camera before = w.window.view().camera(ViewName::Main);
    ModelView* v = &w.window.view();
    const QPoint from(300, 300);
    QTest::mousePress(v, button, {}, from);
    QMouseEvent move(QEvent::MouseMove, QPointF(340, 310), v->mapToGlobal(QPointF(340, 310)),
                     Qt::NoButton, button, {});
    QApplication::sendEvent(v, &move);
    QTest::mouseRelease(v, button, {}, QPoint(340, 310));
    w.settle();
    const Camera now = w.window.view().camera(ViewName::Main);
    return std::pair{std::abs(now.yaw - before.yaw) > 1.0,
                     distance(now.target, before.target) > 0.1};
  };
  CHECK(dragged(Qt::MiddleButton) == std::pair{true, false});
  CHECK(dragged(Qt::RightButton) == std::pair{false, false});
  w.window.run("preferences");
  child<QComboBox>(w, "turn_button")->setCurrentIndex(1);
  CHECK(dragged(Qt::RightButton) == std::pair{true, false});
  CHECK(dragged(Qt::MiddleButton) == std::pair{false, true});
}

TEST_CASE("preferences are kept for the next start, inside their ranges") {
  const AsDelivered after;
  look::set_preferences({look::LengthUnit::Centimetre, look::TurnButton::Right, 5000});
  CHECK(look::preferences().recovery_seconds == 600);
  const QSettings kept;
  CHECK(kept.value("unit").toInt() == 1);
  CHECK(kept.value("turn_button").toInt() == 1);
  CHECK(kept.value("recovery_seconds").toInt() == 600);
}
