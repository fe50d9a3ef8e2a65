#include "core/pattern/tile.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/memory.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/projection.h"

namespace evenclay {

PatternBase base_of(const TriangleMesh& tile) {
  const Box3 b = box(tile);
  if (b.empty()) return {};
  PatternBase base;
  base.frame.origin = {b.min.x, b.min.y, 0.0};
  base.length_x = b.max.x - b.min.x;
  base.length_y = b.max.y - b.min.y;
  return base;
}

namespace {

void check_tile(const TriangleMesh& tile) {
  if (tile.triangles.empty())
    throw Error(say("The tile is empty. Choose a tile part that has a shape."));
}

// Those of the tile, else `made` from its triangles.
const std::vector<Vec3>& normals_of(const TriangleMesh& tile, std::vector<Vec3>& made) {
  if (!tile.normals.empty()) return tile.normals;
  made = averaged_normals(tile);
  return made;
}

// The distance to the closest point settles long before the point does: Newton's method goes on from there.
Projection exact_foot(const SurfaceProjector& base, Projection foot, const Vec3& p) {
  for (int k = 0; k < 3; ++k) {
    const PointSecond d = base.evaluator().seconds(foot.u, foot.v);
    const Vec3 r = d.p - p;
    const double a = dot(d.du, d.du) + dot(r, d.duu);
    const double b = dot(d.du, d.dv) + dot(r, d.duv);
    const double c = dot(d.dv, d.dv) + dot(r, d.dvv);
    const double det = a * c - b * b;
    if (!(det > 0.0)) return foot;
    const double f = dot(r, d.du);
    const double g = dot(r, d.dv);
    const Parameter next{foot.u - (c * f - b * g) / det, foot.v - (a * g - b * f) / det};
    const Vec3 there = base.evaluator().point(next.u, next.v);
    if (!(distance(there, p) <= foot.distance * (1.0 + 1e-12))) return foot;
    foot = {next.u, next.v, there, distance(there, p)};
  }
  return foot;
}

// The place of one vertex over a surface, and how far it is off the normal there.
double put_over(TileVertex& vertex, const Vec3& p, const Vec3& n, const SurfaceProjector& base,
                const Surface& surface) {
  const Projection foot = exact_foot(base, base.closest(p), p);
  const PointSecond d = base.evaluator().seconds(foot.u, foot.v);
  const Vec3 raw = cross(d.du, d.dv);
  const double area = length(raw);
  if (!(area > 0.0))
    throw Error(
        say("The base has a place without area under the tile. Choose another surface as base."));
  const Vec3 up = raw / area;
  const double z = dot(p - foot.point, up);
  const auto turning = [&](const Vec3& change) { return (change - up * dot(up, change)) / area; };
  const Vec3 nu = turning(cross(d.duu, d.dv) + cross(d.du, d.duv));
  const Vec3 nv = turning(cross(d.duv, d.dv) + cross(d.du, d.dvv));
  const double lu = surface.u.length();
  const double lv = surface.v.length();
  vertex = {(foot.u - surface.u.first()) / lu,
            (foot.v - surface.v.first()) / lv,
            z,
            {dot(n, d.du + nu * z) * lu, dot(n, d.dv + nv * z) * lv, dot(n, up)}};
  return length(p - foot.point - up * z);
}

}  // namespace

BasedTile over_base(const TriangleMesh& tile, const PatternBase& base) {
  check_tile(tile);
  if (!(base.length_x > 1e-6) || !(base.length_y > 1e-6))
    throw Error(
        say("The pattern's base is {:.3g} × {:.3g} mm; both lengths must be greater than 0.",
            base.length_x, base.length_y));
  std::vector<Vec3> made;
  const std::vector<Vec3>& normals = normals_of(tile, made);
  BasedTile result{{}, {}, 0.0, base.length_x, base.length_y};
  make_room(result.triangles, tile.triangles.size());
  result.triangles = tile.triangles;
  make_room(result.vertices, tile.points.size());
  result.vertices.resize(tile.points.size());
  const double per_x = 1.0 / base.length_x;
  const double per_y = 1.0 / base.length_y;
  Progress quiet;
  parallel_blocks(tile.points.size(), 32768, quiet, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Vec3 local = base.frame.to_local(tile.points[k]);
      const Vec3& n = normals[k];
      result.vertices[k] = {local.x * per_x,
                            local.y * per_y,
                            local.z,
                            {dot(n, base.frame.x) * base.length_x,
                             dot(n, base.frame.y) * base.length_y, dot(n, base.frame.z)}};
    }
  });
  return result;
}

BasedTile over_base(const TriangleMesh& tile, const Surface& base, Progress& progress) {
  check_tile(tile);
  std::vector<Vec3> made;
  const std::vector<Vec3>& normals = normals_of(tile, made);
  const SurfaceProjector projector(base);
  BasedTile result{{}, tile.triangles, 0.0, 1.0, 1.0};
  result.length_x = ArcLengthMap(base, Direction::U, whole(base)).mean_length();
  result.length_y = ArcLengthMap(base, Direction::V, whole(base)).mean_length();
  result.vertices.resize(tile.points.size());
  std::vector<double> beyond(tile.points.size());
  parallel_blocks(tile.points.size(), 64, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k)
      beyond[k] = put_over(result.vertices[k], tile.points[k], normals[k], projector, base);
  });
  result.beyond = *std::max_element(beyond.begin(), beyond.end());
  return result;
}

}  // namespace evenclay
