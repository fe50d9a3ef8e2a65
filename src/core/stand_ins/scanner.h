// A made-up scanner, for practice and for tests: what a real one would see of a form.
#pragma once

#include <cstdint>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"

namespace evenclay {

struct ScanPlan {
  Vec3 from{0, 0, 1};        ///< from the form to the scanner, unit
  int passes = 1;            ///< views, 1..24, each turned about the world's z axis …
  double turn = 120.0;       ///< … by so many degrees against the one before
  double spacing = 0.5;      ///< mm between neighbouring rays, above 0
  double noise = 0.1;        ///< standard deviation along the ray, mm
  double outliers = 0.0;     ///< share (0..1) of points that are far off: 3 to 10 mm along the ray
  double torn = 2.0;         ///< mm that open borders are torn away at most, at places hardly
  int holes = 0;             ///< round places, 0..200, where nothing was seen
  double hole_size = 6.0;    ///< their mean diameter, mm
  double drift = 0.0;        ///< mm that a later pass lies beside its place
  double drift_angle = 0.0;  ///< degrees that it is turned besides
  std::uint64_t seed = 1;
};

/// What the scanner sees: for each pass a grid of parallel rays, of which neighbours that do not stand apart by more than
/// four spacings in depth are joined by triangles; faces turned more than 80° away are not seen. Passes are not welded
/// to each other. normals are those of the form. The same plan and form give the same scan, on any number of cores.
/// Throws Error when the plan is out of range, the form has no triangles, more than sixteen million rays a pass would
/// be needed, or nothing is seen; Cancelled.
TriangleMesh scanned(const TriangleMesh& form, const ScanPlan& plan, Progress& progress);

/// The clay model that ships with the program: a palm rest, 100 × 72 × 31 mm, standing on z = 0, with a hollow for the
/// thumb and a few marks of the hand. Closed.
TriangleMesh palm_rest();

}  // namespace evenclay
