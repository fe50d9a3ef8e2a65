// Where the model is seen from, and the way between model and screen.
#pragma once

#include <QMatrix4x4>
#include <QPointF>
#include <QRect>

#include "core/base/frame.h"

namespace evenclay {

/// Looks at `target` from direction (yaw, pitch) in degrees; z is up. `height` is the extent in
/// mm that fills the viewport's height at the target.
struct Camera {
  Vec3 target;
  double yaw = -50.0;
  double pitch = 22.0;
  double height = 160.0;
  bool perspective = true;

  Frame axes() const;  ///< x to the right, y up, z towards the eye
  Vec3 eye() const;
  double eye_distance() const;
  QMatrix4x4 view() const;
  QMatrix4x4 projection(double aspect, double scene_size) const;
  void orbit(double pixels_x, double pixels_y);
  /// Moves the model with the hand: one pixel of `viewport` is one pixel on the screen.
  void pan(const QPointF& pixels, const QRect& viewport);
  /// Zooms so that the place under the cursor stays there.
  void zoom(double factor, const QPointF& cursor, const QRect& viewport);
  void frame(const Box3& box, double aspect);
};

/// Projection to pixels of the widget; `depth` is the distance in front of the eye, and not
/// positive behind it.
struct OnScreen {
  QPointF at;
  double depth = 0.0;
};
OnScreen to_screen(const Camera& camera, const QRect& viewport, const Vec3& p);

/// mm a pixel at the depth of p.
double pixel_size(const Camera& camera, const QRect& viewport, const Vec3& p);

}  // namespace evenclay
