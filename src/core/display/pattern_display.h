// What the window draws of tiles and patterns.
#pragma once

#include "core/display/display.h"
#include "core/operations/offers.h"
#include "core/pattern/pairing.h"

namespace evenclay {

/// A tile with its eight neighbours, and how well they meet.
struct TileDisplay {
  std::shared_ptr<const DisplayMesh> mesh;
  PatternBase base;
  TilePairing pairing;
};
/// Of surfaces or a mesh that have a length along x and y; else nothing. Throws Cancelled.
std::shared_ptr<const TileDisplay> tile_display(const Shape& shape, Progress& progress);

/// The triangles of a pattern's target that no tile covers: those are left out whose three corners lie under tiles
/// that are made. The mesh itself when nothing is covered.
std::shared_ptr<const DisplayMesh> without_covered(std::shared_ptr<const DisplayMesh> mesh,
                                                   const Shape& shape, const PatternFacts& facts);

/// The stretch at each vertex of a mesh that lies on or over the pattern's target, in percent: that of the nearest of
/// the places where it was measured; 0 farther away than a tile and the pattern's height. `reach` is that which all but
/// a fiftieth of the places keep below.
std::shared_ptr<const DisplayValues> stretch_values(const DisplayMesh& mesh,
                                                    const PatternFacts& facts, Progress& progress);

}  // namespace evenclay
