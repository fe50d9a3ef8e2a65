// The bar at the lower left of the view: how the picked points move.
#pragma once

#include <QFrame>

#include "app/tools/point_editor.h"

class QComboBox;
class QDoubleSpinBox;
class QToolButton;

namespace evenclay {

class DirectionBar : public QFrame {
 public:
  DirectionBar(PointEditor& editor, QWidget* parent = nullptr);

 private:
  void refresh();

  PointEditor& editor_;
  std::vector<std::pair<MoveDirection, QToolButton*>> directions_;
  QDoubleSpinBox* step_ = nullptr;
  QComboBox* ratio_ = nullptr;
  QComboBox* symmetry_ = nullptr;
  QDoubleSpinBox* weight_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
