// What lies under the cursor.
#pragma once

#include <optional>

#include "app/view/camera.h"
#include "core/display/rays.h"

namespace evenclay {

/// The ray through a place on the screen, from the eye into the scene.
Ray ray_through(const Camera& camera, const QRect& viewport, const QPointF& at);

/// Where a ray meets a drawn part first: by its prepared rays, or, while it has none (it is being
/// dragged, and its mesh is coarse), by trying every triangle.
std::optional<TriangleHit> first_hit(const Ray& ray, const DisplayPart& part);
/// Distance along the ray; nothing when it misses.
std::optional<double> hit(const Ray& ray, const DisplayPart& part);

}  // namespace evenclay
