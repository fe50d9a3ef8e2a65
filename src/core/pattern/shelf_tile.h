// Tiles drawn from numbers.
#pragma once

#include "core/body/body.h"

namespace evenclay {

/// The kinds of the shelf. All but Quilt and Knurl go over into their neighbours without a crease.
enum class ShelfTile {
  Dimple,       ///< a round hollow
  Rib,          ///< a ridge along x
  Wave,         ///< a meandering ridge along x
  Hex,          ///< hollows with six sides; wants length_y = √3 length_x, and holds two of them
  Quilt,        ///< a cushion with creased seams
  Knurl,        ///< a pyramid with flat sides
  Perforation,  ///< flat with a round hole
  Scale         ///< a slope that falls off along a bow
};

/// Sizes of a tile over [0, length_x] × [0, length_y] about height 0.
struct ShelfTileSizes {
  double length_x = 8.0, length_y = 8.0;  ///< mm, > 0
  double height = 1.6;                    ///< mm; a hollow goes down by it, a ridge up
  /// Of the feature: width of a hollow, ridge or hole as a share of the tile's shorter side, 0.05 … 1.
  double width = 0.8;
  int points = 16;  ///< control points each way, 6 … 40; without effect on Knurl and Perforation
};

/// One face (an untrimmed surface, but for Perforation). Smooth kinds are fitted on closed grids and then opened, so
/// that opposite edges have the same height and slope to the last bit of rounding. Throws Error for sizes out of
/// range.
Body make_shelf_tile(ShelfTile kind, const ShelfTileSizes& sizes, int step);

/// Height above the base of the smooth kinds at shares x, y of the tile.
double shelf_height(ShelfTile kind, const ShelfTileSizes& sizes, double x, double y);

}  // namespace evenclay
