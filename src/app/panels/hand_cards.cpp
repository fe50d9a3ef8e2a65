#include "app/panels/hand_cards.h"
#include "app/panels/length_field.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDoubleSpinBox>
#include <QFormLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QSpinBox>
#include <QVBoxLayout>
#include <array>

namespace evenclay {

namespace {

constexpr std::array kRatios{1.0, 2.0, 5.0, 10.0, 50.0};

QDoubleSpinBox* set_up(QDoubleSpinBox* box, const char* object, const QString& name, double least,
                       double most, int decimals, double step) {
  box->setLocale(QLocale::c());
  box->setRange(least, most);
  box->setDecimals(decimals);
  box->setSingleStep(step);
  box->setObjectName(object);
  box->setAccessibleName(name);
  box->setMinimumWidth(84);
  return box;
}
QDoubleSpinBox* number(QWidget* parent, const char* object, const QString& name, double least,
                       double most, int decimals, double step) {
  return set_up(new QDoubleSpinBox(parent), object, name, least, most, decimals, step);
}

QComboBox* choice(QWidget* parent, const char* object, const QString& name,
                  const QStringList& items) {
  auto* box = new QComboBox(parent);
  box->addItems(items);
  box->setObjectName(object);
  box->setAccessibleName(name);
  box->setMinimumWidth(110);
  return box;
}

QFormLayout* form_of(HandCard* card) {
  auto* form = new QFormLayout;
  form->setContentsMargins(0, 0, 0, 0);
  form->setHorizontalSpacing(8);
  form->setVerticalSpacing(5);
  static_cast<QVBoxLayout*>(card->layout())->addLayout(form);
  return form;
}

void add_note(HandCard* card, const QString& text) {
  auto* note = new QLabel(text, card);
  note->setProperty("quiet", true);
  note->setWordWrap(true);
  note->setMinimumWidth(210);
  card->layout()->addWidget(note);
}

class SymmetryCard : public HandCard {
 public:
  SymmetryCard(PointEditor& editor, QWidget* parent) : HandCard(editor, tr("Symmetry"), parent) {
    auto* form = form_of(this);
    planes_ =
        choice(this, "symmetry", tr("Symmetry planes"),
               {tr("off"), "y–z", "x–z", "x–y", "y–z, x–z", "x–z, x–y", "y–z, x–y", tr("all")});
    form->addRow(tr("Planes"), planes_);
    add_note(this, tr("Every move is mirrored to the partner points. M switches it on and off."));
    connect(planes_, &QComboBox::activated, this, [this] { taken(); });
  }
  QString words() const override {
    return unusual()
               ? tr("Symmetry %1").arg(planes_->itemText(static_cast<int>(editor_.symmetry())))
               : tr("Symmetry off");
  }
  bool unusual() const override { return editor_.symmetry() != SymmetryPlane::None; }

 protected:
  void take() override {
    editor_.set_symmetry(static_cast<SymmetryPlane>(planes_->currentIndex()));
  }
  void show_state() override { planes_->setCurrentIndex(static_cast<int>(editor_.symmetry())); }

