// Formulas, units and changes typed into the fields of the settings and into the field in the view.
#include <QDoubleSpinBox>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

#include "app/window_fixture.h"
#include "core/document/project_json.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

template <typename Spin>
void type_into(Window& w, const char* field, const QString& text) {
  auto* box = w.window.findChild<Spin*>(field);
  REQUIRE(box != nullptr);
  box->setFocus();
  box->selectAll();
  QTest::keyClicks(box, text);
  QTest::keyClick(box, Qt::Key_Return);
  w.settle();
}

const Step& step(Window& w, std::size_t k) {
  return find_part(w.window.model().document(), "Shell")->steps[k];
}

double radius(Window& w) {
  return w.window.findChild<QDoubleSpinBox*>("radius")->value();
}

QString message(Window& w) {
  return w.window.findChild<QLabel*>("message")->text();
}

}  // namespace

TEST_CASE("a settings field takes lengths with units, sums, and changes to what is there") {
  Window w;
  w.choose("Shell", 0);
  type_into<QDoubleSpinBox>(w, "radius", "2in");
  CHECK(radius(w) == Approx(50.8).epsilon(1e-12));
  type_into<QDoubleSpinBox>(w, "radius", "+1.2");
  CHECK(radius(w) == Approx(52.0).epsilon(1e-12));
  type_into<QDoubleSpinBox>(w, "radius", "3 cm + 20");
  CHECK(radius(w) == Approx(50.0).epsilon(1e-12));
  CHECK(step(w, 0).formulas.empty());
  w.choose("Shell", 1);
  type_into<QSpinBox>(w, "points_u", "4 * 3");
  CHECK(w.gauge("gauge_points").contains("12 × 8"));
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(w.gauge("gauge_points").contains("10 × 8"));
}

TEST_CASE("a field follows a named number, shows that it does, and lets go of it when typed over") {
  Window w;
  // The project has a number, as the runner or another designer left it.
  w.window.model().commit(with_number(w.window.model().document(), "size", "96"), "Number");
  w.choose("Shell", 0);
  type_into<QDoubleSpinBox>(w, "radius", "size/2+2");
  CHECK(radius(w) == Approx(50.0).epsilon(1e-12));
  CHECK(step(w, 0).formulas.at("radius") == "size/2+2");
  auto* box = w.window.findChild<QDoubleSpinBox*>("radius");
  CHECK(box->prefix() == "= ");
  CHECK(box->toolTip().contains("size/2+2"));
  w.window.model().commit(with_number(w.window.model().document(), "size", "100"), "Number");
  w.settle();
  CHECK(radius(w) == Approx(52.0).epsilon(1e-12));
  type_into<QDoubleSpinBox>(w, "radius", "51");
  CHECK(radius(w) == Approx(51.0).epsilon(1e-12));
  CHECK(step(w, 0).formulas.empty());
  CHECK(box->prefix().isEmpty());
}

TEST_CASE("what a field does not understand is said and changes nothing") {
  Window w;
  w.choose("Shell", 0);
  const std::string before = to_project_json(w.window.model().document());
  type_into<QDoubleSpinBox>(w, "radius", "2 * width");
  CHECK(message(w).contains("width"));
  CHECK(radius(w) == 52.0);
  type_into<QDoubleSpinBox>(w, "radius", "5 +* 2");
  CHECK(message(w).contains("not understood"));
  type_into<QDoubleSpinBox>(w, "radius", "1 / 0");
  CHECK(message(w).contains("no number"));
  CHECK(to_project_json(w.window.model().document()) == before);
}

TEST_CASE("the field in the view takes the same, and a plus counts from where the point is") {
  Window w;
  w.window.editor().pick({{0, 2, 4}});
  w.window.editor().set_leader({0, 2, 4});
  w.window.editor().set_symmetry(SymmetryPlane::None);
  w.settle();
  const auto at = [&] { return w.window.editor().net()->shown.point({0, 2, 4}); };
  const auto type = [&](const QString& text) {
    auto* field = w.window.findChild<QLineEdit*>("typed_distance");
    REQUIRE(field->isVisible());
    field->selectAll();
    QTest::keyClicks(field, text);
    QTest::keyClick(field, Qt::Key_Return);
    w.settle();
  };
  const double z = at().z;
  w.window.view().ask_coordinate(2);
  type("+0.5");
  CHECK(at().z == Approx(z + 0.5).epsilon(1e-12));
  w.window.view().ask_coordinate(0);
  type("1cm / 4");
  CHECK(at().x == Approx(2.5).epsilon(1e-12));
  w.window.view().ask_coordinate(0);
  type("2,5");
  CHECK(at().x == Approx(2.5).epsilon(1e-12));
  w.window.view().ask_coordinate(1);
  type("nonsense");
  CHECK(message(w).contains("nonsense"));
}
