#include "app/stages/hover_card.h"

#include <QAction>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

#include "app/stages/drawings.h"

namespace evenclay {

HoverCard::HoverCard(QWidget* window) : QFrame(window) {
  setProperty("bar", true);
  setObjectName("hover_card");
  setAttribute(Qt::WA_TransparentForMouseEvents);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(12, 9, 12, 10);
  column->setSpacing(5);
  title_ = new QLabel(this);
  title_->setProperty("heading", true);
  help_ = new QLabel(this);
  help_->setWordWrap(true);
  drawing_ = new QLabel(this);
  drawing_->setObjectName("drawing");
  needs_ = new QLabel(this);
  needs_->setObjectName("needs");
  needs_->setWordWrap(true);
  needs_->setProperty("bad", true);
  for (QLabel* l : {title_, help_, drawing_, needs_}) column->addWidget(l);
  for (QLabel* l : {help_, needs_}) l->setFixedWidth(236);
  hide();
}

void HoverCard::show_for(const ActionInfo& a, const QWidget& button) {
  const QString key =
      a.key.isEmpty() ? QString() : "  (" + a.key.toString(QKeySequence::NativeText) + ")";
  title_->setText(a.label + key);
  help_->setText(a.help);
  const double ratio = devicePixelRatioF();
  QPixmap drawing = drawing_of(a.id, 1.9 * ratio);
  drawing.setDevicePixelRatio(ratio);
  drawing_->setPixmap(drawing);
  drawing_->setVisible(!drawing.isNull());
  const bool wanting = !a.action->isEnabled() && !a.needs.isEmpty();
  needs_->setText(a.needs);
  needs_->setVisible(wanting);
  layout()->activate();
  adjustSize();
  const QPoint at = button.mapTo(parentWidget(), QPoint(button.width() + 10, -4));
  const int lowest = parentWidget()->height() - height() - 6;
  move(at.x(), std::clamp(at.y(), 6, std::max(6, lowest)));
  show();
  raise();
}

}  // namespace evenclay
