// Lighten: the fewest control points that keep the shape within a tolerance.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/check/measures.h"

namespace evenclay {

struct LightenOptions {
  double tolerance = 0.01;  ///< mm, > 0
  int degree_u = 3, degree_v = 3;
  bool uneven_knots = false;  ///< old grid lines may stay where they are; ignored if spacing_even
  bool spacing_even = false;  ///< by arc length; else the flow of the old parameter is kept
  int least_u = 2, least_v = 2;  ///< counts are not taken below these (uneven knots: nor the spans)
  int most = 200;                ///< and not above this, per direction
};

struct Lightened {
  Surface surface;
  Deviation deviation;  ///< of the definition, two-sided, 10 samples a span
};

/// Even knots: the pair of counts with the fewest control points whose refit, measured in full, is
/// within the tolerance. Pairs are tried from the fewest points on; those that a quick look shows to
/// be farther off (parametric_gap.h) are left out, and so is a count that with the other direction
/// left as it is strays twice the tolerance off the tangent plane.
/// Uneven knots: grid lines of the surface (in the given degree) are taken away, least harm first,
/// and what is left is measured in full; when even knots need fewer points, those are taken. Poles
/// and closed directions stay. The deviation never exceeds the tolerance.
/// Throws Error when the tolerance cannot be met with `most` points a direction, Cancelled.
Lightened lighten(const Surface& surface, const LightenOptions& options, Progress& progress);

/// Lightens surfaces that may share borders: directions that run along a common border get the
/// same count and even knots, so that the border stays common. Needs even knots.
std::vector<Lightened> lighten_together(std::span<const Surface> surfaces,
                                        const LightenOptions& options, double join_tolerance,
                                        Progress& progress);

/// Which directions of which surfaces run along common borders, as a group number for each surface
/// and direction: [k][0] for u, [k][1] for v. Borders are common when both ends and the middle
/// places of equal share meet within the tolerance (mm), in either sense; poles are left out.
std::vector<std::array<int, 2>> linked_directions(std::span<const Surface> surfaces,
                                                  double tolerance);

}  // namespace evenclay
