// Points on curves and edges whose chords stay close to them.
#pragma once

#include <vector>

#include "core/body/body.h"

namespace evenclay {

/// Parameters of an edge's curve, the ends and corners included, between which the chords stay within
/// `chord` (mm) of it.
std::vector<double> edge_places(const Edge& edge, double chord);

/// The points there.
std::vector<Vec3> polyline(const Curve& curve, double chord);

}  // namespace evenclay
