// The bar at the lower left of the view: how the picked points are moved, scaled or turned.
#pragma once

#include <QFrame>
#include <array>

#include "app/tools/point_editor.h"

class QAction;
class QCheckBox;
class QComboBox;
class QDoubleSpinBox;
class QHBoxLayout;
class QSpinBox;
class QToolButton;

namespace evenclay {

class DirectionBar : public QFrame {
 public:
  DirectionBar(PointEditor& editor, QWidget* parent = nullptr);

 private:
  QHBoxLayout* modes();
  QHBoxLayout* directions();
  QHBoxLayout* hand();
  QHBoxLayout* falloff();
  QHBoxLayout* picking();
  void take_snap();
  void take_falloff();
  void refresh();

  PointEditor& editor_;
  std::vector<std::pair<EditMode, QToolButton*>> modes_;
  std::vector<std::pair<MoveDirection, QToolButton*>> directions_;
  QDoubleSpinBox* step_ = nullptr;
  QComboBox* ratio_ = nullptr;
  QComboBox* pivot_ = nullptr;
  QComboBox* symmetry_ = nullptr;
  QDoubleSpinBox* weight_ = nullptr;
  QComboBox* filter_ = nullptr;
  QCheckBox* visible_only_ = nullptr;
  QToolButton* snap_ = nullptr;
  std::array<QAction*, 4> snap_kinds_{};  // points, ends, edges, grid
  QDoubleSpinBox* grid_ = nullptr;
  QComboBox *shape_along_ = nullptr, *shape_across_ = nullptr;
  QSpinBox *reach_along_ = nullptr, *reach_across_ = nullptr;
  QDoubleSpinBox* strength_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
