// Extend: surfaces grown or shrunk at their edges.
#pragma once

#include <array>

#include "core/base/progress.h"
#include "core/nurbs/surface.h"

namespace evenclay {

struct ExtendOptions {
  /// mm by which each edge grows, in the order of Border; negative shrinks, 0 leaves it. The length
  /// is the mean over 16 iso-curves that cross the edge.
  std::array<double, 4> lengths{};
};

struct Extended {
  Surface surface;
  /// Measured where the old border was, over all extended edges: greatest gap (mm), greatest angle
  /// of the normals (°) and greatest difference of the curvature across, as a share of the greater.
  double gap = 0.0, angle = 0.0, curvature_share = 0.0;
};

/// Each grown edge carries on the polynomials of its end spans (natural extension), so the surface
/// stays as smooth across the old border as inside a span. The old region keeps its shape and its
/// parameters to 1e-10 × size, and the counts of control points stay the same: an edge that shrinks
/// past grid lines gets them back half-way between others. Throws Error for a closed direction, a
/// pole that is to grow, and a length that leaves nothing; Cancelled.
/// Source: The NURBS Book, section 5.1, with blossoms outside the last span (line_matrix.h).
Extended extend(const Surface& surface, const ExtendOptions& options, Progress& progress);

}  // namespace evenclay
