#include "app/tools/lasso_tool.h"

#include <algorithm>
#include <cmath>

#include "app/look/colours.h"

namespace evenclay {

namespace {

constexpr double kDragStart = 4.0;  // pixels
constexpr double kApart = 2.0;      // pixels between places that are kept
constexpr std::size_t kMostPlaces = 2000;

// On the plane of the view through the place it looks at.
Lasso lasso_of(const std::vector<QPointF>& outline, const Camera& camera, const QRect& viewport) {
  Lasso l;
  l.view = camera.axes();
  l.view.origin = camera.target;
  l.eye = camera.perspective ? camera.eye_distance() : 0.0;
  const double mm = camera.height / std::max(1, viewport.height());
  const QPointF middle = QRectF(viewport).center();
  for (const QPointF& p : outline)
    l.outline.push_back({(p.x() - middle.x()) * mm, (middle.y() - p.y()) * mm, 0.0});
  return l;
}

}  // namespace

const TakesLassos* LassoTool::step() const {
  const Step* step = find_step(c_.model.document(), c_.model.chosen_step());
  return step != nullptr && step->enabled ? offer_of<TakesLassos>(*step->operation) : nullptr;
}

bool LassoTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton || step() == nullptr) return false;
  busy_ = true;
  modifiers_ = e.modifiers;
  box_ = e.modifiers.testFlag(Qt::AltModifier);
  viewport_ = c_.views.at(e.at);
  way_ = {e.at, e.at};
  return true;
}

void LassoTool::move(const HandEvent& e) {
  const QPointF moved = e.at - way_[way_.size() - 2];
  if (!box_ && std::hypot(moved.x(), moved.y()) > kApart && way_.size() < kMostPlaces)
    way_.push_back(e.at);
  else
    way_.back() = e.at;
  c_.view.update();
}

std::vector<QPointF> LassoTool::outline() const {
  if (!box_) return way_;
  const QRectF r = QRectF(way_.front(), way_.back()).normalized();
  return {r.topLeft(), r.topRight(), r.bottomRight(), r.bottomLeft()};
}

void LassoTool::release(const HandEvent&) {
  busy_ = false;
  const std::vector<QPointF> line = outline();
  const QRectF around = QPolygonF(QList<QPointF>(line.begin(), line.end())).boundingRect();
  way_.clear();
  c_.view.update();
  const TakesLassos* takes = step();
  if (takes == nullptr || around.width() < kDragStart || around.height() < kDragStart) return;
  Lasso lasso = lasso_of(line, c_.views.camera(viewport_), c_.views.rect(viewport_));
  lasso.remove = modifiers_.testFlag(Qt::ControlModifier);
  lasso.visible_only = modifiers_.testFlag(Qt::ShiftModifier);
  c_.model.attempt([&] {
    check(lasso);
    std::vector<Lasso> all = takes->lassos();
    all.push_back(lasso);
    const QString label =
        lasso.remove ? QObject::tr("Take a region away") : QObject::tr("Keep a region");
    c_.model.change_operation(c_.model.chosen_step(), takes->with_lassos(std::move(all)), label,
                              {});
  });
}

void LassoTool::cancel() {
  busy_ = false;
  way_.clear();
  c_.view.update();
}

bool LassoTool::hover(const QPointF&) {
  if (step() == nullptr) return false;
  c_.view.setCursor(Qt::CrossCursor);
  return true;
}

QString LassoTool::hover_words() const {
  return QObject::tr("Drag a line around what is kept; Ctrl takes away, Shift only what is seen");
}

QString LassoTool::words() const {
  if (!busy_) return {};
  const bool seen = modifiers_.testFlag(Qt::ShiftModifier);
  if (modifiers_.testFlag(Qt::ControlModifier))
    return seen ? QObject::tr("take away what is seen")
                : QObject::tr("take away, through the depth");
  return seen ? QObject::tr("keep what is seen") : QObject::tr("keep, through the depth");
}

void LassoTool::paint(QPainter& painter) const {
  if (!busy_) return;
  const QColor ink =
      modifiers_.testFlag(Qt::ControlModifier) ? look::colours().bad : look::colours().water;
  QColor fill = ink;
  fill.setAlpha(40);
  painter.setBrush(fill);
  painter.setPen(QPen(ink, 1.4));
  const std::vector<QPointF> line = outline();
  painter.drawPolygon(line.data(), static_cast<int>(line.size()));
}

}  // namespace evenclay
