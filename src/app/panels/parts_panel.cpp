#include "app/panels/parts_panel.h"

#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPainter>
#include <QShortcut>
#include <QVBoxLayout>

#include "app/look/style.h"

namespace evenclay {

namespace {

QIcon colour_dot(std::uint32_t colour) {
  QPixmap pixmap(28, 28);
  pixmap.fill(Qt::transparent);
  QPainter painter(&pixmap);
  painter.setRenderHint(QPainter::Antialiasing);
  painter.setBrush(QColor::fromRgb(colour));
  painter.setPen(QPen(QColor::fromRgb(colour).darker(140), 2));
  painter.drawEllipse(5, 5, 18, 18);
  return QIcon(pixmap);
}

PartId id_of(const QListWidgetItem* item) {
  return item->data(Qt::UserRole).toInt();
}

}  // namespace

PartsPanel::PartsPanel(AppModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(10, 8, 10, 8);
  column->setSpacing(5);
  auto* heading = new QLabel(tr("Parts"), this);
  heading->setProperty("heading", true);
  list_ = new QListWidget(this);
  list_->setObjectName("parts");
  list_->setAccessibleName(tr("Parts"));
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  list_->setToolTip(
      tr("The tick shows or hides a part. Double click renames it. With Ctrl or Shift several are "
         "picked, for Rebuild and Lighten."));
  connect(list_, &QListWidget::itemSelectionChanged, this, [this] {
    if (refreshing_) return;
    std::vector<PartId> parts;
    for (const QListWidgetItem* item : list_->selectedItems()) parts.push_back(id_of(item));
    model_.pick_parts(std::move(parts));
  });
  column->addWidget(heading);
  column->addWidget(list_);
  connect(list_, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
    if (!refreshing_ && item != nullptr) model_.choose_part(id_of(item));
  });
  connect(list_, &QListWidget::itemChanged, this, &PartsPanel::edited);
  connect(list_, &QListWidget::customContextMenuRequested, this, [this](const QPoint& at) {
    QListWidgetItem* item = list_->itemAt(at);
    if (item == nullptr) return;
    const PartId part = id_of(item);
    QMenu menu;
    menu.addAction(look::icon("pencil"), tr("Rename"), this, [=, this] { list_->editItem(item); });
    menu.addAction(look::icon("trash-2"), tr("Remove part"), this, [=, this] {
      model_.attempt(
          [&] { model_.commit(without_part(model_.document(), part), tr("Remove part")); });
    });
    menu.exec(list_->viewport()->mapToGlobal(at));
  });
  auto* del =
      new QShortcut(QKeySequence(Qt::Key_Delete), list_, nullptr, nullptr, Qt::WidgetShortcut);
  connect(del, &QShortcut::activated, this, [this] {
    model_.attempt([&] {
      if (model_.trial()) model_.drop_trial();
      Document d = model_.document();
      const std::vector<PartId> parts = model_.picked_parts();
      for (const PartId p : parts) d = without_part(d, p);
      model_.commit(std::move(d), parts.size() == 1 ? tr("Remove part")
                                                    : tr("Remove %1 parts").arg(parts.size()));
    });
  });
  connect(&model_, &AppModel::document_changed, this, &PartsPanel::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &PartsPanel::refresh);
  connect(&model_, &AppModel::answered, this, [this] {
    if (model_.answer()->exact) refresh();
  });
  refresh();
}

void PartsPanel::refresh() {
  if (list_->isPersistentEditorOpen(list_->currentItem())) return;
  refreshing_ = true;
  const auto& parts = model_.document().parts;
  while (list_->count() > static_cast<int>(parts.size()))
    delete list_->takeItem(list_->count() - 1);
  while (list_->count() < static_cast<int>(parts.size())) list_->addItem(new QListWidgetItem);
  for (std::size_t k = 0; k < parts.size(); ++k) {
    QListWidgetItem* item = list_->item(static_cast<int>(k));
    const Part& part = parts[k];
    const QString name = QString::fromStdString(part.name);
    const bool shown = item->checkState() == Qt::Checked;
    if (item->text() == name && id_of(item) == part.id && shown == part.look.visible &&
        item->data(Qt::UserRole + 1).toUInt() == part.look.colour)
      continue;
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable |
                   Qt::ItemIsUserCheckable);
    item->setText(name);
    item->setData(Qt::UserRole, part.id);
    item->setData(Qt::UserRole + 1, part.look.colour);
    item->setIcon(colour_dot(part.look.colour));
    item->setCheckState(part.look.visible ? Qt::Checked : Qt::Unchecked);
  }
  for (int k = 0; k < list_->count(); ++k)
    if (id_of(list_->item(k)) == model_.chosen_part() && list_->currentRow() != k)
      list_->setCurrentRow(k);
  refreshing_ = false;
}

void PartsPanel::edited(QListWidgetItem* item) {
  if (refreshing_) return;
  const Part* part = find_part(model_.document(), id_of(item));
  if (part == nullptr) return;
  const std::string name = item->text().trimmed().toStdString();
  const PartId id = part->id;
  if (name != part->name) {
    model_.attempt([&] {
      model_.commit_beside([&](const Document& d) { return with_part_name(d, id, name); },
                           tr("Rename part"));
    });
    refresh();
    return;
  }
  Look look = part->look;
  look.visible = item->checkState() == Qt::Checked;
  if (look.visible != part->look.visible)
    model_.attempt([&] {
      model_.commit_beside([&](const Document& d) { return with_look(d, id, look); },
                           look.visible ? tr("Show part") : tr("Hide part"));
    });
}

}  // namespace evenclay
