// The application with a last net: what escapes an event handler becomes a message. While it lives the
// core speaks the language of the window.
#pragma once

#include <QApplication>
#include <functional>

namespace evenclay {

class Application : public QApplication {
 public:
  Application(int& argc, char** argv);
  ~Application() override;
  bool notify(QObject* receiver, QEvent* event) override;
};

}  // namespace evenclay
