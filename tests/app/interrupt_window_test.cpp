// What happens when something else happens in the middle of a drag, a trial or long work.
#include <QFileDialog>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPointer>
#include <QPushButton>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QTimer>

#include "core/document/project_file.h"
#include "core/document/project_json.h"
#include "core/operations/catalogue.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "window_fixture.h"

using namespace evenclay;
using namespace evenclay::testing;

namespace {

std::string text(Window& w) {
  return to_project_json(w.window.model().document());
}

// A drag that is begun and not ended.
QPoint begin_drag(Window& w) {
  w.window.editor().pick({{0, 8, 4}});
  const QPoint from = w.point({0, 8, 4});
  ModelView* v = &w.window.view();
  QTest::mousePress(v, Qt::LeftButton, {}, from);
  for (int k = 1; k <= 4; ++k) {
    const QPointF at = from + QPointF(0, -6.0 * k);
    QMouseEvent move(QEvent::MouseMove, at, v->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
    QApplication::sendEvent(v, &move);
  }
  REQUIRE(w.window.editor().dragging());
  return from;
}

void end_drag(Window& w, const QPoint& from) {
  ModelView* v = &w.window.view();
  const QPointF at = from + QPointF(4, -40);
  QMouseEvent move(QEvent::MouseMove, at, v->mapToGlobal(at), Qt::NoButton, Qt::LeftButton, {});
  QApplication::sendEvent(v, &move);
  QTest::mouseRelease(v, Qt::LeftButton, {}, at.toPoint());
  w.settle();
}

// The document as it is in the session: nothing half-way is left.
void check_sound(Window& w) {
  CHECK_FALSE(w.window.editor().dragging());
  CHECK_FALSE(w.window.model().session().previewing());
  for (const Part& p : w.window.model().document().parts) CHECK_FALSE(p.steps.empty());
}

}  // namespace

TEST_CASE("Undo in the middle of a drag ends the drag and nothing else") {
  Window w;
  const std::string before = text(w);
  const QPoint from = begin_drag(w);
  w.key(Qt::Key_Z, Qt::ControlModifier);
  end_drag(w, from);
  check_sound(w);
  CHECK((text(w) == before));
}

TEST_CASE("Undo in a drag that adds a step leaves no step behind") {
  Window w;
  w.choose("Dimple tile", 1);
  w.window.model().commit(
      without_step(w.window.model().document(), w.window.model().document().parts[1].steps[2].id),
      "");
  w.settle();
  const std::string before = text(w);
  w.window.editor().pick({{0, 2, 2}});
  const QPoint from = w.point({0, 2, 2});
  QTest::mousePress(&w.window.view(), Qt::LeftButton, {}, from);
  const QPointF at = from + QPointF(0, -30);
  QMouseEvent move(QEvent::MouseMove, at, w.window.view().mapToGlobal(at), Qt::NoButton,
                   Qt::LeftButton, {});
  QApplication::sendEvent(&w.window.view(), &move);
  REQUIRE(w.window.editor().dragging());
  w.key(Qt::Key_Z, Qt::ControlModifier);
  end_drag(w, from);
  check_sound(w);
  CHECK((text(w) == before));
}

TEST_CASE("Del in the middle of a drag ends the drag and brings the point back") {
  Window w;
  const QPoint from = begin_drag(w);
  w.key(Qt::Key_Delete);
  end_drag(w, from);
  check_sound(w);
  CHECK(w.window.model().document().parts.size() == 4);
}

TEST_CASE("a new project in the middle of a drag leaves an empty one") {
  Window w;
  const QPoint from = begin_drag(w);
  w.window.model().new_project();
  const QPointF at = from + QPointF(4, -40);
  QMouseEvent move(QEvent::MouseMove, at, w.window.view().mapToGlobal(at), Qt::NoButton,
                   Qt::LeftButton, {});
  QApplication::sendEvent(&w.window.view(), &move);
  QTest::mouseRelease(&w.window.view(), Qt::LeftButton, {}, at.toPoint());
  QTest::qWait(100);
  check_sound(w);
  CHECK(w.window.model().document().parts.empty());
}

TEST_CASE("another step chosen in the middle of a drag ends the drag") {
  Window w;
  const std::string before = text(w);
  const QPoint from = begin_drag(w);
  w.window.model().choose_part(w.window.model().document().parts[1].id);
  end_drag(w, from);
  check_sound(w);
  CHECK((text(w) == before));
}

TEST_CASE("Del brings picked points back and removes no part") {
  Window w;
  const Surface before = *std::get<Body>(*w.window.model().answer()->shown).faces[0].surface;
  w.window.editor().pick({{0, 8, 4}});
  REQUIRE(w.window.editor().move_by({MoveDirection::X, 7.0, {}}));
  w.settle();
  w.key(Qt::Key_Delete);
  w.settle();
  const Surface after = *std::get<Body>(*w.window.model().answer()->shown).faces[0].surface;
  const Surface below = *std::get<Body>(*w.window.model().answer()->before).faces[0].surface;
  CHECK(distance(after.points(8, 4), below.points(8, 4)) < 1e-12);
  CHECK(after.points(0, 5) == before.points(0, 5));  // the brow was not picked
  CHECK(w.window.model().document().parts.size() == 4);
}

TEST_CASE("Del in the list of parts removes the chosen one") {
  Window w;
  w.click(w.part_row(3));
  w.settle();
  QTreeWidget* list = w.part_row(3)->treeWidget();
  list->setFocus();
  QTest::keyClick(list, Qt::Key_Delete);
  w.settle();
  CHECK(w.window.model().document().parts.size() == 3);
  CHECK(find_part(w.window.model().document(), std::string_view("Knob ring")) == nullptr);
}

TEST_CASE("a step ticked while another is on trial keeps both") {
  Window w;
  REQUIRE(w.window.run("extend"));
  REQUIRE(w.window.model().trial());
  w.settle();
  REQUIRE(w.part_row(0)->childCount() == 4);
  w.click_sign(w.step_row(0, 2));
  w.settle();
  CHECK_FALSE(w.window.model().trial());
  const Part& shell = w.window.model().document().parts[0];
  REQUIRE(shell.steps.size() == 4);
  CHECK_FALSE(shell.steps[2].enabled);
  CHECK(shell.steps[3].operation->kind() == "extend");
}

TEST_CASE("a part hidden while a step is on trial is one undo entry of its own") {
  Window w;
  REQUIRE(w.window.run("extend"));
  w.settle();
  w.click_sign(w.part_row(1));
  w.settle();
  CHECK(w.window.model().trial());
  CHECK_FALSE(w.window.model().document().parts[1].look.visible);
  w.window.model().drop_trial();
  CHECK_FALSE(w.window.model().document().parts[1].look.visible);
  CHECK(w.window.model().document().parts[0].steps.size() == 3);
  CHECK(w.window.model().session().undo_label() == "Hide part");
}

TEST_CASE("a step on trial counts as unsaved") {
  QTemporaryDir folder;
  Window w;
  w.window.save_file(folder.filePath("a.evenclay"));
  w.settle();
  CHECK_FALSE(w.window.model().unsaved());
  REQUIRE(w.window.run("extend"));
  CHECK(w.window.model().unsaved());
  bool asked = false;
  QTimer::singleShot(300, [&] {
    if (auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget())) {
      asked = true;
      box->button(QMessageBox::Cancel)->click();
    }
  });
  w.window.close();
  CHECK(asked);
  CHECK(w.window.isVisible());
}

