// What the chosen part is watched against: the choice, the band, the share inside it, and how the distances spread.
#pragma once

#include <QFrame>

class QComboBox;
class QDoubleSpinBox;
class QLabel;

namespace evenclay {

class AppModel;
class ModelView;

class DeviationCard : public QFrame {
 public:
  DeviationCard(AppModel& model, ModelView& view);
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  class Bars;
  void fill_parts();
  void refresh();
  void watch(int place);
  void place_card();

  AppModel& model_;
  ModelView& view_;
  QComboBox* against_ = nullptr;
  QDoubleSpinBox* band_ = nullptr;
  QLabel *numbers_ = nullptr, *inside_ = nullptr;
  Bars* bars_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
