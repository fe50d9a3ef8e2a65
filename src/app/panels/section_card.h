// The card of the section view: along which axis it cuts, where, and which side goes.
#pragma once

#include <QFrame>

class QDoubleSpinBox;

namespace evenclay {

class ModelView;
class PointEditor;

class SectionCard : public QFrame {
 public:
  SectionCard(ModelView& view, const PointEditor& editor);

 private:
  void set_normal(int axis);  ///< 0 x, 1 y, 2 z, 3 of the work plane
  void refresh();

  ModelView& view_;
  const PointEditor& editor_;
  QDoubleSpinBox* place_ = nullptr;
  bool refreshing_ = false;
};

}  // namespace evenclay
