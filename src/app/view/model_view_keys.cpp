// The keys of ModelView, and the field for a typed distance.
#include <QKeyEvent>
#include <QLabel>
#include <QLocale>
#include <QRegularExpression>
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
  // While there is nothing to undo yet the action is dimmed and the key comes here.
  if (hand_ == Hand::Drag && event->matches(QKeySequence::Undo)) {
    editor_.cancel_drag();
    return;
  }
  if (event->key() == Qt::Key_Escape) {
    if (editor_.plane_points_missing() > 0) {
      editor_.cancel_plane_points();
    } else if (typed_->isVisible()) {
      typed_->hide();
      setFocus();
    } else if (hand_ == Hand::Drag) {
      hand_ = Hand::Idle;
      snapped_.reset();
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
  if (event->key() == Qt::Key_Backspace && take_back_curve_point()) return;
  const QString text = event->text();
  const bool number = text.size() == 1 && (text[0].isDigit() || text[0] == '-' || text[0] == '.');
  const auto blocking = Qt::ControlModifier | Qt::AltModifier;
  if (number && !(event->modifiers() & blocking) && !editor_.picked().empty() &&
      hand_ == Hand::Idle) {
    typed_for_ = Typed::Amount;
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
  QString unit = tr("mm");
  switch (typed_for_) {
    case Typed::Amount:
      if (editor_.mode() == EditMode::Scale) {
        typed_label_->setText(tr("Scale %1 by").arg(points));
        unit = tr("times");
      } else if (editor_.mode() == EditMode::Weight) {
        typed_label_->setText(tr("Set the weight of %1 to").arg(points));
        unit.clear();
      } else if (editor_.mode() == EditMode::Turn) {
        typed_label_->setText(tr("Turn %1 by").arg(points));
        unit = QString::fromUtf8("°");
      } else {
        typed_label_->setText(
            tr("Move %1 %2 by").arg(points, direction_words(editor_.direction())));
      }
      break;
    case Typed::EveryNth:
      typed_label_->setText(
          tr("Of %1 keep every n-th, and how many to pass first: n, start").arg(points));
      unit.clear();
      break;
    case Typed::CurvatureRadius:
      typed_label_->setText(tr("Darkest at a radius of; 0 finds it by the shape"));
      break;
    case Typed::SelectionName:
      typed_label_->setText(tr("Keep %1 under the name").arg(points));
      unit.clear();
      break;
    case Typed::X:
    case Typed::Y:
    case Typed::Z:
      typed_label_->setText(tr("Set %1 of %2 to")
                                .arg(typed_for_ == Typed::X   ? "x"
                                     : typed_for_ == Typed::Y ? "y"
                                                              : "z",
                                     points));
      break;
  }
  typed_unit_->setText(unit);
  typed_field_->setText(first);
  typed_field_->setFixedWidth(typed_for_ == Typed::SelectionName ? 150 : 64);
  typed_->adjustSize();
  typed_->show();
  place_typed_field();
  typed_->raise();
  typed_field_->setFocus();
  typed_field_->deselect();
  typed_field_->setCursorPosition(static_cast<int>(first.size()));
}

void ModelView::ask_every_nth() {
  if (editor_.picked().size() < 2) {
    model_.say_trouble(tr("Pick a row with E or R first; then every n-th of it can be taken."));
    return;
  }
  typed_for_ = Typed::EveryNth;
  open_typed_field("2");
}

void ModelView::ask_coordinate(int axis) {
  if (editor_.picked().empty()) {
    model_.say_trouble(tr("Pick the points first whose coordinate is to be set."));
    return;
  }
  typed_for_ = axis == 0 ? Typed::X : (axis == 1 ? Typed::Y : Typed::Z);
  open_typed_field(QLocale::c().toString(
      editor_.net()->shown.point(editor_.leader())[static_cast<std::size_t>(axis)], 'f', 3));
  typed_field_->selectAll();
}

void ModelView::ask_curvature_radius() {
  typed_for_ = Typed::CurvatureRadius;
  open_typed_field(QLocale::c().toString(curvature_radius_, 'g', 4));
  typed_field_->selectAll();
}

void ModelView::ask_selection_name() {
  if (editor_.picked().empty()) {
    model_.say_trouble(tr("Pick the points first that are to be kept under a name."));
    return;
  }
  typed_for_ = Typed::SelectionName;
  open_typed_field(tr("selection %1").arg(editor_.names().size() + 1));
  typed_field_->selectAll();
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
  const QString text = typed_field_->text().trimmed();
  if (typed_for_ == Typed::EveryNth) {
    const QStringList numbers = text.split(QRegularExpression("[,; ]+"), Qt::SkipEmptyParts);
    const int n = numbers.value(0).toInt();
    const int start = numbers.value(1, "0").toInt();
    if (n < 2 || start < 0) {
      model_.say_trouble(tr("'%1' is not a count. Type 2 for every second point, or 3, 1 for every "
                            "third after passing one.")
                             .arg(text));
      return;
    }
    typed_->hide();
    setFocus();
    editor_.pick_every(n, start);
    return;
  }
  if (typed_for_ == Typed::SelectionName) {
    typed_->hide();
    setFocus();
    editor_.name_selection(text);
    return;
  }
  bool fine = false;
  const double number = QLocale::c().toDouble(QString(text).replace(',', '.'), &fine);
  if (!fine || !std::isfinite(number) || std::abs(number) > 1e5) {
    model_.say_trouble(
        tr("'%1' is not a number that can be used. Type one such as 2.5 or -0.8.").arg(text));
    return;
  }
  typed_->hide();
  setFocus();
  apply_typed(number);
}

bool ModelView::apply_typed(double number) {
  const Frame axes = camera_of(0).axes();
  if (typed_for_ == Typed::CurvatureRadius) {
    set_curvature_radius(number);
    return true;
  }
  if (typed_for_ != Typed::Amount) {
    const int axis = typed_for_ == Typed::X ? 0 : (typed_for_ == Typed::Y ? 1 : 2);
    return editor_.arrange(tr("Set a coordinate"),
                           [&](const Nets& s, const PointShares& shares, const Selection&) {
                             return set_coordinate(s, shares, axis, number);
                           });
  }
  if (editor_.mode() == EditMode::Weight) return editor_.set_weight(number);
  if (editor_.mode() == EditMode::Scale) return editor_.scale_by(number, axes);
  if (editor_.mode() == EditMode::Turn) return editor_.turn_by(number, axes);
  return editor_.move_by({editor_.direction(), number, axes.x * number});
}

}  // namespace evenclay
