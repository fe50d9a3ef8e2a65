// The seven stages and the tools of each: the one table from which rail, menus, search and keys
// sheet are made.
#pragma once

#include <QKeySequence>
#include <QString>
#include <functional>
#include <optional>
#include <vector>

#include "core/document/operation.h"

class QAction;

namespace evenclay {

struct StageInfo {
  const char* name;
  const char* icon;
  const char* purpose;  ///< one line
  const char* coming;   ///< what will be there, for a stage without tools yet; else empty
};
const StageInfo& info(Stage stage);

/// Where an action belongs besides its stage.
enum class Menu { None, File, Edit, Select, View, Help };

struct ActionInfo {
  QString id;     ///< stable, for tests and shots
  QString label;  ///< verb, sentence case
  QString help;   ///< one sentence
  QString icon;
  QKeySequence key;
  std::optional<Stage> stage;
  Menu menu = Menu::None;
  bool checkable = false;
  std::function<void()> run;
  QAction* action = nullptr;
  bool in_rail =
      true;            ///< false: of its stage, but shown elsewhere, such as in the bar of the view
  QString group = {};  ///< heading in the rail
  /// Asked whenever something changed; without it the action is always enabled (unchecked).
  std::function<bool()> enabled_when = {};
  std::function<bool()> checked_when = {};
  QString needs = {};               ///< said on hover while it is dimmed
  QKeySequence delivered_key = {};  ///< before the user gave it another
};

}  // namespace evenclay
