#include "core/stand_ins/scanner.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/mesh/ray_scene.h"

namespace evenclay {

namespace {

constexpr double kMostRays = 16e6;
constexpr double kSteep = 0.17364817766693041;  // cosine of 80°

// Chance by number instead of by order, so that any core may draw it.
// Source: G. Steele, D. Lea, C. Flood, Fast splittable pseudorandom number generators, 2014.
class Chance {
 public:
  Chance(std::uint64_t seed, std::uint64_t stream)
      : base_(mixed(seed * 0x9E3779B97F4A7C15ULL + stream)) {}
  /// 0 to below 1.
  double share(std::uint64_t number) const {
    return static_cast<double>(mixed(base_ + number * 0x9E3779B97F4A7C15ULL) >> 11) * 0x1.0p-53;
  }
  /// Normally distributed. Source: G. Box, M. Muller, A note on the generation of random normal deviates, 1958.
  double normal(std::uint64_t number) const {
    const double a = 1.0 - share(2 * number), b = share(2 * number + 1);
    return std::sqrt(-2.0 * std::log(a)) * std::cos(2.0 * std::numbers::pi * b);
  }
  Vec3 direction(std::uint64_t number) const {
    const Vec3 v{normal(3 * number), normal(3 * number + 1), normal(3 * number + 2)};
    return length(v) > 1e-9 ? normalized(v) : Vec3{1, 0, 0};
  }

 private:
  static std::uint64_t mixed(std::uint64_t z) {
    z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
    z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
    return z ^ (z >> 31);
  }
  std::uint64_t base_;
};

// Streams of chance.
enum : std::uint64_t { kNoise = 1, kStray, kStrayFar, kTear, kHoles, kDrift };

void check(const ScanPlan& p) {
  const auto within = [](double x, double least, double most) { return x >= least && x <= most; };
  if (!(p.spacing > 0.0 && std::isfinite(p.spacing)))
    throw Error(say("The resolution of a scan must be above 0 mm."));
  if (!within(p.noise, 0.0, 100.0) || !within(p.torn, 0.0, 1000.0) ||
      !within(p.hole_size, 0.0, 1000.0) || !within(p.drift, 0.0, 1000.0) ||
      !within(p.drift_angle, 0.0, 180.0))
    throw Error(say("Noise, torn borders, holes and drift of a scan cannot be below 0."));
  if (!within(p.outliers, 0.0, 1.0))
    throw Error(say("Stray points are a share between 0 and 100 %."));
  if (p.passes < 1 || p.passes > 24 || p.holes < 0 || p.holes > 200)
    throw Error(say("A scan has 1 to 24 passes and at most 200 holes."));
  if (!(std::abs(length(p.from) - 1.0) < 1e-6))
    throw Error(say("The direction from which a scan is taken has no length."));
}

Vec3 turned(const Vec3& v, const Vec3& axis, double angle) {
  return v * std::cos(angle) + cross(axis, v) * std::sin(angle) +
         axis * (dot(axis, v) * (1.0 - std::cos(angle)));
}

Frame facing(const Vec3& z) {
  const Vec3 up = std::abs(z.z) < 0.9 ? Vec3{0, 0, 1} : Vec3{0, 1, 0};
  const Vec3 x = normalized(cross(up, z));
  return {{}, x, cross(z, x), z};
}

// What one pass saw, cell by cell.
struct Picture {
  std::size_t wide = 0, high = 0;
  std::vector<char> seen;
  std::vector<Vec3> at, normal;
  std::size_t count() const { return wide * high; }
};

Picture looked(const TriangleMesh& form, const RayScene& scene, const Frame& frame, double spacing,
               Progress& progress) {
  Box3 box;
  for (const Vec3& p : form.points) box.add(frame.to_local(p));
  const Vec3 extent = box.max - box.min;
  const double wide = std::floor(extent.x / spacing) + 1.0,
               high = std::floor(extent.y / spacing) + 1.0;
  if (!(wide * high <= kMostRays))
    throw Error(
        say("A resolution of {:g} mm takes {:.0f} million rays for this form, more than "
            "16. Scan it more "
            "coarsely.",
            spacing, wide * high / 1e6));
  Picture p{static_cast<std::size_t>(wide), static_cast<std::size_t>(high), {}, {}, {}};
  p.seen.assign(p.count(), 0);
  p.at.resize(p.count());
  p.normal.resize(p.count());
  const double far = box.max.z + 0.01 * extent.z + 1.0;
  parallel_blocks(p.count(), 4096, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t c = begin; c < end; ++c) {
      const Vec3 start{box.min.x + spacing * (0.5 * (extent.x / spacing - wide + 1.0) +
                                              static_cast<double>(c % p.wide)),
                       box.min.y + spacing * (0.5 * (extent.y / spacing - high + 1.0) +
                                              static_cast<double>(c / p.wide)),
                       far};
      const Ray ray{frame.to_world(start), -frame.z};
      const auto hit = scene.first(ray);
      if (!hit) continue;
      const auto& t = form.triangles[hit->triangle];
      const Vec3& a = form.points[t[0]];
      const Vec3 n = normalized(cross(form.points[t[1]] - a, form.points[t[2]] - a));
      const double faces = dot(n, frame.z);
      if (std::abs(faces) < kSteep) continue;
      p.seen[c] = 1;
      p.normal[c] = faces < 0.0 ? -n : n;
      // Exactly on the triangle's plane: the ray's own distance is kept in float.
      p.at[c] = ray.origin - frame.z * (dot(ray.origin - a, n) / faces);
    }
  });
  return p;
}

