#include "core/display/studio_room.h"

#include <algorithm>
#include <cmath>

namespace evenclay {

namespace {

double step(double from, double to, double x) {
  const double t = std::clamp((x - from) / (to - from), 0.0, 1.0);
  return t * t * (3.0 - 2.0 * t);
}
Vec3 mixed(const Vec3& a, const Vec3& b, double t) {
  return a + (b - a) * t;
}
double soft_box(double x, double y, double blur, double inner, double outer) {
  return 1.0 - step(inner, outer + 1.2 * blur, std::max(std::abs(x), std::abs(y)));
}

}  // namespace

Vec3 studio_room(const Vec3& d, double blur) {
  const double b = 0.6 * blur;
  Vec3 walls = mixed({0.30, 0.27, 0.24}, {0.62, 0.61, 0.59}, step(-0.25 - b, 0.35 + b, d.z));
  walls = mixed(walls, {0.74, 0.75, 0.77}, step(0.45 - b, 0.95, d.z));
  walls = walls * (1.0 - 0.35 * (1.0 - blur) * (1.0 - step(0.0, 0.06 + b, std::abs(d.z + 0.08))));
  const double around = std::atan2(d.y, d.x), up = std::asin(std::clamp(d.z, -1.0, 1.0));
  const double px = (around + 1.9) / 0.52, py = (up - 0.42) / 0.30;
  double glass = soft_box(px, py, blur, 1.0 - 0.9 * blur - 1e-3, 1.0);
  const double bars = std::abs(px) >= 0.06 && std::abs(py) >= 0.08 ? 1.0 : 0.0;
  glass *= bars + (0.8 - bars) * std::min(1.0, 6.0 * blur);
  const double screen =
      soft_box((around - 0.9) / 0.30, (up - 0.25) / 0.42, blur, 0.92 - 0.8 * blur, 1.0);
  const double lamp = (1.0 - step(0.07 - 0.06 * blur, 0.09 + 0.5 * blur, std::abs(d.y))) *
                      step(0.3 - b - 1e-3, 0.3 + b, d.z) *
                      (1.0 - step(0.7 - 1e-3 - b, 0.7 + b, std::abs(d.x)));
  return walls + (Vec3{0.55, 0.58, 0.62} * glass + Vec3{0.42, 0.39, 0.34} * screen +
                  Vec3{0.5, 0.5, 0.5} * lamp) *
                     (1.0 - 0.55 * blur);
}

}  // namespace evenclay
