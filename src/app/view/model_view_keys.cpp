// The keys of ModelView, and the questions it asks in the typed field.
#include <QKeyEvent>
#include <QLocale>
#include <QRegularExpression>
#include <cmath>

#include "app/view/model_view.h"

namespace evenclay {

// While a tool needs a letter it is not the action's that has it otherwise.
bool ModelView::event(QEvent* event) {
  if (event->type() == QEvent::ShortcutOverride)
    for (const auto& tool : tools_)
      if (tool->wants(*static_cast<QKeyEvent*>(event))) {
        event->accept();
        return true;
      }
  return QOpenGLWidget::event(event);
}

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
  for (const auto& tool : tools_)
    if (tool->key(*event)) return;
  if (event->key() == Qt::Key_Escape) {
    if (!give_up_innermost()) editor_.pick({});
    return;
  }
  if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter) && model_.trial()) {
    model_.keep_trial();
    return;
  }
  const QString text = event->text();
  const bool number = text.size() == 1 && (text[0].isDigit() || text[0] == '-' || text[0] == '.');
  const auto blocking = Qt::ControlModifier | Qt::AltModifier;
  if (number && !(event->modifiers() & blocking) && active_ == nullptr)
    for (const auto& tool : tools_)
      if (auto q = tool->question(text)) {
        typed_->ask(std::move(*q), last_);
        return;
      }
  if (number && !(event->modifiers() & blocking) && !editor_.picked().empty() &&
      active_ == nullptr) {
    ask_amount(text);
    return;
  }
  QOpenGLWidget::keyPressEvent(event);
}