// How far each cell is from the nearest one that was not seen, in cells, by two sweeps.
// Source: G. Borgefors, Distance transformations in digital images, 1986 (chamfer 5-7-11, here 1 and √2).
std::vector<float> to_border(const Picture& p) {
  std::vector<float> d(p.count(), 1e9F);
  const auto value = [&](std::ptrdiff_t x, std::ptrdiff_t y) {
    if (x < 0 || y < 0 || x >= static_cast<std::ptrdiff_t>(p.wide) ||
        y >= static_cast<std::ptrdiff_t>(p.high))
      return 0.0F;
    return d[static_cast<std::size_t>(y) * p.wide + static_cast<std::size_t>(x)];
  };
  const auto sweep = [&](std::size_t c, std::ptrdiff_t s) {
    if (p.seen[c] == 0) {
      d[c] = 0.0F;
      return;
    }
    const auto x = static_cast<std::ptrdiff_t>(c % p.wide),
               y = static_cast<std::ptrdiff_t>(c / p.wide);
    d[c] = std::min({d[c], value(x - s, y) + 1.0F, value(x, y - s) + 1.0F,
                     value(x - s, y - s) + 1.4142F, value(x + s, y - s) + 1.4142F});
  };
  for (std::size_t c = 0; c < p.count(); ++c) sweep(c, 1);
  for (std::size_t c = p.count(); c-- > 0;) sweep(c, -1);
  return d;
}

// Slow waves of chance, 0..1, about as long as `cells`.
double wave(const Chance& chance, double x, double y, double cells) {
  const double gx = std::floor(x / cells), gy = std::floor(y / cells);
  const auto corner = [&](double i, double j) {
    return chance.share(static_cast<std::uint64_t>(static_cast<std::int64_t>(i) * 8191 +
                                                   static_cast<std::int64_t>(j) * 131071));
  };
  const auto ease = [](double t) { return t * t * (3.0 - 2.0 * t); };
  const double a = ease(x / cells - gx), b = ease(y / cells - gy);
  return (corner(gx, gy) * (1 - a) + corner(gx + 1, gy) * a) * (1 - b) +
         (corner(gx, gy + 1) * (1 - a) + corner(gx + 1, gy + 1) * a) * b;
}

void tear(Picture& p, const ScanPlan& plan, std::uint64_t stream) {
  if (!(plan.torn > 0.0)) return;
  const Chance chance(plan.seed, stream + kTear);
  const std::vector<float> border = to_border(p);
  const double cells = std::max(2.0, 1.5 * plan.torn / plan.spacing);
  for (std::size_t c = 0; c < p.count(); ++c) {
    if (p.seen[c] == 0) continue;
    const auto x = static_cast<double>(c % p.wide), y = static_cast<double>(c / p.wide);
    const double depth = plan.torn * (0.7 * wave(chance, x, y, cells) +
                                      0.3 * wave(chance, x + 977.0, y, 0.25 * cells + 1.0));
    if (static_cast<double>(border[c]) * plan.spacing <= depth) p.seen[c] = 0;
  }
}

void punch(Picture& p, const ScanPlan& plan, std::uint64_t stream) {
  if (plan.holes == 0 || !(plan.hole_size > 0.0)) return;
  const Chance chance(plan.seed, stream + kHoles);
  const std::vector<float> border = to_border(p);
  std::vector<std::size_t> places;  // well inside, so that a hole is one
  for (const double share : {1.0, 0.6, 0.0}) {
    for (std::size_t c = 0; c < p.count(); ++c)
      if (p.seen[c] != 0 && static_cast<double>(border[c]) * plan.spacing > share * plan.hole_size)
        places.push_back(c);
    if (!places.empty()) break;
  }
  for (int h = 0; h < plan.holes && !places.empty(); ++h) {
    const auto number = static_cast<std::uint64_t>(h);
    const std::size_t middle = places[static_cast<std::size_t>(chance.share(3 * number) *
                                                               static_cast<double>(places.size()))];
    const auto mx = static_cast<double>(middle % p.wide), my = static_cast<double>(middle / p.wide);
    const double radius =
        0.5 * plan.hole_size * (0.7 + 0.6 * chance.share(3 * number + 1)) / plan.spacing;
    const double phase = 6.28 * chance.share(3 * number + 2);
    for (std::size_t c = 0; c < p.count(); ++c) {
      const double x = static_cast<double>(c % p.wide) - mx,
                   y = static_cast<double>(c / p.wide) - my;
      const double ragged = 1.0 + 0.18 * std::sin(3.0 * std::atan2(y, x) + phase) +
                            0.08 * std::sin(7.0 * std::atan2(y, x));
      if (std::hypot(x, y) < radius * ragged) p.seen[c] = 0;
    }
  }
}

