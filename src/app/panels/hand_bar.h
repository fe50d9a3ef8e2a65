// The slim bar at the lower left of the view: modes and directions of the hand, and chips that say how it
// is set and open a small card each.
#pragma once

#include <QFrame>
#include <functional>
#include <vector>

#include "app/panels/hand_cards.h"

class QBoxLayout;
class QToolButton;

namespace evenclay {

class HandBar : public QFrame {
 public:
  explicit HandBar(PointEditor& editor, QWidget* view);

  /// It is shown only where something can be shaped.
  void set_wanted(bool wanted);
  /// Puts the bar into the lower left corner of the view, within `room` pixels of width.
  void place(int room);
  /// Closes the open card; false when none was open.
  bool close_card();
  bool card_open() const { return open_ != nullptr; }

 private:
  struct Chip {
    QToolButton* button;
    HandCard* card;
  };
  QBoxLayout* modes();
  QBoxLayout* directions();
  QBoxLayout* chips();
  void open_card(const Chip& chip);
  void refresh();

  PointEditor& editor_;
  QWidget* view_;
  std::vector<std::pair<EditMode, QToolButton*>> modes_;
  std::vector<std::pair<MoveDirection, QToolButton*>> directions_;
  std::vector<Chip> chips_;
  QBoxLayout* first_row_ = nullptr;
  QBoxLayout* second_row_ = nullptr;
  HandCard* open_ = nullptr;
  bool wanted_ = true;
};

}  // namespace evenclay
