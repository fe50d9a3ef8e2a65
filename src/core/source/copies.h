// Shapes moved, turned and mirrored as a whole.
#pragma once

#include "core/body/body.h"
#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/curve.h"

namespace evenclay {

/// A rigid motion, with or without a mirror: p' = axes · p + shift. The columns of `axes` are where x, y and
/// z go; they are orthonormal.
struct Placement {
  Vec3 x{1, 0, 0}, y{0, 1, 0}, z{0, 0, 1};
  Vec3 shift;

  Vec3 operator()(const Vec3& p) const { return x * p.x + y * p.y + z * p.z + shift; }
  bool mirrors() const { return dot(cross(x, y), z) < 0.0; }
};

Placement moved_by(const Vec3& way);
/// About an axis through `through` with unit direction `axis`, counter-clockwise.
Placement turned_about(const Vec3& through, const Vec3& axis, double degrees);
/// In the plane through `through` with unit normal `normal`.
Placement mirrored_in(const Vec3& through, const Vec3& normal);

/// The outside stays outside. Tags of a body are made anew from the step and the number of the copy, so that
/// each copy has its own.
Body placed(const Body& body, const Placement& at, int step, std::uint64_t copy);
TriangleMesh placed(const TriangleMesh& mesh, const Placement& at);
Curve placed(const Curve& curve, const Placement& at);

/// `b` added to `a`; what they share is not joined.
void append(Body& a, const Body& b);

}  // namespace evenclay
