#include "core/stand_ins/printer.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <unordered_map>
#include <utility>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/least_rectangle.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/mesh/area_vector.h"

namespace evenclay {

namespace {

using Triangle = std::array<std::uint32_t, 3>;

constexpr std::array<PrintBed, 5> kBeds{{{"small", "Small, 120 × 120 × 120 mm", {120, 120, 120}},
                                         {"middle", "Middle, 220 × 220 × 250 mm", {220, 220, 250}},
                                         {"large", "Large, 300 × 300 × 400 mm", {300, 300, 400}},
                                         {"flat", "Flat, 350 × 200 × 120 mm", {350, 200, 120}},
                                         {"tall", "Tall, 145 × 80 × 200 mm", {145, 80, 200}}}};

Vec3 turned(const Frame& f, const Vec3& p) {
  return {dot(p, f.x), dot(p, f.y), dot(p, f.z)};
}

// Turned about the upright so that it needs the smallest rectangle. The longer side goes along x.
Frame with_least_rectangle(const TriangleMesh& m, const Frame& f, Vec3& extent) {
  std::vector<Vec3> flat;
  double low = 1e300, high = -1e300;
  for (const Vec3& p : m.points) {
    flat.push_back(turned(f, p));
    low = std::min(low, flat.back().z);
    high = std::max(high, flat.back().z);
  }
  const LeastRectangle r = least_rectangle(std::move(flat));
  extent = {r.wide, r.high, high - low};
  return {{}, f.x * r.x.x + f.y * r.x.y, f.y * r.x.x - f.x * r.x.y, f.z};
}

bool fits_on(const Vec3& size, const Vec3& bed) {
  const double a = std::max(bed.x, bed.y), b = std::min(bed.x, bed.y);
  return size.x <= a && size.y <= b && size.z <= bed.z;
}

// The middle of what the form bounds, or of its skin when it is open.
Vec3 middle_of_all(const TriangleMesh& m) {
  const Vec3 about = box(m).centre();
  Vec3 by_volume, by_area;
  double volume = 0.0, skin = 0.0;
  for (const Triangle& t : m.triangles) {
    const Vec3 a = m.points[t[0]] - about, b = m.points[t[1]] - about, c = m.points[t[2]] - about;
    const double v = dot(a, cross(b, c)), s = length(cross(b - a, c - a));
    by_volume += (a + b + c) * (0.25 * v);
    by_area += (a + b + c) * (s / 3.0);
    volume += v;
    skin += s;
  }
  if (check_edges(m).watertight() && std::abs(volume) > 1e-12) return about + by_volume / volume;
  return skin > 0.0 ? about + by_area / skin : about;
}

// How far it may be tilted until its middle is above the border of what lies on the bed.
double tips_at(const TriangleMesh& m, const Frame& f, double floor, double near,
               const Vec3& middle) {
  std::vector<Vec3> lies;
  for (const Vec3& p : m.points)
    if (dot(p, f.z) <= floor + near) lies.push_back({dot(p, f.x), dot(p, f.y), 0.0});
  const std::vector<Vec3> h = convex_hull(std::move(lies));
  if (h.size() < 3) return 0.0;
  const Vec3 at = turned(f, middle);
  double least = 1e300;
  for (std::size_t k = 0; k < h.size(); ++k) {
    const Vec3 way = h[(k + 1) % h.size()] - h[k];
    if (!(length(way) > 1e-12)) continue;
    least = std::min(least, (way.x * (at.y - h[k].y) - way.y * (at.x - h[k].x)) / length(way));
  }
  return least > 0.0 ? std::atan2(least, at.z - floor) * 180.0 / std::numbers::pi : 0.0;
}

Lay measured(const TriangleMesh& m, Lay lay, const PrintSettings& s, const Vec3& middle) {
  double floor = 1e300;
  for (const Vec3& p : m.points) floor = std::min(floor, dot(p, lay.turn.z));
  lay.tips_at = tips_at(m, lay.turn, floor, 0.5 * s.layer, middle);
  const double steep = -std::sin(radians(std::min(s.overhang, 89.9)));
  const double near = 0.5 * s.layer;
  for (const Triangle& t : m.triangles) {
    const Vec3 area = area_vector(m, t);
    const double size = length(area), down = dot(area, lay.turn.z);
    if (!(size > 0.0) || down >= steep * size) continue;
    const double height = dot(middle_of(m, t), lay.turn.z) - floor;
    if (height <= near) continue;
    lay.overhang += size;
    lay.supported -= down * height;
  }
  lay.fits = fits_on(lay.size, s.bed);
  return lay;
}

Frame looking_down(const Vec3& direction) {
  const Vec3 z = -normalized(direction);
  const Vec3 x = normalized(cross(std::abs(z.x) < 0.9 ? Vec3{1, 0, 0} : Vec3{0, 1, 0}, z));
  return {{}, x, cross(z, x), z};
}

// Directions in which much area looks, as means over small cells, then those of a cube's faces, edges and corners.
std::vector<Vec3> candidates(const TriangleMesh& m) {
  constexpr double kCells = 12.0;
  constexpr std::size_t kMost = 24;
  std::map<std::array<int, 3>, Vec3> cells;
  for (const Triangle& t : m.triangles) {
    const Vec3 area = area_vector(m, t);
    if (!(length(area) > 0.0)) continue;
    const Vec3 n = normalized(area);
    cells[{static_cast<int>(std::lround(n.x * kCells)), static_cast<int>(std::lround(n.y * kCells)),
           static_cast<int>(std::lround(n.z * kCells))}] += area;
  }
  std::vector<Vec3> most;
  for (const auto& [cell, area] : cells) most.push_back(area);
  std::stable_sort(most.begin(), most.end(),
                   [](const Vec3& a, const Vec3& b) { return length(a) > length(b); });
  most.resize(std::min(most.size(), kMost));
  for (int x = -1; x <= 1; ++x)
    for (int y = -1; y <= 1; ++y)
      for (int z = -1; z <= 1; ++z)
        if (x != 0 || y != 0 || z != 0)
          most.push_back({static_cast<double>(x), static_cast<double>(y), static_cast<double>(z)});
  std::erase_if(most, [](const Vec3& v) { return !(length(v) > 1e-12); });
  return most;
}

}  // namespace

std::span<const PrintBed> print_beds() {
  return kBeds;
}

Lay lay_turned(const TriangleMesh& mesh, const std::array<double, 3>& degrees,
               const PrintSettings& settings) {
  Lay lay;
  Frame f;  // rows: the world's axes seen from the form
  for (std::size_t axis = 0; axis < 3; ++axis) {
    const double c = std::cos(radians(degrees[axis])), s = std::sin(radians(degrees[axis]));
    Vec3* rows[] = {&f.x, &f.y, &f.z};
    Vec3 &a = *rows[(axis + 1) % 3], &b = *rows[(axis + 2) % 3];
    const Vec3 old_a = a, old_b = b;
    a = old_a * c - old_b * s;
    b = old_a * s + old_b * c;
  }
  lay.turn = f;
  Box3 box;
  for (const Vec3& p : mesh.points) box.add(turned(f, p));
  lay.size = box.empty() ? Vec3{} : box.max - box.min;
  if (!fits_on(lay.size, settings.bed) && lay.size.y > lay.size.x) {
    // A quarter turn may help, as it would by hand.
    const Vec3 quarter{lay.size.y, lay.size.x, lay.size.z};
    if (fits_on(quarter, settings.bed)) {
      lay.size = quarter;
      lay.turn = {{}, f.y, -f.x, f.z};
    }
  }
  return measured(mesh, lay, settings, middle_of_all(mesh));
}

Lay best_lay(const TriangleMesh& mesh, const PrintSettings& settings, Progress& progress) {
  if (mesh.triangles.empty())
    throw Error(say("There is nothing to print: the part has no triangles."));
  const std::vector<Vec3> tried = candidates(mesh);
  std::vector<Lay> lays(tried.size());
  const Vec3 middle = middle_of_all(mesh);
  parallel_blocks(tried.size(), 1, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      Lay lay;
      lay.turn = with_least_rectangle(mesh, looking_down(tried[k]), lay.size);
      lays[k] = measured(mesh, lay, settings, middle);
    }
  });
  const Vec3 extent = box(mesh).max - box(mesh).min;
  const double little = 0.02 * extent.x * extent.y * extent.z;
  const auto better = [&](const Lay& a, const Lay& b) {
    constexpr double kStands = 10.0;
    if (a.fits != b.fits) return a.fits;
    if ((a.tips_at >= kStands) != (b.tips_at >= kStands)) return a.tips_at >= kStands;
    if (std::abs(a.supported - b.supported) > little) return a.supported < b.supported;
    return a.size.z < b.size.z * (1.0 - 1e-9);
  };
  const Lay* best = &lays.front();
  for (const Lay& lay : lays)
    if (better(lay, *best)) best = &lay;
  return *best;
}