 private:
  QComboBox* planes_;
};

class FalloffCard : public HandCard {
 public:
  FalloffCard(PointEditor& editor, QWidget* parent) : HandCard(editor, tr("Falloff"), parent) {
    auto* form = form_of(this);
    const QStringList shapes{tr("Rigid"), tr("Ramp"), tr("Scoop"), tr("Dome"), tr("Bell")};
    const auto reach = [&](const char* object, const QString& name) {
      auto* box = new QSpinBox(this);
      box->setLocale(QLocale::c());
      box->setRange(0, 50);
      box->setSpecialValueText(tr("off"));
      box->setObjectName(object);
      box->setAccessibleName(name);
      connect(box, &QSpinBox::valueChanged, this, [this] { taken(); });
      return box;
    };
    along_ =
        reach("reach_along", tr("How many points beside the picked ones follow, along the row"));
    along_shape_ = choice(this, "shape_along", tr("Falloff along the picked row"), shapes);
    across_ = reach("reach_across", tr("How many points follow, across the row"));
    across_shape_ = choice(this, "shape_across", tr("Falloff across the picked row"), shapes);
    strength_ = number(this, "strength", tr("Strength of the falloff"), 0.2, 5.0, 1, 0.1);
    form->addRow(tr("Points along"), along_);
    form->addRow(tr("Shape along"), along_shape_);
    form->addRow(tr("Points across"), across_);
    form->addRow(tr("Shape across"), across_shape_);
    form->addRow(tr("Strength"), strength_);
    add_note(this,
             tr("Neighbours of the picked points go along; their fill shows their share. More "
                "strength keeps the move closer to the picked points."));
    for (QComboBox* box : {along_shape_, across_shape_})
      connect(box, &QComboBox::activated, this, [this] { taken(); });
    connect(strength_, &QDoubleSpinBox::valueChanged, this, [this] { taken(); });
  }
  QString words() const override {
    const Falloff& f = editor_.falloff();
    return unusual() ? tr("Falloff %1 × %2").arg(f.reach_along).arg(f.reach_across)
                     : tr("Falloff off");
  }
  bool unusual() const override {
    return editor_.falloff().reach_along > 0 || editor_.falloff().reach_across > 0;
  }

 protected:
  void take() override {
    editor_.set_falloff({static_cast<FalloffShape>(along_shape_->currentIndex()),
                         static_cast<FalloffShape>(across_shape_->currentIndex()), along_->value(),
                         across_->value(), strength_->value(), strength_->value()});
  }
  void show_state() override {
    const Falloff& f = editor_.falloff();
    along_->setValue(f.reach_along);
    across_->setValue(f.reach_across);
    along_shape_->setCurrentIndex(static_cast<int>(f.along));
    across_shape_->setCurrentIndex(static_cast<int>(f.across));
    if (std::abs(strength_->value() - f.strength_along) > 0.05)
      strength_->setValue(f.strength_along);
    along_shape_->setEnabled(f.reach_along > 0);
    across_shape_->setEnabled(f.reach_across > 0);
    strength_->setEnabled(unusual());
  }

 private:
  QSpinBox *along_, *across_;
  QComboBox *along_shape_, *across_shape_;
  QDoubleSpinBox* strength_;
};

class SnapCard : public HandCard {
 public:
  SnapCard(PointEditor& editor, QWidget* parent) : HandCard(editor, tr("Snap"), parent) {
    const auto tick = [&](const char* object, const QString& text) {
      auto* box = new QCheckBox(text, this);
      box->setObjectName(object);
      layout()->addWidget(box);
      connect(box, &QCheckBox::clicked, this, [this] { taken(); });
      return box;
    };
    on_ = tick("snap", tr("Dragged points snap exactly"));
    kinds_ = {tick("snap_points", tr("to control points")),
              tick("snap_ends", tr("to ends of curves and edges")),
              tick("snap_edges", tr("to curves and edges")),
              tick("snap_to_grid", tr("to the grid of the work plane"))};
    auto* form = form_of(this);
    grid_ = set_up(length_field(this), "snap_grid", tr("Spacing of the snap grid"), 0.01, 1000.0, 2,
                   0.5);
    form->addRow(tr("Grid"), grid_);
    connect(grid_, &QDoubleSpinBox::valueChanged, this, [this] { taken(); });
  }
  QString words() const override { return unusual() ? tr("Snap on") : tr("Snap off"); }
  bool unusual() const override { return editor_.snap().on; }

 protected:
  void take() override {
    editor_.set_snap({on_->isChecked(), kinds_[0]->isChecked(), kinds_[1]->isChecked(),
                      kinds_[2]->isChecked(), kinds_[3]->isChecked(), grid_->value()});
  }
  void show_state() override {
    const SnapKinds& s = editor_.snap();
    on_->setChecked(s.on);
    const bool kinds[] = {s.points, s.ends, s.edges, s.grid};
    for (std::size_t k = 0; k < 4; ++k) kinds_[k]->setChecked(kinds[k]);
    grid_->setValue(s.grid_mm);
    grid_->setEnabled(s.grid);
  }

