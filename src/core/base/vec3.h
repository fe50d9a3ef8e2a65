// A point or vector in space, in millimetres.
#pragma once

#include <cmath>
#include <cstddef>

namespace evenclay {

struct Vec3 {
  double x = 0.0;
  double y = 0.0;
  double z = 0.0;

  constexpr double operator[](std::size_t axis) const {
    return axis == 0 ? x : (axis == 1 ? y : z);
  }
  constexpr double& operator[](std::size_t axis) { return axis == 0 ? x : (axis == 1 ? y : z); }
  constexpr Vec3& operator+=(const Vec3& b) {
    x += b.x;
    y += b.y;
    z += b.z;
    return *this;
  }
  constexpr Vec3& operator-=(const Vec3& b) {
    x -= b.x;
    y -= b.y;
    z -= b.z;
    return *this;
  }
  constexpr Vec3& operator*=(double s) {
    x *= s;
    y *= s;
    z *= s;
    return *this;
  }
  constexpr bool operator==(const Vec3&) const = default;
};

constexpr Vec3 operator+(Vec3 a, const Vec3& b) {
  return a += b;
}
constexpr Vec3 operator-(Vec3 a, const Vec3& b) {
  return a -= b;
}
constexpr Vec3 operator-(const Vec3& a) {
  return {-a.x, -a.y, -a.z};
}
constexpr Vec3 operator*(Vec3 a, double s) {
  return a *= s;
}
constexpr Vec3 operator*(double s, Vec3 a) {
  return a *= s;
}
constexpr Vec3 operator/(Vec3 a, double s) {
  return a *= (1.0 / s);
}

constexpr double dot(const Vec3& a, const Vec3& b) {
  return a.x * b.x + a.y * b.y + a.z * b.z;
}
constexpr Vec3 cross(const Vec3& a, const Vec3& b) {
  return {a.y * b.z - a.z * b.y, a.z * b.x - a.x * b.z, a.x * b.y - a.y * b.x};
}
constexpr double length_squared(const Vec3& a) {
  return dot(a, a);
}
inline double length(const Vec3& a) {
  return std::sqrt(dot(a, a));
}
inline double distance(const Vec3& a, const Vec3& b) {
  return length(a - b);
}

/// The unit vector along a; (0, 0, 0) when a has no length.
inline Vec3 normalized(const Vec3& a) {
  const double l = length(a);
  return l > 0.0 ? a / l : Vec3{};
}

inline bool is_finite(const Vec3& a) {
  return std::isfinite(a.x) && std::isfinite(a.y) && std::isfinite(a.z);
}

}  // namespace evenclay
