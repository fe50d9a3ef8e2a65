// What plan, map and tile choice of a flow share; not for others.
#pragma once

#include "core/pattern/flow.h"

namespace evenclay {

/// Where the region of a flow is closed or ends in poles.
struct FlowEnds {
  bool around_s = false, around_t = false;  ///< the region goes all the way round
  std::array<bool, 4> pole{};               ///< it ends at this border, and that is a pole
  bool operator==(const FlowEnds&) const = default;
};
/// Throws Error: region without extent or beyond the target, one pole inside.
FlowEnds ends_of(const Chart& chart, const FlowOptions& options);
/// Throws Error.
void check_counts(const FlowOptions& options);

/// 1 when heights point along du × dv, else −1.
double side_of(const Chart& chart, const FlowOptions& options);
/// Whether the map turns triangles round.
bool is_mirrored(const Chart& chart, const FlowOptions& options);

/// Repeats by the target's parameter, from their count and the slope of the parameter by the share; no more than
/// huge where the slope vanishes.
inline double rate(int count, double slope) {
  return count / (slope > 1e-300 ? slope : 1e-300);
}

/// What the kernel takes for a vertex: its height, and its normal by u, v and the height (kernels.h).
struct FlowInput {
  double h, nu, nv, nh;
};
inline FlowInput flow_input(const TileVertex& vertex, const Spread::Place& u,
                            const Spread::Place& v, double share_s, double share_t,
                            const FlowOptions& o, const HeightRule& heights) {
  HeightFactor f;
  if (!heights.plain()) f = height_factor(heights, share_s, share_t);
  // The height becomes f z: its change by s and t tilts the normal.
  const double tilt = vertex.slope.z * vertex.z;
  const double cs = f.value * vertex.slope.x - tilt * f.by_s / o.count_u;
  const double ct = f.value * vertex.slope.y - tilt * f.by_t / o.count_v;
  return {heights.factor * f.value * vertex.z + heights.offset,
          heights.factor * cs * rate(o.count_u, u.slope),
          heights.factor * ct * rate(o.count_v, v.slope), vertex.slope.z};
}

}  // namespace evenclay
