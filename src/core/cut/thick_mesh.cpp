#include "core/cut/thick_mesh.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <mutex>
#include <optional>

#include "core/base/error.h"
#include "core/base/mitre.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/mesh/area_vector.h"
#include "core/mesh/ray_scene.h"

namespace evenclay {

namespace {

constexpr std::size_t kBlock = 4096;
constexpr double kAgrees =
    0.94;  // cosine of the angle up to which a vertex's own normal is believed

using Triangle = std::array<std::uint32_t, 3>;

std::vector<Vec3> face_normals(const TriangleMesh& m) {
  std::vector<Vec3> normals;
  normals.reserve(m.triangles.size());
  for (const Triangle& t : m.triangles) {
    const Vec3 a = area_vector(m, t);
    normals.push_back(length(a) > 0.0 ? normalized(a) : Vec3{});
  }
  return normals;
}

double angle_at(const TriangleMesh& m, const Triangle& t, std::size_t corner) {
  const Vec3 a = m.points[t[(corner + 1) % 3]] - m.points[t[corner]];
  const Vec3 b = m.points[t[(corner + 2) % 3]] - m.points[t[corner]];
  return std::atan2(length(cross(a, b)), dot(a, b));
}

// What each vertex moves by for a thickness of 1 along the outside.
std::vector<Vec3> moves(const TriangleMesh& m, const std::vector<Vec3>& normals) {
  std::vector<Mitre> mitres(m.points.size());
  std::vector<bool> smooth(m.points.size(), !m.normals.empty());
  for (std::size_t k = 0; k < m.triangles.size(); ++k) {
    if (!(length(normals[k]) > 0.0)) continue;
    for (std::size_t c = 0; c < 3; ++c) {
      const std::uint32_t p = m.triangles[k][c];
      mitres[p].add(normals[k], angle_at(m, m.triangles[k], c));
      if (smooth[p] && dot(normals[k], m.normals[p]) < kAgrees) smooth[p] = false;
    }
  }
  std::vector<Vec3> made(m.points.size());
  for (std::size_t p = 0; p < made.size(); ++p)
    made[p] = smooth[p] ? m.normals[p] : mitres[p].move();
  return made;
}

struct Limit {
  double mm = std::numeric_limits<double>::infinity();
  Vec3 at;
  void take(double other, const Vec3& place) {
    if (!(other < mm)) return;
    mm = other;
    at = place;
  }
};

// The first s > 0 at which a + b s + c s² is 0.
std::optional<double> first_zero(double a, double b, double c) {
  if (std::abs(c) < 1e-14 * (std::abs(a) + std::abs(b)))
    return b < 0.0 ? std::optional(-a / b) : std::nullopt;
  const double d = b * b - 4.0 * a * c;
  if (d < 0.0) return std::nullopt;
  const double q = -0.5 * (b + std::copysign(std::sqrt(d), b));
  double first = std::numeric_limits<double>::infinity();
  for (const double s : {q / c, q != 0.0 ? a / q : -1.0})
    if (s > 0.0) first = std::min(first, s);
  return std::isfinite(first) ? std::optional(first) : std::nullopt;
}

// Where a triangle, each corner on its own way, first stands on edge and then looks backwards.
void limit_by_turning(const TriangleMesh& m, const std::vector<Vec3>& ways,
                      const std::vector<Vec3>& normals, double sign, Limit& limit) {
  for (std::size_t k = 0; k < m.triangles.size(); ++k) {
    const auto& [i, j, l] = m.triangles[k];
    const Vec3 a = m.points[j] - m.points[i], b = m.points[l] - m.points[i];
    const Vec3 da = (ways[j] - ways[i]) * sign, db = (ways[l] - ways[i]) * sign;
    const double area = dot(normals[k], cross(a, b));
    if (!(area > 0.0)) continue;
    const auto zero = first_zero(area, dot(normals[k], cross(da, b) + cross(a, db)),
                                 dot(normals[k], cross(da, db)));
    if (zero) limit.take(*zero, middle_of(m, m.triangles[k]));
  }
}

// What moves along `way` meets a plane that lies h away on it, and that comes against it by 1, when both have moved by
// h f / (1 + |way| f), f being how squarely the way meets the plane. Asked at every vertex and every triangle's middle.
void limit_by_opposite(const TriangleMesh& m, const std::vector<Vec3>& ways,
                       const std::vector<Vec3>& normals, double sign, const RayScene& scene,
                       Progress& progress, Limit& limit) {
  const Box3 b = box(m);
  const double near = 1e-5 * length(b.max - b.min);
  std::mutex door;
  const auto ask = [&](const Vec3& place, const Vec3& move, Limit& own) {
    const double speed = length(move);
    if (!(speed > 0.0)) return;
    const Vec3 way = move * (sign / speed);
    const auto hit = scene.first({place, way}, near);
    if (!hit) return;
    const double facing = -sign * dot(way, normals[hit->triangle]);
    if (facing > 0.0) own.take(hit->distance * facing / (1.0 + speed * facing), place);
  };
  const std::size_t vertices = m.points.size();
  parallel_blocks(vertices + normals.size(), kBlock, progress,
                  [&](std::size_t from, std::size_t to) {
                    Limit own;
                    for (std::size_t k = from; k < to; ++k)
                      if (k < vertices)
                        ask(m.points[k], ways[k], own);
                      else
                        ask(middle_of(m, m.triangles[k - vertices]), normals[k - vertices], own);
                    const std::lock_guard lock(door);
                    limit.take(own.mm, own.at);
                  });
}

// Open edges, as their triangles walk them.
using Rim = std::vector<std::array<std::uint32_t, 2>>;

Rim open_edges(const TriangleMesh& m) {
  std::vector<std::array<std::uint32_t, 3>> sides;  // lower, upper, 1 when walked upwards
  sides.reserve(3 * m.triangles.size());
  for (const Triangle& t : m.triangles)
    for (std::size_t c = 0; c < 3; ++c) {
      const std::uint32_t a = t[c], b = t[(c + 1) % 3];
      sides.push_back({std::min(a, b), std::max(a, b), a < b ? 1U : 0U});
    }
  std::sort(sides.begin(), sides.end());
  Rim made;
  for (std::size_t k = 0; k < sides.size(); ++k) {
    const auto& [a, b, up] = sides[k];
    const auto same = [&](std::size_t other) {
      return other < sides.size() && sides[other][0] == a && sides[other][1] == b;
    };
    if (k > 0 && same(k - 1)) continue;
    if (!same(k + 1)) made.push_back(up != 0 ? std::array{a, b} : std::array{b, a});
  }
  return made;
}

void check_skin(const TriangleMesh& m, double thickness, const Rim& rim) {
  if (!(thickness > 1e-9) || !std::isfinite(thickness))
    throw Error(say("A thickness of 0 makes no wall. Choose another."));
  if (m.triangles.empty())
    throw Error(say("There are no triangles to thicken. Choose a part that has some."));
  check(m);
  if (const EdgeReport edges = check_edges(m); edges.tangled > 0)
    throw Error(
        say("The mesh is tangled at {} edges, so that it has no two sides. Mend it before it is "
            "brought in, or take the part that it was made from.",
            edges.tangled));
  std::vector<bool> begun(m.points.size(), false);
  for (const auto& [a, b] : rim) {
    if (begun[a]) {
      const Vec3& p = m.points[a];
      throw Error(
          say("The mesh touches itself in a point of its border near ({:.1f}, {:.1f}, {:.1f}). "
              "Take that place away, and thicken again.",
              p.x, p.y, p.z));
    }
    begun[a] = true;
  }
}

void check_room(const Limit& room, double thickness) {
  if (room.mm > thickness) return;
  throw Error(
      say("The second skin would fold near ({:.1f}, {:.1f}, {:.1f}). There is room for a "
          "thickness of {:.3f} mm; another side may have more.",
          room.at.x, room.at.y, room.at.z, 0.999 * room.mm));
}

TriangleMesh moved(const TriangleMesh& m, const std::vector<Vec3>& ways, double by) {
  TriangleMesh made = m;
  if (by != 0.0)
    for (std::size_t p = 0; p < ways.size(); ++p) made.points[p] += ways[p] * by;
  return made;
}

TriangleMesh closed(TriangleMesh outer, TriangleMesh inner, const Rim& rim) {
  for (Triangle& t : inner.triangles) std::swap(t[1], t[2]);
  for (Vec3& n : inner.normals) n = -n;
  const auto below = static_cast<std::uint32_t>(outer.points.size());
  append(outer, inner);
  for (const auto& [a, b] : rim) {
    outer.triangles.push_back({b, a, a + below});
    outer.triangles.push_back({b, a + below, b + below});
  }
  // The border's vertices belong to the walls, too.
  if (!outer.normals.empty() && !rim.empty()) {
    const std::vector<Vec3> mean = averaged_normals(outer);
    for (const auto& [a, b] : rim)
      for (const std::uint32_t p : {a, a + below}) outer.normals[p] = mean[p];
  }
  return outer;
}

double greatest_miss(const TriangleMesh& m, const std::vector<Vec3>& ways,
                     const std::vector<Vec3>& normals) {
  double most = 0.0;
  for (std::size_t k = 0; k < m.triangles.size(); ++k) {
    if (!(length(normals[k]) > 0.0)) continue;
    for (const std::uint32_t p : m.triangles[k])
      most = std::max(most, std::abs(dot(ways[p], normals[k]) - 1.0));
  }
  return most;
}

}  // namespace

ThickMesh thickened(const TriangleMesh& skin, double thickness, ThickenSide side,
                    Progress& progress) {
  const Rim rim = open_edges(skin);
  check_skin(skin, thickness, rim);
  const std::vector<Vec3> normals = face_normals(skin);
  const std::vector<Vec3> ways = moves(skin, normals);
  const double out = side == ThickenSide::Outward     ? thickness
                     : side == ThickenSide::BothSides ? 0.5 * thickness
                                                      : 0.0;
  const double in = thickness - out;
  const RayScene scene(skin);
  Limit room;
  for (const auto& [by, sign] : {std::pair{out, 1.0}, std::pair{in, -1.0}}) {
    if (by == 0.0) continue;
    Limit limit;
    limit_by_turning(skin, ways, normals, sign, limit);
    limit_by_opposite(skin, ways, normals, sign, scene, progress, limit);
    room.take(limit.mm * thickness / by, limit.at);
  }
  check_room(room, thickness);
  return {closed(moved(skin, ways, out), moved(skin, ways, -in), rim),
          greatest_miss(skin, ways, normals) * std::max(out, in), rim.size()};
}

}  // namespace evenclay
