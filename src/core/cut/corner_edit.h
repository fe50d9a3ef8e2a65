// Corners of joined bodies moved; flat and ruled faces that meet there are rebuilt through the new places.
#pragma once

#include <vector>

#include "core/body/body.h"

namespace evenclay {

/// The corners of a body where straight edges end, and the faces that are polygons of such edges.
struct Corners {
  std::vector<Vec3> places;
  std::vector<Tag> names;  ///< made from those of the edges that end there
  /// Of each face the numbers of its corners, counter-clockwise seen from outside; empty where an edge is curved or the
  /// face has openings or one edge twice.
  std::vector<std::vector<std::uint32_t>> faces;
};
/// `body` has all borders as edges. Corners with no straight edge are there, too, so that numbers are those of
/// topology(body).
Corners corners_of(const Body& body, double tolerance);

/// The body with its corners at other places (as many as there are). Straight edges stay straight; a face whose edges
/// still lie in one plane within `tolerance` (mm) is flat, one of four straight edges becomes ruled (bilinear) else.
/// Faces, edges and their names that nothing moved stay to the bit.
/// Throws Error, naming the face and why: it is curved, has a curved edge that ends there, has more than four corners and
/// would not stay flat, or two corners would meet.
Body with_corners(const Body& body, const std::vector<Vec3>& places, double tolerance);

}  // namespace evenclay
