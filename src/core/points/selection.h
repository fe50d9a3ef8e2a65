// Sets of control points. Every function works on curves, surfaces and cages alike. Thread-safe.
#pragma once

#include <functional>
#include <string>

#include "core/points/net.h"

namespace evenclay {

/// A selection kept under a name in the project.
struct NamedSelection {
  std::string name;
  Selection points;
  bool operator==(const NamedSelection&) const = default;
};

/// All points of the row through `at` along u (0), v (1) or w (2); `at` alone on a form, whose rows are loops of edges
/// (subdivision/edits.h).
Selection row_through(const Nets& nets, PointIndex at, int direction);

/// The closed loop of the net through `at`: the row of a closed direction; on an open surface the
/// points as many steps from the nearest edge. On a cage the loop around the layer of `at`. The row
/// of an open curve.
Selection ring_through(const Nets& nets, PointIndex at);

/// Points for which `inside` is true, such as those in a box on the screen, through the depth.
Selection points_where(const Nets& nets, const std::function<bool(const Vec3&)>& inside);

/// The rows of all directions in which the points with `inside` are all (`whole`) or at least two.
Selection net_lines_where(const Nets& nets, const std::function<bool(const Vec3&)>& inside,
                          bool whole);

/// The picked points and their neighbours in each direction; round closed directions.
Selection grown(const Nets& nets, const Selection& picked);
/// The picked points whose neighbours are all picked; an edge counts as picked.
Selection shrunk(const Nets& nets, const Selection& picked);

/// Every n-th point of each picked row along `direction`, counted from its first picked point plus
/// `start`; rows with one picked point are left as they are. n >= 2.
Selection every_nth(const Selection& picked, int direction, int n, int start);

/// Of the picked points every second one, like the dark fields of a board; `other` the light ones.
Selection checker(const Selection& picked, bool other);

/// All points between two of one row, both included, the shorter way round a closed direction; the
/// two alone when they share no row. On a form those of a way of fewest edges.
Selection range_between(const Nets& nets, PointIndex from, PointIndex to);

/// The selection with all points that are one place with a picked one, since they move as one.
Selection with_united(const Nets& nets, const Selection& selection);

/// The direction along which the picked points lie in one row, when there is one.
std::optional<int> row_direction(const Selection& picked);

}  // namespace evenclay
