// Where the vertices of a repeated tile lie among each other, before any shape is known; not for others than
// flow_plan.cpp.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/pattern/flow.h"
#include "core/pattern/flow_ends.h"

namespace evenclay {

// A vertex of the pattern: which tile vertex, and its place in the table of places along t. Eight bytes, since
// memory is what a pattern of millions waits for.
struct FlatVertex {
  std::uint32_t source, t_place;
};

// Where two tiles meet: the vertex, and the tile vertex that would have been there.
struct FlowJoint {
  std::uint32_t kept, other;
  std::int16_t kept_a, kept_b, other_a, other_b;
};

// The different values in order, and for each vertex the place of its own among them. Values nearer than a
// 1e-13th of a tile are one, so that rounding does not tear rows apart.
struct FlowPlaces {
  std::vector<double> values;
  std::vector<std::uint32_t> place;
};

struct FlowLayout {
  FlowOptions options;
  FlowEnds ends;
  std::vector<TileVertex> tile;  // turned
  FlowPlaces s, t;
  std::vector<FlatVertex> vertices;      // run by run
  std::vector<std::uint32_t> run_begin;  // runs: repeat a, value of s; one more than there are
  std::vector<std::array<std::uint32_t, 3>> triangles;
  std::vector<FlowJoint> joints;
  // Of cut tiles, behind the others; s and t count all repeats.
  std::vector<TileVertex> cut_vertices;
};

/// Throws Error: a tile without triangles, too many vertices, no whole tile on the face.
void check_layout(const BasedTile& tile, const FlowOptions& options);

/// Repeats the tile and joins meeting borders; vertices come run by run, so that mapping them is quick. `mirrored` turns the
/// triangles round. Throws Error: nothing of it lies on the face; Cancelled.
FlowLayout laid_out(const BasedTile& tile, const FlowOptions& options, const FlowEnds& ends,
                    bool mirrored, Progress& progress);

}  // namespace evenclay