void shake(Picture& p, const ScanPlan& plan, const Vec3& along, std::uint64_t stream,
           Progress& progress) {
  const Chance noise(plan.seed, stream + kNoise), stray(plan.seed, stream + kStray),
      far(plan.seed, stream + kStrayFar);
  parallel_blocks(p.count(), 8192, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t c = begin; c < end; ++c) {
      if (p.seen[c] == 0) continue;
      p.at[c] += along * (plan.noise * noise.normal(c));
      if (stray.share(c) >= plan.outliers) continue;
      const double away = 3.0 + 7.0 * far.share(2 * c);
      p.at[c] += along * (far.share(2 * c + 1) < 0.5 ? -away : away);
    }
  });
}

// Neighbours that do not stand apart in depth become triangles, across the shorter diagonal.
TriangleMesh joined(const Picture& p, const Vec3& along, double spacing) {
  TriangleMesh mesh;
  constexpr auto kNone = static_cast<std::uint32_t>(-1);
  std::vector<std::uint32_t> number(p.count(), kNone);
  for (std::size_t c = 0; c < p.count(); ++c)
    if (p.seen[c] != 0) {
      number[c] = static_cast<std::uint32_t>(mesh.points.size());
      mesh.points.push_back(p.at[c]);
      mesh.normals.push_back(p.normal[c]);
    }
  const auto near = [&](std::size_t a, std::size_t b) {
    return std::abs(dot(p.at[a] - p.at[b], along)) < 4.0 * spacing;
  };
  const auto add = [&](std::size_t a, std::size_t b, std::size_t c) {
    if (number[a] == kNone || number[b] == kNone || number[c] == kNone) return;
    if (near(a, b) && near(b, c) && near(c, a))
      mesh.triangles.push_back({number[a], number[b], number[c]});
  };
  for (std::size_t y = 0; y + 1 < p.high; ++y)
    for (std::size_t x = 0; x + 1 < p.wide; ++x) {
      const std::size_t a = y * p.wide + x, b = a + 1, c = a + p.wide, d = c + 1;
      const bool other = p.seen[a] == 0 || p.seen[d] == 0 ||
                         (p.seen[b] != 0 && p.seen[c] != 0 &&
                          distance(p.at[b], p.at[c]) < distance(p.at[a], p.at[d]));
      add(a, b, other ? c : d);
      if (other)
        add(b, d, c);
      else
        add(a, d, c);
    }
  return mesh;
}

void move_away(TriangleMesh& mesh, const ScanPlan& plan, int pass) {
  if (pass == 0 || (plan.drift == 0.0 && plan.drift_angle == 0.0)) return;
  const Chance chance(plan.seed, static_cast<std::uint64_t>(pass) * 16 + kDrift);
  const Vec3 beside = chance.direction(0) * plan.drift, axis = chance.direction(1);
  const double angle = radians(plan.drift_angle);
  const Vec3 middle = box(mesh).centre();
  for (Vec3& p : mesh.points) p = middle + turned(p - middle, axis, angle) + beside;
  for (Vec3& n : mesh.normals) n = turned(n, axis, angle);
}

}  // namespace

TriangleMesh scanned(const TriangleMesh& form, const ScanPlan& plan, Progress& progress) {
  check(plan);
  check(form);
  if (form.triangles.empty()) throw Error(say("There is nothing to scan: the form has no faces."));
  const RayScene scene(form);
  TriangleMesh all;
  for (int pass = 0; pass < plan.passes; ++pass) {
    const auto stream = static_cast<std::uint64_t>(pass) * 16;
    const Frame frame = facing(turned(plan.from, {0, 0, 1}, radians(plan.turn * pass)));
    Picture p = looked(form, scene, frame, plan.spacing, progress);
    tear(p, plan, stream);
    punch(p, plan, stream);
    shake(p, plan, frame.z, stream, progress);
    TriangleMesh seen = joined(p, frame.z, plan.spacing);
    move_away(seen, plan, pass);
    append(all, seen);
    progress.report(static_cast<double>(pass + 1) / plan.passes);
  }
  if (all.points.empty())
    throw Error(say(
        "The scanner saw nothing of this form. Scan it more finely, from another side, or tear off "
        "less."));
  return all;
}

}  // namespace evenclay
