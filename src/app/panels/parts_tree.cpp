#include "app/panels/parts_tree.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLabel>
#include <QMenu>
#include <QScrollBar>
#include <QShortcut>
#include <QTimer>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <map>

#include "app/look/preferences.h"
#include "app/look/style.h"
#include "app/look/words.h"
#include "app/panels/parts_row.h"

namespace evenclay {

namespace {

void put(QTreeWidgetItem* item, int role, const QVariant& value) {
  if (item->data(0, role) != value) item->setData(0, role, value);
}

// Name and state in words, for those who hear the list.
void put_words(QTreeWidgetItem* item, const QString& text) {
  put(item, Qt::DisplayRole, text);
}

QTreeWidgetItem* new_row(row::Kind kind, int id) {
  auto* item = new QTreeWidgetItem;
  item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsEditable);
  item->setData(0, row::kKind, kind);
  item->setData(0, row::kId, id);
  return item;
}

// How many steps a later one has folded beneath it.
std::size_t folded(const Part& part) {
  return first_needed(part, part.steps.size());
}

// Of each step the one beneath whose row its own lies: that which has taken its place, or the last of a run of at least
// three edits of a form of one kind; else itself.
std::vector<std::size_t> heads_of(const Part& part) {
  constexpr std::size_t kLeast = 3;
  std::vector<std::size_t> head(part.steps.size());
  const std::size_t fold = folded(part);
  for (std::size_t k = 0; k < head.size(); ++k) head[k] = k < fold ? fold : k;
  const auto like = [&](std::size_t a, std::size_t b) {
    const OperationInfo& i = part.steps[a].operation->info();
    return i.takes == kForm && i.kind == part.steps[b].operation->kind();
  };
  for (std::size_t first = std::max<std::size_t>(fold + 1, 1); first < head.size();) {
    std::size_t end = first + 1;
    while (end < head.size() && like(first, end)) ++end;
    if (end - first >= kLeast && like(first, first))
      std::fill(head.begin() + static_cast<std::ptrdiff_t>(first),
                head.begin() + static_cast<std::ptrdiff_t>(end), end - 1);
    first = end;
  }
  return head;
}

// What decides which rows there are and in which order.
std::vector<int> structure(const Document& d) {
  std::vector<int> all;
  for (const Layer& l : d.layers)
    all.push_back(-static_cast<int>(std::hash<std::string>{}(l.name) % 100000) - 1);
  for (const Part& p : d.parts) {
    all.push_back(p.id);
    const auto layer = std::find_if(d.layers.begin(), d.layers.end(),
                                    [&](const Layer& l) { return l.name == p.layer; });
    all.push_back(-static_cast<int>(layer - d.layers.begin()));
    for (const Step& s : p.steps) all.push_back(s.id);
    for (const std::size_t head : heads_of(p)) all.push_back(static_cast<int>(head));
  }
  return all;
}

}  // namespace

PartsTree::PartsTree(AppModel& model, QWidget* parent) : QWidget(parent), model_(model) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 6, 8, 6);
  column->setSpacing(4);
  auto* top = new QHBoxLayout;
  auto* heading = new QLabel(tr("Parts"), this);
  heading->setProperty("heading", true);
  auto* more = new QToolButton(this);
  more->setObjectName("more");
  more->setText(tr("More"));
  more->setToolTip(tr("What can be done with the chosen row: rename, lock, layer, order, remove."));
  more->setPopupMode(QToolButton::InstantPopup);
  auto* menu = new QMenu(more);
  menu->setObjectName("more_menu");
  more->setMenu(menu);
  connect(menu, &QMenu::aboutToShow, this, [this, menu] {
    menu->clear();
    fill_menu(*menu, list_->currentItem());
  });
  top->addWidget(heading);
  top->addStretch();
  top->addWidget(more);
  column->addLayout(top);
  make_list();
  column->addWidget(list_);
  connect(&model_, &AppModel::document_changed, this, &PartsTree::refresh);
  connect(&model_, &AppModel::chosen_changed, this, &PartsTree::refresh);
  connect(&model_, &AppModel::answered, this, [this] {
    if (model_.answer()->exact) refresh();
  });
  refresh();
}

