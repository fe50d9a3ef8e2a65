#include "app/view/typed_field.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <algorithm>

namespace evenclay {

TypedField::TypedField(QWidget* parent) : QFrame(parent) {
  setProperty("bar", true);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(9, 5, 9, 5);
  label_ = new QLabel(this);
  field_ = new QLineEdit(this);
  field_->setObjectName("typed_distance");
  unit_ = new QLabel(this);
  row->addWidget(label_);
  row->addWidget(field_);
  row->addWidget(unit_);
  hide();
  connect(field_, &QLineEdit::returnPressed, this, &TypedField::apply);
}

void TypedField::ask(Question question, const QPointF& beside) {
  question_ = std::move(question);
  label_->setText(question_.label);
  unit_->setText(question_.unit);
  field_->setText(question_.first);
  field_->setAccessibleName(question_.label);
  field_->setFixedWidth(question_.wide ? 150 : 64);
  adjustSize();
  show();
  place(beside);
  raise();
  field_->setFocus();
  field_->deselect();
  field_->setCursorPosition(static_cast<int>(question_.first.size()));
  if (question_.selected) field_->selectAll();
}

void TypedField::place(const QPointF& beside) {
  if (!isVisible()) return;
  const QWidget& in = *parentWidget();
  const int x =
      std::clamp(static_cast<int>(beside.x()) + 24, 4, std::max(4, in.width() - width() - 4));
  const int y = std::clamp(static_cast<int>(beside.y()) - height() - 20, 4,
                           std::max(4, in.height() - height() - 4));
  move(x, y);
}

void TypedField::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter)
    event->accept();
  else
    QFrame::keyPressEvent(event);
}

void TypedField::apply() {
  // Taking it may ask the next question.
  const auto take = question_.take;
  hide();
  parentWidget()->setFocus();
  if (take(field_->text().trimmed())) return;
  show();
  field_->setFocus();
}

}  // namespace evenclay
