// The application with a last net: what escapes an event handler becomes a message.
#pragma once

#include <QApplication>
#include <functional>

namespace evenclay {

class Application : public QApplication {
 public:
  using QApplication::QApplication;
  bool notify(QObject* receiver, QEvent* event) override;
};

}  // namespace evenclay