void PartsTree::make_list() {
  list_ = new QTreeWidget(this);
  list_->setObjectName("parts");
  list_->setAccessibleName(tr("Parts and their build steps"));
  list_->setHeaderHidden(true);
  list_->setIndentation(16);
  list_->setUniformRowHeights(true);
  list_->setMouseTracking(true);
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->header()->setStretchLastSection(true);
  list_->setRootIsDecorated(true);
  list_->setExpandsOnDoubleClick(false);
  list_->setContextMenuPolicy(Qt::CustomContextMenu);
  list_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  list_->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed);
  list_->setItemDelegate(new PartsRow(
      [this](const QModelIndex& index) { toggle(list_->itemFromIndex(index)); }, list_));
  connect(list_, &QTreeWidget::itemSelectionChanged, this, [this] {
    if (refreshing_) return;
    std::vector<PartId> parts;
    for (const QTreeWidgetItem* item : list_->selectedItems())
      if (row::kind_of(item) == row::Part) parts.push_back(row::id_of(item));
    model_.pick_parts(std::move(parts));
  });
  connect(list_, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem* item) {
    if (!refreshing_ && item != nullptr) chosen(item);
  });
  connect(list_, &QTreeWidget::itemExpanded, this, [this](QTreeWidgetItem* item) {
    if (!refreshing_ && row::kind_of(item) == row::Part) chosen(item);
  });
  connect(list_, &QTreeWidget::itemChanged, this, &PartsTree::edited);
  connect(list_, &QTreeWidget::customContextMenuRequested, this, [this](const QPoint& at) {
    QMenu menu;
    fill_menu(menu, list_->itemAt(at));
    menu.exec(list_->viewport()->mapToGlobal(at));
  });
  connect(list_->itemDelegate(), &QAbstractItemDelegate::closeEditor, this,
          [this] { QTimer::singleShot(0, this, &PartsTree::refresh); });
  const auto key = [this](Qt::Key k, const std::function<void()>& run) {
    auto* s = new QShortcut(QKeySequence(k), list_, nullptr, nullptr, Qt::WidgetShortcut);
    connect(s, &QShortcut::activated, this, run);
  };
  key(Qt::Key_Delete, [this] { remove_picked(); });
  list_->installEventFilter(this);
  list_->viewport()->installEventFilter(this);
}

// The list would take Space for itself.
bool PartsTree::eventFilter(QObject* watched, QEvent* event) {
  if (watched == list_ && event->type() == QEvent::KeyPress &&
      static_cast<QKeyEvent*>(event)->key() == Qt::Key_Space && list_->currentItem() != nullptr) {
    toggle(list_->currentItem());
    return true;
  }
  // With another height the choice may have gone out of sight, or there may be room for the rows above it.
  if (watched == list_->viewport() && event->type() == QEvent::Resize)
    QTimer::singleShot(0, this, [this] {
      list_->verticalScrollBar()->setValue(0);
      scroll_to_choice();
    });
  return QWidget::eventFilter(watched, event);
}

// --- rows -------------------------------------------------------------------------------------------

QTreeWidgetItem* PartsTree::find(row::Kind kind, int id) const {
  const auto found = rows_.find({kind, id});
  return found == rows_.end() ? nullptr : found->second;
}

QTreeWidgetItem* PartsTree::part_row(PartId part) const {
  return find(row::Part, part);
}

QTreeWidgetItem* PartsTree::step_row(StepId step) const {
  return find(row::Step, step);
}

QTreeWidgetItem* PartsTree::layer_row(const QString& name) const {
  for (int k = 0; k < list_->topLevelItemCount(); ++k)
    if (QTreeWidgetItem* item = list_->topLevelItem(k);
        row::kind_of(item) == row::Layer && item->data(0, row::kName).toString() == name)
      return item;
  return nullptr;
}

