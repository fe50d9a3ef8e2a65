// What hangs together in a body: derived, never stored.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/body/body.h"

namespace evenclay {

/// Where an edge is used: face, loop and place in the loop.
struct UsePlace {
  std::uint32_t face = 0, loop = 0, place = 0;
};

struct Topology {
  std::vector<std::vector<UsePlace>> uses;         ///< of each edge
  std::vector<std::uint32_t> open_edges;           ///< used once, with length
  std::vector<std::uint32_t> joined_edges;         ///< used twice or more
  std::vector<std::uint32_t> poles;                ///< without length
  std::vector<std::vector<std::uint32_t>> shells;  ///< faces that hang together, by number
  /// Open edges one behind the other, in the order and sense in which their faces walk them.
  std::vector<std::vector<std::uint32_t>> open_chains;
  /// Number of the corner where an edge begins and where it ends.
  std::vector<std::array<std::uint32_t, 2>> corners;
  std::uint32_t corner_count = 0;
  /// No open edge, no untrimmed face but such as are closed by themselves, nothing used thrice, and
  /// every joined edge walked once each way: the body bounds a volume.
  bool closed = false;
};

/// `no_length` (mm): edges shorter than this are poles.
Topology topology(const Body& body, double no_length = 1e-7);

/// The body with the natural borders of all faces as loops, and borders that meet within `tolerance`
/// (mm) as one edge, so that nothing but edges joins faces. Faces with loops stay as they are.
/// Tags of the new edges are made from the faces' and the border.
Body with_explicit_borders(const Body& body, double tolerance);

/// True when some natural borders of different faces meet within `tolerance` (mm), so that drawing
/// them one by one would leave cracks.
bool borders_meet(const Body& body, double tolerance);

/// True when the body bounds a volume: closed as its topology says, natural borders that meet within
/// `tolerance` (mm) counting as joined.
bool bounds_volume(const Body& body, double tolerance);

/// The edges of a body, open ones first, and the open borders of whole surfaces that are no poles.
std::vector<Curve> edge_curves(const Body& body);

}  // namespace evenclay
