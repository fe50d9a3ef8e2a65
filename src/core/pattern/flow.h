// Flowing a pattern onto a target: tiles repeated in the flat and carried onto surfaces.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/pattern/chart.h"
#include "core/pattern/height.h"
#include "core/pattern/tile.h"

namespace evenclay {

/// Which corner of the target region the base's origin lands on; the base is turned, not mirrored.
///   UVMin: x along +u, y along +v     UMaxVMin: x along +v, y along −u
///   UVMax: x along −u, y along −v     UMinVMax: x along −v, y along +u
enum class TargetCorner { UVMin, UMaxVMin, UVMax, UMinVMax };

struct FlowOptions {
  int count_u = 1;  ///< repeats along the target's u, 1..500
  int count_v = 1;
  TargetCorner corner = TargetCorner::UVMin;
  bool flip_u = false;  ///< mirrors each tile along the target's u
  bool flip_v = false;
  bool inward = false;  ///< heights point into the target
  ChartRegion region;
  bool even = false;  ///< spread repeats by mean arc length instead of the parameter
  /// Repeats that are made, (along u) × count_v + (along v); empty: all.
  std::vector<bool> made;
  /// Where repeats that are not made are cut, along the target's border; null: they are left out whole.
  std::shared_ptr<const struct FlatBorder> cut = nullptr;
  double weld = 1e-9;  ///< share of a tile within which border vertices meet
};

/// Where one place of the flat pattern goes. Thread-safe after construction.
class FlowMap {
 public:
  /// Throws Error: counts out of range, region without extent, one pole inside the region.
  FlowMap(const Chart& chart, const FlowOptions& options, const HeightRule& heights);
  /// `s`, `t` count repeats from the corner where the target's u and v begin, 0..count; z is the height in the tile.
  Vec3 point(double s, double t, double z) const;
  struct Placed {
    Vec3 point, normal;
  };
  /// A vertex of a tile turned by turned() in repeat (a, b), with its outward normal.
  Placed placed(const TileVertex& vertex, int a, int b) const;
  const Spread& along_s() const { return along_s_; }
  const Spread& along_t() const { return along_t_; }

 private:
  friend class FlowPlan;
  FlowOptions options_;
  HeightRule heights_;
  Spread along_s_, along_t_;
  Grid<std::shared_ptr<const SurfaceEvaluator>> evaluators_;
  Grid<std::shared_ptr<const Surface>> surfaces_;
  double side_ = 1.0;
};

/// A tile vertex by shares along the target's u and v in one repeat.
TileVertex turned(const TileVertex& vertex, const FlowOptions& options);

/// How well neighbouring tiles go over into each other where their borders meet.
struct FlowJoints {
  std::size_t places = 0;  ///< border vertices that two tiles share
  double angle = 0.0;      ///< greatest angle between the normals of both sides, degrees
  double mean = 0.0;       ///< degrees
  Vec3 at;                 ///< of the greatest
};

/// What of a flow depends on tile, options and where the target is closed or has poles only: which
/// vertex is where in shares of the region, what is welded, the triangles. Made once; moving the
/// target's points or changing heights needs no more than mapping. Immutable, shared, thread-safe.
///
/// Each vertex (s, t, z) of each repeat goes to S(u, v) + height N(u, v). Normals come from the exact
/// differential of that map (second derivatives of S), not from averaged triangles. Vertices on meeting borders
/// of repeats are shared; when the region goes all the way round, the last repeat closes on the first. A
/// mirrored map turns the triangles, so outside stays outside.
class FlowPlan {
 public:
  /// Throws Error: empty tile, counts out of range, region without extent, one pole inside the region, no
  /// repeat made, more than 20 million vertices. Throws Cancelled.
  FlowPlan(const BasedTile& tile, const Chart& chart, const FlowOptions& options,
           Progress& progress);
  /// The pattern on this target. Throws Error when the target is closed or has poles where the one it was made
  /// for had none, or the other way round (see key()). Throws Cancelled.
  TriangleMesh onto(const Chart& chart, const HeightRule& heights, Progress& progress) const;
  /// Measured at the vertices that two tiles share, at most 20 000 of them.
  FlowJoints joints(const Chart& chart, const HeightRule& heights) const;
  std::size_t vertex_count() const;
  std::size_t bytes() const;
  /// Text that differs when a plan cannot serve: for options, and for targets that are closed or have
  /// poles elsewhere.
  static std::string key(const Chart& chart, const FlowOptions& options);

 private:
  struct Impl;
  std::shared_ptr<const Impl> impl_;
};

/// All in one, onto one surface.
TriangleMesh flow(const BasedTile& tile, const Chart& chart, const FlowOptions& options,
                  const HeightRule& heights, Progress& progress);

/// Which repeats lie on the faces with their whole rectangle: for FlowOptions::made, whose `made` is not
/// read. Empty when no face has loops.
std::vector<bool> whole_tiles(const Chart& chart, const FlowOptions& options);

/// How many repeats come nearest to tiles of the given lengths (mm along the target's u and v): at least one,
/// at most 500. 0 keeps that count.
void fit_counts(FlowOptions& options, const Chart& chart, double tile_u, double tile_v);

}  // namespace evenclay
