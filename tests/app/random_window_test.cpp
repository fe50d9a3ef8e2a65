// Whatever a restless hand does, the window answers, paints, and holds a document that can be saved.
#include <QWheelEvent>
#include <random>

#include "app/window_fixture.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

// One thousand and more things a hand may do, by chance; the seed is the test's own.
class RestlessHand {
 public:
  RestlessHand(Window& w, unsigned seed) : w_(w), random_(seed) {}

  void act() {
    switch (pick(10)) {
      case 0:
        press_and_move(Qt::LeftButton);
        break;
      case 1:
        press_and_move(Qt::MiddleButton);
        break;
      case 2:
        wheel();
        break;
      case 3:
        click_a_point();
        break;
      case 4:
        key();
        break;
      case 5:
        undo_or_redo();
        break;
      case 6:
        choose();
        break;
      case 7:
        run_action();
        break;
      case 8:
        type_a_number();
        break;
      default:
        drag_a_point();
        break;
    }
  }

 private:
  int pick(int n) { return static_cast<int>(random_() % static_cast<unsigned>(n)); }
  QPoint somewhere() {
    const QRect r = w_.window.view().rect();
    return {r.left() + pick(r.width()), r.top() + pick(r.height())};
  }
  Qt::KeyboardModifiers modifiers() {
    constexpr Qt::KeyboardModifier kAll[] = {Qt::NoModifier, Qt::NoModifier, Qt::ShiftModifier,
                                             Qt::ControlModifier, Qt::AltModifier};
    return kAll[pick(5)];
  }
  void move_with(Qt::MouseButton button, const QPoint& to) {
    ModelView& v = w_.window.view();
    QMouseEvent move(QEvent::MouseMove, QPointF(to), v.mapToGlobal(QPointF(to)), Qt::NoButton,
                     button, Qt::NoModifier);
    QApplication::sendEvent(&v, &move);
  }
  void press_and_move(Qt::MouseButton button) { press_and_move(button, somewhere()); }
  void press_and_move(Qt::MouseButton button, const QPoint& from) {
    ModelView* v = &w_.window.view();
    const auto m = modifiers();
    QTest::mousePress(v, button, m, from);
    QPoint at = from;
    for (int k = pick(6); k >= 0; --k) {
      at += QPoint(pick(61) - 30, pick(61) - 30);
      move_with(button, at);
      if (pick(12) == 0) key();  // in the middle of it
    }
    QTest::mouseRelease(v, button, m, at);
  }
  void wheel() {
    ModelView& v = w_.window.view();
    QTest::qWait(1);
    const std::size_t before = v.frames_painted();
    const QPointF at = somewhere();
    QWheelEvent event(at, v.mapToGlobal(at), {}, {0, pick(2) == 0 ? 120 : -120}, Qt::NoButton,
                      Qt::NoModifier, Qt::NoScrollPhase, false);
    QApplication::sendEvent(&v, &event);
    CHECK(QTest::qWaitFor([&] { return v.frames_painted() > before; }, 60000));
  }
  std::optional<QPoint> a_point() {
    const auto& net = w_.window.editor().net();
    if (!net || net->shown.nets.empty()) return std::nullopt;
    const int n = pick(static_cast<int>(net->shown.nets.size()));
    const Net& of = net->shown.nets[static_cast<std::size_t>(n)];
    return w_.point({n, pick(of.count(0)), pick(of.count(1)), 0});
  }
  void click_a_point() {
    if (const auto at = a_point())
      QTest::mouseClick(&w_.window.view(), Qt::LeftButton, modifiers(), *at);
  }
  void drag_a_point() {
    if (const auto at = a_point()) press_and_move(Qt::LeftButton, *at);
  }
  void key() {
    constexpr Qt::Key kKeys[] = {Qt::Key_Escape, Qt::Key_Return, Qt::Key_E,      Qt::Key_R,
                                 Qt::Key_Y,      Qt::Key_M,      Qt::Key_Q,      Qt::Key_W,
                                 Qt::Key_X,      Qt::Key_C,      Qt::Key_V,      Qt::Key_S,
                                 Qt::Key_Delete, Qt::Key_Home,   Qt::Key_Period, Qt::Key_Comma};
    QTest::keyClick(&w_.window.view(), kKeys[pick(16)]);
  }
  void undo_or_redo() {
    QTest::keyClick(&w_.window.view(), Qt::Key_Z,
                    pick(3) == 0 ? Qt::ControlModifier | Qt::ShiftModifier : Qt::ControlModifier);
  }
  void choose() {
    const Document& d = w_.window.model().document();
    if (d.parts.empty()) return;
    const Part& part = d.parts[static_cast<std::size_t>(pick(static_cast<int>(d.parts.size())))];
    const StepId step =
        part.steps[static_cast<std::size_t>(pick(static_cast<int>(part.steps.size())))].id;
    w_.window.model().choose_part(part.id);
    w_.window.model().choose_step(step);
  }
  void run_action() {
    constexpr const char* kActions[] = {
        "rebuild",    "add_grid_line", "split_surface", "even_out",      "smooth", "make_symmetric",
        "level_mean", "sphere",        "relax",         "section_combs", "combs",  "flow_pattern"};
    const char* id = kActions[pick(12)];
    for (const ActionInfo& a : w_.window.actions())
      if (a.id == id && a.action->isEnabled()) a.action->trigger();
  }
  void type_a_number() {
    QTest::keyClick(&w_.window.view(), Qt::Key_2);
    if (QWidget* at = QApplication::focusWidget()) QTest::keyClick(at, Qt::Key_Return);
  }

  Window& w_;
  std::mt19937 random_;
};

}  // namespace

TEST_CASE("a restless hand always gets an answer, a picture and a document that can be saved") {
  for (const unsigned seed : {11U, 23U}) {
    INFO("seed " << seed);
    Window w;
    RestlessHand hand(w, seed);
    for (int round = 0; round < 12; ++round) {
      INFO("round " << round);
      for (int k = 0; k < 20; ++k) {
        hand.act();
        if (k % 5 == 0) QTest::qWait(5);
      }
      w.settle();
      const Document& d = w.window.model().document();
      const std::string text = to_project_json(d);
      CHECK(to_project_json(from_project_json(text, make_operation)) == text);
      CHECK_FALSE(w.window.editor().dragging());
      for (const Part& part : d.parts) CHECK_FALSE(part.steps.empty());
    }
    w.key(Qt::Key_Escape);
    w.key(Qt::Key_Escape);
    // Undone to the beginning, it is the demo again.
    for (int k = 0; k < 2000 && w.window.model().session().can_undo(); ++k)
      w.key(Qt::Key_Z, Qt::ControlModifier);
    w.settle();
    CHECK(find_part(w.window.model().document(), "Shell") != nullptr);
  }
}
