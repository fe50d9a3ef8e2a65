// Steps on trial in a window test: tools pressed, what is shown, and keeping.
#pragma once

#include <QLabel>
#include <QToolButton>

#include "core/operations/catalogue.h"
#include "window_fixture.h"

namespace evenclay::testing {

// A part made by this step, given by kind and settings; chosen then.
struct Setting {
  const char* name;
  const char* value;
};
inline PartId add_part(Window& w, const char* name, const char* kind,
                       const std::vector<Setting>& settings) {
  OperationPtr source = make_operation(kind);
  for (const Setting& s : settings) source = with_parameter(*source, s.name, s.value);
  const Added added = with_part(w.window.model().document(), name, source);
  w.window.model().commit(added.document, "Add", {});
  w.window.model().choose_part(added.part);
  w.settle();
  return added.part;
}

inline const Body& shown(Window& w) {
  return std::get<Body>(*w.window.model().answer()->shown);
}

inline QString message(Window& w) {
  return child_of<QLabel>(w.window, "step_message")->text();
}

inline void press(Window& w, const char* action) {
  auto* tool = child_of<QToolButton>(w.window, QString("tool_%1").arg(action));
  REQUIRE(tool->isEnabled());
  tool->click();
  w.settle();
  REQUIRE(w.window.model().trial());
}

inline void keep(Window& w) {
  QTest::keyClick(&w.window.view(), Qt::Key_Return);
  w.settle();
  REQUIRE_FALSE(w.window.model().trial());
}

}  // namespace evenclay::testing
