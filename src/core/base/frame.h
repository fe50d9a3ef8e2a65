// A right-handed frame of unit axes, and a box along the world axes.
#pragma once

#include <algorithm>
#include <limits>

#include "core/base/vec3.h"

namespace evenclay {

struct Frame {
  Vec3 origin;
  Vec3 x{1, 0, 0};
  Vec3 y{0, 1, 0};
  Vec3 z{0, 0, 1};

  Vec3 to_world(const Vec3& local) const {
    return origin + x * local.x + y * local.y + z * local.z;
  }
  Vec3 to_local(const Vec3& world) const {
    const Vec3 d = world - origin;
    return {dot(d, x), dot(d, y), dot(d, z)};
  }
};

struct Box3 {
  Vec3 min{std::numeric_limits<double>::infinity(), std::numeric_limits<double>::infinity(),
           std::numeric_limits<double>::infinity()};
  Vec3 max{-std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity(),
           -std::numeric_limits<double>::infinity()};

  bool empty() const { return !(min.x <= max.x); }
  void add(const Vec3& p) {
    for (std::size_t a = 0; a < 3; ++a) {
      min[a] = std::min(min[a], p[a]);
      max[a] = std::max(max[a], p[a]);
    }
  }
  void add(const Box3& b) {
    if (b.empty()) return;
    add(b.min);
    add(b.max);
  }
  Vec3 centre() const { return (min + max) * 0.5; }
  /// Square of the gap between two boxes, mm²; 0 where they touch.
  double squared_gap(const Box3& b) const {
    double sum = 0.0;
    for (std::size_t a = 0; a < 3; ++a) {
      const double gap = std::max({0.0, min[a] - b.max[a], b.min[a] - max[a]});
      sum += gap * gap;
    }
    return sum;
  }
  /// Length of the diagonal; 0 when empty.
  double size() const { return empty() ? 0.0 : length(max - min); }
};

}  // namespace evenclay