// A layer stands where its first part does; layers without parts come last.
void PartsTree::rebuild() {
  list_->clear();
  rows_.clear();
  scrolled_to_ = 0;  // new rows are folded and scrolled as the choice wants it
  const Document& d = model_.document();
  std::map<std::string, QTreeWidgetItem*> layers;
  const auto layer_item = [&](const std::string& name) {
    QTreeWidgetItem*& item = layers[name];
    if (item == nullptr) {
      item = new_row(row::Layer, 0);
      item->setData(0, row::kName, QString::fromStdString(name));
      list_->addTopLevelItem(item);
      item->setExpanded(true);
    }
    return item;
  };
  for (const Part& part : d.parts) {
    auto* item = new_row(row::Part, part.id);
    if (find_layer(d, part.layer) != nullptr)
      layer_item(part.layer)->addChild(item);
    else
      list_->addTopLevelItem(item);
    // What is not computed any more lies folded beneath the step that has taken its place.
    std::map<std::size_t, QTreeWidgetItem*> heads;  // rows beneath which others lie
    const std::vector<std::size_t> head = heads_of(part);
    for (std::size_t k = 0; k < part.steps.size(); ++k) {
      if (head[k] != k && heads.count(head[k]) == 0) {
        heads[head[k]] = new_row(row::Step, part.steps[head[k]].id);
        item->addChild(heads[head[k]]);
      }
      if (head[k] != k)
        heads[head[k]]->addChild(new_row(row::Step, part.steps[k].id));
      else if (heads.count(k) == 0)
        item->addChild(new_row(row::Step, part.steps[k].id));
    }
  }
  for (const Layer& l : d.layers) layer_item(l.name);
  for (QTreeWidgetItemIterator it(list_); *it != nullptr; ++it)
    rows_[{row::kind_of(*it), row::id_of(*it)}] = *it;
}

void PartsTree::refresh() {
  const std::vector<int> now = structure(model_.document());
  // A name being typed is left alone while its row stays.
  if (now == built_ && list_->isPersistentEditorOpen(list_->currentItem())) return;
  const bool was = refreshing_;
  refreshing_ = true;
  if (now != built_) {
    built_ = now;
    rebuild();
  }
  const Document& d = model_.document();
  for (const Part& part : d.parts)
    if (QTreeWidgetItem* item = part_row(part.id)) fill_part(item, part);
  for (const Layer& l : d.layers)
    if (QTreeWidgetItem* item = layer_row(QString::fromStdString(l.name))) {
      put(item, row::kShown, l.visible);
      put(item, row::kLocked, l.locked);
      put_words(item, tr("Layer %1").arg(QString::fromStdString(l.name)));
    }
  show_choice();
  refreshing_ = was;
}

void PartsTree::fill_part(QTreeWidgetItem* item, const Part& part) {
  const QString name = QString::fromStdString(part.name);
  put(item, row::kName, name);
  put(item, row::kColour, part.look.colour);
  put(item, row::kShown, model_.is_shown(part));
  put(item, row::kLocked, is_locked(model_.document(), part));
  put(item, row::kChosen, part.id == model_.chosen_part());
  put_words(item, part.look.visible ? name : tr("%1, hidden").arg(name));
  item->setToolTip(0, tr("%1: the eye (or Space) shows and hides it. Double click renames it. With "
                         "Ctrl or Shift several are picked, for Rebuild and Lighten.")
                          .arg(name));
  if (part.id != model_.chosen_part()) return;
  // Its own rows, and those that are folded beneath one of them.
  std::map<StepId, QTreeWidgetItem*> rows;
  for (int k = 0; k < item->childCount(); ++k) {
    rows[row::id_of(item->child(k))] = item->child(k);
    for (int n = 0; n < item->child(k)->childCount(); ++n)
      rows[row::id_of(item->child(k)->child(n))] = item->child(k)->child(n);
  }
  for (std::size_t k = 0; k < part.steps.size(); ++k)
    if (const auto row = rows.find(part.steps[k].id); row != rows.end())
      fill_step(row->second, part, k);
}

