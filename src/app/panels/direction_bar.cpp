#include "app/panels/direction_bar.h"

#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QToolButton>
#include <QVBoxLayout>

namespace evenclay {

namespace {
constexpr double kRatios[] = {1, 2, 5, 10, 50};
}

DirectionBar::DirectionBar(PointEditor& editor, QWidget* parent) : QFrame(parent), editor_(editor) {
  setProperty("bar", true);
  setObjectName("direction_bar");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 5, 8, 5);
  column->setSpacing(3);
  auto* first = new QHBoxLayout;
  first->setSpacing(2);
  auto* move = new QLabel(tr("Move"), this);
  move->setProperty("heading", true);
  first->addWidget(move);
  first->addSpacing(6);
  const struct {
    MoveDirection direction;
    const char* label;
    const char* help;
  } entries[] = {
      {MoveDirection::X, "x", "Along the x axis  (X)"},
      {MoveDirection::Y, "y", "Along the y axis  (C)"},
      {MoveDirection::Z, "z", "Along the z axis  (Z)"},
      {MoveDirection::OffSkin, "Off the skin", "Along the surface normal at each point  (S)"},
      {MoveDirection::InView, "In the view", "Parallel to the screen  (V)"},
  };
  for (const auto& e : entries) {
    auto* b = new QToolButton(this);
    b->setText(tr(e.label));
    b->setToolTip(tr(e.help));
    b->setCheckable(true);
    b->setAutoExclusive(true);
    const MoveDirection direction = e.direction;
    connect(b, &QToolButton::clicked, this,
            [this, direction] { editor_.set_direction(direction); });
    directions_.emplace_back(direction, b);
    first->addWidget(b);
  }
  first->addStretch();
  auto* second = new QHBoxLayout;
  second->setSpacing(4);
  const auto label = [&](const QString& text) {
    auto* l = new QLabel(text, this);
    l->setProperty("quiet", true);
    second->addWidget(l);
  };
  label(tr("Step"));
  step_ = new QDoubleSpinBox(this);
  step_->setLocale(QLocale::c());
  step_->setRange(0.0, 100.0);
  step_->setDecimals(2);
  step_->setSingleStep(0.1);
  step_->setSpecialValueText(tr("off"));
  step_->setFixedWidth(58);
  step_->setToolTip(tr("Drags move in steps of this length in mm; off moves freely."));
  step_->setAccessibleName(tr("Step length"));
  second->addWidget(step_);
  label(tr("Ratio"));
  ratio_ = new QComboBox(this);
  for (const double r : kRatios) ratio_->addItem(QString("1:%1").arg(r), r);
  ratio_->setToolTip(tr("Hand movement is divided by this for fine work; Shift gives a tenth."));
  ratio_->setAccessibleName(tr("Drag ratio"));
  ratio_->setFixedWidth(58);
  second->addWidget(ratio_);
  label(tr("Symmetry"));
  symmetry_ = new QComboBox(this);
  symmetry_->addItems({tr("off"), "y–z", "x–z", "x–y"});
  symmetry_->setToolTip(tr("Mirrors every move to the partner points about this plane  (M)"));
  symmetry_->setAccessibleName(tr("Symmetry plane"));
  symmetry_->setObjectName("symmetry");
  symmetry_->setFixedWidth(56);
  second->addWidget(symmetry_);
  label(tr("Weight"));
  weight_ = new QDoubleSpinBox(this);
  weight_->setLocale(QLocale::c());
  weight_->setRange(0.01, 100.0);
  weight_->setDecimals(2);
  weight_->setSingleStep(0.1);
  weight_->setFixedWidth(62);
  weight_->setKeyboardTracking(false);
  weight_->setToolTip(tr("Weight of the picked points; more pulls the surface closer."));
  weight_->setAccessibleName(tr("Weight of the picked points"));
  weight_->setObjectName("weight");
  second->addWidget(weight_);
  second->addStretch();
  column->addLayout(first);
  column->addLayout(second);
  connect(step_, &QDoubleSpinBox::valueChanged, this, [this](double mm) {
    if (!refreshing_) editor_.set_step_length(mm);
  });
  connect(ratio_, &QComboBox::currentIndexChanged, this, [this] {
    if (!refreshing_) editor_.set_ratio(ratio_->currentData().toDouble());
  });
  connect(symmetry_, &QComboBox::activated, this, [this](int k) {
    editor_.set_symmetry(static_cast<SymmetryPlane>(k));
    refresh();
  });
  connect(weight_, &QDoubleSpinBox::valueChanged, this, [this](double w) {
    if (!refreshing_) editor_.set_weight(w);
  });
  connect(&editor_, &PointEditor::changed, this, &DirectionBar::refresh);
  refresh();
}

void DirectionBar::refresh() {
  if (editor_.dragging()) return;
  refreshing_ = true;
  for (const auto& [direction, button] : directions_)
    button->setChecked(direction == editor_.direction());
  symmetry_->setCurrentIndex(static_cast<int>(editor_.symmetry()));
  const auto weight = editor_.picked_weight();
  weight_->setEnabled(weight.has_value());
  weight_->setValue(weight.value_or(1.0));
  setVisible(editor_.net().has_value() && editor_.net_visible());
  adjustSize();
  refreshing_ = false;
}

}  // namespace evenclay