TEST_CASE("another project opened while borders are matched is not touched by them") {
  QTemporaryDir folder;
  Window w;
  const std::string other = folder.filePath("other.evenclay").toStdString();
  save_project(w.window.model().document(), other);
  // Two sheets side by side, rebuilt together: matching their borders begins when it is kept.
  auto a = std::make_shared<PlaneOperation>();
  auto b = std::make_shared<PlaneOperation>();
  b->centre = {a->length_x, 0, 0};
  Added first = with_part({}, "A", a);
  Added second = with_part(first.document, "B", b);
  w.window.model().commit(second.document, "Two sheets");
  w.settle();
  auto rebuild = std::make_shared<RebuildOperation>();
  rebuild->points_u = 17;
  const std::vector<PartId> parts{first.part, second.part};
  w.window.model().begin_batch_trial(with_step_on(w.window.model().document(), parts, rebuild),
                                     "Rebuild");
  w.settle();
  w.window.model().keep_trial();
  w.window.model().open(QString::fromStdString(other));
  w.settle();
  QTest::qWait(200);
  const Document expected = open_project(other, make_operation);
  CHECK((text(w) == to_project_json(expected)));
  CHECK_FALSE(w.window.model().session().can_undo());
}

TEST_CASE("saving under a name without its ending asks before it replaces a file") {
  QTemporaryDir folder;
  Window w;
  const QString file = folder.filePath("kept.evenclay");
  {
    QFile f(file);
    REQUIRE(f.open(QIODevice::WriteOnly));
    f.write("precious");
  }
  bool asked = false;
  QTimer::singleShot(300, [&] {
    auto* dialog = qobject_cast<QFileDialog*>(QApplication::activeModalWidget());
    if (dialog == nullptr) return;
    dialog->setDirectory(folder.path());
    dialog->findChild<QLineEdit*>()->setText(folder.filePath("kept"));
    QTimer::singleShot(300, [&, dialog] {
      if (auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget())) {
        asked = true;
        box->button(QMessageBox::No)->click();
      }
      dialog->reject();
    });
    QMetaObject::invokeMethod(dialog, "accept");
  });
  w.window.run("save_as");
  CHECK(asked);
  QFile f(file);
  REQUIRE(f.open(QIODevice::ReadOnly));
  CHECK(f.readAll() == "precious");
}

TEST_CASE("what escapes an event handler becomes a message") {
  Window w;
  QTimer::singleShot(0, &w.window, [] { throw Error("A sentence that escaped."); });
  QTest::qWait(50);
  CHECK(w.window.findChild<QLabel*>("message")->text().contains("A sentence that escaped"));
}

TEST_CASE("a window that goes while a field is being typed in does no harm") {
  auto w = std::make_unique<Window>();
  w->window.run("rebuild");
  w->settle();
  auto* points_u = w->window.findChild<QSpinBox*>("points_u");
  REQUIRE(points_u != nullptr);
  points_u->setFocus();
  REQUIRE(points_u->hasFocus());
  points_u->selectAll();
  QTest::keyClicks(points_u, "12");
  const QPointer<QSpinBox> field = points_u;
  w.reset();
  CHECK(field.isNull());
}
