#include "app/stages/stages_rail.h"

#include <QAction>
#include <QButtonGroup>
#include <QFrame>
#include <QLabel>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/style.h"

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
    auto* b = new QToolButton(this);
    b->setProperty("stage", true);
    b->setObjectName(QString("stage_%1").arg(k + 1));
    b->setText("  " + QString(info(stage).name).replace("&", "&&"));
    b->setIcon(look::icon(info(stage).icon));
    b->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    b->setToolTip(QString("%1  (Alt+%2)").arg(info(stage).purpose).arg(k + 1));
    b->setCheckable(true);
    b->setShortcut(QKeySequence(QString("Alt+%1").arg(k + 1)));
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    group->addButton(b, k);
    column->addWidget(b);
    buttons_[static_cast<std::size_t>(k)] = b;
  }
  auto* line = new QFrame(this);
  line->setFrameShape(QFrame::HLine);
  line->setStyleSheet("color: #D8D0C6;");
  column->addSpacing(6);
  column->addWidget(line);
  column->addSpacing(4);
  purpose_ = new QLabel(this);
  purpose_->setWordWrap(true);
  purpose_->setProperty("quiet", true);
  column->addWidget(purpose_);
  column->addSpacing(2);
  auto* area = new QScrollArea(this);
  area->setWidgetResizable(true);
  area->setFrameShape(QFrame::NoFrame);
  area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  auto* inside = new QWidget(area);
  auto* inside_column = new QVBoxLayout(inside);
  inside_column->setContentsMargins(0, 0, 0, 0);
  tools_ = new QVBoxLayout;
  tools_->setSpacing(2);
  inside_column->addLayout(tools_);
  inside_column->addStretch();
  area->setWidget(inside);
  column->addWidget(area, 1);
  connect(group, &QButtonGroup::idClicked, this, [this](int k) { open(static_cast<Stage>(k)); });
  open(Stage::Source);
}

void StagesRail::open(Stage stage) {
  stage_ = stage;
  buttons_[static_cast<std::size_t>(stage)]->setChecked(true);
  while (QLayoutItem* item = tools_->takeAt(0)) {
    if (item->widget() != nullptr) item->widget()->deleteLater();
    delete item;
  }
  const StageInfo& s = info(stage);
  purpose_->setText(s.coming[0] != '\0' ? s.coming : s.purpose);
  QStringList groups;  // in the order in which they first occur
  for (const ActionInfo& a : actions_)
    if (a.stage == stage && a.in_rail && !groups.contains(a.group)) groups.push_back(a.group);
  for (const QString& group : groups) add_group(group);
}

void StagesRail::add_group(const QString& group) {
  if (!group.isEmpty()) {
    auto* heading = new QLabel(group, this);
    heading->setProperty("quiet", true);
    heading->setObjectName("group_" + group);
    tools_->addWidget(heading);
  }
  for (const ActionInfo& a : actions_) {
    if (a.stage != stage_ || !a.in_rail || a.group != group) continue;
    auto* b = new QToolButton(this);
    b->setDefaultAction(a.action);
    b->setObjectName("tool_" + a.id);
    b->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    b->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    b->setProperty("tool", true);
    tools_->addWidget(b);
  }
}

}  // namespace evenclay
