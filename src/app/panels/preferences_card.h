// What each person sets for the program: units shown, mouse, copies of unsaved work.
#pragma once

#include <QDialog>

class QComboBox;
class QSpinBox;

namespace evenclay {

/// Every change counts at once and is kept.
class PreferencesCard : public QDialog {
  Q_OBJECT

 public:
  explicit PreferencesCard(QWidget* parent);

 Q_SIGNALS:
  void changed();

 private:
  void take();

  QComboBox* unit_ = nullptr;
  QComboBox* turn_ = nullptr;
  QSpinBox* copies_ = nullptr;
};

}  // namespace evenclay
