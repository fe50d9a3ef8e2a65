#include "core/base/least_rectangle.h"

#include <algorithm>
#include <utility>

#include "core/base/frame.h"

namespace evenclay {

std::vector<Vec3> convex_hull(std::vector<Vec3> p) {
  std::sort(p.begin(), p.end(),
            [](const Vec3& a, const Vec3& b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
  std::vector<Vec3> h;
  const auto turn = [](const Vec3& a, const Vec3& b, const Vec3& c) {
    return (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  };
  for (const bool upper : {false, true}) {
    const std::size_t first = h.size();
    for (const Vec3& q : p) {
      while (h.size() >= first + 2 && turn(h[h.size() - 2], h.back(), q) <= 0.0) h.pop_back();
      h.push_back(q);
    }
    if (!h.empty()) h.pop_back();
    if (!upper) std::reverse(p.begin(), p.end());
  }
  return h;
}

LeastRectangle least_rectangle(std::vector<Vec3> places) {
  for (Vec3& p : places) p.z = 0.0;
  const std::vector<Vec3> h = convex_hull(std::move(places));
  LeastRectangle best;
  double least = 1e300;
  for (std::size_t k = 0; k < h.size(); ++k) {
    const Vec3 way = h[(k + 1) % h.size()] - h[k];
    if (!(length(way) > 1e-12)) continue;
    Vec3 x = normalized(way), y{-x.y, x.x, 0.0};
    Box3 box;
    for (const Vec3& p : h) box.add(Vec3{dot(p, x), dot(p, y), 0.0});
    Vec3 size = box.max - box.min;
    if (size.x * size.y >= least * (1.0 - 1e-9)) continue;
    least = size.x * size.y;
    if (size.y > size.x) {
      std::swap(size.x, size.y);
      x = y;
    }
    best = {x, size.x, size.y};
  }
  return best;
}

}  // namespace evenclay
