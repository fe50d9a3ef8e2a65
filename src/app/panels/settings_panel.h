// Settings of the chosen step, made from the operation's own description of its parameters.
#pragma once

#include <QSet>
#include <QWidget>
#include <functional>
#include <vector>

#include "app/look/preferences.h"
#include "app/window/app_model.h"

class QCheckBox;
class QFormLayout;
class QLabel;
class QPushButton;

namespace evenclay {

class CountPlot;

class SettingsPanel : public QWidget {
 public:
  explicit SettingsPanel(AppModel& model, QWidget* parent = nullptr);

 protected:
  /// Enter keeps and Esc drops a trial from within its fields too.
  void keyPressEvent(QKeyEvent* event) override;

 private:
  friend class SettingsBuilder;
  void refresh();
  void rebuild(const Step& step);
  static void set_up(QFormLayout& form);
  template <typename Spin>
  void mark_formula(Spin& box, const std::string& parameter);
  void refresh_words(const Step* step);
  /// Sets one parameter of the chosen step from text; live in a trial, else one undo entry for
  /// all changes of the same field.
  void refresh_plot(const Step* step);
  void take_count(int points_u, int points_v);
  void change(const std::string& parameter, const std::string& label, const std::string& value);

  AppModel& model_;
  QLabel* title_ = nullptr;
  QLabel* help_ = nullptr;
  QLabel* message_ = nullptr;
  QWidget* fields_ = nullptr;
  QWidget* trial_bar_ = nullptr;
  QCheckBox* as_new_part_ = nullptr;
  CountPlot* plot_ = nullptr;
  StepId built_for_ = 0;
  std::string built_kind_;
  std::size_t built_parts_ = 0;
  std::string built_names_;
  look::LengthUnit built_unit_ =
      look::LengthUnit::Millimetre;  // of parameters: some steps have others as they are set
  QSet<QString> open_groups_;        // headings whose fields are shown
  std::vector<std::function<void(Operation&)>> updaters_;
  bool refreshing_ = false;
};

}  // namespace evenclay
