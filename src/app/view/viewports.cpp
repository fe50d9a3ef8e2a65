#include "app/view/viewports.h"

#include <algorithm>

namespace evenclay {

namespace {

constexpr int kSideWidth = 124;
constexpr int kSideHeight = 92;
constexpr int kGap = 8;
constexpr double kSideAspect = static_cast<double>(kSideWidth) / kSideHeight;

}  // namespace

Viewports::Viewports() {
  const auto fixed = [&](ViewName name, double yaw, double pitch) {
    named(name).yaw = yaw;
    named(name).pitch = pitch;
    named(name).perspective = false;
  };
  fixed(ViewName::Top, -90.0, 90.0);
  fixed(ViewName::Front, -90.0, 0.0);
  fixed(ViewName::Side, 0.0, 0.0);
}

QRect Viewports::rect(std::size_t k) const {
  if (k == 0) return {QPoint(0, 0), size_};
  const QRect frame = frame_rect(k);
  return frame.isEmpty() ? frame : frame.adjusted(0, kSideLabel, 0, 0);
}

QRect Viewports::frame_rect(std::size_t k) const {
  if (!side_views_ || k == 0) return {};
  const int place = 4 - static_cast<int>(k);
  const int tall = kSideHeight + kSideLabel;
  return {size_.width() - kSideWidth - kGap, size_.height() - place * (tall + kGap), kSideWidth,
          tall};
}

int Viewports::covered_right() const {
  return side_views_ ? kSideWidth + 2 * kGap : 0;
}

std::size_t Viewports::at(const QPointF& place) const {
  for (std::size_t k = 1; k < 4; ++k)
    if (frame_rect(k).contains(place.toPoint())) return k;
  return 0;
}

// The box is framed by its diagonal, which leaves room; half of what is covered is enough.
void Viewports::frame_main(const Box3& box) {
  camera(0).frame(box, static_cast<double>(size_.width()) / std::max(1, size_.height()));
  if (box.empty()) return;
  camera(0).height *= 1.0 + 0.5 * covered_below_ / std::max(1, size_.height());
  camera(0).pan(QPointF(-0.42 * covered_right(), -0.42 * covered_below_), rect(0));
}

void Viewports::frame_all(const Box3& box) {
  frame_main(box);
  for (std::size_t k = 1; k < 4; ++k) camera(k).frame(box, kSideAspect);
}

void Viewports::bring_to_main(ViewName name, const Box3& box) {
  for (std::size_t k = 1; k < 4; ++k)
    if (order_[k] == name) {
      std::swap(order_[0], order_[k]);
      frame_main(box);
      camera(k).frame(box, kSideAspect);
    }
}

}  // namespace evenclay