// Esc: what was begun last ends first. False when there is nothing to give up.
bool ModelView::give_up_innermost() {
  if (give_up_first_ && give_up_first_()) return true;
  if (editor_.plane_points_missing() > 0) {
    editor_.cancel_plane_points();
  } else if (typed_->isVisible()) {
    typed_->hide();
    setFocus();
  } else if (active_ != nullptr) {
    HandTool* tool = active_;
    active_ = nullptr;
    tool->cancel();
    update();
  } else if (model_.trial()) {
    model_.drop_trial();
  } else {
    return false;
  }
  return true;
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

// --- questions --------------------------------------------------------------------------------------

void ModelView::ask(TypedField::Question question) {
  typed_->ask(std::move(question),
              to_screen(views_.camera(0), views_.rect(0), editor_.picked_centre()).at);
}

QString ModelView::picked_words() const {
  const auto count = editor_.picked().size();
  return count == 1 ? tr("1 point") : tr("%1 points").arg(count);
}

bool ModelView::with_number(const QString& text, const std::function<void(double)>& take) {
  static const QRegularExpression comma("^[-+]?[0-9]*,[0-9]+$");
  QString typed = text;
  if (comma.match(typed).hasMatch()) typed.replace(',', '.');
  double number = 0.0;
  if (!model_.attempt(
          [&] { number = formula_value(typed.toStdString(), model_.document().numbers); }))
    return false;
  if (std::abs(number) > 1e5) {
    model_.say_trouble(tr("%1 is too much. Type a number such as 2.5 or -0.8.").arg(text));
    return false;
  }
  take(number);
  return true;
}

// By how much what is picked moves, scales, turns or weighs, as the mode says.
void ModelView::ask_amount(const QString& first) {
  TypedField::Question q;
  q.first = first;
  const auto take = [&](auto act) {
    q.take = [this, act](const QString& text) { return with_number(text, act); };
  };
  switch (editor_.mode()) {
    case EditMode::Scale:
      q.label = tr("Scale %1 by").arg(picked_words());
      q.unit = tr("times");
      take([this](double x) { editor_.scale_by(x, views_.camera(0).axes()); });
      break;
    case EditMode::Turn:
      q.label = tr("Turn %1 by").arg(picked_words());
      q.unit = QString::fromUtf8("°");
      take([this](double x) { editor_.turn_by(x, views_.camera(0).axes()); });
      break;
    case EditMode::Weight:
      q.label = tr("Set the weight of %1 to").arg(picked_words());
      take([this](double x) { editor_.set_weight(x); });
      break;
    case EditMode::Move:
    case EditMode::PullSkin:
      q.label = tr("Move %1 %2 by").arg(picked_words(), direction_words(editor_.direction()));
      q.unit = tr("mm");
      take([this](double x) {
        editor_.move_by({editor_.direction(), x, views_.camera(0).axes().x * x});
      });
      break;
  }
  ask(std::move(q));
}

void ModelView::ask_every_nth() {
  if (editor_.picked().size() < 2) {
    model_.say_trouble(tr("Pick a row with E or R first; then every n-th of it can be taken."));
    return;
  }
  TypedField::Question q{
      tr("Of %1 keep every n-th, and how many to pass first: n, start").arg(picked_words()),
      {},
      "2"};
  q.take = [this](const QString& text) {
    const QStringList numbers = text.split(QRegularExpression("[,; ]+"), Qt::SkipEmptyParts);
    const int n = numbers.value(0).toInt();
    const int start = numbers.value(1, "0").toInt();
    if (n < 2 || start < 0) {
      model_.say_trouble(tr("'%1' is not a count. Type 2 for every second point, or 3, 1 for every "
                            "third after passing one.")
                             .arg(text));
      return false;
    }
    editor_.pick_every(n, start);
    return true;
  };
  ask(std::move(q));
}

void ModelView::ask_coordinate(int axis) {
  if (editor_.picked().empty()) {
    model_.say_trouble(tr("Pick the points first whose coordinate is to be set."));
    return;
  }
  static const char* const names[3] = {"x", "y", "z"};
  const Vec3& leader = editor_.net()->shown.point(editor_.leader());
  TypedField::Question q{tr("Set %1 of %2 to").arg(names[axis], picked_words()), tr("mm"),
                         QLocale::c().toString(leader[static_cast<std::size_t>(axis)], 'f', 3)};
  q.selected = true;
  q.take = [this, axis](const QString& text) {
    // "+0.5" counts from where the point picked last is.
    const bool relative = text.startsWith('+');
    const double from =
        relative ? editor_.net()->shown.point(editor_.leader())[static_cast<std::size_t>(axis)] : 0;
    return with_number(relative ? text.mid(1) : text, [this, axis, from](double x) {
      editor_.arrange(tr("Set a coordinate"), SetCoordinate{axis, from + x});
    });
  };
  ask(std::move(q));
}

void ModelView::ask_curvature_radius() {
  TypedField::Question q{tr("Darkest at a radius of; 0 finds it by the shape"), tr("mm"),
                         QLocale::c().toString(settings_.curvature_radius, 'g', 4)};
  q.selected = true;
  q.take = [this](const QString& text) {
    return with_number(text, [this](double x) { set(&ViewSettings::curvature_radius, x); });
  };
  ask(std::move(q));
}

void ModelView::ask_map_range() {
  if (settings_.look == ModelLook::Curvature) {
    ask_curvature_radius();
    return;
  }
  const auto look = static_cast<std::size_t>(settings_.look);
  if (!is_map(settings_.look)) {
    model_.say_trouble(tr("Choose a look that shows colours by values first, such as Deviation."));
    return;
  }
  TypedField::Question q{tr("The ends of the colours stand for; 0 finds it by the shape"),
                         {},
                         QLocale::c().toString(settings_.ranges[look], 'g', 4)};
  q.selected = true;
  q.take = [this, look](const QString& text) {
    return with_number(text, [this, look](double x) {
      auto ranges = settings_.ranges;
      ranges[look] = x;
      set(&ViewSettings::ranges, ranges);
    });
  };
  ask(std::move(q));
}

void ModelView::ask_view_name() {
  TypedField::Question q{tr("Keep this view under the name"),
                         {},
                         tr("view %1").arg(model_.document().views.size() + 1)};
  q.wide = q.selected = true;
  q.take = [this](const QString& text) {
    const Camera& c = views_.camera(0);
    const SavedView view{
        text.trimmed().toStdString(), c.target, c.yaw, c.pitch, c.height, c.perspective};
    return model_.attempt([&] {
      model_.commit_beside([&](const Document& d) { return with_view(d, view); }, tr("Keep view"));
    });
  };
  ask(std::move(q));
}

void ModelView::ask_selection_name() {
  if (editor_.picked().empty()) {
    model_.say_trouble(tr("Pick the points first that are to be kept under a name."));
    return;
  }
  TypedField::Question q{tr("Keep %1 under the name").arg(picked_words()),
                         {},
                         tr("selection %1").arg(editor_.names().size() + 1)};
  q.wide = q.selected = true;
  q.take = [this](const QString& text) {
    editor_.name_selection(text);
    return true;
  };
  ask(std::move(q));
}

}  // namespace evenclay
