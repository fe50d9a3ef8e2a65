// What is done to parts, steps and layers in their list.
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

void PartsTree::toggle(QTreeWidgetItem* item) {
  const Document& d = model_.document();
  if (row::kind_of(item) == row::Layer) {
    const Layer* found = find_layer(d, row::name_of(item));
    if (found == nullptr) return;
    Layer layer = *found;
    layer.visible = !layer.visible;
    model_.attempt([&] {
      model_.commit_beside([&](const Document& now) { return with_layer(now, layer); },
                           layer.visible ? tr("Show layer") : tr("Hide layer"));
    });
    return;
  }
  if (row::kind_of(item) == row::Part) {
    const Part* part = find_part(d, row::id_of(item));
    if (part == nullptr) return;
    const Layer* layer = find_layer(d, part->layer);
    if (part->look.visible && layer != nullptr && !layer->visible) {
      model_.say_trouble(
          tr("%1 lies in the layer %2, which is hidden. Show the layer.")
              .arg(QString::fromStdString(part->name), QString::fromStdString(layer->name)));
      return;
    }
    if (part->look.visible && !model_.is_shown(*part)) {
      model_.show_alone({});  // what was shown alone no longer is
      return;
    }
    Look look = part->look;
    look.visible = !look.visible;
    const PartId id = part->id;
    model_.attempt([&] {
      model_.commit_beside([&](const Document& now) { return with_look(now, id, look); },
                           look.visible ? tr("Show part") : tr("Hide part"));
    });
    return;
  }
  const StepId id = row::id_of(item);
  const Step* step = find_step(d, id);
  if (step == nullptr || !model_.may_change(part_of_step(d, id)->id)) return;
  const bool on = !step->enabled;
  if (model_.trial()) model_.keep_trial();
  model_.attempt([&] {
    model_.commit(with_step_enabled(model_.document(), id, on),
                  on ? tr("Switch step on") : tr("Switch step off"));
  });
}

void PartsTree::edited(QTreeWidgetItem* item) {
  if (refreshing_) return;
  const std::string name = item->data(0, row::kNewName).toString().toStdString();
  const bool was = refreshing_;
  refreshing_ = true;
  item->setData(0, row::kNewName, {});
  refreshing_ = was;
  if (name.empty() || name == row::name_of(item) || later_) return;
  // Renaming may change which rows there are; the list's own event must be over by then.
  later_ = true;
  const row::Kind kind = row::kind_of(item);
  const int id = row::id_of(item);
  const QString layer = item->data(0, row::kName).toString();
  QTimer::singleShot(0, this, [this, kind, id, layer, name] {
    later_ = false;
    if (QTreeWidgetItem* now = kind == row::Layer ? layer_row(layer) : find(kind, id))
      rename(now, name);
  });
}

void PartsTree::rename(QTreeWidgetItem* item, const std::string& name) {
  const int id = row::id_of(item);
  const std::string old = row::name_of(item);
  const row::Kind kind = row::kind_of(item);
  const auto change = [&](const Document& d) {
    if (kind == row::Layer) return with_layer_name(d, old, name);
    return kind == row::Part ? with_part_name(d, id, name) : with_step_name(d, id, name);
  };
  model_.attempt([&] {
    model_.commit_beside(change, kind == row::Layer  ? tr("Rename layer")
                                 : kind == row::Part ? tr("Rename part")
                                                     : tr("Rename step"));
  });
  refresh();
}

std::vector<PartId> PartsTree::picked_or(PartId part) const {
  const std::vector<PartId> picked = model_.picked_parts();
  if (std::find(picked.begin(), picked.end(), part) != picked.end()) return picked;
  return {part};
}

// What has the keyboard decides: the picked parts, the step, or the layer (whose parts stay).
void PartsTree::remove_picked() {
  const QTreeWidgetItem* item = list_->currentItem();
  if (item == nullptr) return;
  const row::Kind kind = row::kind_of(item);
  model_.attempt([&] {
    if (kind == row::Layer) {
      model_.commit(without_layer(model_.document(), row::name_of(item)), tr("Remove layer"));
      return;
    }
    if (kind == row::Step) {
      const StepId step = row::id_of(item);
      if (!model_.may_change(part_of_step(model_.document(), step)->id)) return;
      if (model_.trial()) {
        model_.drop_trial();
        if (find_step(model_.document(), step) == nullptr) return;  // it was the one on trial
      }
      model_.commit(without_step(model_.document(), step), tr("Remove step"));
      return;
    }
    if (model_.trial()) model_.drop_trial();
    const std::vector<PartId> parts = picked_or(row::id_of(item));
    for (const PartId p : parts)
      if (!model_.may_change(p)) return;
    Document d = model_.document();
    for (const PartId p : parts) d = without_part(d, p);
    model_.commit(std::move(d),
                  parts.size() == 1 ? tr("Remove part") : tr("Remove %1 parts").arg(parts.size()));
  });
}

void PartsTree::put_in_layer(const std::string& layer) {
  model_.attempt([&] {
    const std::vector<PartId> parts = model_.picked_parts();
    model_.commit_beside(
        [&](const Document& now) {
          Document d = now;
          for (const PartId p : parts) d = with_part_in_layer(d, p, layer);
          return d;
        },
        layer.empty() ? tr("Take out of layer") : tr("Put in layer"));
  });
}

// With a number for a name, which is then open to be typed over.
void PartsTree::new_layer() {
  int number = 1;
  const auto name = [&] { return tr("Layer %1").arg(number); };
  while (find_layer(model_.document(), name().toStdString()) != nullptr) ++number;
  const QString layer = name();
  put_in_layer(layer.toStdString());
  if (QTreeWidgetItem* item = layer_row(layer)) {
    list_->setCurrentItem(item);
    list_->editItem(item);
  }
}

}  // namespace evenclay
