#include "app/tools/camera_tool.h"

#include "app/look/preferences.h"

namespace evenclay {

bool CameraTool::press(const HandEvent& e) {
  const bool left = e.button == Qt::LeftButton;
  const bool right = e.button == Qt::RightButton;
  const Qt::MouseButton turns =
      look::preferences().turn == look::TurnButton::Right ? Qt::RightButton : Qt::MiddleButton;
  if (e.button != turns && e.button != Qt::MiddleButton && !(e.space && (left || right)))
    return false;
  viewport_ = c_.views.at(e.at);
  last_ = e.at;
  // Where the right button turns, the middle one pans.
  const bool pan = e.space ? right : e.button != turns || e.modifiers.testFlag(Qt::ShiftModifier);
  // A side view keeps its direction.
  does_ = pan || !c_.views.camera(viewport_).perspective ? Does::Pan : Does::Orbit;
  return true;
}

void CameraTool::move(const HandEvent& e) {
  const QPointF moved = e.at - last_;
  last_ = e.at;
  if (does_ == Does::Orbit)
    c_.views.camera(viewport_).orbit(moved.x(), moved.y());
  else
    c_.views.camera(viewport_).pan(moved, c_.views.rect(viewport_));
  c_.view.update();
}

}  // namespace evenclay