TriangleMesh laid(const TriangleMesh& mesh, const Lay& lay) {
  TriangleMesh m = mesh;
  for (Vec3& p : m.points) p = turned(lay.turn, p);
  for (Vec3& n : m.normals) n = turned(lay.turn, n);
  const Box3 b = box(m);
  if (b.empty()) return m;
  const Vec3 to{b.centre().x, b.centre().y, b.min.z};
  for (Vec3& p : m.points) p = p - to;
  return m;
}

namespace {

// Where the plane crosses edges: each triangle leads from one edge to another, the inside to the left. A vertex on the
// plane counts as above it, so that every triangle is crossed twice or not at all.
Slice cut(const TriangleMesh& m, const std::vector<std::uint32_t>& triangles, double z) {
  Slice slice{.z = z, .loops = {}};
  std::unordered_map<std::uint64_t, std::uint64_t> next;
  std::unordered_map<std::uint64_t, char> entered;
  const auto key = [](std::uint32_t a, std::uint32_t b) {
    return (static_cast<std::uint64_t>(std::min(a, b)) << 32U) | std::max(a, b);
  };
  for (const std::uint32_t k : triangles) {
    const Triangle& t = m.triangles[k];
    std::uint64_t up = 0, down = 0;
    for (std::size_t c = 0; c < 3; ++c) {
      const std::uint32_t a = t[c], b = t[(c + 1) % 3];
      const bool above_a = m.points[a].z >= z, above_b = m.points[b].z >= z;
      if (!above_a && above_b) up = key(a, b);
      if (above_a && !above_b) down = key(a, b);
    }
    if (up == down) continue;
    next[down] = up;
    entered[up] = 1;
  }
  const auto place = [&](std::uint64_t edge) {
    const Vec3 &a = m.points[static_cast<std::uint32_t>(edge >> 32U)],
               &b = m.points[static_cast<std::uint32_t>(edge & 0xFFFFFFFFU)];
    Vec3 p = a + (b - a) * ((z - a.z) / (b.z - a.z));
    p.z = z;
    return p;
  };
  // Open ones begin where nothing leads in.
  std::vector<std::uint64_t> firsts;
  for (const auto& [from, to] : next)
    if (!entered.contains(from)) firsts.push_back(from);
  std::sort(firsts.begin(), firsts.end());
  slice.open = firsts.size();
  std::vector<std::uint64_t> all;
  for (const auto& [from, to] : next) all.push_back(from);
  std::sort(all.begin(), all.end());
  firsts.insert(firsts.end(), all.begin(), all.end());
  for (const std::uint64_t first : firsts) {
    if (!next.contains(first)) continue;
    std::vector<Vec3> loop;
    for (auto at = next.find(first); at != next.end();) {
      loop.push_back(place(at->first));
      const std::uint64_t to = at->second;
      next.erase(at);
      at = next.find(to);
    }
    slice.loops.push_back(std::move(loop));
  }
  for (const std::vector<Vec3>& loop : slice.loops)
    for (std::size_t k = 0; k < loop.size(); ++k) {
      const Vec3 &a = loop[k], &b = loop[(k + 1) % loop.size()];
      slice.area += 0.5 * (a.x * b.y - a.y * b.x);
      slice.length += distance(a, b);
    }
  return slice;
}

}  // namespace

