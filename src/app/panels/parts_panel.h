// The list of parts: choose, show or hide, rename, remove.
#pragma once

#include <QWidget>

#include "app/window/app_model.h"

class QListWidget;
class QListWidgetItem;

namespace evenclay {

class PartsPanel : public QWidget {
 public:
  explicit PartsPanel(AppModel& model, QWidget* parent = nullptr);

 private:
  void refresh();
  void edited(QListWidgetItem* item);

  AppModel& model_;
  QListWidget* list_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
