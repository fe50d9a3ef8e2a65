#include "app/window/application.h"

#include <QAbstractSlider>
#include <QComboBox>
#include <QKeyEvent>

#include "app/look/words.h"
#include "app/window/main_window.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

void tell(const QString& sentence) {
  for (QWidget* widget : QApplication::topLevelWidgets())
    if (auto* window = qobject_cast<MainWindow*>(widget)) window->model().say_trouble(sentence);
}

// A list of choices and a slider keep the keys they move by, which elsewhere turn and frame the view.
void keep_own_keys(const QObject* receiver, QKeyEvent& key) {
  const bool moves = key.key() >= Qt::Key_Home && key.key() <= Qt::Key_PageDown;
  const bool plain = (key.modifiers() & ~Qt::KeypadModifier) == Qt::NoModifier;
  if (moves && plain &&
      (qobject_cast<const QComboBox*>(receiver) || qobject_cast<const QAbstractSlider*>(receiver)))
    key.accept();
}

}  // namespace

Application::Application(int& argc, char** argv) : QApplication(argc, argv) {
  speak(&look::spoken);
}

Application::~Application() {
  speak(nullptr);
}

bool Application::notify(QObject* receiver, QEvent* event) {
  try {
    const bool taken = QApplication::notify(receiver, event);
    if (event->type() == QEvent::ShortcutOverride)
      keep_own_keys(receiver, *static_cast<QKeyEvent*>(event));
    return taken;
  } catch (const std::exception& e) {
    tell(QString::fromUtf8(e.what()));
  } catch (...) {
    tell(tr("That could not be done. Nothing was changed; save, and try it another way."));
  }
  return true;
}

}  // namespace evenclay
