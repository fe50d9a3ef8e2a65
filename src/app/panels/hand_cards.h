// The small cards that the chips of the hand bar open.
#pragma once

#include <QFrame>
#include <functional>
#include <vector>

#include "app/tools/point_editor.h"

namespace evenclay {

/// A card sets one thing of the hand; words() says how it is set, for its chip.
class HandCard : public QFrame {
  Q_OBJECT
 public:
  HandCard(PointEditor& editor, const QString& title, QWidget* parent);

  virtual QString words() const = 0;
  /// Set to something else than the usual: the chip is then written in the accent.
  /// Whether it says anything of a subdivision form.
  virtual bool fits_forms() const { return true; }
  virtual bool unusual() const = 0;
  /// Shows what the editor has now.
  void refresh();

 Q_SIGNALS:
  void closing();

 protected:
  virtual void take() = 0;  ///< fields to editor
  virtual void show_state() = 0;
  void taken() {
    if (!refreshing_) take();
  }
  void keyPressEvent(QKeyEvent* event) override;
  PointEditor& editor_;

 private:
  bool refreshing_ = false;
};

/// All cards in the order of the chips.
std::vector<HandCard*> make_hand_cards(PointEditor& editor, QWidget* parent);

}  // namespace evenclay
