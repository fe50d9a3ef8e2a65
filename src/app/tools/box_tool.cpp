#include "app/tools/box_tool.h"

#include <cmath>

#include "app/look/colours.h"

namespace evenclay {

namespace {
constexpr double kDragStart = 3.0;  // pixels
}

bool BoxTool::press(const HandEvent& e) {
  if (e.button != Qt::LeftButton) return false;
  busy_ = true;
  modifiers_ = e.modifiers;
  lasso_ = e.modifiers.testFlag(Qt::AltModifier);
  viewport_ = c_.views.at(e.at);
  way_ = {e.at, e.at};
  return true;
}

void BoxTool::move(const HandEvent& e) {
  if (lasso_)
    way_.push_back(e.at);
  else
    way_.back() = e.at;
  c_.view.update();
}

void BoxTool::release(const HandEvent&) {
  busy_ = false;
  const QPointF moved = way_.back() - way_.front();
  if (!lasso_ && std::hypot(moved.x(), moved.y()) < kDragStart)
    click();
  else
    pick_inside();
  c_.view.update();
}

// Beside all points: lets go of the picked ones, or chooses the part under the cursor.
void BoxTool::click() {
  if (modifiers_ & (Qt::ShiftModifier | Qt::ControlModifier)) return;
  if (!c_.editor.picked().empty()) {
    c_.editor.pick({});
    return;
  }
  if (const PartId part = c_.pick().part_at(way_.back()); part != 0) c_.model.choose_part(part);
}

void BoxTool::pick_inside() {
  if (!c_.editor.net() || !c_.editor.net_visible()) return;
  const QRectF box = QRectF(way_.front(), way_.back()).normalized();
  const QPolygonF polygon(QList<QPointF>(way_.begin(), way_.end()));
  const auto in_region = [&](const Vec3& p) {
    const OnScreen o = to_screen(c_.views.camera(viewport_), c_.views.rect(viewport_), p);
    if (o.depth <= 0.0) return false;
    return lasso_ ? polygon.containsPoint(o.at, Qt::OddEvenFill) : box.contains(o.at);
  };
  if (c_.editor.form() != nullptr && c_.editor.form_kind() != PickKind::Corner) {
    pick_form_inside(in_region);
    return;
  }
  // A box to the left takes lines of the net as soon as it touches them.
  Selection inside = c_.editor.found_in(in_region, way_.back().x() < way_.front().x());
  if (c_.editor.visible_only()) inside = c_.pick().without_hidden(inside, viewport_);
  const bool remove = modifiers_.testFlag(Qt::ControlModifier);
  const bool add = modifiers_.testFlag(Qt::ShiftModifier);
  Selection picked = add || remove ? c_.editor.picked() : Selection{};
  for (const PointIndex& p : inside)
    if (remove)
      picked.erase(p);
    else
      picked.insert(p);
  c_.editor.pick(picked);
}

// Edges and faces that lie in the region whole; a box to the left takes those it touches.
void BoxTool::pick_form_inside(const std::function<bool(const Vec3&)>& in_region) {
  const bool touched = way_.back().x() < way_.front().x();
  std::vector<Tag> inside =
      tags_where(*c_.editor.form(), c_.editor.form_kind(), in_region, touched);
  std::vector<Tag> tags;
  if (modifiers_.testFlag(Qt::ShiftModifier) || modifiers_.testFlag(Qt::ControlModifier))
    tags = c_.editor.form_picked();
  for (const Tag t : inside) {
    std::erase(tags, t);
    if (!modifiers_.testFlag(Qt::ControlModifier)) tags.push_back(t);
  }
  c_.editor.pick_form(std::move(tags));
}

void BoxTool::paint(QPainter& painter) const {
  if (!busy_) return;
  QColor fill = look::colours().water;
  fill.setAlpha(40);
  painter.setBrush(fill);
  painter.setPen(QPen(look::colours().water, 1.2));
  if (lasso_)
    painter.drawPolygon(way_.data(), static_cast<int>(way_.size()));
  else
    painter.drawRect(QRectF(way_.front(), way_.back()).normalized());
}

}  // namespace evenclay
