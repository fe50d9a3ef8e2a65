#include "core/check/walls.h"

#include <algorithm>
#include <array>

#include "core/base/parallel.h"
#include "core/mesh/area_vector.h"

namespace evenclay {

namespace {

using Triangle = std::array<std::uint32_t, 3>;

// A triangle that is wide enough for its normal to mean something.
bool is_sound(const TriangleMesh& m, const Triangle& t) {
  constexpr double kThin = 40.0;  // longest edge ÷ height
  double longest = 0.0;
  for (std::size_t k = 0; k < 3; ++k)
    longest = std::max(longest, distance(m.points[t[k]], m.points[t[(k + 1) % 3]]));
  return longest * longest < kThin * 2.0 * length(area_vector(m, t));
}

}  // namespace

std::vector<double> wall_thickness(const TriangleMesh& m, const RayScene& rays,
                                   Progress& progress) {
  std::vector<double> thick(m.triangles.size(), kNoWall);
  const double start = 1e-6 * box(m).size();
  parallel_blocks(m.triangles.size(), 256, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Triangle& t = m.triangles[k];
      if (!is_sound(m, t)) continue;
      const Vec3 out = normalized(area_vector(m, t));
      const Vec3 at = middle_of(m, t);
      const auto hit = rays.first({at - out * start, -out});
      if (!hit || hit->triangle == k || !is_sound(m, m.triangles[hit->triangle])) continue;
      const Vec3 there = normalized(area_vector(m, m.triangles[hit->triangle]));
      if (dot(out, there) < -0.5) thick[k] = hit->distance + start;
    }
  });
  return thick;
}

}  // namespace evenclay
