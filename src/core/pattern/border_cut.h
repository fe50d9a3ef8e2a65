// Tiles that a border of the target crosses: cut along it in the flat.
#pragma once

#include <array>
#include <memory>
#include <vector>

#include "core/pattern/flow.h"

namespace evenclay {

/// The border of a target's faces over its pattern, in repeats along u and v; inside is inside an odd number of its loops.
struct FlatBorder {
  std::vector<std::vector<Parameter>> loops;
  bool operator==(const FlatBorder&) const = default;
};
/// Null where no face of the chart has loops.
std::shared_ptr<const FlatBorder> flat_border(const Chart& chart, const FlowOptions& options);

/// What is left of the triangles of one repeat inside the border. Vertices that are not the tile's own carry their
/// heights and slopes from the triangle they lie in; their s and t count repeats from the region's begin.
struct CutTile {
  /// Corners: below the count of the tile's vertices those, else that count + a place in `fresh`.
  std::vector<std::array<std::uint32_t, 3>> triangles;
  std::vector<TileVertex> fresh;
};
/// Source of the clipping: B. Vatti, A generic solution to polygon clipping, 1992, by the library Clipper.
class BorderCutter {
 public:
  explicit BorderCutter(const FlatBorder& border);
  ~BorderCutter();
  /// `tile` is turned (see turned()); nothing when no part of repeat (a, b) is inside.
  CutTile cut(const std::vector<TileVertex>& tile,
              const std::vector<std::array<std::uint32_t, 3>>& triangles, int a, int b) const;

 private:
  struct Impl;
  std::unique_ptr<const Impl> impl_;
};

}  // namespace evenclay
