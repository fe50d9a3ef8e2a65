// Addresses of control points and sets of them.
#pragma once

#include <compare>
#include <functional>
#include <set>

#include "core/nurbs/surface.h"

namespace evenclay {

/// One control point of a shape: surface number, i along u, j along v.
struct PointIndex {
  int surface = 0;
  int i = 0;
  int j = 0;
  auto operator<=>(const PointIndex&) const = default;
};

using Selection = std::set<PointIndex>;

/// All points of the row through `at` along u (j constant) or along v (i constant).
Selection row_through(const Surface& surface, PointIndex at, bool along_u);

/// Points for which `inside` is true, such as those in a box on the screen, through the depth.
Selection points_where(const Surface& surface, int surface_number,
                       const std::function<bool(const Vec3&)>& inside);

/// The picked points and their neighbours along u and v; round closed directions.
Selection grown(const Surface& surface, const Selection& picked);
/// The picked points whose neighbours along u and v are all picked; the edge of the surface counts as
/// picked.
Selection shrunk(const Surface& surface, const Selection& picked);

/// Every n-th point of each picked row, counted from its first picked point plus `start`; rows with
/// one picked point are left as they are. n >= 2.
Selection every_nth(const Selection& picked, bool along_u, int n, int start);

/// Of the picked points every second one, like the dark fields of a board; `other` the light ones.
Selection checker(const Selection& picked, bool other);

/// All points between two of one row, both included, the shorter way round a closed direction; the
/// two alone when they share no row.
Selection range_between(const Surface& surface, PointIndex from, PointIndex to);

/// The selection with every row that is collapsed to a pole taken whole, since it moves as one.
Selection with_whole_poles(const Surface& surface, const Selection& selection, double tolerance);

}  // namespace evenclay
