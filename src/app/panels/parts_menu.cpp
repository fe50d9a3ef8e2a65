// The menu of a row of the list of parts.
#include <QMenu>

#include "app/look/style.h"
#include "app/panels/parts_tree.h"
#include "core/operations/frozen.h"

namespace evenclay {

namespace {

using Run = std::function<void()>;

QAction* add(QMenu& menu, const char* icon, const QString& text, const Run& run, bool can = true) {
  QAction* a = menu.addAction(look::icon(icon), text);
  QObject::connect(a, &QAction::triggered, &menu, run);
  a->setEnabled(can);
  return a;
}

}  // namespace

void PartsTree::fill_menu(QMenu& menu, QTreeWidgetItem* item) {
  if (item == nullptr) {
    menu.addAction(tr("No row is chosen"))->setEnabled(false);
    return;
  }
  list_->setCurrentItem(item, 0, QItemSelectionModel::NoUpdate);
  const auto kind = static_cast<row::Kind>(item->data(0, row::kKind).toInt());
  const int id = item->data(0, row::kId).toInt();
  const Document& d = model_.document();
  const bool shown = item->data(0, row::kShown).toBool();
  add(menu, "pencil", tr("Rename"), [=, this] { list_->editItem(item); });
  if (kind == row::Step) {
    const Part* part = part_of_step(d, id);
    if (part == nullptr) return;
    const auto place = static_cast<std::size_t>(item->data(0, row::kNumber).toInt());
    const auto move = [=, this](int by) {
      model_.attempt([&] {
        if (model_.trial()) model_.keep_trial();
        if (model_.may_change(part_of_step(model_.document(), id)->id))
          model_.commit(with_step_moved(model_.document(), id, by), tr("Move step"));
      });
    };
    add(menu, shown ? "power-off" : "power", shown ? tr("Switch off") : tr("Switch on"),
        [=, this] { toggle(item); });
    add(
        menu, "chevron-up", tr("Earlier in the order"), [=] { move(-1); }, place > 2);
    add(
        menu, "chevron-down", tr("Later in the order"), [=] { move(1); },
        place > 1 && place < part->steps.size());
    if (is_frozen(part->steps[place - 1]))
      add(menu, "flame", tr("Thaw: the steps beneath count again"), [=, this] { model_.thaw(id); });
    else
      add(menu, "snowflake", tr("Freeze here"), [=, this] { model_.freeze(id); });
    add(
        menu, "trash-2", tr("Remove step"), [this] { remove_picked(); }, place > 1);
    return;
  }
  add(menu, shown ? "eye-off" : "eye", shown ? tr("Hide") : tr("Show"),
      [=, this] { toggle(item); });
  if (kind == row::Layer) {
    const Layer* layer = find_layer(d, item->data(0, row::kName).toString().toStdString());
    if (layer == nullptr) return;
    add(menu, layer->locked ? "lock-open" : "lock", layer->locked ? tr("Unlock") : tr("Lock"),
        [this, l = *layer] {
          Layer changed = l;
          changed.locked = !l.locked;
          model_.attempt([&] {
            model_.commit_beside([&](const Document& now) { return with_layer(now, changed); },
                                 changed.locked ? tr("Lock layer") : tr("Unlock layer"));
          });
        });
    add(menu, "trash-2", tr("Remove layer (its parts stay)"), [this] { remove_picked(); });
    return;
  }
  const Part* part = find_part(d, id);
  if (part == nullptr) return;
  const bool alone = !model_.alone().empty();
  add(menu, "focus", alone ? tr("Show the others again") : tr("Show alone"),
      [=, this] { model_.show_alone(alone ? std::vector<PartId>{} : picked_or(id)); });
  add(menu, part->locked ? "lock-open" : "lock", part->locked ? tr("Unlock") : tr("Lock"),
      [this, id, lock = !part->locked] {
        model_.attempt([&] {
          model_.commit_beside([&](const Document& now) { return with_lock(now, id, lock); },
                               lock ? tr("Lock part") : tr("Unlock part"));
        });
      });
  if (!is_frozen(part->steps.back()))
    add(menu, "snowflake", tr("Freeze"),
        [this, step = part->steps.back().id] { model_.freeze(step); });
  QMenu* layers = menu.addMenu(look::icon("layers"), tr("Layer"));
  for (const Layer& l : d.layers) {
    QAction* a = add(*layers, "layers", QString::fromStdString(l.name),
                     [this, name = l.name] { put_in_layer(name); });
    a->setCheckable(true);
    a->setChecked(part->layer == l.name);
  }
  if (!part->layer.empty()) add(*layers, "x", tr("None"), [this] { put_in_layer({}); });
  add(*layers, "plus", tr("New layer"), [this] { new_layer(); });
  add(menu, "trash-2", tr("Remove part"), [this] { remove_picked(); });
}

}  // namespace evenclay
