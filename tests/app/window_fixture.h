// A real window with real mouse and key events, for tests.
#pragma once

#include <QApplication>
#include <QTemporaryDir>
#include <QTest>
#include <catch2/catch.hpp>

#include "../uncut_demo.h"
#include "app/panels/gauges_strip.h"
#include "app/panels/parts_tree.h"
#include "app/window/main_window.h"
#include "core/document/project_file.h"

namespace evenclay::testing {

// A child that must be there.
template <typename T>
T* child_of(QObject& parent, const QString& name) {
  T* found = parent.findChild<T*>(name);
  INFO(name.toStdString());
  REQUIRE(found != nullptr);
  return found;
}

// The window with the demo, settled, at the size of the design.
struct Window {
  MainWindow window;
  explicit Window(bool demo = true) {
    window.resize(1280, 800);
    window.show();
    REQUIRE(QTest::qWaitForWindowExposed(&window));
    window.activateWindow();
    REQUIRE(QTest::qWaitForWindowActive(&window));
    if (demo) {
      // As it is before the opening is cut: the last step of the shell holds its points.
      const QTemporaryDir folder;
      const QString file = folder.filePath("demo.evenclay");
      save_project(uncut_demo(), file.toStdString());
      window.model().open(file);
      settle();
      choose("Shell", 2);
    }
  }
  void settle() {
    for (int k = 0; k < 4; ++k) QApplication::processEvents();
    REQUIRE(QTest::qWaitFor([this] { return window.model().settled(); }, 600000));
    QTest::qWait(30);
    for (int k = 0; k < 4; ++k) QApplication::processEvents();  // what was put off to the end
  }
  void choose(const char* part, std::size_t step) {
    const Part* p = find_part(window.model().document(), std::string_view(part));
    REQUIRE(p != nullptr);
    const PartId id = p->id;
    const StepId of_step = p->steps[step].id;  // choosing may end a drag, and its document with it
    window.model().choose_part(id);
    window.model().choose_step(of_step);
    settle();
  }
  QPoint point(PointIndex p, std::size_t viewport = 0) {
    return window.view().point_on_screen(p, viewport).toPoint();
  }
  // Rows of the list of parts.
  QTreeWidgetItem* part_row(std::size_t k) {
    return window.parts().part_row(window.model().document().parts.at(k).id);
  }
  QTreeWidgetItem* step_row(std::size_t part, std::size_t k) {
    return window.parts().step_row(window.model().document().parts.at(part).steps.at(k).id);
  }
  void click(QTreeWidgetItem* item, Qt::KeyboardModifiers modifiers = {}) {
    REQUIRE(item != nullptr);
    QTreeWidget* list = item->treeWidget();
    QTest::mouseClick(list->viewport(), Qt::LeftButton, modifiers,
                      list->visualItemRect(item).center());
  }
  // The sign at the right end of a row: the eye, or the switch of a step.
  void click_sign(QTreeWidgetItem* item) {
    REQUIRE(item != nullptr);
    QTreeWidget* list = item->treeWidget();
    const QRect r = list->visualItemRect(item);
    QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, QPoint(r.right() - 14, r.center().y()));
  }
  QString gauge(const char* name) {
    auto* card = window.findChild<GaugeCard*>(name);
    REQUIRE(card != nullptr);
    return card->value();
  }
  void drag(const QPoint& from, const QPoint& by, Qt::KeyboardModifiers modifiers = {}) {
    ModelView* v = &window.view();
    QTest::mousePress(v, Qt::LeftButton, modifiers, from);
    for (int k = 1; k <= 8; ++k) {
      // QTest::mouseMove carries no buttons on every platform: send the event itself.
      const QPointF at = from + QPointF(by) * (k / 8.0);
      QMouseEvent move(QEvent::MouseMove, at, v->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                       modifiers);
      QApplication::sendEvent(v, &move);
      QTest::qWait(8);
    }
    QTest::mouseRelease(v, Qt::LeftButton, modifiers, from + by);
  }
  // The mouse rests there, no button held.
  void hover(const QPointF& at) {
    ModelView& v = window.view();
    QTest::mouseMove(&v, at.toPoint());
    QMouseEvent move(QEvent::MouseMove, at, v.mapToGlobal(at), Qt::NoButton, Qt::NoButton, {});
    QApplication::sendEvent(&v, &move);
    QTest::qWait(60);
  }
  void key(Qt::Key k, Qt::KeyboardModifiers m = {}) {
    window.view().setFocus();
    QTest::keyClick(&window.view(), k, m);
  }
};

}  // namespace evenclay::testing
