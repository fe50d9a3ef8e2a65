#include "app/panels/hand_bar.h"

#include <QBoxLayout>
#include <QButtonGroup>
#include <QStyle>
#include <QToolButton>
#include <algorithm>

namespace evenclay {

namespace {

QToolButton* switch_button(const QString& text, const QString& help, QButtonGroup* group,
                           QWidget* parent) {
  auto* b = new QToolButton(parent);
  b->setText(text);
  b->setToolTip(help);
  b->setCheckable(true);
  // Qt adds the room of two letters; the bar has none to give away.
  b->setFixedWidth(b->fontMetrics().horizontalAdvance(text) + 13);
  group->addButton(b);
  return b;
}

}  // namespace

HandBar::HandBar(PointEditor& editor, QWidget* view) : QFrame(view), editor_(editor), view_(view) {
  setProperty("bar", true);
  setObjectName("hand_bar");
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(5, 4, 5, 4);
  column->setSpacing(3);
  first_row_ = new QBoxLayout(QBoxLayout::LeftToRight);
  first_row_->setSpacing(3);
  first_row_->addLayout(modes());
  first_row_->addLayout(directions());
  first_row_->addStretch(1);  // takes all room that is left: no gap between the halves
  column->addLayout(first_row_);
  column->addLayout(chips());
  connect(&editor_, &PointEditor::changed, this, &HandBar::refresh);
  refresh();
}

QBoxLayout* HandBar::modes() {
  auto* row = new QHBoxLayout;
  row->setSpacing(1);
  auto* group = new QButtonGroup(this);
  const struct {
    EditMode mode;
    const char* label;
    const char* help;
  } entries[] = {
      {EditMode::Move, "Move", "Drags move the picked points along the chosen direction."},
      {EditMode::Scale, "Scale",
       "Drags to the right grow, to the left shrink: along x, y or z alone, in the plane, or all."},
      {EditMode::Turn, "Turn", "Drags turn the picked points about the chosen direction."},
      {EditMode::PullSkin, "Pull the skin",
       "Drag the surface itself: the place under the cursor follows exactly."},
      {EditMode::Weight, "Weight",
       "Drags to the right give the picked points more weight, to the left less."},
  };
  for (const auto& e : entries) {
    auto* b = switch_button(tr(e.label), tr(e.help), group, this);
    const EditMode mode = e.mode;
    connect(b, &QToolButton::clicked, this, [this, mode] { editor_.set_mode(mode); });
    modes_.emplace_back(mode, b);
    row->addWidget(b);
  }
  auto* rule = new QFrame(this);
  rule->setFrameShape(QFrame::VLine);
  rule->setProperty("rule", true);
  row->addWidget(rule);
  row->addStretch();
  return row;
}

QBoxLayout* HandBar::directions() {
  auto* row = new QHBoxLayout;
  row->setSpacing(1);
  auto* group = new QButtonGroup(this);
  const struct {
    MoveDirection direction;
    const char* label;
    const char* help;
  } entries[] = {
      {MoveDirection::X, "x", "Along the x axis  (X)"},
      {MoveDirection::Y, "y", "Along the y axis  (C)"},
      {MoveDirection::Z, "z", "Along the z axis  (Z)"},
      {MoveDirection::OffSkin, "Off skin", "Off the skin: along the surface normal  (S)"},
      {MoveDirection::OnSkin, "On skin", "On the skin: in the tangent plane at each point  (D)"},
      {MoveDirection::AlongU, "Net u", "Along the legs of the net in u  (G)"},
      {MoveDirection::AlongV, "Net v", "Along the legs of the net in v  (Shift+G)"},
      {MoveDirection::InView, "View", "In the view: parallel to the screen  (V)"},
      {MoveDirection::WorkPlane, "Plane", "In the work plane  (B)"},
  };
  for (const auto& e : entries) {
    auto* b = switch_button(tr(e.label), tr(e.help), group, this);
    const MoveDirection direction = e.direction;
    connect(b, &QToolButton::clicked, this,
            [this, direction] { editor_.set_direction(direction); });
    directions_.emplace_back(direction, b);
    row->addWidget(b);
  }
  row->addStretch();
  return row;
}

QBoxLayout* HandBar::chips() {
  second_row_ = new QBoxLayout(QBoxLayout::LeftToRight);
  second_row_->setSpacing(3);
  QHBoxLayout* halves[2] = {new QHBoxLayout, new QHBoxLayout};
  for (QHBoxLayout* half : halves) {
    half->setSpacing(3);
    second_row_->addLayout(half);
  }
  for (HandCard* card : make_hand_cards(editor_, view_)) {
    auto* b = new QToolButton(this);
    b->setProperty("chip", true);
    b->setCheckable(true);
    b->setToolTip(card->accessibleName());
    b->setObjectName("chip_" + QString::number(chips_.size() + 1));
    const Chip chip{b, card};
    connect(b, &QToolButton::clicked, this, [this, chip] {
      if (open_ == chip.card)
        close_card();
      else
        open_card(chip);
    });
    connect(card, &HandCard::closing, this, [this] { close_card(); });
    halves[chips_.size() < 4 ? 0 : 1]->addWidget(b);
    chips_.push_back(chip);
  }
  halves[1]->addStretch();
  second_row_->addStretch(1);
  return second_row_;
}

// Above its chip, and within the view.
void HandBar::open_card(const Chip& chip) {
  close_card();
  open_ = chip.card;
  open_->refresh();
  open_->adjustSize();
  const int x = pos().x() + chip.button->x();
  const int most = std::max(4, view_->width() - open_->width() - 4);
  open_->move(std::min(x, most), std::max(4, pos().y() - open_->height() - 5));
  open_->show();
  open_->raise();
  open_->setFocus();
  refresh();
}

bool HandBar::close_card() {
  if (open_ == nullptr) return false;
  const bool had_focus = open_->isAncestorOf(window()->focusWidget()) || open_->hasFocus();
  HandCard* card = open_;
  open_ = nullptr;
  card->hide();
  if (had_focus) view_->setFocus();
  refresh();
  return true;
}

void HandBar::set_wanted(bool wanted) {
  wanted_ = wanted;
  refresh();
}

// Changes nothing that is right already: every change of a layout asks for another placing.
void HandBar::place(int room) {
  for (QBoxLayout* row : {first_row_, second_row_}) {
    int wanted = 14;  // margins of the bar
    for (int k = 0; k < row->count(); ++k)
      wanted += row->itemAt(k)->sizeHint().width() + row->spacing();
    const auto direction = wanted > room ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight;
    if (row->direction() != direction) row->setDirection(direction);
  }
  layout()->activate();
  if (size() != sizeHint()) resize(sizeHint());
  const QPoint corner(8, view_->height() - height() - 8);
  if (pos() != corner) move(corner);
}

void HandBar::refresh() {
  if (editor_.dragging()) return;
  // A form has no rows, no weights, and no skin that is pulled itself.
  const bool form = editor_.form() != nullptr;
  for (const auto& [mode, button] : modes_)
    button->setVisible(!form || (mode != EditMode::PullSkin && mode != EditMode::Weight));
  for (const auto& [direction, button] : directions_)
    button->setVisible(!form ||
                       (direction != MoveDirection::AlongU && direction != MoveDirection::AlongV));
  for (const auto& [mode, button] : modes_) button->setChecked(mode == editor_.mode());
  for (const auto& [direction, button] : directions_)
    button->setChecked(direction == editor_.direction());
  for (const Chip& chip : chips_) {
    chip.card->refresh();
    chip.button->setVisible(!form || chip.card->fits_forms());
    const QString words = chip.card->words();
    if (chip.button->text() != words) chip.button->setText(words);
    chip.button->setChecked(chip.card == open_);
    const bool lit = chip.card->unusual();
    if (chip.button->property("lit").toBool() == lit) continue;
    chip.button->setProperty("lit", lit);
    chip.button->style()->unpolish(chip.button);
    chip.button->style()->polish(chip.button);
  }
  const bool shown = wanted_ && editor_.net().has_value() && editor_.net_visible();
  if (!shown) close_card();
  setVisible(shown);
  if (shown && sizeHint() != size()) updateGeometry();
}

}  // namespace evenclay
