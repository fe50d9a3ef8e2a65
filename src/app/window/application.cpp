#include "app/window/application.h"

#include "app/look/words.h"
#include "app/window/main_window.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

void tell(const QString& sentence) {
  for (QWidget* widget : QApplication::topLevelWidgets())
    if (auto* window = qobject_cast<MainWindow*>(widget)) window->model().say_trouble(sentence);
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
    return QApplication::notify(receiver, event);
  } catch (const std::exception& e) {
    tell(QString::fromUtf8(e.what()));
  } catch (...) {
    tell(tr("That could not be done. Nothing was changed; save, and try it another way."));
  }
  return true;
}

}  // namespace evenclay
