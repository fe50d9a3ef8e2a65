#include "core/pattern/flow.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>
#include <optional>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/body/region.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/kernels.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostVertices = 20'000'000;

// A vertex of the tile: shares along the target's u and v in one repeat, and height.
struct TileVertex {
  double s, t, z;
};

// A vertex of the pattern: which tile vertex, in which repeat. Eight bytes, since memory is what a
// pattern of millions waits for.
struct FlatVertex {
  std::uint32_t source;
  std::int16_t a, b;
};

// The linear part: tile shares (fx, fy in 0..1) to tile shares along the target's u and v.
struct Turn {
  // along = origin + a fx + b fy for u and for v
  double u0, ux, uy, v0, vx, vy;
};

Turn turn_of(const FlowOptions& o) {
  static constexpr std::array<Turn, 4> turns{
      {{0, 1, 0, 0, 0, 1}, {1, 0, -1, 0, 1, 0}, {1, -1, 0, 1, 0, -1}, {0, 0, 1, 1, -1, 0}}};
  Turn t = turns[static_cast<std::size_t>(o.corner)];
  if (o.flip_u) t = {1 - t.u0, -t.ux, -t.uy, t.v0, t.vx, t.vy};
  if (o.flip_v) t = {t.u0, t.ux, t.uy, 1 - t.v0, -t.vx, -t.vy};
  return t;
}

// One direction of the region: share → parameter and slope.
class Spread {
 public:
  Spread(const Surface& s, Direction d, const Region& r, bool even)
      : begin_(d == Direction::U ? r.u_begin : r.v_begin),
        length_((d == Direction::U ? r.u_end : r.v_end) - begin_) {
    if (even) map_.emplace(s, d, r);
  }
  ArcLengthMap::Place at(double share) const {
    if (map_) return map_->at_share(share);
    return {begin_ + share * length_, length_};
  }

 private:
  double begin_, length_;
  std::optional<ArcLengthMap> map_;
};

struct Key {
  std::int64_t s, t, z;
  bool operator==(const Key&) const = default;
};
struct KeyHash {
  std::size_t operator()(const Key& k) const {
    std::uint64_t h = static_cast<std::uint64_t>(k.s) * 0x9E3779B97F4A7C15ULL;
    h = (h ^ (h >> 29)) + static_cast<std::uint64_t>(k.t) * 0xBF58476D1CE4E5B9ULL;
    h = (h ^ (h >> 31)) + static_cast<std::uint64_t>(k.z) * 0x94D049BB133111EBULL;
    return static_cast<std::size_t>(h ^ (h >> 30));
  }
};

struct Ends {
  bool around_u = false, around_v = false;  // region goes all the way round
  std::array<bool, 4> pole{};               // region ends at this border, and it is a pole
  bool operator==(const Ends&) const = default;
};

void check_options(const TriangleMesh& tile, const FlowOptions& o) {
  if (tile.triangles.empty())
    throw Error("The tile is empty. Choose a tile part that has a shape.");
  if (!(o.base.length_x > 1e-6) || !(o.base.length_y > 1e-6))
    throw Error(fmt::format(
        "The pattern's base is {:.3g} × {:.3g} mm; both lengths must be greater than 0.",
        o.base.length_x, o.base.length_y));
  if (o.count_u < 1 || o.count_u > 500 || o.count_v < 1 || o.count_v > 500)
    throw Error(fmt::format("{} × {} repeats cannot be used; choose 1 to 500 in each direction.",
                            o.count_u, o.count_v));
  if (!(o.u_to - o.u_from > 1e-6) || !(o.v_to - o.v_from > 1e-6))
    throw Error(
        "The region on the target has no extent. Let its end be greater than its begin in both "
        "directions.");
  const auto total = tile.points.size() * static_cast<std::size_t>(o.count_u) *
                     static_cast<std::size_t>(o.count_v);
  if (total > kMostVertices)
    throw Error(fmt::format(
        "{} × {} repeats of a tile with {} vertices make {} million vertices; at most 20 million "
        "can be made. Use fewer repeats or a coarser tile.",
        o.count_u, o.count_v, tile.points.size(), total / 1000000));
}

