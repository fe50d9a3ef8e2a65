#include "app/view/near_line.h"

#include <algorithm>
#include <cmath>

namespace evenclay {

NearLine near_line(const Camera& camera, const QRect& viewport, const QPointF& at,
                   const std::vector<float>& pieces) {
  NearLine best;
  const auto place = [&](std::size_t k) {
    return Vec3{static_cast<double>(pieces[k]), static_cast<double>(pieces[k + 1]),
                static_cast<double>(pieces[k + 2])};
  };
  for (std::size_t k = 0; k + 5 < pieces.size(); k += 6) {
    const OnScreen a = to_screen(camera, viewport, place(k));
    const OnScreen b = to_screen(camera, viewport, place(k + 3));
    if (a.depth <= 0.0 || b.depth <= 0.0) continue;
    const QPointF way = b.at - a.at;
    const double square = QPointF::dotProduct(way, way);
    const double share =
        square > 0.0 ? std::clamp(QPointF::dotProduct(at - a.at, way) / square, 0.0, 1.0) : 0.0;
    const QPointF gap = a.at + way * share - at;
    const double pixels = std::hypot(gap.x(), gap.y());
    if (pixels < best.pixels) best = {pixels, k / 6, share, a.depth};
  }
  return best;
}

}  // namespace evenclay
