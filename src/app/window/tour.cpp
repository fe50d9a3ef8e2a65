#include "app/window/tour.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

#include "app/window/main_window.h"

namespace evenclay {

namespace {

struct Words {
  const char* title;
  const char* text;
};

constexpr Words kWords[Tour::kSteps] = {
    {"Skerry, a small speaker",
     "Drag with the middle button (or Space and the left one) to look round, the wheel zooms. On "
     "the "
     "right are its parts; the chosen one unfolds the steps that made it."},
    {"The grid decides the form",
     "The shell began as a sphere and was given 10 × 8 control points. Change the counts on the "
     "right and watch the gauges below: deviation, evenness and least radius follow at once."},
    {"Shape it by its points",
     "Click a point and drag it: the label at the cursor says how far the point and the skin "
     "really "
     "moved. Chips below the modes set symmetry, falloff and snapping. Ctrl+Z takes it back."},
    {"A pattern follows",
     "The grille is one tile, repeated over a band of the shell. Change the repeats; go back to "
     "the "
     "shell, drag a point, and the pattern follows."},
    {"Check it, hand it over",
     "Zebra stripes show kinks, combs show bends, the gauges keep their numbers. Deliver writes "
     "STEP, "
     "STL and OBJ. Everything done so far stays in the list on the right and can be changed."},
};

}  // namespace

Tour::Tour(MainWindow& window) : QFrame(&window.view()), window_(window) {
  setProperty("hint", true);
  setObjectName("tour");
  setAccessibleName(tr("Tour"));
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 16, 12);
  title_ = new QLabel(this);
  title_->setProperty("heading", true);
  text_ = new QLabel(this);
  text_->setWordWrap(true);
  text_->setFixedWidth(380);
  count_ = new QLabel(this);
  count_->setProperty("quiet", true);
  auto* row = new QHBoxLayout;
  auto* end = new QPushButton(tr("End tour"), this);
  end->setObjectName("tour_end");
  back_ = new QPushButton(tr("Back"), this);
  back_->setObjectName("tour_back");
  next_ = new QPushButton(tr("Next"), this);
  next_->setObjectName("tour_next");
  next_->setProperty("primary", true);
  row->addWidget(count_);
  row->addStretch();
  for (QPushButton* b : {end, back_, next_}) row->addWidget(b);
  column->addWidget(title_);
  column->addWidget(text_);
  column->addLayout(row);
  connect(end, &QPushButton::clicked, this, &QWidget::hide);
  connect(back_, &QPushButton::clicked, this, [this] { show_step(step_ - 1); });
  connect(next_, &QPushButton::clicked, this, [this] {
    if (step_ + 1 < kSteps)
      show_step(step_ + 1);
    else
      hide();
  });
  hide();
}

void Tour::begin() {
  window_.model().open_demo();
  show_step(0);
}

void Tour::choose(const char* part, std::size_t step) {
  const Part* p = find_part(window_.model().document(), std::string_view(part));
  if (p == nullptr) return;
  const StepId id = p->steps[std::min(step, p->steps.size() - 1)].id;
  window_.model().choose_part(p->id);
  window_.model().choose_step(id);
}

// Brings the window to where the step happens; the project is not changed.
void Tour::arrange(int step) {
  constexpr Stage stages[kSteps] = {Stage::Source, Stage::Grid, Stage::Shaped, Stage::Pattern,
                                    Stage::Check};
  window_.stages().open(stages[step]);
  if (step == 1) choose("Shell", 1);
  if (step == 2) choose("Shell", 2);
  if (step == 3) choose("Grille", 0);
  window_.editor().set_net_visible(step == 1 || step == 2);
  window_.view().set(&ViewSettings::look, step == 4 ? ModelLook::Zebra : ModelLook::Clay);
}

void Tour::show_step(int step) {
  step_ = std::clamp(step, 0, kSteps - 1);
  arrange(step_);
  title_->setText(tr(kWords[step_].title));
  text_->setText(tr(kWords[step_].text));
  count_->setText(tr("%1 of %2").arg(step_ + 1).arg(kSteps));
  back_->setEnabled(step_ > 0);
  next_->setText(step_ + 1 < kSteps ? tr("Next") : tr("Done"));
  layout()->activate();
  adjustSize();
  move(std::max(8, (parentWidget()->width() - window_.view().covered_right() - width()) / 2), 44);
  show();
  raise();
}

void Tour::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Escape)
    hide();
  else
    QFrame::keyPressEvent(event);
}

}  // namespace evenclay