Ends find_ends(const Surface& s, const FlowOptions& o) {
  constexpr double e = 1e-9;
  Ends ends;
  ends.around_u = s.u.periodic && std::abs(o.u_to - o.u_from - 1.0) < e;
  ends.around_v = s.v.periodic && std::abs(o.v_to - o.v_from - 1.0) < e;
  const bool touches[4] = {o.u_from<e, o.u_to> 1 - e, o.v_from<e, o.v_to> 1 - e};
  for (std::size_t k = 0; k < 4; ++k)
    ends.pole[k] = touches[k] && is_pole(s, kBorders[k], o.pole_tolerance);
  const auto one_pole = [](bool a, bool b) { return a != b; };
  const auto complain = [](const char* direction) {
    throw Error(fmt::format(
        "The target's {} direction has no length at one end (a pole). Choose a band that leaves "
        "out the pole, or flow from pole to pole.",
        direction));
  };
  if (one_pole(ends.pole[0], ends.pole[1])) complain("u");
  if (one_pole(ends.pole[2], ends.pole[3])) complain("v");
  if (o.u_to - o.u_from > 1 + e || o.v_to - o.v_from > 1 + e ||
      (!s.u.periodic && (o.u_from < -e || o.u_to > 1 + e)) ||
      (!s.v.periodic && (o.v_from < -e || o.v_to > 1 + e)))
    throw Error("The region on the target must lie between 0 and 1 in both directions.");
  return ends;
}

struct FlatPattern {
  std::vector<TileVertex> tile;
  std::vector<FlatVertex> vertices;
  std::vector<std::array<std::uint32_t, 3>> triangles;
};

// Repeats the tile in the flat region and joins meeting borders.
FlatPattern repeat(const TriangleMesh& tile, const FlowOptions& o, const Ends& ends, bool mirrored,
                   Progress& progress) {
  const Turn turn = turn_of(o);
  FlatPattern pattern;
  std::vector<TileVertex>& one = pattern.tile;
  one.reserve(tile.points.size());
  std::vector<bool> on_border;
  for (std::size_t k = 0; k < tile.points.size(); ++k) {
    const Vec3 local = o.base.frame.to_local(tile.points[k]);
    const double fx = local.x / o.base.length_x;
    const double fy = local.y / o.base.length_y;
    double s = turn.u0 + turn.ux * fx + turn.uy * fy;
    double t = turn.v0 + turn.vx * fx + turn.vy * fy;
    const auto snap = [&](double& x) {
      const bool near = std::abs(x) < o.weld || std::abs(x - 1.0) < o.weld;
      if (near) x = std::round(x);
      return near;
    };
    const bool border_s = snap(s);
    const bool border_t = snap(t);
    one.push_back({s, t, local.z});
    on_border.push_back(border_s || border_t);
  }
  const auto repeats = static_cast<std::size_t>(o.count_u) * static_cast<std::size_t>(o.count_v);
  pattern.vertices.reserve(one.size() * repeats);
  pattern.triangles.reserve(tile.triangles.size() * repeats);
  std::unordered_map<Key, std::uint32_t, KeyHash> borders;
  std::vector<std::uint32_t> number(one.size());
  const auto grain = [&](double x) { return std::llround(x / o.weld); };
  for (int a = 0; a < o.count_u; ++a) {
    progress.report(0.2 * a / o.count_u);
    for (int b = 0; b < o.count_v; ++b) {
      if (!o.made.empty() && !o.made[static_cast<std::size_t>(a * o.count_v + b)]) continue;
      for (std::size_t k = 0; k < one.size(); ++k) {
        const auto fresh = static_cast<std::uint32_t>(pattern.vertices.size());
        FlatVertex vertex{static_cast<std::uint32_t>(k), static_cast<std::int16_t>(a),
                          static_cast<std::int16_t>(b)};
        number[k] = fresh;
        if (on_border[k]) {
          double s = a + one[k].s;
          double t = b + one[k].t;
          if (ends.around_u && s >= o.count_u) {
            s -= o.count_u;
            vertex.a = static_cast<std::int16_t>(a - o.count_u);
          }
          if (ends.around_v && t >= o.count_v) {
            t -= o.count_v;
            vertex.b = static_cast<std::int16_t>(b - o.count_v);
          }
          // All of a pole is one place: the key forgets where on the collapsed border it is.
          if ((ends.pole[0] && s == 0.0) || (ends.pole[1] && s == o.count_u)) t = 0.0;
          if ((ends.pole[2] && t == 0.0) || (ends.pole[3] && t == o.count_v)) s = 0.0;
          const auto [it, is_new] =
              borders.try_emplace({grain(s), grain(t), grain(one[k].z)}, fresh);
          number[k] = it->second;
          if (!is_new) continue;
        }
        pattern.vertices.push_back(vertex);
      }
      for (const auto& t : tile.triangles) {
        std::array<std::uint32_t, 3> n{number[t[0]], number[t[1]], number[t[2]]};
        if (mirrored) std::swap(n[1], n[2]);
        if (n[0] != n[1] && n[1] != n[2] && n[2] != n[0]) pattern.triangles.push_back(n);
      }
    }
  }
  return pattern;
}

}  // namespace

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

