// Openings of a body, and faces put into them.
#pragma once

#include <span>
#include <vector>

#include "core/base/frame.h"
#include "core/body/body.h"
#include "core/body/topology.h"

namespace evenclay {

/// A ring of open edges in their order.
struct Opening {
  std::vector<std::uint32_t> edges;
  std::vector<bool> ahead;  ///< whether the ring runs along the edge's curve
  double length = 0.0;      ///< mm
  Frame plane;              ///< fitted: origin in the middle, z across
  double off_plane = 0.0;   ///< greatest distance of the ring from it, mm
  bool flat(double tolerance) const { return off_plane <= tolerance; }
};

/// All rings of open edges, longest first. `body` has all its borders as edges (with_explicit_borders).
std::vector<Opening> openings(const Body& body);

/// The ring that holds an edge; null when none does.
const Opening* opening_of(std::span<const Opening> all, std::uint32_t edge);

/// Whether a face walks an edge along its curve, seen from outside; of two joined faces only one may.
bool walks_forward(const Body& body, const UsePlace& use);

/// Adds a face that fills rings lying in about one plane: the first is its outer border, the others are openings
/// in it. Its surface is that plane; its outside continues that of the faces around. Returns its number.
std::size_t add_flat_face(Body& body, std::span<const Opening> rings, Tag tag);

/// Flat faces put into all openings that lie in a plane within `tolerance` (mm); rings of one plane that lie inside
/// each other become the border and openings of one face.
struct Capped {
  Body body;
  std::vector<std::size_t> added;  ///< numbers of the new faces
  std::vector<Opening> left;       ///< openings that are not flat
};
Capped capped(const Body& body, double tolerance, int step);

}  // namespace evenclay
