#include "app/window/find_action.h"

#include <QAction>
#include <QKeyEvent>
#include <QLineEdit>
#include <QListWidget>
#include <QVBoxLayout>
#include <algorithm>

#include "app/look/style.h"
#include "app/look/words.h"

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

// Lower is better: the label begins with the words, a word of it does, or they are elsewhere.
static int rank(const ActionInfo& a, const QString& text) {
  const QString label = a.label.toLower();
  if (label.startsWith(text)) return 0;
  return label.contains(" " + text) ? 1 : 2;
}

void FindAction::filter(const QString& text) {
  list_->clear();
  const QString lower = text.toLower().trimmed();
  const QStringList wanted = lower.split(' ', Qt::SkipEmptyParts);
  std::vector<std::size_t> found;
  for (std::size_t k = 0; k < actions_.size(); ++k) {
    const ActionInfo& a = actions_[k];
    const QString stage = a.stage ? look::words(info(*a.stage).name) : QString();
    const QString all = (a.label + " " + a.help + " " + stage).toLower();
    bool fits = true;
    for (const QString& w : wanted) fits = fits && all.contains(w);
    if (fits) found.push_back(k);
  }
  std::stable_sort(found.begin(), found.end(), [&](std::size_t a, std::size_t b) {
    return rank(actions_[a], lower) < rank(actions_[b], lower);
  });
  for (const std::size_t k : found) add_row(k);
  for (int row = list_->count() - 1; row >= 0; --row)
    if (list_->item(row)->flags().testFlag(Qt::ItemIsEnabled)) list_->setCurrentRow(row);
}

void FindAction::add_row(std::size_t k) {
  const ActionInfo& a = actions_[k];
  QString line = a.label;
  if (a.stage) line += "   ·   " + look::words(info(*a.stage).name);
  if (!a.key.isEmpty()) line += "   ·   " + a.key.toString(QKeySequence::NativeText);
  if (!a.action->isEnabled()) line += "   ·   " + tr("not now");
  auto* item = new QListWidgetItem(look::icon(a.icon), line, list_);
  item->setToolTip(a.help);
  item->setData(Qt::UserRole, static_cast<int>(k));
  if (!a.action->isEnabled()) item->setFlags(item->flags() & ~Qt::ItemIsEnabled);
}

void FindAction::run_current() {
  const QListWidgetItem* item = list_->currentItem();
  hide();
  if (item == nullptr || !item->flags().testFlag(Qt::ItemIsEnabled)) return;
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
