// Opposite edges of a tile: how well they meet when it is repeated, and making them meet.
#pragma once

#include "core/pattern/tile.h"

namespace evenclay {

/// What neighbours of a repeated tile see of each other.
struct TilePairing {
  bool edges = false;  ///< whether the tile reaches all of its four edges at all
  double gap = 0.0;    ///< greatest difference in height between places that will meet, mm
  double angle = 0.0;  ///< greatest angle between their normals, degrees
  Vec3 at;             ///< of the greater fault, on the edge where x or y begins
};
/// What counts as on an edge: a hundred-thousandth of the base's longer side.
double near_of(const PatternBase& base);

/// Measured at the vertices on the edges of the base; places on the base's edge within `near` (mm) count as on it.
TilePairing pairing_of(const TriangleMesh& tile, const PatternBase& base, double near);

/// The tile with vertices at the same places of opposite edges, so that repeats can be welded: where one edge has a
/// vertex the other has not, the triangle there is split; heights that differ by no more than `near` become their
/// mean, and so do normals within 0.1°. The shape changes by no more than that.
TriangleMesh paired(const TriangleMesh& tile, const PatternBase& base, double near);

}  // namespace evenclay
