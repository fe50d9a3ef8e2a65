// What differs between an older version of the project and what is open.
#pragma once

#include <QDialog>

#include "core/document/compare.h"

class QLabel;
class QPushButton;
class QTreeWidget;

namespace evenclay {

class AppModel;

/// The older version is only looked at. The deviation of a part that is in both is shown by bringing the older one in, hidden,
/// and watching against it: one undo takes it away again.
class CompareCard : public QDialog {
 public:
  CompareCard(AppModel& model, Document older, const QString& name, QWidget* parent);
  /// For the chosen row.
  void show_deviation();

 private:
  void refresh();
  const PartChange* chosen() const;

  AppModel& model_;
  Document older_;
  QString name_;
  Comparison found_;
  QLabel* says_ = nullptr;
  QTreeWidget* list_ = nullptr;
  QPushButton* deviation_ = nullptr;
};

}  // namespace evenclay
