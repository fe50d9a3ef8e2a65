#include "app/stages/stages_rail.h"

#include <QAction>
#include <QButtonGroup>
#include <QEvent>
#include <QFrame>
#include <QLabel>
#include <QScrollArea>
#include <QScrollBar>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/style.h"
#include "app/look/words.h"
#include "app/stages/hover_card.h"
#include "app/stages/rail_button.h"

namespace evenclay {

StagesRail::StagesRail(const std::vector<ActionInfo>& actions, QWidget* parent)
    : QWidget(parent), actions_(actions) {
  setFixedWidth(190);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 8, 8, 8);
  column->setSpacing(2);
  auto* group = new QButtonGroup(this);
  for (int k = 0; k < kStages; ++k) {
    const auto stage = static_cast<Stage>(k);
    auto* b = new RailButton(this);
    b->setProperty("stage", true);
    b->setObjectName(QString("stage_%1").arg(k + 1));
    b->setText("  " + look::words(info(stage).name).replace("&", "&&"));
    b->setIcon(look::icon(info(stage).icon));
    b->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    b->setToolTip(QString("%1  (Alt+%2)").arg(look::words(info(stage).purpose)).arg(k + 1));
    b->setCheckable(true);
    b->setShortcut(QKeySequence(QString("Alt+%1").arg(k + 1)));
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    group->addButton(b, k);
    column->addWidget(b);
    buttons_[static_cast<std::size_t>(k)] = b;
  }
  auto* line = new QFrame(this);
  line->setFrameShape(QFrame::HLine);
  line->setProperty("rule", true);
  column->addSpacing(6);
  column->addWidget(line);
  column->addSpacing(4);
  purpose_ = new QLabel(this);
  purpose_->setWordWrap(true);
  purpose_->setProperty("quiet", true);
  column->addWidget(purpose_);
  column->addSpacing(2);
  area_ = new QScrollArea(this);
  area_->setWidgetResizable(true);
  area_->setFrameShape(QFrame::NoFrame);
  area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inside = new QWidget(area_);
  auto* inside_column = new QVBoxLayout(inside);
  inside_column->setContentsMargins(0, 0, 0, 0);
  tools_ = new QVBoxLayout;
  tools_->setSpacing(2);
  inside_column->addLayout(tools_);
  inside_column->addStretch();
  area_->setWidget(inside);
  column->addWidget(area_, 1);
  connect(group, &QButtonGroup::idClicked, this, [this](int k) { open(static_cast<Stage>(k)); });
  open(Stage::Source);
}

void StagesRail::open(Stage stage) {
  if (stage != stage_) area_->verticalScrollBar()->setValue(0);
  stage_ = stage;
  buttons_[static_cast<std::size_t>(stage)]->setChecked(true);
  const StageInfo& s = info(stage);
  purpose_->setText(look::words(s.coming[0] != '\0' ? s.coming : s.purpose));
  fill();
  Q_EMIT opened(stage);
}

void StagesRail::set_folded(const QStringList& folded) {
  folded_ = folded;
  fill();
}

void StagesRail::fill() {
  if (card_ != nullptr) card_->hide();
  while (QLayoutItem* item = tools_->takeAt(0)) {
    if (QWidget* old = item->widget()) {
      old->hide();
      old->deleteLater();
    }
    delete item;
  }
  QStringList groups;  // in the order in which they first occur
  for (const ActionInfo& a : actions_)
    if (a.stage == stage_ && a.in_rail && !groups.contains(a.group)) groups.push_back(a.group);
  // The many tools of forms lead while a form is chosen, and are out of the way otherwise.
  if (const QString forms = look::words("Form"); groups.removeAll(forms) > 0)
    groups.insert(form_first_ ? 0 : groups.size(), forms);
  for (const QString& group : groups) add_group(group);
}

void StagesRail::set_form_first(bool first) {
  if (first == form_first_) return;
  form_first_ = first;
  area_->verticalScrollBar()->setValue(0);
  fill();
}

void StagesRail::add_heading(const QString& group, const QString& address) {
  const bool folded = folded_.contains(address);
  auto* heading = new RailButton(this);
  heading->setProperty("group", true);
  heading->setObjectName("group_" + group);
  heading->setText(group);
  heading->setAccessibleName(folded ? tr("%1, folded").arg(group) : group);
  heading->setIcon(look::icon(folded ? "chevron-right" : "chevron-down"));
  heading->setIconSize({12, 12});
  heading->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  heading->setToolTip(folded ? tr("Unfolds this group.") : tr("Folds this group."));
  heading->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
  // Never squeezed, not even while the rail finds out that it must scroll.
  heading->ensurePolished();
  heading->setMinimumHeight(heading->sizeHint().height());
  connect(heading, &QToolButton::clicked, this, [this, address, folded] {
    if (folded)
      folded_.removeAll(address);
    else
      folded_.push_back(address);
    fill();
  });
  tools_->addWidget(heading);
}

void StagesRail::add_group(const QString& group) {
  const QString address = QString("%1/%2").arg(static_cast<int>(stage_)).arg(group);
  if (!group.isEmpty()) add_heading(group, address);
  if (folded_.contains(address)) return;
  for (const ActionInfo& a : actions_) {
    if (a.stage != stage_ || !a.in_rail || a.group != group) continue;
    auto* b = new RailButton(this);
    b->setDefaultAction(a.action);
    b->setObjectName("tool_" + a.id);
    b->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    b->setProperty("tool", true);
    b->setAccessibleName(a.label);
    b->setAccessibleDescription(a.help);
    b->installEventFilter(this);
    tools_->addWidget(b);
  }
}

// The card takes the place of the plain tip.
bool StagesRail::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    const QString id = watched->objectName().mid(5);  // behind "tool_"
    for (const ActionInfo& a : actions_)
      if (a.id == id) {
        if (card_ == nullptr) card_ = new HoverCard(window());
        card_->show_for(a, *static_cast<QWidget*>(watched));
        return true;
      }
  }
  const bool over = event->type() == QEvent::Leave || event->type() == QEvent::MouseButtonPress ||
                    event->type() == QEvent::Hide;
  if (over && card_ != nullptr) card_->hide();
  return QWidget::eventFilter(watched, event);
}

}  // namespace evenclay
