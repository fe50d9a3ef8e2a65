// The keys of all actions, to be changed.
#pragma once

#include <QDialog>
#include <functional>
#include <vector>

#include "app/stages/stages.h"

class QKeySequenceEdit;
class QLabel;
class QLineEdit;
class QTreeWidget;

namespace evenclay {

/// A list of all actions that a word narrows; the chosen one's key is pressed in the field beneath. A key that another
/// action has is refused with that action's name.
class KeysEditor : public QDialog {
 public:
  /// `give` gives the action of that id the key, which is free, and keeps it.
  KeysEditor(const std::vector<ActionInfo>& actions,
             std::function<void(const QString&, const QKeySequence&)> give, QWidget* parent);

 private:
  void make_list();
  void make_fields();
  void fill();
  const ActionInfo* chosen() const;
  void take(const QKeySequence& key);

  const std::vector<ActionInfo>& actions_;
  std::function<void(const QString&, const QKeySequence&)> give_;
  QLineEdit* words_ = nullptr;
  QTreeWidget* list_ = nullptr;
  QKeySequenceEdit* key_ = nullptr;
  QLabel* says_ = nullptr;
};

}  // namespace evenclay
