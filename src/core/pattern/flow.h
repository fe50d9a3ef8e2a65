// Flowing a flat pattern onto a target surface.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/body/body.h"
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

/// Which corner of the target region the base's origin lands on; the base is turned, not mirrored.
///   UVMin: x along +u, y along +v     UMaxVMin: x along +v, y along −u
///   UVMax: x along −u, y along −v     UMinVMax: x along −v, y along +u
enum class TargetCorner { UVMin, UMaxVMin, UVMax, UMinVMax };

struct FlowOptions {
  PatternBase base;
  int count_u = 1;  ///< repeats along the target's u, 1..500
  int count_v = 1;
  TargetCorner corner = TargetCorner::UVMin;
  bool flip_u = false;  ///< mirrors each tile along the target's u
  bool flip_v = false;
  bool inward = false;              ///< heights point against the target's normal
  double height = 1.0;              ///< heights are multiplied by this
  double u_from = 0.0, u_to = 1.0;  ///< part of the target, as shares 0..1 of its domain
  double v_from = 0.0, v_to = 1.0;
  bool even = false;  ///< spread repeats by mean arc length instead of the parameter
  /// Repeats that are made, (along u) × count_v + (along v); empty: all.
  std::vector<bool> made;
  double weld = 1e-9;            ///< share of a tile within which border vertices meet
  double pole_tolerance = 1e-6;  ///< mm
};

/// Each vertex (x, y, z) of each repeat goes to S(u, v) + height z N(u, v). Normals come from the
/// exact differential of that map (second derivatives of S), not from averaged triangles.
/// Vertices on meeting borders of repeats are shared; when the region goes all the way round a
/// periodic direction, the last repeat closes on the first. A mirrored map turns the triangles, so
/// outside stays outside.
/// The tile's normals are used when it has them, else they are averaged first.
/// Throws Error: empty tile, base without size, counts out of range, region without extent, one
/// pole inside the region, more than 20 million vertices. Throws Cancelled.
TriangleMesh flow(const TriangleMesh& tile, const Surface& target, const FlowOptions& options,
                  Progress& progress);

/// What of a flow depends on tile, options and where the target is closed or has poles only: which
/// vertex is where in shares of the region, what is welded, the triangles. Made once; moving the
/// target's points needs no more than mapping. Immutable, shared, thread-safe.
class FlowPlan {
 public:
  /// Throws as flow() does.
  FlowPlan(const TriangleMesh& tile, const Surface& target, const FlowOptions& options,
           Progress& progress);
  /// As flow() with the same tile and options, bit for bit. Throws Error when the target is closed or has
  /// poles where the one it was made for had none, or the other way round (see key()).
  TriangleMesh onto(const Surface& target, Progress& progress) const;
  std::size_t bytes() const;
  /// Text that differs when a plan cannot serve: for options, and for targets that are closed or have
  /// poles elsewhere.
  static std::string key(const Surface& target, const FlowOptions& options);

 private:
  struct Impl;
  std::shared_ptr<const Impl> impl_;
};

/// Which repeats lie on the face with their whole rectangle: for FlowOptions::made, whose `made` is not
/// read. Empty when the face has no loops.
std::vector<bool> whole_tiles(const Face& face, const FlowOptions& options);

/// The base that just holds the tile: its box in x and y, heights measured from z = 0.
PatternBase base_of(const TriangleMesh& tile);

}  // namespace evenclay
