#include "app/panels/section_card.h"

#include <QDoubleSpinBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLocale>
#include <QToolButton>

#include "app/panels/length_field.h"
#include "app/view/model_view.h"

namespace evenclay {

SectionCard::SectionCard(ModelView& view, const PointEditor& editor)
    : QFrame(&view), view_(view), editor_(editor) {
  setProperty("bar", true);
  setObjectName("section_card");
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(9, 4, 6, 4);
  row->setSpacing(4);
  row->addWidget(new QLabel(tr("Section across"), this));
  const auto button = [&](const QString& text, const QString& help, const char* name) {
    auto* b = new QToolButton(this);
    b->setText(text);
    b->setToolTip(help);
    b->setObjectName(name);
    row->addWidget(b);
    return b;
  };
  const char* names[] = {"section_x", "section_y", "section_z", "section_plane"};
  const QString labels[] = {"x", "y", "z", tr("plane")};
  for (int axis = 0; axis < 4; ++axis)
    connect(button(labels[axis],
                   axis < 3 ? tr("Cuts across the %1 axis.").arg(labels[axis])
                            : tr("Cuts along the work plane."),
                   names[axis]),
            &QToolButton::clicked, this, [this, axis] { set_normal(axis); });
  row->addWidget(new QLabel(tr("at"), this));
  place_ = length_field(this);
  place_->setRange(-1e5, 1e5);
  place_->setDecimals(2);
  place_->setFixedWidth(96);
  place_->setObjectName("section_place");
  place_->setAccessibleName(tr("Place of the section"));
  place_->setToolTip(tr("Where the plane stands along its axis. The arrow in the view drags it."));
  row->addWidget(place_);
  connect(place_, &QDoubleSpinBox::valueChanged, this, [this](double mm) {
    if (refreshing_) return;
    SectionCut cut = view_.settings().section;
    cut.d = -facing(cut) * mm;
    view_.set(&ViewSettings::section, cut);
  });
  connect(button(tr("Other side"), tr("Shows what was cut away, and cuts what was shown."),
                 "section_flip"),
          &QToolButton::clicked, this, [this] {
            SectionCut cut = view_.settings().section;
            cut = {-cut.normal, -cut.d};
            view_.set(&ViewSettings::section, cut);
          });
  connect(button(tr("Close"), tr("Ends the section view."), "section_close"), &QToolButton::clicked,
          this, [this] { view_.set(&ViewSettings::section_view, false); });
  connect(&view_, &ModelView::look_changed, this, &SectionCard::refresh);
  refresh();
}

// Through the middle of the model; the side towards the eye goes.
void SectionCard::set_normal(int axis) {
  const Frame& plane = editor_.work_plane();
  Vec3 n = plane.z;
  Vec3 through = plane.origin;
  if (axis < 3) {
    n = {};
    n[static_cast<std::size_t>(axis)] = 1.0;
    through = view_.middle();
  }
  if (dot(n, view_.camera(view_.main_name()).axes().z) > 0.0) n = -n;
  view_.set(&ViewSettings::section, SectionCut{n, -dot(n, through)});
}

void SectionCard::refresh() {
  const ViewSettings& s = view_.settings();
  setVisible(s.section_view);
  if (!s.section_view) return;
  refreshing_ = true;
  const double mm = place_of(s.section);
  if (std::abs(place_->value() - mm) > 0.005) place_->setValue(mm);
  refreshing_ = false;
  adjustSize();
  move((view_.width() - width()) / 2, 8);
}

}  // namespace evenclay
