// The parts of another project, to be ticked and brought in.
#pragma once

#include <QFrame>

#include "app/window/app_model.h"

class QListWidget;

namespace evenclay {

class TakePartsCard : public QFrame {
 public:
  TakePartsCard(AppModel& model, QWidget& over);
  /// Opens over the middle of the widget it was made for.
  void show_parts(Document other, const QString& name);

 protected:
  void keyPressEvent(QKeyEvent* event) override;  // Esc closes, Enter brings in

 private:
  void take();
  void draw_pictures();
  int shown_ = 0;  // counts the projects that were listed
  AppModel& model_;
  QListWidget* list_ = nullptr;
  class QLabel* title_ = nullptr;
  Document other_;
  QString name_;
};

}  // namespace evenclay
