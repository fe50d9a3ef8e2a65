// Angles between directions.
#pragma once

#include <cmath>
#include <numbers>

#include "core/base/vec3.h"

namespace evenclay {

/// 0 … π, sound for nearly equal directions too; they need not have length 1. 0 when one has no length.
inline double radians_between(const Vec3& a, const Vec3& b) {
  return std::atan2(length(cross(a, b)), dot(a, b));
}
inline double radians(double degrees) {
  return degrees * std::numbers::pi / 180.0;
}
inline double degrees_between(const Vec3& a, const Vec3& b) {
  return radians_between(a, b) * 180.0 / std::numbers::pi;
}

}  // namespace evenclay
