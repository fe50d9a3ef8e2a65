// Parts handed over: which, in what format, unit and fineness, with an estimate before.
#pragma once

#include <QDialog>
#include <QTimer>
#include <memory>

#include "core/base/progress.h"
#include "core/exchange/parts_out.h"

class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QLabel;
class QPushButton;

namespace evenclay {

class AppModel;

class ExportCard : public QDialog {
 public:
  ExportCard(AppModel& model, QWidget* parent);
  ~ExportCard() override;
  /// Writes beside the window; says what was left out.
  void write(const QString& file);

 private:
  std::vector<OutPart> chosen() const;
  OutOptions options() const;
  std::string ending() const;
  void refresh();
  void estimate_soon();
  void estimate_now();
  void ask_and_write();

  AppModel& model_;
  QComboBox *which_ = nullptr, *format_ = nullptr, *unit_ = nullptr;
  QDoubleSpinBox* chord_ = nullptr;
  QDoubleSpinBox* angle_ = nullptr;
  QCheckBox* text_ = nullptr;
  QCheckBox* views_ = nullptr;
  QLabel* says_ = nullptr;
  QPushButton* write_ = nullptr;
  QTimer soon_;
  std::shared_ptr<Progress> running_;
};

}  // namespace evenclay
