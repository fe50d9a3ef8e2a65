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

/// Where a ray meets a mesh first: the triangle's number and the weights of its second and third
/// vertex there.
struct TriangleHit {
  double distance = 0.0;
  std::size_t triangle = 0;
  double b = 0.0, c = 0.0;
};
std::optional<TriangleHit> hit_triangle(const Ray& ray, const DisplayMesh& mesh);

/// Distance along the ray to the nearest triangle; nothing when it misses. Tries every triangle,
/// which takes about a millisecond for a hundred thousand.
std::optional<double> hit(const Ray& ray, const DisplayMesh& mesh);

}  // namespace evenclay
