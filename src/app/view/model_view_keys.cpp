// The keys of ModelView, and the field for a typed distance.
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <cmath>

#include "app/view/model_view.h"

namespace evenclay {

void ModelView::keyPressEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
    space_ = true;
    setCursor(Qt::OpenHandCursor);
    return;
  }
  if (event->key() == Qt::Key_H && !(event->modifiers() & Qt::ControlModifier)) {
    if (!event->isAutoRepeat()) set_before_held(true);
    return;
  }
  if (event->key() == Qt::Key_Escape) {
    if (typed_->isVisible()) {
      typed_->hide();
      setFocus();
    } else if (hand_ == Hand::Drag) {
      hand_ = Hand::Idle;
      editor_.cancel_drag();
    } else if (model_.trial()) {
      model_.drop_trial();
    } else {
      editor_.pick({});
    }
    return;
  }
  if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && model_.trial()) {
    model_.keep_trial();
    return;
  }
  const QString text = event->text();
  const bool number = text.size() == 1 && (text[0].isDigit() || text[0] == '-' || text[0] == '.');
  const auto blocking = Qt::ControlModifier | Qt::AltModifier;
  if (number && !(event->modifiers() & blocking) && !editor_.picked().empty() &&
      hand_ == Hand::Idle) {
    open_typed_field(text);
    return;
  }
  QOpenGLWidget::keyPressEvent(event);
}

void ModelView::keyReleaseEvent(QKeyEvent* event) {
  if (event->key() == Qt::Key_Space && !event->isAutoRepeat()) {
    space_ = false;
    setCursor(Qt::ArrowCursor);
    return;
  }
  if (event->key() == Qt::Key_H) {
    if (!event->isAutoRepeat()) set_before_held(false);
    return;
  }
  QOpenGLWidget::keyReleaseEvent(event);
}

void ModelView::open_typed_field(const QString& first) {
  const auto count = editor_.picked().size();
  const QString points = count == 1 ? tr("1 point") : tr("%1 points").arg(count);
  typed_label_->setText(tr("Move %1 %2 by").arg(points, direction_words(editor_.direction())));
  typed_field_->setText(first);
  typed_->adjustSize();
  typed_->show();
  place_typed_field();
  typed_->raise();
  typed_field_->setFocus();
  typed_field_->deselect();
  typed_field_->setCursorPosition(static_cast<int>(first.size()));
}

void ModelView::place_typed_field() {
  if (!typed_->isVisible()) return;
  const QPointF at = to_screen(camera_of(0), viewport(0), editor_.picked_centre()).at;
  const int x =
      std::clamp(static_cast<int>(at.x()) + 24, 4, std::max(4, width() - typed_->width() - 4));
  const int y = std::clamp(static_cast<int>(at.y()) - typed_->height() - 20, 4,
                           std::max(4, height() - typed_->height() - 4));
  typed_->move(x, y);
}

void ModelView::apply_typed_field() {
  bool fine = false;
  const double mm = QLocale::c().toDouble(typed_field_->text().trimmed().replace(',', '.'), &fine);
  if (!fine || std::abs(mm) > 1e5) {
    model_.say_trouble(tr("'%1' is not a distance. Type millimetres, such as 2.5 or -0.8.")
                           .arg(typed_field_->text()));
    return;
  }
  Move move{editor_.direction(), mm, camera_of(0).axes().x * mm};
  typed_->hide();
  setFocus();
  editor_.move_by(move);
}

}  // namespace evenclay
