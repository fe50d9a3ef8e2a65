#include "app/window/find_action.h"

#include <QAction>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/look/style.h"

namespace evenclay {

FindAction::FindAction(const std::vector<ActionInfo>& actions, QWidget* parent)
    : QFrame(parent), actions_(actions) {
  setProperty("hint", true);
  setObjectName("find_action");
  auto* column = new QVBoxLayout(this);
  field_ = new QLineEdit(this);
  field_->setPlaceholderText(tr("What do you want to do?"));
  field_->setAccessibleName(tr("Find an action"));
  list_ = new QListWidget(this);
  list_->setAccessibleName(tr("Actions found"));
  column->addWidget(field_);
  column->addWidget(list_);
  field_->installEventFilter(this);
  connect(field_, &QLineEdit::textChanged, this, &FindAction::filter);
  connect(field_, &QLineEdit::returnPressed, this, &FindAction::run_current);
  connect(list_, &QListWidget::itemActivated, this, &FindAction::run_current);
  connect(list_, &QListWidget::itemClicked, this, &FindAction::run_current);
  hide();
}

void FindAction::open(const QString& text) {
  const int w = 460;
  setGeometry((parentWidget()->width() - w) / 2, 44, w, 340);
  show();
  raise();
  field_->setText(text);
  filter(text);
  field_->setFocus();
}

void FindAction::filter(const QString& text) {
  list_->clear();
  const QStringList wanted = text.toLower().split(' ', Qt::SkipEmptyParts);
  for (std::size_t k = 0; k < actions_.size(); ++k) {
    const ActionInfo& a = actions_[k];
    const QString stage = a.stage ? QString(info(*a.stage).name) : QString();
    const QString all = (a.label + " " + a.help + " " + stage).toLower();
    bool fits = true;
    for (const QString& w : wanted) fits = fits && all.contains(w);
    if (!fits || !a.action->isEnabled()) continue;
    QString line = a.label;
    if (!stage.isEmpty()) line += "   ·   " + stage;
    if (!a.key.isEmpty()) line += "   ·   " + a.key.toString(QKeySequence::NativeText);
    auto* item = new QListWidgetItem(look::icon(a.icon), line, list_);
    item->setToolTip(a.help);
    item->setData(Qt::UserRole, static_cast<int>(k));
  }
  list_->setCurrentRow(0);
}

void FindAction::run_current() {
  const QListWidgetItem* item = list_->currentItem();
  hide();
  if (item == nullptr) return;
  actions_[static_cast<std::size_t>(item->data(Qt::UserRole).toInt())].action->trigger();
}

bool FindAction::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    if (key == Qt::Key_Escape) {
      hide();
      return true;
    }
    if (key == Qt::Key_Down || key == Qt::Key_Up) {
      const int step = key == Qt::Key_Down ? 1 : -1;
      list_->setCurrentRow(std::clamp(list_->currentRow() + step, 0, list_->count() - 1));
      return true;
    }
  }
  if (event->type() == QEvent::FocusOut && isVisible() && !list_->hasFocus()) hide();
  return QFrame::eventFilter(watched, event);
}

}  // namespace evenclay
