// Steps that make tiles and prepare them.
#pragma once

#include "core/document/operation.h"
#include "core/pattern/shelf_tile.h"

namespace evenclay {

/// F1: a tile of the shelf.
class ShelfTileOperation : public OperationOf<ShelfTileOperation> {
 public:
  ShelfTile tile = ShelfTile::Dimple;
  ShelfTileSizes sizes;
  Vec3 corner;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "shelf_tile",
                                         .label = "Tile from the shelf",
                                         .help =
                                             "A tile drawn from a few sizes: dimple, rib, wave, "
                                             "hexagons, quilt, knurl, perforation, scale.",
                                         .stage = Stage::Pattern,
                                         .group = "Tile",
                                         .icon = "blocks",
                                         .takes = kNothing,
                                         .part_name = "Tile"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// F1: a tile repeated, turned and cut to the square that repeats.
class DiagonalTileOperation : public OperationOf<DiagonalTileOperation> {
 public:
  int across = 1, up = 1;  ///< the way of the new side in tiles: 1 and 1 is 45°

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "diagonal_tile",
        .label = "Diagonal tile",
        .help = "Repeats a square tile, turns it, and cuts out the square that repeats.",
        .stage = Stage::Pattern,
        .group = "Tile",
        .icon = "move-diagonal",
        .takes = kBody | kMesh};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// F1, F5: opposite edges of a tile made to meet with one height and one slope.
class PairEdgesOperation : public OperationOf<PairEdgesOperation> {
 public:
  bool along_x = true, along_y = true, slopes = true;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "pair_edges",
                                         .label = "Pair edges",
                                         .help =
                                             "Gives opposite edges of a tile one height and one "
                                             "slope, so that repeats go over into each other.",
                                         .stage = Stage::Pattern,
                                         .group = "Tile",
                                         .icon = "arrow-left-right",
                                         .takes = kBody};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
