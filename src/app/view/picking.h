// What lies under the cursor.
#pragma once

#include <optional>

#include "app/view/camera.h"
#include "core/display/display.h"

namespace evenclay {

struct Ray {
  Vec3 origin;
  Vec3 direction;  ///< unit
};

/// The ray through a place on the screen, from the eye into the scene.
Ray ray_through(const Camera& camera, const QRect& viewport, const QPointF& at);

/// Distance along the ray to the nearest triangle; nothing when it misses. Tries every triangle,
/// which takes about a millisecond for a hundred thousand.
std::optional<double> hit(const Ray& ray, const DisplayMesh& mesh);

}  // namespace evenclay