std::vector<Slice> slices(const TriangleMesh& mesh, double layer, Progress& progress) {
  constexpr double kMost = 20000.0;
  const Box3 b = box(mesh);
  if (b.empty()) return {};
  const double count = std::ceil(b.max.z / layer - 1e-9);
  if (!(count <= kMost))
    throw Error(say("The form would need {:.0f} layers; {:.0f} are the most. Use thicker ones.",
                    count, kMost));
  std::vector<std::vector<std::uint32_t>> crossed(static_cast<std::size_t>(std::max(0.0, count)));
  for (std::uint32_t k = 0; k < mesh.triangles.size(); ++k) {
    double low = 1e300, high = -1e300;
    for (const std::uint32_t v : mesh.triangles[k]) {
      low = std::min(low, mesh.points[v].z);
      high = std::max(high, mesh.points[v].z);
    }
    const auto first = static_cast<std::size_t>(std::max(0.0, std::floor(low / layer - 0.5)));
    for (std::size_t n = first; n < crossed.size(); ++n) {
      const double z = (static_cast<double>(n) + 0.5) * layer;
      if (z > high) break;
      if (z > low) crossed[n].push_back(k);
    }
  }
  std::vector<Slice> all(crossed.size());
  parallel_blocks(all.size(), 4, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t n = begin; n < end; ++n)
      all[n] = cut(mesh, crossed[n], (static_cast<double>(n) + 0.5) * layer);
  });
  return all;
}

PrintEstimate estimate(const std::vector<Slice>& layers, double supported, const PrintSettings& s) {
  constexpr std::size_t kFilled = 4;
  constexpr double kDensity = 1.24e-3, kThread = 1.75, kWays = 7.0 / 6.0, kEach = 2.0;
  PrintEstimate e;
  double seconds = 0.0;
  for (std::size_t k = 0; k < layers.size(); ++k) {
    const bool filled = k < kFilled || k + kFilled >= layers.size();
    const double area = std::max(0.0, layers[k].area);
    const double walls = std::min(area, s.walls * layers[k].length * s.line);
    const double laid_area = walls + (filled ? 1.0 : s.infill) * (area - walls);
    e.material += laid_area * s.layer;
    seconds += laid_area / s.line / s.speed * kWays + kEach;
  }
  e.support = s.support * supported;
  seconds += e.support / (s.line * s.layer) / s.speed * kWays;
  e.grams = (e.material + e.support) * kDensity;
  e.filament = (e.material + e.support) / (std::numbers::pi / 4.0 * kThread * kThread) * 1e-3;
  e.hours = seconds / 3600.0;
  return e;
}

}  // namespace evenclay