 private:
  QCheckBox* on_;
  std::array<QCheckBox*, 4> kinds_{};
  QDoubleSpinBox* grid_;
};

class FineCard : public HandCard {
 public:
  FineCard(PointEditor& editor, QWidget* parent) : HandCard(editor, tr("Fine work"), parent) {
    auto* form = form_of(this);
    QStringList ratios;
    for (const double r : kRatios) ratios << QString("1:%1").arg(r);
    ratio_ = choice(this, "ratio", tr("Drag ratio"), ratios);
    step_ = number(this, "step_length", tr("Step length"), 0.0, 100.0, 2, 0.1);
    step_->setSpecialValueText(tr("off"));
    form->addRow(tr("Drag ratio"), ratio_);
    form->addRow(tr("Step length"), step_);
    add_note(this,
             tr("The hand's way is divided by the ratio; Shift gives a tenth. Steps are in mm, "
                "and in degrees for turning."));
    connect(ratio_, &QComboBox::activated, this, [this] { taken(); });
    connect(step_, &QDoubleSpinBox::valueChanged, this, [this] { taken(); });
  }
  QString words() const override {
    QString text = tr("Fine 1:%1").arg(editor_.ratio());
    if (editor_.step_length() > 0.0)
      text += tr(", %1 mm").arg(QLocale::c().toString(editor_.step_length(), 'g', 4));
    return text;
  }
  bool unusual() const override { return editor_.ratio() > 1.0 || editor_.step_length() > 0.0; }

 protected:
  void take() override {
    // Each change shows itself in the fields at once: all are read first.
    const double ratio = kRatios[static_cast<std::size_t>(ratio_->currentIndex())];
    const double step = step_->value();
    editor_.set_ratio(ratio);
    editor_.set_step_length(step);
  }
  void show_state() override {
    for (std::size_t k = 0; k < kRatios.size(); ++k)
      if (kRatios[k] == editor_.ratio()) ratio_->setCurrentIndex(static_cast<int>(k));
    step_->setValue(editor_.step_length());
  }

 private:
  QComboBox* ratio_;
  QDoubleSpinBox* step_;
};

class AboutCard : public HandCard {
 public:
  AboutCard(PointEditor& editor, QWidget* parent)
      : HandCard(editor, tr("Scale and turn about"), parent) {
    auto* form = form_of(this);
    pivot_ = choice(this, "pivot", tr("Centre of scaling and turning"),
                    {tr("the picked points"), tr("the part"), tr("the point picked last"),
                     tr("the symmetry planes")});
    form->addRow(tr("Centre"), pivot_);
    connect(pivot_, &QComboBox::activated, this, [this] { taken(); });
  }
  QString words() const override {
    const QString names[] = {tr("About picked"), tr("About part"), tr("About last"),
                             tr("About symmetry")};
    return names[static_cast<std::size_t>(editor_.pivot())];
  }
  bool unusual() const override { return editor_.pivot() != Pivot::Picked; }

 protected:
  void take() override { editor_.set_pivot(static_cast<Pivot>(pivot_->currentIndex())); }
  void show_state() override { pivot_->setCurrentIndex(static_cast<int>(editor_.pivot())); }

 private:
  QComboBox* pivot_;
};

class PickCard : public HandCard {
 public:
  PickCard(PointEditor& editor, QWidget* parent) : HandCard(editor, tr("Picking"), parent) {
    auto* form = form_of(this);
    filter_ =
        choice(this, "filter", tr("What is picked"), {tr("points"), tr("net lines"), tr("both")});
    form->addRow(tr("Pick"), filter_);
    kind_ = choice(this, "form_kind", tr("What is picked on a form"),
                   {tr("faces"), tr("edges"), tr("points")});
    form->addRow(tr("On a form"), kind_);
    connect(kind_, &QComboBox::activated, this, [this] { taken(); });
    visible_ = new QCheckBox(tr("Visible only"), this);
    visible_->setObjectName("visible_only_box");
    layout()->addWidget(visible_);
    add_note(this,
             tr("Boxes and lassos take points through the whole depth, or only those that the "
                "part does not hide."));
    connect(filter_, &QComboBox::activated, this, [this] { taken(); });
    connect(visible_, &QCheckBox::clicked, this, [this] { taken(); });
  }
  QString words() const override {
    const QString names[] = {tr("Pick points"), tr("Pick lines"), tr("Pick both")};
    const QString of_form[] = {tr("Pick faces"), tr("Pick edges"), tr("Pick points")};
    if (editor_.form() != nullptr)
      return of_form[static_cast<std::size_t>(editor_.form_kind())] +
             (editor_.visible_only() ? tr(", visible") : QString());
    return names[static_cast<std::size_t>(editor_.filter())] +
           (editor_.visible_only() ? tr(", visible") : QString());
  }
  bool unusual() const override {
    return editor_.filter() != PickFilter::Points || editor_.visible_only();
  }