Region region_of(const Surface& target, const FlowOptions& o) {
  const double lu = target.u.length();
  const double lv = target.v.length();
  return {target.u.first() + o.u_from * lu, target.u.first() + o.u_to * lu,
          target.v.first() + o.v_from * lv, target.v.first() + o.v_to * lv};
}

bool is_mirrored(const FlowOptions& o) {
  const Turn turn = turn_of(o);
  return (turn.ux * turn.vy - turn.uy * turn.vx) * o.height * (o.inward ? -1.0 : 1.0) < 0.0;
}

}  // namespace

struct FlowPlan::Impl {
  FlowOptions options;
  Ends ends;
  FlatPattern flat;
  std::vector<Vec3> tile_normals;  // in the base's frame

  Impl(const TriangleMesh& tile, const FlowOptions& o, const Ends& e, Progress& progress)
      : options(o),
        ends(e),
        flat(repeat(tile, o, e, is_mirrored(o), progress)),
        tile_normals(tile.normals.empty() ? averaged_normals(tile) : tile.normals) {
    for (Vec3& n : tile_normals)
      n = {dot(n, o.base.frame.x), dot(n, o.base.frame.y), dot(n, o.base.frame.z)};
  }
};

namespace {

void check_made(const FlowOptions& o) {
  if (!o.made.empty() && std::none_of(o.made.begin(), o.made.end(), [](bool b) { return b; }))
    throw Error(
        "No whole tile lies on the face. Use more and smaller tiles, or a band beside the "
        "opening.");
}

}  // namespace

FlowPlan::FlowPlan(const TriangleMesh& tile, const Surface& target, const FlowOptions& o,
                   Progress& progress) {
  check_options(tile, o);
  const Ends ends = find_ends(target, o);
  check_made(o);
  impl_ = std::make_shared<const Impl>(tile, o, ends, progress);
}

std::size_t FlowPlan::bytes() const {
  const FlatPattern& f = impl_->flat;
  return f.tile.size() * sizeof(TileVertex) + f.vertices.size() * sizeof(FlatVertex) +
         f.triangles.size() * sizeof(f.triangles[0]) + impl_->tile_normals.size() * sizeof(Vec3);
}

std::string FlowPlan::key(const Surface& target, const FlowOptions& o) {
  const Ends e = find_ends(target, o);
  const Frame& f = o.base.frame;
  std::string made;
  for (const bool m : o.made) made += m ? '1' : '0';
  return fmt::format(
      "{} {} {} {} {} | {} {} {} {} {} | {} {} {} {} | {}{} {} {} {} | {} {} {} | {} {} | {}",
      o.count_u, o.count_v, static_cast<int>(o.corner), o.flip_u, o.flip_v, o.inward, o.height,
      o.even, o.weld, o.pole_tolerance, o.u_from, o.u_to, o.v_from, o.v_to, e.around_u, e.around_v,
      fmt::join(e.pole, ""), o.base.length_x, o.base.length_y, f.origin.x, f.origin.y, f.origin.z,
      fmt::format("{} {} {}", f.x.x, f.x.y, f.x.z), fmt::format("{} {} {}", f.y.x, f.y.y, f.y.z),
      made);
}

TriangleMesh FlowPlan::onto(const Surface& target, Progress& progress) const {
  const FlowOptions& o = impl_->options;
  const FlatPattern& flat = impl_->flat;
  if (find_ends(target, o) != impl_->ends)
    throw Error("The target of the pattern is closed in another way than before.");
  const Turn turn = turn_of(o);
  const double h = o.height * (o.inward ? -1.0 : 1.0);
  const Region region = region_of(target, o);
  const Spread along_u(target, Direction::U, region, o.even);
  const Spread along_v(target, Direction::V, region, o.even);
  const SurfaceEvaluator evaluator(target);
  const kernels::FlowRates rates{turn.ux / (o.base.length_x * o.count_u),
                                 turn.uy / (o.base.length_y * o.count_u),
                                 turn.vx / (o.base.length_x * o.count_v),
                                 turn.vy / (o.base.length_y * o.count_v),
                                 h,
                                 target.u.length(),
                                 target.v.length()};
  TriangleMesh result;
  result.points.resize(flat.vertices.size());
  result.normals.resize(flat.vertices.size());
  result.triangles = flat.triangles;
  progress.report(0.25);
  const kernels::Table& kernel = kernels::best();

  parallel_blocks(flat.vertices.size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
    constexpr std::size_t kBatch = 256;
    std::array<Parameter, kBatch> at;
    std::array<kernels::FlatInput, kBatch> in;
    std::array<PointSecond, kBatch + 1> out;  // one more: the kernel reads a lane beyond
    std::array<unsigned char, kBatch> sound;
    for (std::size_t first = begin; first < end; first += kBatch) {
      const std::size_t count = std::min(kBatch, end - first);
      for (std::size_t k = 0; k < count; ++k) {
        const FlatVertex& f = flat.vertices[first + k];
        const TileVertex& t = flat.tile[f.source];
        const auto u = along_u.at((f.a + t.s) / o.count_u);
        const auto v = along_v.at((f.b + t.t) / o.count_v);
        const Vec3& n = impl_->tile_normals[f.source];
        at[k] = {u.parameter, v.parameter};
        in[k] = {t.z, n.x, n.y, n.z, u.slope, v.slope};
      }
      evaluator.seconds(std::span(at).first(count), std::span(out).first(count));
      kernel.map(&out[0].p.x, in.data(), rates, count, &result.points[first].x,
                 &result.normals[first].x, sound.data());
      for (std::size_t k = 0; k < count; ++k) {
        if (sound[k]) continue;  // below: a pole, whose normal is the limit from inside
        const Vec3 n0 = normal(target, at[k].u, at[k].v);
        result.points[first + k] = out[k].p + n0 * (h * in[k].z);
        result.normals[first + k] = h < 0.0 ? -n0 : n0;
      }
    }
  });
  progress.report(1.0);
  return result;
}

