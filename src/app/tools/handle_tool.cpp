#include "app/tools/handle_tool.h"

#include <QLocale>
#include <cmath>

#include "app/look/colours.h"
#include "app/view/layers.h"
#include "app/view/near_line.h"

namespace evenclay {

namespace {

constexpr double kNear = 9.0;  // pixels within which a handle is meant

std::vector<float> pieces_of(const std::vector<Vec3>& path) {
  std::vector<float> pieces;
  for (std::size_t k = 0; k + 1 < path.size(); ++k) add_piece(pieces, path[k], path[k + 1]);
  return pieces;
}

QString number(double value) {
  return QLocale::c().toString(value, 'g', 4);
}

}  // namespace

std::vector<StepHandle> HandleTool::handles() const {
  if (dragged_) return {*dragged_};
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  const auto answer = c_.model.answer();
  if (step == nullptr || !step->enabled || !answer || answer->shown_step != step->id) return {};
  return answer->handles;
}

// The diamond stands to the left of the path, as that is seen.
HandleTool::Shown HandleTool::shown(const StepHandle& h, std::size_t k) const {
  const auto on_screen = [&](const Vec3& p) {
    return to_screen(c_.views.camera(k), c_.views.rect(k), p);
  };
  const OnScreen place = on_screen(place_of(h));
  const double step = 0.02 * (h.to - h.from);
  StepHandle before = h, after = h;
  before.value -= step;
  after.value += step;
  const QPointF along = on_screen(place_of(after)).at - on_screen(place_of(before)).at;
  const double length = std::hypot(along.x(), along.y());
  constexpr double kBeside = 18.0;
  const QPointF aside =
      length > 1e-6 ? QPointF(along.y(), -along.x()) * (kBeside / length) : QPointF(0, -kBeside);
  return {place.at + aside, place.at, place.depth > 0.0};
}

QPointF HandleTool::shown_at(std::size_t n) const {
  const std::vector<StepHandle> all = handles();
  return n < all.size() ? shown(all[n], 0).at : QPointF();
}

std::optional<std::size_t> HandleTool::under(const QPointF& at) const {
  const std::size_t k = c_.views.at(at);
  const std::vector<StepHandle> all = handles();
  std::optional<std::size_t> best;
  double nearest = kNear;
  for (std::size_t n = 0; n < all.size(); ++n) {
    const Shown s = shown(all[n], k);
    const double d = std::hypot(s.at.x() - at.x(), s.at.y() - at.y());
    if (!s.seen || d >= nearest) continue;
    nearest = d;
    best = n;
  }
  return best;
}

bool HandleTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton) return false;
  const auto n = under(e.at);
  if (!n) return false;
  if (!c_.model.may_change(c_.model.chosen_part())) return true;
  const StepHandle taken = handles()[*n];
  const Shown s = shown(taken, c_.views.at(e.at));
  beside_ = s.at - s.place;
  dragged_ = taken;
  start_ = taken.value;
  return true;
}

double HandleTool::value_at(const QPointF& at) const {
  const std::size_t k = c_.views.at(at);
  const NearLine near =
      near_line(c_.views.camera(k), c_.views.rect(k), at, pieces_of(dragged_->path));
  const double share = (static_cast<double>(near.piece) + near.share) /
                       static_cast<double>(dragged_->path.size() - 1);
  return dragged_->from + (dragged_->to - dragged_->from) * share;
}

void HandleTool::show(double value) {
  const StepId id = c_.model.chosen_step();
  dragged_->value = value;
  c_.model.attempt([&] {
    const std::string text = QLocale::c().toString(value, 'g', 12).toStdString();
    if (c_.model.trial())
      c_.model.change_parameter(id, dragged_->parameter, text, QObject::tr("Drag handle"),
                                QString("%1.handle").arg(id));
    else
      c_.model.preview_drag(
          with_step_parameter(c_.model.document(), id, dragged_->parameter, text));
  });
}

void HandleTool::move(const HandEvent& e) {
  if (!dragged_) return;
  const double grain = std::abs(dragged_->to - dragged_->from) /
                       (e.modifiers.testFlag(Qt::ShiftModifier) ? 1000.0 : 100.0);
  const double value = std::round(value_at(e.at - beside_) / grain) * grain;
  const auto [low, high] = std::minmax(dragged_->from, dragged_->to);
  if (const double inside = std::clamp(value, low, high); inside != dragged_->value) show(inside);
}

void HandleTool::release(const HandEvent&) {
  if (!dragged_) return;
  const bool moved = dragged_->value != start_;
  const StepId id = c_.model.chosen_step();
  dragged_.reset();
  if (c_.model.trial()) {
    c_.model.close_merge();
  } else if (moved && c_.model.dragging()) {
    c_.model.commit_drag(c_.model.document(), QObject::tr("Drag handle"),
                         QString("%1.handle").arg(id));
    c_.model.close_merge();
  }
}

void HandleTool::cancel() {
  if (!dragged_) return;
  if (c_.model.trial())
    show(start_);
  else
    c_.model.drop_drag();
  dragged_.reset();
}

bool HandleTool::hover(const QPointF& at) {
  const auto before = under_;
  under_ = under(at);
  if (under_ != before) c_.view.update();
  if (under_) c_.view.setCursor(Qt::SizeAllCursor);
  return under_.has_value();
}

QString HandleTool::hover_words() const {
  const std::vector<StepHandle> all = handles();
  if (!under_ || *under_ >= all.size()) return {};
  return QObject::tr("%1, a drag moves it").arg(number(all[*under_].value));
}

QString HandleTool::words() const {
  return dragged_ ? number(dragged_->value) : QString();
}

void HandleTool::add_to(Scene& scene) const {
  const std::vector<StepHandle> all = handles();
  for (std::size_t n = 0; n < all.size(); ++n)
    if (dragged_.has_value() || under_ == n)
      scene.lines.push_back({pieces_of(all[n].path), look::colours().water, 3.0F, true});
}

void HandleTool::paint(QPainter& painter) const {
  const std::vector<StepHandle> all = handles();
  for (std::size_t n = 0; n < all.size(); ++n) {
    const Shown s = shown(all[n], 0);
    if (!s.seen || !c_.views.rect(0).contains(s.at.toPoint())) continue;
    const double size = dragged_.has_value() || under_ == n ? 8.0 : 6.5;
    painter.setPen(QPen(look::colours().water, 1.4));
    painter.drawLine(s.place, s.at);
    painter.setPen(QPen(look::colours().raised, 1.6));
    painter.setBrush(look::colours().water);
    const QPointF diamond[4] = {s.at + QPointF(0, -size), s.at + QPointF(size, 0),
                                s.at + QPointF(0, size), s.at + QPointF(-size, 0)};
    painter.drawPolygon(diamond, 4);
  }
}

}  // namespace evenclay
