#include "core/subdivision/form_stretch.h"

#include <algorithm>
#include <cmath>

namespace evenclay {

namespace {

using Triangle = std::array<std::uint32_t, 3>;
using Quad = std::array<std::uint32_t, 4>;

// The corners of the quadrangle that two triangles halve, in order (halved(), subdivision/limit_rules.h).
std::optional<Quad> quad_of(const Triangle& a, const Triangle& b) {
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

std::size_t corner_count(const Form& form) {
  std::size_t corners = 0;
  for (const FormFace& f : form.faces) corners += f.points.size();
  return corners;
}

std::optional<FormStretch> form_stretch(std::span<const Vec3> points,
                                        std::span<const Triangle> triangles, std::size_t corners) {
  // As many triangles as corners are the polygons themselves.
  if (triangles.empty() || triangles.size() % 2 != 0 || triangles.size() == corners)
    return std::nullopt;
  std::vector<Quad> quads;
  for (std::size_t t = 0; t < triangles.size(); t += 2) {
    const auto q = quad_of(triangles[t], triangles[t + 1]);
    if (!q) return std::nullopt;
    quads.push_back(*q);
  }
  // Subdivisions leave the quarters of a quadrangle behind each other, each with a corner of the whole first.
  std::size_t block = 1;
  while (corners > 0 && quads.size() > block * 4 * corners) block *= 4;
  if (quads.size() % block != 0) return std::nullopt;
  std::vector<Quad> pieces;
  for (std::size_t k = 0; k < quads.size(); k += block) {
    Quad piece = quads[k];
    for (std::size_t c = 0; c < 4 && block > 1; ++c) piece[c] = quads[k + c * block / 4][0];
    pieces.push_back(piece);
  }
  std::vector<Pulled> all;
  double area = 0.0;
  for (const Quad& q : pieces) {
    const auto at = [&](std::size_t k) { return points[q[k]]; };
    all.push_back(
        pulled((at(1) - at(0) + at(2) - at(3)) * 0.5, (at(3) - at(0) + at(2) - at(1)) * 0.5));
    area += all.back().area();
  }
  FormStretch s;
  s.at_vertices.assign(points.size(), 0.0);
  if (!(area > 0.0)) return s;
  const double side = std::sqrt(area / static_cast<double>(pieces.size()));
  for (std::size_t k = 0; k < pieces.size(); ++k) {
    const double stretch = 100.0 * (all[k].first / side - 1.0);
    const double squeeze = 100.0 * (1.0 - all[k].second / side);
    const double greater = std::max(stretch, squeeze);
    s.mean += greater * all[k].area() / area;
    for (std::size_t n = k * block; n < (k + 1) * block; ++n)
      for (const std::uint32_t v : quads[n]) s.at_vertices[v] = std::max(s.at_vertices[v], greater);
    if (k > 0 && greater <= s.worst) continue;
    s.worst = greater;
    s.stretch = stretch;
    s.squeeze = squeeze;
    s.at = (points[pieces[k][0]] + points[pieces[k][1]] + points[pieces[k][2]] +
            points[pieces[k][3]]) *
           0.25;
  }
  return s;
}

}  // namespace evenclay
