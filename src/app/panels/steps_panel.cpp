#include "app/panels/steps_panel.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QShortcut>
#include <QStyledItemDelegate>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/look/colours.h"
#include "app/look/style.h"

namespace evenclay {

namespace {

constexpr int kName = Qt::UserRole + 1;     // the step's name without number and summary
constexpr int kNewName = Qt::UserRole + 2;  // what was typed

// Editing shows the name alone, not the number and summary that the list shows around it.
class NameDelegate : public QStyledItemDelegate {
 public:
  using QStyledItemDelegate::QStyledItemDelegate;
  void setEditorData(QWidget* editor, const QModelIndex& index) const override {
    static_cast<QLineEdit*>(editor)->setText(index.data(kName).toString());
  }
  void setModelData(QWidget* editor, QAbstractItemModel* model,
                    const QModelIndex& index) const override {
    model->setData(index, static_cast<QLineEdit*>(editor)->text().trimmed(), kNewName);
  }
};

StepId id_of(const QListWidgetItem* item) {
  return item->data(Qt::UserRole).toInt();
}
}  // namespace

StepsPanel::StepsPanel(AppModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 8);
  column->setSpacing(5);
  auto* top = new QHBoxLayout;
  auto* heading = new QLabel(tr("Build steps"), this);
  heading->setProperty("heading", true);
  remove_ = new QToolButton(this);
  remove_->setIcon(look::icon("trash-2"));
  remove_->setText(tr("Remove"));
  remove_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
  remove_->setToolTip(tr("Removes the chosen build step; later steps follow."));
  top->addWidget(heading);
  top->addStretch();
  top->addWidget(remove_);
  list_ = new QListWidget(this);
  list_->setObjectName("steps");
  list_->setAccessibleName(tr("Build steps"));
  list_->setToolTip(
      tr("Choosing a step shows the model as it was after it. The tick switches it off and on. "
         "Double click renames it."));
  list_->setWordWrap(true);
  list_->setItemDelegate(new NameDelegate(list_));
  column->addLayout(top);
  column->addWidget(list_);
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (!refreshing_ && item != nullptr) model_.choose_step(id_of(item));
  });
  connect(list_, &QListWidget::itemChanged, this, &StepsPanel::edited);
  connect(remove_, &QToolButton::clicked, this, &StepsPanel::remove_chosen);
  auto* del =
      new QShortcut(QKeySequence(Qt::Key_Delete), list_, nullptr, nullptr, Qt::WidgetShortcut);
  connect(del, &QShortcut::activated, this, [this] {
    if (remove_->isEnabled()) remove_chosen();
  });
  connect(&model_, &AppModel::document_changed, this, &StepsPanel::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &StepsPanel::refresh);
  connect(&model_, &AppModel::answered, this, [this] {
    if (model_.answer()->exact) refresh();
  });
  refresh();
}

void StepsPanel::fill(QListWidgetItem* item, const Step& step, std::size_t place) {
  const auto found = model_.step_status().find(step.id);
  const StepStatus status = found == model_.step_status().end() ? StepStatus{} : found->second;
  QString text = QString("%1  %2").arg(place + 1).arg(QString::fromStdString(step.name));
  const QString summary = QString::fromStdString(step.operation->summary());
  if (!summary.isEmpty()) text += "\n     " + summary;
  const bool failed = step.enabled && status.failed;
  if (failed) text += "\n     " + tr("cannot be computed");
  QString tip = QString::fromStdString(status.failed ? status.message : std::string());
  for (const std::string& note : status.notes) tip += QString::fromStdString(note) + "\n";
  if (tip.isEmpty()) tip = QString::fromStdString(std::string(step.operation->help()));
  item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable |
                 Qt::ItemIsUserCheckable);
  item->setData(Qt::UserRole, step.id);
  item->setData(kName, QString::fromStdString(step.name));
  item->setData(kNewName, {});
  if (item->text() != text) item->setText(text);
  if (item->toolTip() != tip) item->setToolTip(tip);
  item->setCheckState(step.enabled ? Qt::Checked : Qt::Unchecked);
  item->setForeground(failed ? look::kBad : (step.enabled ? look::kInk : look::kQuietInk));
}

void StepsPanel::refresh() {
  if (list_->isPersistentEditorOpen(list_->currentItem())) return;
  refreshing_ = true;
  const Part* part = find_part(model_.document(), model_.chosen_part());
  const std::size_t count = part != nullptr ? part->steps.size() : 0;
  while (list_->count() > static_cast<int>(count)) delete list_->takeItem(list_->count() - 1);
  while (list_->count() < static_cast<int>(count)) list_->addItem(new QListWidgetItem);
  for (std::size_t k = 0; k < count; ++k) {
    fill(list_->item(static_cast<int>(k)), part->steps[k], k);
    if (part->steps[k].id == model_.chosen_step()) list_->setCurrentRow(static_cast<int>(k));
  }
  const bool source = count > 0 && part->steps.front().id == model_.chosen_step();
  remove_->setEnabled(count > 0 && !source && !model_.trial());
  refreshing_ = false;
}

void StepsPanel::edited(QListWidgetItem* item) {
  if (refreshing_) return;
  const Step* step = find_step(model_.document(), id_of(item));
  if (step == nullptr) return;
  // Keeping a trial replaces the document, and with it the step and the item.
  const StepId id = step->id;
  const std::string old_name = step->name;
  const bool on = item->checkState() == Qt::Checked;
  const bool switched = on != step->enabled;
  const QString name = item->data(kNewName).toString();
  if (switched) {
    if (model_.trial()) model_.keep_trial();
    model_.attempt([&] {
      model_.commit(with_step_enabled(model_.document(), id, on),
                    on ? tr("Switch step on") : tr("Switch step off"));
    });
    return;
  }
  if (!name.isEmpty() && name.toStdString() != old_name)
    model_.attempt([&] {
      model_.commit_beside(
          [&](const Document& d) { return with_step_name(d, id, name.toStdString()); },
          tr("Rename step"));
    });
  refresh();
}

void StepsPanel::remove_chosen() {
  model_.attempt([&] {
    model_.commit(without_step(model_.document(), model_.chosen_step()), tr("Remove step"));
  });
}

}  // namespace evenclay
