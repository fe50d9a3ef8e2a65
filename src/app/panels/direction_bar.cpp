#include "app/panels/direction_bar.h"

#include <QAbstractItemView>
#include <QAction>
#include <QButtonGroup>
#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QMenu>
#include <QSpinBox>
#include <QToolButton>
#include <QVBoxLayout>

namespace evenclay {

namespace {

constexpr double kRatios[] = {1, 2, 5, 10, 50};

QLabel* quiet(const QString& text, QWidget* parent) {
  auto* label = new QLabel(text, parent);
  label->setProperty("quiet", true);
  return label;
}

QToolButton* choice(const QString& text, const QString& help, QButtonGroup* group,
                    QWidget* parent) {
  auto* b = new QToolButton(parent);
  b->setText(text);
  b->setToolTip(help);
  b->setCheckable(true);
  group->addButton(b);
  return b;
}

}  // namespace

DirectionBar::DirectionBar(PointEditor& editor, QWidget* parent) : QFrame(parent), editor_(editor) {
  setProperty("bar", true);
  setObjectName("direction_bar");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(6, 4, 6, 4);
  column->setSpacing(3);
  column->addLayout(modes());
  column->addLayout(directions());
  column->addLayout(hand());
  column->addLayout(falloff());
  column->addLayout(picking());
  connect(&editor_, &PointEditor::changed, this, &DirectionBar::refresh);
  refresh();
}

QHBoxLayout* DirectionBar::modes() {
  auto* row = new QHBoxLayout;
  row->setSpacing(2);
  auto* group = new QButtonGroup(this);
  const struct {
    EditMode mode;
    const char* label;
    const char* help;
  } entries[] = {
      {EditMode::Move, "Move", "Drags move the picked points along the direction below."},
      {EditMode::Scale, "Scale",
       "Drags to the right grow, to the left shrink: along x, y or z alone, in the plane, or all."},
      {EditMode::Turn, "Turn", "Drags turn the picked points about the direction below."},
      {EditMode::PullSkin, "Pull the skin",
       "Drag the surface itself: the place under the cursor follows exactly."},
      {EditMode::Weight, "Weight",
       "Drags to the right give the picked points more weight, to the left less."},
  };
  for (const auto& e : entries) {
    auto* b = choice(tr(e.label), tr(e.help), group, this);
    const EditMode mode = e.mode;
    connect(b, &QToolButton::clicked, this, [this, mode] { editor_.set_mode(mode); });
    modes_.emplace_back(mode, b);
    row->addWidget(b);
  }
  row->addStretch();
  pivot_ = new QComboBox(this);
  pivot_->addItems({tr("about picked"), tr("about part"), tr("about last"), tr("about symmetry")});
  pivot_->setToolTip(
      tr("Scaling and turning go about this place: the centre of the picked points or of the part, "
         "the point picked last, or the picked centre brought onto the symmetry planes."));
  pivot_->setAccessibleName(tr("Centre of scaling and turning"));
  pivot_->setObjectName("pivot");
  pivot_->setFixedWidth(112);
  row->addWidget(pivot_);
  connect(pivot_, &QComboBox::activated, this,
          [this](int k) { editor_.set_pivot(static_cast<Pivot>(k)); });
  return row;
}

QHBoxLayout* DirectionBar::directions() {
  auto* row = new QHBoxLayout;
  row->setSpacing(1);
  auto* group = new QButtonGroup(this);
  const struct {
    MoveDirection direction;
    const char* label;
    const char* help;
  } entries[] = {
      {MoveDirection::X, "x", "Along the x axis  (X)"},
      {MoveDirection::Y, "y", "Along the y axis  (C)"},
      {MoveDirection::Z, "z", "Along the z axis  (Z)"},
      {MoveDirection::OffSkin, "Off skin", "Off the skin: along the surface normal  (S)"},
      {MoveDirection::OnSkin, "On skin", "On the skin: in the tangent plane at each point  (D)"},
      {MoveDirection::AlongU, "Net u", "Along the legs of the net in u  (G)"},
      {MoveDirection::AlongV, "Net v", "Along the legs of the net in v  (Shift+G)"},
      {MoveDirection::InView, "View", "In the view: parallel to the screen  (V)"},
      {MoveDirection::WorkPlane, "Plane", "In the work plane  (B)"},
  };
  for (const auto& e : entries) {
    auto* b = choice(tr(e.label), tr(e.help), group, this);
    const MoveDirection direction = e.direction;
    connect(b, &QToolButton::clicked, this,
            [this, direction] { editor_.set_direction(direction); });
    directions_.emplace_back(direction, b);
    row->addWidget(b);
  }
  row->addStretch();
  return row;
}

QHBoxLayout* DirectionBar::hand() {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->addWidget(quiet(tr("Step"), this));
  step_ = new QDoubleSpinBox(this);
  step_->setLocale(QLocale::c());
  step_->setRange(0.0, 100.0);
  step_->setDecimals(2);
  step_->setSingleStep(0.1);
  step_->setSpecialValueText(tr("off"));
  step_->setFixedWidth(58);
  step_->setToolTip(tr(
      "Drags move in steps of this length in mm, and turn in steps of as many degrees; off moves "
      "freely."));
  step_->setAccessibleName(tr("Step length"));
  row->addWidget(step_);
  row->addWidget(quiet(tr("Ratio"), this));
  ratio_ = new QComboBox(this);
  for (const double r : kRatios) ratio_->addItem(QString("1:%1").arg(r), r);
  ratio_->setToolTip(tr("Hand movement is divided by this for fine work; Shift gives a tenth."));
  ratio_->setAccessibleName(tr("Drag ratio"));
  ratio_->setFixedWidth(58);
  row->addWidget(ratio_);
  row->addWidget(quiet(tr("Symmetry"), this));
  symmetry_ = new QComboBox(this);
  symmetry_->addItems(
      {tr("off"), "y–z", "x–z", "x–y", "y–z, x–z", "x–z, x–y", "y–z, x–y", tr("all")});
  symmetry_->setToolTip(tr("Mirrors every move to the partner points about these planes  (M)"));
  symmetry_->setAccessibleName(tr("Symmetry planes"));
  symmetry_->setObjectName("symmetry");
  symmetry_->setFixedWidth(66);
  symmetry_->view()->setMinimumWidth(96);
  row->addWidget(symmetry_);
  row->addWidget(quiet(tr("Weight"), this));
  weight_ = new QDoubleSpinBox(this);
  weight_->setLocale(QLocale::c());
  weight_->setRange(0.01, 100.0);
  weight_->setDecimals(2);
  weight_->setSingleStep(0.1);
  weight_->setFixedWidth(58);
  weight_->setKeyboardTracking(false);
  weight_->setToolTip(tr("Weight of the picked points; more pulls the surface closer."));
  weight_->setAccessibleName(tr("Weight of the picked points"));
  weight_->setObjectName("weight");
  row->addWidget(weight_);
  row->addStretch();
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
  return row;
}

QHBoxLayout* DirectionBar::falloff() {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  const auto shape = [&](const QString& name, const char* object) {
    auto* box = new QComboBox(this);
    box->addItems({tr("Rigid"), tr("Ramp"), tr("Scoop"), tr("Dome"), tr("Bell")});
    box->setCurrentIndex(static_cast<int>(FalloffShape::Bell));
    box->setAccessibleName(name);
    box->setObjectName(object);
    box->setToolTip(name);
    box->setFixedWidth(64);
    connect(box, &QComboBox::activated, this, [this] { take_falloff(); });
    return box;
  };
  const auto reach = [&](const QString& name, const char* object) {
    auto* box = new QSpinBox(this);
    box->setLocale(QLocale::c());
    box->setRange(0, 50);
    box->setSpecialValueText(tr("off"));
    box->setAccessibleName(name);
    box->setObjectName(object);
    box->setToolTip(name);
    box->setFixedWidth(50);
    connect(box, &QSpinBox::valueChanged, this, [this] { take_falloff(); });
    return box;
  };
  row->addWidget(quiet(tr("Falloff"), this));
  reach_along_ =
      reach(tr("How many points beside the picked ones follow, along the row"), "reach_along");
  shape_along_ = shape(tr("Falloff along the picked row"), "shape_along");
  row->addWidget(reach_along_);
  row->addWidget(shape_along_);
  row->addWidget(quiet(tr("across"), this));
  reach_across_ =
      reach(tr("How many points beside the picked ones follow, across the row"), "reach_across");
  shape_across_ = shape(tr("Falloff across the picked row"), "shape_across");
  row->addWidget(reach_across_);
  row->addWidget(shape_across_);
  strength_ = new QDoubleSpinBox(this);
  strength_->setLocale(QLocale::c());
  strength_->setRange(0.2, 5.0);
  strength_->setSingleStep(0.1);
  strength_->setDecimals(1);
  strength_->setValue(1.0);
  strength_->setFixedWidth(48);
  strength_->setObjectName("strength");
  strength_->setAccessibleName(tr("Strength of the falloff"));
  strength_->setToolTip(tr("Strength: more keeps the move closer to the picked points."));
  row->addWidget(strength_);
  connect(strength_, &QDoubleSpinBox::valueChanged, this, [this] { take_falloff(); });
  row->addStretch();
  return row;
}

QHBoxLayout* DirectionBar::picking() {
  auto* row = new QHBoxLayout;
  row->setSpacing(4);
  row->addWidget(quiet(tr("Pick"), this));
  filter_ = new QComboBox(this);
  filter_->addItems({tr("points"), tr("net lines"), tr("both")});
  filter_->setToolTip(
      tr("What a click or a box takes: points, whole lines of the net, or whichever is nearer."));
  filter_->setAccessibleName(tr("What is picked"));
  filter_->setObjectName("filter");
  filter_->setFixedWidth(82);
  row->addWidget(filter_);
  visible_only_ = new QCheckBox(tr("Visible only"), this);
  visible_only_->setToolTip(tr("Boxes and lassos take only points that the part does not hide."));
  visible_only_->setObjectName("visible_only_box");
  row->addWidget(visible_only_);
  row->addSpacing(4);
  snap_ = new QToolButton(this);
  snap_->setText(tr("Snap"));
  snap_->setCheckable(true);
  snap_->setToolTip(tr("Dragged points snap exactly to what is near the cursor."));
  snap_->setObjectName("snap");
  auto* to = new QToolButton(this);
  to->setText(tr("to …"));
  to->setToolTip(tr("What dragged points snap to."));
  to->setPopupMode(QToolButton::InstantPopup);
  to->setObjectName("snap_to");
  auto* menu = new QMenu(to);
  const QString names[4] = {tr("Control points"), tr("Ends of curves and edges"),
                            tr("Curves and edges"), tr("Grid of the work plane")};
  for (std::size_t k = 0; k < 4; ++k) {
    snap_kinds_[k] = menu->addAction(names[k]);
    snap_kinds_[k]->setCheckable(true);
    connect(snap_kinds_[k], &QAction::toggled, this, [this] { take_snap(); });
  }
  to->setMenu(menu);
  row->addWidget(snap_);
  row->addWidget(to);
  grid_ = new QDoubleSpinBox(this);
  grid_->setLocale(QLocale::c());
  grid_->setRange(0.01, 1000.0);
  grid_->setDecimals(2);
  grid_->setValue(5.0);
  grid_->setFixedWidth(58);
  grid_->setToolTip(tr("Spacing of the grid of the work plane in mm."));
  grid_->setAccessibleName(tr("Spacing of the snap grid"));
  grid_->setObjectName("snap_grid");
  row->addWidget(quiet(tr("grid"), this));
  row->addWidget(grid_);
  row->addStretch();
  connect(filter_, &QComboBox::activated, this,
          [this](int k) { editor_.set_filter(static_cast<PickFilter>(k)); });
  connect(visible_only_, &QCheckBox::clicked, this,
          [this](bool on) { editor_.set_visible_only(on); });
  connect(snap_, &QToolButton::clicked, this, [this] { take_snap(); });
  connect(grid_, &QDoubleSpinBox::valueChanged, this, [this] { take_snap(); });
  return row;
}

void DirectionBar::take_snap() {
  if (refreshing_) return;
  editor_.set_snap({snap_->isChecked(), snap_kinds_[0]->isChecked(), snap_kinds_[1]->isChecked(),
                    snap_kinds_[2]->isChecked(), snap_kinds_[3]->isChecked(), grid_->value()});
}

void DirectionBar::take_falloff() {
  if (refreshing_) return;
  editor_.set_falloff({static_cast<FalloffShape>(shape_along_->currentIndex()),
                       static_cast<FalloffShape>(shape_across_->currentIndex()),
                       reach_along_->value(), reach_across_->value(), strength_->value(),
                       strength_->value()});
}

void DirectionBar::refresh() {
  if (editor_.dragging()) return;
  refreshing_ = true;
  for (const auto& [mode, button] : modes_) button->setChecked(mode == editor_.mode());
  for (const auto& [direction, button] : directions_)
    button->setChecked(direction == editor_.direction());
  pivot_->setCurrentIndex(static_cast<int>(editor_.pivot()));
  pivot_->setEnabled(editor_.mode() == EditMode::Scale || editor_.mode() == EditMode::Turn);
  symmetry_->setCurrentIndex(static_cast<int>(editor_.symmetry()));
  const auto weight = editor_.picked_weight();
  weight_->setEnabled(weight.has_value());
  weight_->setValue(weight.value_or(1.0));
  filter_->setCurrentIndex(static_cast<int>(editor_.filter()));
  visible_only_->setChecked(editor_.visible_only());
  const SnapKinds& snap = editor_.snap();
  snap_->setChecked(snap.on);
  snap_kinds_[0]->setChecked(snap.points);
  snap_kinds_[1]->setChecked(snap.ends);
  snap_kinds_[2]->setChecked(snap.edges);
  snap_kinds_[3]->setChecked(snap.grid);
  grid_->setValue(snap.grid_mm);
  grid_->setEnabled(snap.grid);
  const Falloff& f = editor_.falloff();
  reach_along_->setValue(f.reach_along);
  reach_across_->setValue(f.reach_across);
  shape_along_->setCurrentIndex(static_cast<int>(f.along));
  shape_across_->setCurrentIndex(static_cast<int>(f.across));
  shape_along_->setEnabled(f.reach_along > 0);
  shape_across_->setEnabled(f.reach_across > 0);
  strength_->setEnabled(f.reach_along > 0 || f.reach_across > 0);
  setVisible(editor_.net().has_value() && editor_.net_visible());
  adjustSize();
  refreshing_ = false;
}

}  // namespace evenclay
