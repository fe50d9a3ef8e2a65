// Small bodies with known measures, for tests of cutting and joining.
#pragma once

#include <BRepCheck_Analyzer.hxx>
#include <algorithm>
#include <vector>

#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/openings.h"
#include "core/kernel/convert.h"
#include "core/nurbs/conics.h"
#include "core/source/in_between.h"

namespace evenclay::testing {

inline double volume_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += volume(f, progress);
  return sum;
}

inline double area_of(const Body& body) {
  Progress progress;
  double sum = 0.0;
  for (const Face& f : body.faces) sum += area(f, progress);
  return sum;
}

inline Topology topology_of(const Body& body) {
  return topology(with_explicit_borders(body, 1e-6));
}

inline bool is_closed_solid(const Body& body) {
  return topology_of(body).closed;
}

inline bool kernel_accepts(const Body& body) {
  return BRepCheck_Analyzer(kernel::to_kernel(with_explicit_borders(body, 1e-6)).all).IsValid();
}

/// A flat patch from a corner along two sides, du × dv = x × y.
inline Surface patch(const Vec3& corner, const Vec3& x, const Vec3& y) {
  Surface s;
  s.u = s.v = {1, false, {0.0, 0.0, 1.0, 1.0}};
  s.points = Grid<Vec3>(2, 2);
  for (int i = 0; i < 2; ++i)
    for (int j = 0; j < 2; ++j) s.points(i, j) = corner + x * i + y * j;
  return s;
}

/// Six planes joined: low z, high z, low y, high y, low x, high x.
inline Body box(const Vec3& low, const Vec3& size, int step) {
  const Vec3 x{size.x, 0, 0}, y{0, size.y, 0}, z{0, 0, size.z};
  return with_explicit_borders(
      body_of({patch(low, y, x), patch(low + z, x, y), patch(low, x, z), patch(low + y, z, x),
               patch(low, z, y), patch(low + x, y, z)},
              step),
      1e-9);
}

inline Body cylinder(const Frame& frame, double radius, double height, int step) {
  return capped(with_explicit_borders(body_of({make_cylinder(frame, radius, height)}, step), 1e-9),
                1e-6, step)
      .body;
}

inline Body ball(const Vec3& centre, double radius, int step) {
  return body_of({make_sphere({centre}, radius)}, step);
}

inline Body sheet(double side, int step = 1) {
  return body_of({make_plane({}, side, side, 2, 2, 1, 1)}, step);
}

inline Surface offset_by(const Surface& s, double mm) {
  Progress progress;
  return offset(s, mm, 1e-5, progress).surface;
}

inline std::vector<Tag> tags_of_faces(const Body& body) {
  std::vector<Tag> tags;
  for (const Face& f : body.faces) tags.push_back(f.tag);
  std::sort(tags.begin(), tags.end());
  return tags;
}

inline bool holds(const Body& body, Tag face) {
  return face_with_tag(body, face) >= 0;
}

}  // namespace evenclay::testing
