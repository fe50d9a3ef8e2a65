#include "app/view/viewports.h"

#include <algorithm>

namespace evenclay {

namespace {

constexpr int kSideWidth = 114;
constexpr int kSideHeight = 108;
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
  if (!side_views_) return {};
  const int place = static_cast<int>(k) - 1;
  const int x = size_.width() - (3 - place) * (kSideWidth + kGap);
  return {x, size_.height() - kSideHeight - kGap, kSideWidth, kSideHeight};
}

std::size_t Viewports::at(const QPointF& place) const {
  for (std::size_t k = 1; k < 4; ++k)
    if (rect(k).contains(place.toPoint())) return k;
  return 0;
}

// The box is framed by its diagonal, which leaves room; half of what is covered is enough.
void Viewports::frame_main(const Box3& box) {
  camera(0).frame(box, static_cast<double>(size_.width()) / std::max(1, size_.height()));
  if (box.empty()) return;
  camera(0).height *= 1.0 + 0.5 * covered_below_ / std::max(1, size_.height());
  camera(0).pan(QPointF(0.0, -0.42 * covered_below_), rect(0));
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