void PartsTree::fill_step(QTreeWidgetItem* item, const Part& part, std::size_t place) {
  const Step& step = part.steps[place];
  const auto found = model_.step_status().find(step.id);
  const StepStatus status = found == model_.step_status().end() ? StepStatus{} : found->second;
  const bool failed = step.enabled && status.failed;
  const QString name = QString::fromStdString(step.name);
  QString summary = look::in_shown_unit(QString::fromStdString(step.operation->summary()));
  if (place > 0 && place == folded(part))
    summary = tr("%1 steps folded").arg(place);
  else if (item->childCount() > 0)
    summary = tr("%1, and %2 more before").arg(summary).arg(item->childCount());
  put(item, row::kName, name);
  put(item, row::kNumber, static_cast<int>(place) + 1);
  put(item, row::kSummary, failed ? tr("cannot be computed") : summary);
  put(item, row::kShown, step.enabled);
  put(item, row::kFailed, failed);
  put(item, row::kChosen, step.id == model_.chosen_step());
  QString words = tr("%1 %2 %3").arg(place + 1).arg(name, summary).trimmed();
  if (failed) words += ", " + tr("cannot be computed");
  if (!step.enabled) words += ", " + tr("off");
  put_words(item, words);
  QString tip = QString::fromStdString(failed ? status.message : std::string());
  for (const std::string& note : status.notes) tip += QString::fromStdString(note) + "\n";
  if (tip.isEmpty()) tip = look::words(step.operation->help());
  if (!summary.isEmpty()) tip = name + " · " + summary + "\n" + tip;
  item->setToolTip(0, look::in_shown_unit(tip.trimmed()));
}

void PartsTree::scroll_to_choice() {
  if (QTreeWidgetItem* part = part_row(model_.chosen_part())) list_->scrollToItem(part);
  if (QTreeWidgetItem* step = step_row(model_.chosen_step())) list_->scrollToItem(step);
}

// Only the chosen part is unfolded. Its own row may have the keyboard; else the chosen step has it.
void PartsTree::show_choice() {
  QTreeWidgetItem* part = part_row(model_.chosen_part());
  for (const Part& p : model_.document().parts)
    if (QTreeWidgetItem* item = part_row(p.id))
      if (item->isExpanded() != (item == part)) item->setExpanded(item == part);
  QTreeWidgetItem* current = list_->currentItem();
  // What is folded beneath a step is unfolded while one of its steps is chosen.
  const QTreeWidgetItem* chosen = step_row(model_.chosen_step());
  if (part != nullptr && scrolled_to_ != model_.chosen_step())
    for (int k = 0; k < part->childCount(); ++k)
      part->child(k)->setExpanded(chosen != nullptr && chosen->parent() == part->child(k));
  const bool fits = current != nullptr && (current == part || row::kind_of(current) == row::Layer ||
                                           row::id_of(current) == model_.chosen_step());
  QTreeWidgetItem* step = step_row(model_.chosen_step());
  if (!fits && step != nullptr) list_->setCurrentItem(step);
  // Once for each choice: a list that the hand has scrolled stays where it is.
  if (step != nullptr && scrolled_to_ != model_.chosen_step()) scroll_to_choice();
  scrolled_to_ = model_.chosen_step();
}

// --- what the hand does -----------------------------------------------------------------------------

// Choosing folds and unfolds rows: the list's own handling of the press must be over by then.
void PartsTree::chosen(QTreeWidgetItem* item) {
  const int id = row::id_of(item);
  if (row::kind_of(item) == row::Part)
    QTimer::singleShot(0, this, [this, id] { model_.choose_part(id); });
  if (row::kind_of(item) == row::Step)
    QTimer::singleShot(0, this, [this, id] { model_.choose_step(id); });
}

}  // namespace evenclay
