// The one list of the model: layers, parts, and beneath the chosen part its build steps.
#pragma once

#include <QTreeWidget>
#include <QWidget>
#include <map>
#include <string>

#include "app/window/app_model.h"

class QMenu;

namespace evenclay {

/// What a row of the list stands for, and what is kept with it.
namespace row {
enum Kind { Layer = 1, Part, Step };
enum Role {
  kKind = Qt::UserRole,
  kId,       ///< of the part or step
  kName,     ///< alone, without number and summary
  kNewName,  ///< what was typed
  kSummary,  ///< of a step, said behind its name
  kNumber,   ///< of a step, from 1
  kColour,   ///< of a part
  kShown,    ///< of a part or layer: shown; of a step: on
  kLocked,   ///< by itself or by its layer
  kFailed,   ///< a step that cannot be computed
  kChosen    ///< the chosen part or step
};
inline Kind kind_of(const QTreeWidgetItem* item) {
  return static_cast<Kind>(item->data(0, kKind).toInt());
}
inline int id_of(const QTreeWidgetItem* item) {
  return item->data(0, kId).toInt();
}
inline std::string name_of(const QTreeWidgetItem* item) {
  return item->data(0, kName).toString().toStdString();
}
}  // namespace row

/// Choosing a part unfolds its steps; choosing a step shows the model as it was after it. The sign at the
/// right end of a row (or Space) shows and hides a part or layer and switches a step off and on; double
/// click or F2 renames; Del removes; everything else is in the menu of a row and under *More*.
class PartsTree : public QWidget {
 public:
  explicit PartsTree(AppModel& model, QWidget* parent = nullptr);

  /// Rows by what they stand for; null when there is none. For tests and menus.
  QTreeWidgetItem* part_row(PartId part) const;
  QTreeWidgetItem* step_row(StepId step) const;
  QTreeWidgetItem* layer_row(const QString& name) const;
  /// What the sign at the right end of a row does.
  void toggle(QTreeWidgetItem* item);
  /// What the menu of a row offers, filled for that row.
  void fill_menu(QMenu& menu, QTreeWidgetItem* item);

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void scroll_to_choice();
  void make_list();
  void refresh();
  void rebuild();
  void fill_part(QTreeWidgetItem* item, const Part& part);
  void fill_step(QTreeWidgetItem* item, const Part& part, std::size_t place);
  void show_choice();
  void chosen(QTreeWidgetItem* item);
  void edited(QTreeWidgetItem* item);
  void rename(QTreeWidgetItem* item, const std::string& name);
  void remove_picked();
  void new_layer();
  void put_in_layer(const std::string& layer);
  std::vector<PartId> picked_or(PartId part) const;
  QTreeWidgetItem* find(row::Kind kind, int id) const;

  AppModel& model_;
  QTreeWidget* list_ = nullptr;
  bool refreshing_ = false;
  StepId scrolled_to_ = 0;
  bool later_ = false;  // a rebuild waits until the list's own event is over
  std::vector<int> built_;
  std::map<std::pair<row::Kind, int>, QTreeWidgetItem*> rows_;  // layers by the last of them
};

}  // namespace evenclay
