// The limit of Catmull–Clark at the points of a form, written once for anything that can be summed, as refine_rules.h.
// Sources as in refine.h.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

#include "core/subdivision/dart.h"
#include "core/subdivision/fan.h"
#include "core/subdivision/refine_rules.h"

namespace evenclay {

/// A run of faces between two sharp edges of a point, or the whole closed fan.
struct FanSector {
  std::size_t first = 0, count = 0;  ///< faces of the fan
  bool closed = false;
};

std::vector<FanSector> sectors_between(const Fan& fan, const std::vector<std::size_t>& sharp,
                                       PointRule rule);

/// The limit at a point of a form of quadrangles whose creases are sharp or none: its place, and for each sector
/// directions in the tangent plane, one behind the other counter-clockwise; the normal is the sum of the unit normals
/// between neighbours.
template <typename P>
struct LimitAtPoint {
  P place{};
  Fan fan;
  std::vector<FanSector> sectors;
  std::vector<std::vector<P>> tangents;  ///< of each sector
};

/// The sectors of a point of a form that is ready for limits.
std::vector<FanSector> sectors_at(const Form& form, const FormTopology& topology,
                                  std::uint32_t point, const Fan& fan);

template <typename P>
class LimitRules {
 public:
  LimitRules(const Form& form, const FormTopology& topology, const std::vector<P>& points)
      : form_(form), t_(topology), points_(points) {}

  /// At sharp edges directions are those of the ring after `more` subdivisions: at corners of three and more there is no
  /// tangent plane, and the mask along creases is exact for the usual counts of faces alone.
  LimitAtPoint<P> at(std::uint32_t p, int more = 0) const {
    LimitAtPoint<P> a;
    a.fan = fan_of(form_, t_, p);
    std::vector<std::size_t> sharp;  // places in fan.ends
    for (std::size_t k = 0; k < a.fan.ends.size(); ++k)
      if (is_sharp(form_, t_, p, a.fan.ends[k])) sharp.push_back(k);
    const PointRule rule = rule_of(sharp.size(), a.fan.faces.size() == 1 && !a.fan.closed);
    a.sectors = sectors_between(a.fan, sharp, rule);
    Ring ring = ring_of(p, a.fan);
    if (rule == PointRule::Smooth && sharp.size() == 1) {
      at_dart(ring, sharp[0], a);
      return a;
    }
    a.place = place_of(ring, sharp, rule);
    for (int k = 0; k < more && rule != PointRule::Smooth; ++k)
      ring = subdivided_ring(ring, sharp, rule);
    for (const FanSector& s : a.sectors) a.tangents.push_back(tangents_of(ring, s, rule));
    return a;
  }

