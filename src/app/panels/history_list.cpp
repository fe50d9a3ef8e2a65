#include "app/panels/history_list.h"

#include <QDateTime>
#include <QLabel>
#include <QListWidget>
#include <QVBoxLayout>

#include "app/look/style.h"
#include "app/window/app_model.h"

namespace evenclay {

HistoryList::HistoryList(AppModel& model, QWidget* parent) : QDialog(parent), model_(model) {
  setObjectName("history");
  setWindowTitle(tr("What was done"));
  setAttribute(Qt::WA_DeleteOnClose);
  resize(320, 420);
  auto* column = new QVBoxLayout(this);
  auto* help = new QLabel(tr("A click brings the project to that moment; nothing is lost until "
                             "something else is done there."),
                          this);
  help->setWordWrap(true);
  help->setProperty("quiet", true);
  list_ = new QListWidget(this);
  list_->setObjectName("changes");
  list_->setAccessibleName(tr("What was done"));
  column->addWidget(help);
  column->addWidget(list_);
  const auto go = [this] {
    if (!refreshing_ && list_->currentRow() >= 0)
      model_.go_to(static_cast<std::size_t>(list_->currentRow()));
  };
  connect(list_, &QListWidget::currentRowChanged, this, go);
  connect(&model_, &AppModel::document_changed, this, &HistoryList::refresh);
  refresh();
}

// The first row is the beginning; row k is what is there after k changes.
void HistoryList::refresh() {
  if (refreshing_) return;
  refreshing_ = true;
  const auto changes = model_.session().changes();
  const auto done = static_cast<int>(model_.session().done());
  while (list_->count() > static_cast<int>(changes.size()) + 1)
    delete list_->takeItem(list_->count() - 1);
  while (list_->count() < static_cast<int>(changes.size()) + 1) list_->addItem(new QListWidgetItem);
  for (int k = 0; k < list_->count(); ++k) {
    QListWidgetItem* item = list_->item(k);
    QString text = tr("The beginning");
    if (k > 0) {
      const Session::Change& c = changes[static_cast<std::size_t>(k) - 1];
      const auto seconds =
          std::chrono::duration_cast<std::chrono::seconds>(c.when.time_since_epoch());
      text = QDateTime::fromSecsSinceEpoch(seconds.count()).toString("HH:mm:ss") + "   " +
             QString::fromStdString(c.label);
    }
    item->setText(text);
    item->setForeground(k > done ? look::colours().quiet_ink : look::colours().ink);
  }
  list_->setCurrentRow(done);
  list_->scrollToItem(list_->item(done));
  refreshing_ = false;
}

}  // namespace evenclay
