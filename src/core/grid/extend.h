// Extend: surfaces grown or shrunk at their edges.
#pragma once

#include <array>
#include <optional>

#include "core/check/measures.h"

namespace evenclay {

struct ExtendOptions {
  /// mm by which each edge grows, in the order of Border; negative shrinks, 0 leaves it. The length
  /// is the mean over 16 iso-curves that cross the edge.
  std::array<double, 4> lengths{};
  double tolerance = 0.01;  ///< mm; how far a rational surface may change to lose its weights
};

struct Extended {
  Surface surface;
  /// Measured where the old border was, over all extended edges: greatest gap (mm), greatest angle
  /// of the normals (°) and greatest difference of the curvature across, as a share of the greater.
  double gap = 0.0, angle = 0.0, curvature_share = 0.0;
  /// Where the weights of a rational surface could not be carried on: how far the surface without
  /// weights that was carried on instead is off the old one.
  std::optional<Deviation> unweighted = {};
};

/// Each grown edge carries on the polynomials of its end spans (natural extension), so the surface
/// stays as smooth across the old border as inside a span. The old region keeps its shape and its
/// parameters to 1e-10 × size, and the counts of control points stay the same: an edge that shrinks
/// past grid lines gets them back half-way between others. A rational surface whose weights would not
/// stay positive is first taken over, within the tolerance, by one without weights; that one may have
/// more control points. Throws Error for a closed direction, a
/// pole that is to grow, and a length that leaves nothing; Cancelled.
/// Source: The NURBS Book, section 5.1, with blossoms outside the last span (line_matrix.h).
Extended extend(const Surface& surface, const ExtendOptions& options, Progress& progress);

}  // namespace evenclay
