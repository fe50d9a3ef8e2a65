// The window: puts stages, view, panels and gauges together and owns the actions.
#pragma once

#include <QDialog>
#include <QMainWindow>
#include <QPointer>

#include "app/stages/stages_rail.h"
#include "app/tools/point_editor.h"
#include "app/view/model_view.h"
#include "app/window/recovery.h"

class QLabel;
class QSplitter;

namespace evenclay {

class FindAction;
class TakePartsCard;
class GaugesStrip;
class HandBar;
class HistoryList;
class NumbersCard;
class ChecksCard;
class ExportCard;
class MaterialCard;
class PictureCard;
class CompareCard;
class Turntable;
class StartCard;
class Tour;
class PartsTree;

class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow();
  ~MainWindow() override;

  AppModel& model() { return model_; }
  PointEditor& editor() { return editor_; }
  Recovery& recovery() { return recovery_; }
  ModelView& view() { return *view_; }
  StagesRail& stages() { return *rail_; }
  PartsTree& parts() { return *parts_; }
  HandBar& hand_bar() { return *hand_bar_; }
  const std::vector<ActionInfo>& actions() const { return actions_; }
  /// Gives an action another key, which no other has, and keeps it.
  void change_key(const QString& id, const QKeySequence& key);
  /// Runs the action of that id as if chosen from a menu; false when there is none.
  bool run(const QString& id);

  /// Opens or saves a project beside the window; a message says how it went.
  void open_file(const QString& file);
  /// A file of surfaces or meshes becomes parts; of a project the parts to take are ticked in a card.
  void bring_in(const QString& file);
  /// The parts of a project file, to be ticked and brought in.
  void offer_parts(const QString& file, const QString& name);
  static QString shelf_file();  ///< the user's own tiles, a project of their own
  void take_from_shelf();
  /// Reads an older version beside the window and lists what differs.
  void compare_with(const QString& file);
  void save_file(const QString& file, const AppModel::Then& next = {});
  /// Starts writing the chosen part in the background; a message says when it is done. False when
  /// it cannot start. `exporting()` is true meanwhile.
  bool export_chosen(const QString& file);
  bool exporting() const;

  /// Brings the window into a named state for pictures; false when there is no such view.
  bool show_named(const QString& name);

 protected:
  void closeEvent(QCloseEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void make_actions();
  void add_file_actions();
  void add_edit_actions();
  void add_view_actions();
  void add_looking_actions();
  ActionInfo& add_looking(const char* id, const QString& label, const QString& help,
                          const char* icon, std::function<void()> run);
  void add_switch(const char* id, const QString& label, const QString& help, const char* icon,
                  bool ViewSettings::*member);
  void choose_theme();
  /// A card of which there is one: to the front, or made and shown.
  template <typename Card, typename... With>
  void show_card(QPointer<Card>& card, With&&... with) {
    if (card) {
      card->raise();
      return;
    }
    card = new Card(std::forward<With>(with)..., this);
    card->show();
  }
  void show_history();
  void show_numbers();
  void show_checks();
  void show_export();
  void show_material();
  void show_pictures();
  void choose_compare();
  void show_compared(const Document& older, const QString& name);
  void show_keys_editor();
  void show_preferences();
  void add_views_menu(QMenu* menu);
  void add_stage_actions();
  void add_deliver_actions();
  void add_arrange_actions();
  void make_menus();
  void make_corner();
  void add_named_menu(QMenu* menu);
  void show_grip(bool fitted);
  void show_face_looks();
  void show_print(bool layers);
  void make_layout();
  void refresh_hand_bar();
  void refresh_actions();
  void refresh_title();
  void place_overlays();
  void remember();
  void recall();
  void note_recent(const QString& file);

  /// Goes on with `next` when nothing would be lost, after saving, or when it may be lost.
  void leave(const AppModel::Then& next);
  void choose_open();
  void choose_bring_in();
  TakePartsCard* take_parts_ = nullptr;  // over the view; made when first needed
  QString ask_file_to_write(const QString& title, const QString& name, const QString& ending,
                            const QString& filter);
  void choose_save(bool always_ask, const AppModel::Then& next = {});
  void choose_export(const QString& ending, const QString& filter);
  void finish_export(const QString& name, const QString& file, const QString& trouble);
  void restore_unsaved();
  void add_operation_actions();
  /// Begins a trial of the operation with that action that takes the chosen part's shape.
  void follow_picks();
  void show_next_crossing();
  void begin_operation(const std::string& action);
  OperationPtr fitting_operation(const std::string& action) const;
  ShapeKinds chosen_kind() const;
  static QString tip_of(const ActionInfo& action);
  void show_keys();
  void put_key(const ActionInfo& action);
  QString last_folder() const;

  QPointer<QDialog> keys_;  // the open sheet of keys
  AppModel model_;
  PointEditor editor_;
  Recovery recovery_;
  std::vector<ActionInfo> actions_;
  StagesRail* rail_ = nullptr;
  ModelView* view_ = nullptr;
  GaugesStrip* gauges_ = nullptr;
  FindAction* find_ = nullptr;
  QSplitter* right_ = nullptr;
  QSplitter* centre_ = nullptr;
  HandBar* hand_bar_ = nullptr;
  PartsTree* parts_ = nullptr;
  StartCard* start_offer_ = nullptr;
  Tour* tour_ = nullptr;
  QPointer<HistoryList> history_;
  QPointer<NumbersCard> numbers_;
  QPointer<ChecksCard> checks_;
  QPointer<ExportCard> export_;
  QPointer<MaterialCard> material_;
  QPointer<PictureCard> pictures_;
  QPointer<CompareCard> compare_;
  Turntable* turntable_ = nullptr;
  QLabel* project_name_ = nullptr;
  QMenu* recent_ = nullptr;
  bool exporting_ = false;
  bool restorable_ = false;
  bool leaving_ = false;  // what could be lost has been asked about
  std::shared_ptr<Progress> export_progress_;
  std::size_t next_crossing_ = 0;
};

}  // namespace evenclay