 private:
  // A point, the ends of its edges and what lies opposite in its faces; counted on from the last to the first.
  struct Ring {
    P v{};
    std::vector<P> ends, diagonals;
    const P& end(std::size_t k) const { return ends[k % ends.size()]; }
    const P& diagonal(std::size_t k) const { return diagonals[k % diagonals.size()]; }
  };
  Ring ring_of(std::uint32_t p, const Fan& fan) const {
    Ring r{points_[p], {}, {}};
    for (const std::uint32_t q : fan.ends) r.ends.push_back(points_[q]);
    for (const std::uint32_t q : fan.diagonals) r.diagonals.push_back(points_[q]);
    return r;
  }
  // The same after one subdivision.
  static Ring subdivided_ring(const Ring& r, const std::vector<std::size_t>& sharp,
                              PointRule rule) {
    Ring next = r;
    const std::size_t n = r.diagonals.size();
    for (std::size_t k = 0; k < n; ++k)
      next.diagonals[k] = (r.v + r.end(k) + r.diagonal(k) + r.end(k + 1)) * 0.25;
    for (std::size_t k = 0; k < r.ends.size(); ++k) {
      const bool along = std::find(sharp.begin(), sharp.end(), k) != sharp.end();
      next.ends[k] = along ? (r.v + r.ends[k]) * 0.5
                           : (r.v + r.ends[k] + next.diagonal(k) + next.diagonal(k + n - 1)) * 0.25;
    }
    if (rule == PointRule::Crease)
      next.v = (r.v * 6.0 + r.ends[sharp[0]] + r.ends[sharp[1]]) * 0.125;
    return next;
  }
  static P place_of(const Ring& r, const std::vector<std::size_t>& sharp, PointRule rule) {
    if (rule == PointRule::Corner) return r.v;
    if (rule == PointRule::Crease) return (r.v * 4.0 + r.end(sharp[0]) + r.end(sharp[1])) / 6.0;
    const auto n = static_cast<double>(r.diagonals.size());
    P ends{}, diagonals{};
    for (std::size_t k = 0; k < r.diagonals.size(); ++k) {
      ends += r.end(k);
      diagonals += r.diagonal(k);
    }
    return (r.v * (n * n) + ends * 4.0 + diagonals) / (n * (n + 5.0));
  }
  static std::vector<P> tangents_of(const Ring& r, const FanSector& s, PointRule rule) {
    if (rule == PointRule::Smooth && s.count > 2) return smooth_tangents(r);
    // Of two faces all around both differences fall to a quarter with each subdivision.
    if (rule == PointRule::Smooth && s.closed && s.count == 2)
      return {r.end(0) - r.end(1), r.diagonal(0) - r.diagonal(1)};
    if (rule == PointRule::Crease) return crease_tangents(r, s);
    std::vector<P> all;
    for (std::size_t k = s.first; k <= s.first + s.count; ++k) all.push_back(r.end(k) - r.v);
    return all;
  }
  static void at_dart(const Ring& r, std::size_t sharp, LimitAtPoint<P>& a) {
    const std::size_t n = r.diagonals.size();
    const DartMasks masks = dart_masks(n);
    const auto summed = [&](const std::vector<double>& mask) {
      P sum = r.v * mask[0];
      for (std::size_t k = 0; k < n; ++k) {
        sum += r.end(sharp + k) * mask[1 + k];
        sum += r.diagonal(sharp + k) * mask[1 + n + k];
      }
      return sum;
    };
    a.place = summed(masks.place);
    a.tangents = {{summed(masks.x), summed(masks.y)}};
  }
  // The two tangents are the second Fourier components of the ring around.
  static std::vector<P> smooth_tangents(const Ring& r) {
    const std::size_t n = r.diagonals.size();
    const double turn = 2.0 * std::numbers::pi / static_cast<double>(n);
    const double c = std::cos(turn);
    const double a = 1.0 + c + std::cos(0.5 * turn) * std::sqrt(2.0 * (9.0 + c));
    P x{}, y{};
    for (std::size_t k = 0; k < n; ++k) {
      const double now = turn * static_cast<double>(k);
      const double next = now + turn;
      x += r.end(k) * (a * std::cos(now)) + r.diagonal(k) * (std::cos(now) + std::cos(next));
      y += r.end(k) * (a * std::sin(now)) + r.diagonal(k) * (std::sin(now) + std::sin(next));
    }
    return {x, y};
  }
  // Along the crease, and into the sector (H. Biermann, A. Levin, D. Zorin, Piecewise smooth subdivision surfaces with
  // normal control, 2000, from memory).
  static std::vector<P> crease_tangents(const Ring& r, const FanSector& s) {
    const P along = r.end(s.first) - r.end(s.first + s.count);
    if (s.count == 1) return {along, r.end(s.first) * 3.0 + r.end(s.first + 1) * 3.0 - r.v * 6.0};
    const double angle = std::numbers::pi / static_cast<double>(s.count);
    const double c = std::cos(angle);
    const double f = (c + 1.0) / std::sin(angle);
    P inward = r.v * (4.0 * f * (c - 1.0)) -
               (r.end(s.first) + r.end(s.first + s.count)) * (f * (1.0 + 2.0 * c)) +
               r.diagonal(s.first) * std::sin(angle);
    for (std::size_t k = 1; k < s.count; ++k) {
      const double now = std::sin(angle * static_cast<double>(k));
      const double next = std::sin(angle * static_cast<double>(k + 1));
      inward += r.end(s.first + k) * (4.0 * now) + r.diagonal(s.first + k) * (now + next);
    }
    return {along, inward};
  }

  const Form& form_;
  const FormTopology& t_;
  const std::vector<P>& points_;
};

/// Whether limits are known at once: quadrangles only, and creases sharp or none.
bool ready_for_limit(const Form& form);
/// Writes a vertex into the corner that each face of the sector has at a point.
void set_corners(const Form& form, const Fan& fan, const FanSector& sector, std::uint32_t point,
                 std::uint32_t vertex, std::vector<std::array<std::uint32_t, 4>>& corners);
/// Whether the shorter diagonal of a quadrangle is that between its second and fourth corner.
bool halved_otherwise(const std::vector<Vec3>& points, const std::array<std::uint32_t, 4>& corners);
std::array<std::array<std::uint32_t, 3>, 2> halved(const std::array<std::uint32_t, 4>& corners,
                                                   bool otherwise);
/// The quadrangle halved along its shorter diagonal.
void add_quad(const std::vector<Vec3>& points, const std::array<std::uint32_t, 4>& corners,
              std::vector<std::array<std::uint32_t, 3>>& triangles);

}  // namespace evenclay