TriangleMesh flow(const TriangleMesh& tile, const Surface& target, const FlowOptions& options,
                  Progress& progress) {
  return FlowPlan(tile, target, options, progress).onto(target, progress);
}

namespace {

// Whether a segment has a place inside the open rectangle. Source: clipping of the parameter along it
// (C. Cyrus, J. Beck 1978, from memory).
bool enters(const Parameter& a, const Parameter& b, double u0, double u1, double v0, double v1) {
  double from = 0.0;
  double to = 1.0;
  const auto clip = [&](double start, double way, double low, double high) {
    if (way == 0.0) return start > low && start < high;
    double x = (low - start) / way;
    double y = (high - start) / way;
    if (x > y) std::swap(x, y);
    from = std::max(from, x);
    to = std::min(to, y);
    return from < to;
  };
  return clip(a.u, b.u - a.u, u0, u1) && clip(a.v, b.v - a.v, v0, v1);
}

// The seam of a closed face is in its loops, but is no border: a tile may lie across it.
bool on_seam(const KnotVector& k, double a, double b) {
  const double hair = 1e-9 * k.length();
  const auto at = [&](double x, double end) { return std::abs(x - end) < hair; };
  return k.periodic &&
         ((at(a, k.first()) && at(b, k.first())) || (at(a, k.last()) && at(b, k.last())));
}

}  // namespace

std::vector<bool> whole_tiles(const Face& face, const FlowOptions& o) {
  if (!face.trimmed()) return {};
  const Surface& s = *face.surface;
  const Region region = region_of(s, o);
  const Spread along_u(s, Direction::U, region, o.even);
  const Spread along_v(s, Direction::V, region, o.even);
  const FaceRegion inside(face);
  std::vector<std::vector<Parameter>> loops;
  for (const Loop& loop : face.loops) loops.push_back(loop_polygon(loop, s));
  const auto crossed = [&](double u0, double u1, double v0, double v1) {
    for (const auto& loop : loops)
      for (std::size_t k = 0; k < loop.size(); ++k) {
        const Parameter& a = loop[k];
        const Parameter& b = loop[(k + 1) % loop.size()];
        if (on_seam(s.u, a.u, b.u) || on_seam(s.v, a.v, b.v)) continue;
        // Loops may be written one turn on in a closed direction.
        for (const double du : {0.0, s.u.length(), -s.u.length()})
          for (const double dv : {0.0, s.v.length(), -s.v.length()}) {
            if ((du != 0.0 && !s.u.periodic) || (dv != 0.0 && !s.v.periodic)) continue;
            if (enters({a.u + du, a.v + dv}, {b.u + du, b.v + dv}, u0, u1, v0, v1)) return true;
          }
      }
    return false;
  };
  std::vector<bool> made;
  for (int a = 0; a < o.count_u; ++a)
    for (int b = 0; b < o.count_v; ++b) {
      const double u0 = along_u.at(static_cast<double>(a) / o.count_u).parameter;
      const double u1 = along_u.at(static_cast<double>(a + 1) / o.count_u).parameter;
      const double v0 = along_v.at(static_cast<double>(b) / o.count_v).parameter;
      const double v1 = along_v.at(static_cast<double>(b + 1) / o.count_v).parameter;
      const bool middle = inside.contains(0.5 * (u0 + u1), 0.5 * (v0 + v1));
      made.push_back(middle && !crossed(u0, u1, v0, v1));
    }
  return made;
}

}  // namespace evenclay
