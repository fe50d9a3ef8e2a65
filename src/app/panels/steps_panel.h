// The build steps of the chosen part: choose, switch off and on, rename, remove.
#pragma once

#include <QWidget>

#include "app/window/app_model.h"

class QListWidget;
class QListWidgetItem;
class QToolButton;

namespace evenclay {

class StepsPanel : public QWidget {
 public:
  explicit StepsPanel(AppModel& model, QWidget* parent = nullptr);

 private:
  void refresh();
  void fill(QListWidgetItem* item, const Step& step, std::size_t place);
  void edited(QListWidgetItem* item);
  void remove_chosen();

  AppModel& model_;
  QListWidget* list_ = nullptr;
  QToolButton* remove_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
