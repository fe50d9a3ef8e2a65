// What a tool of the rail does, shown beside it while the mouse rests there.
#pragma once

#include <QFrame>

#include "app/stages/stages.h"

class QLabel;

namespace evenclay {

class HoverCard : public QFrame {
 public:
  explicit HoverCard(QWidget* window);
  /// Beside `button`, within the window.
  void show_for(const ActionInfo& action, const QWidget& button);

 private:
  QLabel *title_, *help_, *drawing_, *needs_;
};

}  // namespace evenclay
