#include "app/view/camera.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/display/eye.h"

namespace evenclay {

namespace {
constexpr double kHalfView = kHalfViewDegrees * std::numbers::pi / 180.0;
}

Frame Camera::axes() const {
  Frame f = looking_from(yaw, pitch);
  f.origin = eye();
  return f;
}

double Camera::eye_distance() const {
  return 0.5 * height / std::tan(kHalfView);
}

Vec3 Camera::eye() const {
  return target + looking_from(yaw, pitch).z * eye_distance();
}

QMatrix4x4 Camera::view() const {
  const Frame f = axes();
  const auto row = [&](const Vec3& axis) {
    return QVector4D(static_cast<float>(axis.x), static_cast<float>(axis.y),
                     static_cast<float>(axis.z), static_cast<float>(-dot(axis, f.origin)));
  };
  QMatrix4x4 m;
  m.setRow(0, row(f.x));
  m.setRow(1, row(f.y));
  m.setRow(2, row(f.z));
  m.setRow(3, {0, 0, 0, 1});
  return m;
}

QMatrix4x4 Camera::projection(double aspect, double scene_size) const {
  QMatrix4x4 m;
  const double d = eye_distance();
  const double reach = std::max(scene_size, height) * 4.0;
  const auto far = static_cast<float>(d + reach);
  if (perspective) {
    const auto near = static_cast<float>(std::max(d - reach, d * 0.02));
    m.perspective(static_cast<float>(kHalfView * 360.0 / std::numbers::pi),
                  static_cast<float>(aspect), near, far);
  } else {
    const auto h = static_cast<float>(0.5 * height);
    const auto w = static_cast<float>(0.5 * height * aspect);
    m.ortho(-w, w, -h, h, static_cast<float>(d - reach), far);
  }
  return m;
}

void Camera::orbit(double x, double y) {
  yaw = std::remainder(yaw - 0.45 * x, 360.0);
  pitch = std::clamp(pitch + 0.45 * y, -90.0, 90.0);
}

void Camera::pan(const QPointF& pixels, const QRect& viewport) {
  const Frame f = axes();
  const double mm = height / std::max(1, viewport.height());
  target -= f.x * (pixels.x() * mm) - f.y * (pixels.y() * mm);
}

void Camera::zoom(double factor, const QPointF& cursor, const QRect& viewport) {
  const double next = std::clamp(height * factor, 0.01, 1e6);
  const QPointF off = cursor - QRectF(viewport).center();
  const double mm = (height - next) / std::max(1, viewport.height());
  const Frame f = axes();
  target += f.x * (off.x() * mm) - f.y * (off.y() * mm);
  height = next;
}

void Camera::frame(const Box3& box, double aspect) {
  if (box.empty()) return;
  target = box.centre();
  const double extent = std::max(box.size(), 1.0);
  height = extent * 1.02 / std::min(1.0, aspect);
}

OnScreen to_screen(const Camera& c, const QRect& viewport, const Vec3& p) {
  const Vec3 local = c.axes().to_local(p);
  const double depth = -local.z;
  const double across = c.perspective ? c.height * depth / c.eye_distance() : c.height;
  const double scale = across != 0.0 ? viewport.height() / across : 0.0;
  const QPointF centre = QRectF(viewport).center();
  return {{centre.x() + local.x * scale, centre.y() - local.y * scale}, depth};
}

double pixel_size(const Camera& c, const QRect& viewport, const Vec3& p) {
  if (!c.perspective) return c.height / std::max(1, viewport.height());
  const double depth = -c.axes().to_local(p).z;
  return c.height * std::max(depth, 1e-6) / c.eye_distance() / std::max(1, viewport.height());
}

}  // namespace evenclay
