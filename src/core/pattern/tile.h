// A tile as its base sees it: the part of a pattern that does not depend on the target.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// The flat reference rectangle of a pattern: a tile point is read in `frame` as (x, y, z), with
/// x in 0..length_x and y in 0..length_y for one repeat; z is the height above the base.
struct PatternBase {
  Frame frame;
  double length_x = 1.0;  ///< mm, > 0
  double length_y = 1.0;
};

/// The base that just holds the tile: its box in x and y, heights measured from z = 0.
PatternBase base_of(const TriangleMesh& tile);

/// A vertex of a tile: shares of one repeat along the base's two directions, height in mm, and the outward
/// normal as its products with the derivatives of the place by the two shares and by the height, so that it
/// can be carried through any map exactly.
struct TileVertex {
  double s = 0.0, t = 0.0, z = 0.0;
  Vec3 slope;
};

/// The vertices and triangles of a tile over its base.
struct BasedTile {
  std::vector<TileVertex> vertices;
  std::vector<std::array<std::uint32_t, 3>> triangles;
  /// Of a base that is a surface: the greatest distance (mm) of a vertex from the line along the normal at its
  /// foot; above 0 where the tile reaches beyond the base.
  double beyond = 0.0;
  double length_x = 1.0, length_y = 1.0;  ///< of one repeat, mm (means over a surface)
};

/// The tile over a flat base. Its normals are used when it has them, else averaged first. Throws Error: empty
/// tile, base without size.
BasedTile over_base(const TriangleMesh& tile, const PatternBase& base);

/// The tile over any surface, the whole of which is one repeat: shares of the domain at the closest point,
/// heights along the normal. Throws Error: empty tile, a base without area. Throws Cancelled.
BasedTile over_base(const TriangleMesh& tile, const Surface& base, Progress& progress);

}  // namespace evenclay
