#include "app/panels/compare_card.h"

#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTreeWidget>
#include <QVBoxLayout>

#include "app/window/app_model.h"
#include "core/document/take_parts.h"

namespace evenclay {

namespace {

QString text(std::string_view words) {
  return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}

QString how_in_words(Difference how) {
  switch (how) {
    case Difference::Added:
      return QObject::tr("new");
    case Difference::Removed:
      return QObject::tr("gone");
    case Difference::Changed:
      break;
  }
  return QObject::tr("changed");
}

void add_lines(QTreeWidgetItem* above, const std::vector<ChangeLine>& lines) {
  for (const ChangeLine& l : lines)
    new QTreeWidgetItem(
        above,
        {text(l.what), l.how == Difference::Changed && !l.after.empty()
                           ? QString("%1 → %2").arg(text(l.before), text(l.after))
                       : l.how == Difference::Changed
                           ? how_in_words(l.how)
                           : QString("%1  %2").arg(how_in_words(l.how),
                                                   text(l.after.empty() ? l.before : l.after))});
}

}  // namespace

CompareCard::CompareCard(AppModel& model, Document older, const QString& name, QWidget* parent)
    : QDialog(parent), model_(model), older_(std::move(older)), name_(name) {
  setObjectName("compare_card");
  setWindowTitle(tr("Compare with %1").arg(name));
  setAttribute(Qt::WA_DeleteOnClose);
  resize(520, 440);
  auto* column = new QVBoxLayout(this);
  says_ = new QLabel(this);
  says_->setObjectName("compare_says");
  says_->setWordWrap(true);
  column->addWidget(says_);
  list_ = new QTreeWidget(this);
  list_->setObjectName("compare_list");
  list_->setAccessibleName(tr("What differs"));
  list_->setColumnCount(2);
  list_->setHeaderLabels({tr("What"), tr("Then → now")});
  list_->header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
  list_->setAlternatingRowColors(true);
  column->addWidget(list_);
  deviation_ = new QPushButton(tr("Show deviation"), this);
  deviation_->setObjectName("compare_deviation");
  deviation_->setAutoDefault(false);
  deviation_->setToolTip(
      tr("Brings the older part in, hidden, and watches the part against it; undo takes it away."));
  column->addWidget(deviation_);
  connect(deviation_, &QPushButton::clicked, this, &CompareCard::show_deviation);
  connect(list_, &QTreeWidget::currentItemChanged, this,
          [this] { deviation_->setEnabled(chosen() != nullptr); });
  connect(&model_, &AppModel::document_changed, this, &CompareCard::refresh);
  refresh();
}

void CompareCard::refresh() {
  const Comparison now = compare(older_, model_.document());
  if (now == found_ && list_->topLevelItemCount() > 0) return;
  found_ = now;
  list_->clear();
  if (!found_.numbers.empty()) {
    auto* item = new QTreeWidgetItem(list_, {tr("Numbers and limits"), QString()});
    item->setData(0, Qt::UserRole, -1);
    add_lines(item, found_.numbers);
    item->setExpanded(true);
  }
  for (std::size_t k = 0; k < found_.parts.size(); ++k) {
    const PartChange& p = found_.parts[k];
    auto* item = new QTreeWidgetItem(list_, {QString::fromStdString(p.name), how_in_words(p.how)});
    item->setData(0, Qt::UserRole, static_cast<int>(k));
    add_lines(item, p.lines);
    item->setExpanded(found_.parts.size() < 6);
  }
  says_->setText(found_.same() ? tr("Nothing differs.")
                               : tr("Parts that differ: %1. Numbers and limits: %2.")
                                     .arg(found_.parts.size())
                                     .arg(found_.numbers.size()));
  deviation_->setEnabled(chosen() != nullptr);
}

// The part of the chosen row, when both versions have it.
const PartChange* CompareCard::chosen() const {
  const QTreeWidgetItem* item = list_->currentItem();
  while (item != nullptr && item->parent() != nullptr) item = item->parent();
  const int k = item != nullptr ? item->data(0, Qt::UserRole).toInt() : -1;
  if (k < 0 || k >= static_cast<int>(found_.parts.size())) return nullptr;
  const PartChange& p = found_.parts[static_cast<std::size_t>(k)];
  return p.before != 0 && p.after != 0 ? &p : nullptr;
}

void CompareCard::show_deviation() {
  const PartChange* change = chosen();
  if (change == nullptr) return;
  const PartId now = change->after, then = change->before;
  const std::string name = change->name + " of " + name_.toStdString();
  model_.attempt([&] {
    const Added added = with_parts_of(model_.document(), older_, {then});
    Document d = with_part_name(added.document, added.part, name);
    Look look = find_part(d, added.part)->look;
    look.visible = false;
    d = with_look(d, added.part, look);
    Watch watch = find_part(d, now)->watch;
    watch.against = added.part;
    model_.commit(with_watch(d, now, watch), tr("Compare %1").arg(text(change->name)));
    model_.choose_part(now);
  });
}

}  // namespace evenclay
