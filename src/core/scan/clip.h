// Regions of a scan cut out by lines drawn around them.
#pragma once

#include <cstddef>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/mesh/point_cloud.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

/// A closed line drawn in a view. `view` has x to the right, y up and z towards the eye, its origin at the place looked
/// at; `eye` is the distance of the eye from there, 0 for parallel views. The outline is in mm on the plane z = 0 of
/// the view, at least three places; where it crosses itself, what lies under two loops is outside.
struct Lasso {
  Frame view;
  double eye = 0.0;
  std::vector<Vec3> outline;  ///< x and y count
  bool remove = false;        ///< takes away instead of keeping
  bool visible_only = false;  ///< only what nothing hides from the eye
  bool operator==(const Lasso&) const = default;
};

/// Throws Error with a sentence when the lasso has fewer than three places, more than ten thousand, a number that is
/// none, axes that are not a frame, or no area.
void check(const Lasso& lasso);

struct ClipPlan {
  /// One after the other. When the first keeps, nothing is kept before it; when it takes away, all is.
  std::vector<Lasso> lassos;
  double border = 0.0;  ///< mm along the open borders and holes of the scan that are left out
  double least = 0.0;   ///< pieces smaller than this share (0..1) of the largest are left out
};

/// What was left out, besides what lies outside the lassos.
struct ClipReport {
  std::size_t kept = 0;  ///< points
  std::size_t borders =
      0;  ///< closed runs of open edges of the scan that reach into the region; 0 for clouds
  std::size_t torn = 0;    ///< points left out along borders
  std::size_t pieces = 0;  ///< small pieces left out
};

/// The part of a scan that the lassos keep: the triangles all of whose corners are kept, and their points in the order
/// of the scan. The scan itself is not changed. Visibility is judged by the picture of the scan in 1024 × 1024 cells.
/// Memory: about 30 bytes a point besides the result. Throws Error when a lasso cannot be used or nothing is left;
/// Cancelled.
TriangleMesh clipped(const TriangleMesh& scan, const ClipPlan& plan, Progress& progress,
                     ClipReport* report = nullptr);
PointCloud clipped(const PointCloud& scan, const ClipPlan& plan, Progress& progress,
                   ClipReport* report = nullptr);

/// Points that lie at a border of a cloud: seen from them, the neighbours within `reach` leave a gap of more than 120°
/// in the tangent plane.
std::vector<char> border_points(const PointCloud& cloud, double reach, Progress& progress);

}  // namespace evenclay
