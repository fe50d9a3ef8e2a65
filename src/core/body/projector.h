// Closest point of a body.
#pragma once

#include <memory>

#include "core/body/body.h"

namespace evenclay {

struct BodyProjection {
  double distance = 0.0;
  Vec3 point;
  int face = -1;   ///< the face the point lies on; of an edge one that uses it
  double u = 0.0;  ///< its place on that face's surface
  double v = 0.0;
};

/// A body prepared for many closest-point questions: the surfaces' closest points
/// (nurbs/projection.h) where they lie inside the face, else the edges. Thread-safe after
/// construction. Throws Error for a body without faces.
class BodyProjector {
 public:
  explicit BodyProjector(const Body& body, int samples_per_span = 9);
  ~BodyProjector();
  BodyProjector(BodyProjector&&) noexcept;

  BodyProjection closest(const Vec3& q) const;

 private:
  struct Impl;
  std::unique_ptr<const Impl> impl_;
};

}  // namespace evenclay