 protected:
  void take() override {
    const auto filter = static_cast<PickFilter>(filter_->currentIndex());
    const bool visible = visible_->isChecked();
    editor_.set_form_kind(static_cast<PickKind>(kind_->currentIndex()));
    editor_.set_filter(filter);
    editor_.set_visible_only(visible);
  }
  void show_state() override {
    filter_->setCurrentIndex(static_cast<int>(editor_.filter()));
    kind_->setCurrentIndex(static_cast<int>(editor_.form_kind()));
    filter_->setEnabled(editor_.form() == nullptr);
    kind_->setEnabled(editor_.form() != nullptr);
    visible_->setChecked(editor_.visible_only());
  }

 private:
  QComboBox* filter_;
  QComboBox* kind_;
  QCheckBox* visible_;
};

class WeightCard : public HandCard {
 public:
  WeightCard(PointEditor& editor, QWidget* parent)
      : HandCard(editor, tr("Weight of the picked points"), parent) {
    auto* form = form_of(this);
    weight_ = number(this, "weight", tr("Weight of the picked points"), 0.01, 100.0, 2, 0.1);
    weight_->setKeyboardTracking(false);
    form->addRow(tr("Weight"), weight_);
    add_note(this, tr("More pulls the surface closer to the points."));
    connect(weight_, &QDoubleSpinBox::valueChanged, this, [this] { taken(); });
  }
  QString words() const override {
    const auto w = editor_.picked_weight();
    return w ? tr("Weight %1").arg(QLocale::c().toString(*w, 'g', 3)) : tr("Weight –");
  }
  bool fits_forms() const override { return false; }
  bool unusual() const override {
    const auto w = editor_.picked_weight();
    return w && std::abs(*w - 1.0) > 1e-9;
  }

 protected:
  void take() override { editor_.set_weight(weight_->value()); }
  void show_state() override {
    const auto w = editor_.picked_weight();
    weight_->setEnabled(w.has_value());
    weight_->setValue(w.value_or(1.0));
  }

 private:
  QDoubleSpinBox* weight_;
};

}  // namespace

HandCard::HandCard(PointEditor& editor, const QString& title, QWidget* parent)
    : QFrame(parent), editor_(editor) {
  setProperty("bar", true);
  setAccessibleName(title);
  setFocusPolicy(Qt::StrongFocus);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 10);
  column->setSpacing(6);
  auto* heading = new QLabel(title, this);
  heading->setProperty("heading", true);
  column->addWidget(heading);
  hide();
}

void HandCard::refresh() {
  refreshing_ = true;
  show_state();
  refreshing_ = false;
}

void HandCard::keyPressEvent(QKeyEvent* event) {
  const bool done = event->key() == Qt::Key_Escape || event->key() == Qt::Key_Return ||
                    event->key() == Qt::Key_Enter;
  if (done)
    Q_EMIT closing();
  else
    QFrame::keyPressEvent(event);
}

std::vector<HandCard*> make_hand_cards(PointEditor& editor, QWidget* parent) {
  return {new SymmetryCard(editor, parent), new FalloffCard(editor, parent),
          new SnapCard(editor, parent),     new FineCard(editor, parent),
          new AboutCard(editor, parent),    new PickCard(editor, parent),
          new WeightCard(editor, parent)};
}

}  // namespace evenclay
