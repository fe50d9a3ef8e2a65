// A button of the rail: a text that is too long ends in an ellipsis instead of being cut.
#pragma once

#include <QStyleOptionToolButton>
#include <QStylePainter>
#include <QToolButton>

namespace evenclay {

class RailButton : public QToolButton {
 public:
  using QToolButton::QToolButton;

  /// Asks for no more width than the rail has.
  QSize minimumSizeHint() const override { return {40, QToolButton::minimumSizeHint().height()}; }

 protected:
  void paintEvent(QPaintEvent*) override {
    QStylePainter painter(this);
    QStyleOptionToolButton option;
    initStyleOption(&option);
    constexpr int kBesideText = 17;  // what the style leaves before icon and text
    const int room = width() - option.iconSize.width() - kBesideText;
    option.text = fontMetrics().elidedText(option.text, Qt::ElideRight, room);
    painter.drawComplexControl(QStyle::CC_ToolButton, option);
  }
};

}  // namespace evenclay
