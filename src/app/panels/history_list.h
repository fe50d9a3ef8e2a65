// The list of what was done: a click goes there.
#pragma once

#include <QDialog>

class QListWidget;

namespace evenclay {

class AppModel;

class HistoryList : public QDialog {
 public:
  HistoryList(AppModel& model, QWidget* parent);

 private:
  void refresh();
  AppModel& model_;
  QListWidget* list_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
