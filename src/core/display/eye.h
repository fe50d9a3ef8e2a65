// Who looks at the model, and from where it is lit: the same in the window and in traced pictures.
#pragma once

#include <cmath>

#include "core/base/angles.h"
#include "core/base/frame.h"

namespace evenclay {

/// Half the view angle upwards, in perspective.
inline constexpr double kHalfViewDegrees = 15.0;

/// Axes of who looks along −z from a direction: degrees about z, and above the horizon. The origin stays.
inline Frame looking_from(double yaw, double pitch) {
  const double a = radians(yaw), b = radians(pitch);
  const Vec3 z{std::cos(b) * std::cos(a), std::cos(b) * std::sin(a), std::sin(b)};
  const Vec3 x{-std::sin(a), std::cos(a), 0.0};
  return {{}, x, cross(z, x), z};
}

/// Towards the large soft light: over the shoulder of whoever looks.
inline Vec3 key_light_of(const Frame& eye) {
  const Vec3 up{0, 0, 1};
  const Vec3 towards = cross(eye.x, up);  // the viewer, on the level
  return normalized(eye.x * -0.58 + up * 0.60 + towards * 0.34 + eye.y * 0.16 + eye.z * 0.12);
}

}  // namespace evenclay
