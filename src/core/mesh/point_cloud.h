// Places measured on a form, without triangles between them.
#pragma once

#include <span>
#include <vector>

#include "core/base/frame.h"

namespace evenclay {

/// Points in mm; normals is empty or one unit vector a point, towards the side it was seen from.
struct PointCloud {
  std::vector<Vec3> points;
  std::vector<Vec3> normals;
  bool operator==(const PointCloud&) const = default;
};

/// Throws Error when a point is not a number, or normals are given for only some points.
void check(const PointCloud& cloud);

Box3 box(const PointCloud& cloud);

/// About the distance of neighbouring points, mm: the median over a thousand of them of the distance to the nearest
/// other point; 0 for fewer than two points.
double spacing(std::span<const Vec3> points);

/// The cloud with a normal for each point: its own, or that of the plane through its `nearest` neighbours, turned so
/// that neighbours agree with each other and most look up.
/// Source: H. Hoppe and others, Surface reconstruction from unorganized points, 1992, section 3.
std::vector<Vec3> normals_of(const PointCloud& cloud, std::size_t nearest = 12);

}  // namespace evenclay
