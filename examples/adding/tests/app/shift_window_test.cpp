// The sample operation in the real window: rail, search, panel, trial, undo, saving.
#include <QDoubleSpinBox>
#include <catch2/catch.hpp>

#include "app/window_fixture.h"
#include "core/document/project_json.h"

using namespace evenclay;
using namespace evenclay::testing;

TEST_CASE("the sample operation came with everything") {
  Window w;
  const auto lowest = [&] { return w.window.model().gauges()->box.min.z; };
  w.settle();
  const double before = lowest();
  const std::string document = to_project_json(w.window.model().document());
  w.window.run("shift");
  w.settle();
  REQUIRE(w.window.model().trial());
  auto* field = w.window.findChild<QDoubleSpinBox*>("z");
  REQUIRE(field != nullptr);
  CHECK(field->value() > 0.0);  // suited to the form
  field->setValue(25.0);
  w.settle();
  CHECK(lowest() == Approx(before + 25.0).margin(1e-6));
  w.key(Qt::Key_Return);
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  CHECK(to_project_json(w.window.model().document()).find("\"shift\"") != std::string::npos);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  w.settle();
  CHECK(to_project_json(w.window.model().document()) == document);
}
