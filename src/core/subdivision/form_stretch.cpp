#include "core/subdivision/form_stretch.h"

#include <algorithm>
#include <cmath>

namespace evenclay {

namespace {

using Triangle = std::array<std::uint32_t, 3>;

// The corners of the quadrangle that two triangles halve, in order (halved(), subdivision/refine_rules.h).
std::optional<std::array<std::uint32_t, 4>> quad_of(const Triangle& a, const Triangle& b) {
  if (b[0] == a[1] && b[2] == a[2]) return std::array{a[0], a[1], b[1], a[2]};
  if (b[0] == a[0] && b[1] == a[2]) return std::array{a[0], a[1], a[2], b[2]};
  return std::nullopt;
}

struct Pulled {
  double first = 0.0, second = 0.0;  // singular values
  double area() const { return first * second; }
};
Pulled pulled(const Vec3& u, const Vec3& v) {
  const double e = dot(u, u), f = dot(u, v), g = dot(v, v);
  const double middle = 0.5 * (e + g), half = std::hypot(0.5 * (e - g), f);
  return {std::sqrt(middle + half), std::sqrt(std::max(0.0, middle - half))};
}

}  // namespace

std::optional<FormStretch> form_stretch(std::span<const Vec3> points,
                                        std::span<const Triangle> triangles) {
  if (triangles.empty() || triangles.size() % 2 != 0) return std::nullopt;
  std::vector<Pulled> all;
  std::vector<std::array<std::uint32_t, 4>> quads;
  double area = 0.0;
  for (std::size_t t = 0; t < triangles.size(); t += 2) {
    const auto q = quad_of(triangles[t], triangles[t + 1]);
    if (!q) return std::nullopt;
    const auto at = [&](std::size_t k) { return points[(*q)[k]]; };
    all.push_back(
        pulled((at(1) - at(0) + at(2) - at(3)) * 0.5, (at(3) - at(0) + at(2) - at(1)) * 0.5));
    quads.push_back(*q);
    area += all.back().area();
  }
  FormStretch s;
  s.at_vertices.assign(points.size(), 0.0);
  if (!(area > 0.0)) return s;
  const double side = std::sqrt(area / static_cast<double>(quads.size()));
  for (std::size_t k = 0; k < quads.size(); ++k) {
    const double stretch = 100.0 * (all[k].first / side - 1.0);
    const double squeeze = 100.0 * (1.0 - all[k].second / side);
    const double greater = std::max(stretch, squeeze);
    s.mean += greater * all[k].area() / area;
    for (const std::uint32_t v : quads[k]) s.at_vertices[v] = std::max(s.at_vertices[v], greater);
    if (k > 0 && greater <= s.worst) continue;
    s.worst = greater;
    s.stretch = stretch;
    s.squeeze = squeeze;
    s.at = (points[quads[k][0]] + points[quads[k][1]] + points[quads[k][2]] + points[quads[k][3]]) *
           0.25;
  }
  return s;
}

}  // namespace evenclay
