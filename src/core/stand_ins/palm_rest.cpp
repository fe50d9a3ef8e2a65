#include <array>
#include <cmath>
#include <numbers>

#include "core/stand_ins/scanner.h"

namespace evenclay {

namespace {

constexpr int kAround = 288, kRings = 120;
constexpr double kLength = 50.0, kWidth = 36.0;  // half, mm

double bump(double x, double y, double at_x, double at_y, double wide, double deep) {
  const double d = ((x - at_x) * (x - at_x) + (y - at_y) * (y - at_y)) / (wide * wide);
  return deep * std::exp(-d);
}

// The skin over the outline at a share of the way from the middle (0) to the rim (1).
double height(double x, double y, double share) {
  const double dome = 27.0 * std::sqrt(std::max(0.0, 1.0 - std::pow(share, 3.0)));
  const double lean = 0.045 * x * (1.0 - share * share);
  const double thumb = bump(x, y, 16.0, -17.0, 15.0, -4.5);
  const double heel = bump(x, y, -26.0, 4.0, 24.0, 4.0);
  // What the hand left: a few long, low waves.
  const double hand =
      0.12 * std::sin(0.21 * x + 0.6) * std::sin(0.17 * y) + 0.08 * std::sin(0.35 * y - 0.1 * x);
  return dome + (lean + thumb + heel + hand) * (1.0 - std::pow(share, 6.0));
}

// The outline at an angle: between an ellipse and a rectangle, fuller at the heel.
Vec3 rim(double angle) {
  constexpr double kPower = 2.0 / 2.5;
  const double c = std::cos(angle), s = std::sin(angle);
  const double x = kLength * std::copysign(std::pow(std::abs(c), kPower), c);
  const double y = kWidth * std::copysign(std::pow(std::abs(s), kPower), s);
  return {x, y * (1.0 - 0.0022 * x), 0.0};
}

}  // namespace

TriangleMesh palm_rest() {
  TriangleMesh mesh;
  const auto at = [&](int ring, int k) {
    return ring == 0 ? 0U : static_cast<std::uint32_t>(1 + (ring - 1) * kAround + (k % kAround));
  };
  mesh.points.push_back({0, 0, height(0, 0, 0)});
  for (int ring = 1; ring <= kRings; ++ring) {
    // Rings lie closer where the skin falls to the rim.
    const double share = std::sin(0.5 * std::numbers::pi * ring / kRings);
    for (int k = 0; k < kAround; ++k) {
      const Vec3 r = rim(2.0 * std::numbers::pi * k / kAround) * share;
      mesh.points.push_back({r.x, r.y, ring == kRings ? 0.0 : height(r.x, r.y, share)});
    }
  }
  for (int k = 0; k < kAround; ++k) mesh.triangles.push_back({0, at(1, k), at(1, k + 1)});
  for (int ring = 1; ring < kRings; ++ring)
    for (int k = 0; k < kAround; ++k) {
      mesh.triangles.push_back({at(ring, k), at(ring + 1, k), at(ring + 1, k + 1)});
      mesh.triangles.push_back({at(ring, k), at(ring + 1, k + 1), at(ring, k + 1)});
    }
  const auto foot = static_cast<std::uint32_t>(mesh.points.size());
  mesh.points.push_back({0, 0, 0});
  for (int k = 0; k < kAround; ++k)
    mesh.triangles.push_back({foot, at(kRings, k + 1), at(kRings, k)});
  return mesh;
}

}  // namespace evenclay
