// The checks of all visible parts in one list; a line frames its place.
#pragma once

#include <QDialog>
#include <QTimer>
#include <memory>

#include "core/operations/checks.h"

class QDoubleSpinBox;
class QLabel;
class QTreeWidget;
class QTreeWidgetItem;

namespace evenclay {

class AppModel;
class ModelView;

/// Works beside the window; looks again a moment after the project has changed.
class ChecksCard : public QDialog {
 public:
  ChecksCard(AppModel& model, ModelView& view, QWidget* parent);
  ~ChecksCard() override;
  const CheckList& list() const { return list_; }

 private:
  void look_again();
  void show_list(CheckList&& list);
  void frame(const QTreeWidgetItem* item);
  void take_limits();
  void fill_limits();
  void save_report();
  QDoubleSpinBox* limit(const QString& label, const QString& help, const char* name,
                        const QString& unit);

  AppModel& model_;
  ModelView& view_;
  QTreeWidget* rows_ = nullptr;
  QLabel* state_ = nullptr;
  QDoubleSpinBox *radius_ = nullptr, *thickness_ = nullptr, *draft_ = nullptr, *gap_ = nullptr;
  class QComboBox* pull_ = nullptr;
  class QGridLayout* limits_ = nullptr;
  QTimer soon_;
  std::shared_ptr<Progress> running_;
  CheckList list_;
  bool filling_ = false;
};

}  // namespace evenclay
