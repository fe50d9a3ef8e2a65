#include "app/view/turntable.h"

#include <QEvent>
#include <algorithm>
#include <cmath>

#include "app/view/model_view.h"

namespace evenclay {

namespace {
constexpr double kDegreesASecond = 12.0;
constexpr int kBetween = 30;  // ms
}  // namespace

Turntable::Turntable(ModelView& view) : QObject(&view), view_(view) {
  view.installEventFilter(this);
  timer_.setInterval(kBetween);
  connect(&timer_, &QTimer::timeout, this, [this] {
    Camera& c = view_.camera(view_.main_name());
    const double seconds = static_cast<double>(since_.restart()) / 1000.0;
    c.yaw = std::remainder(c.yaw + kDegreesASecond * std::min(seconds, 0.2), 360.0);
    view_.update();
  });
}

void Turntable::turn(bool on) {
  if (on == turning()) return;
  since_.start();
  if (on)
    timer_.start();
  else
    timer_.stop();
  Q_EMIT changed();
}

bool Turntable::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::MouseButtonPress) turn(false);
  return QObject::eventFilter(watched, event);
}

}  // namespace evenclay
