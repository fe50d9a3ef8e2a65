#include "core/scan/fit_scan.h"

#include <fmt/format.h>
#include <Eigen/Eigenvalues>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <functional>

#include "core/base/bins.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/base/select.h"
#include "core/nurbs/feet.h"
#include "core/nurbs/projection.h"
#include "core/scan/scan_cells.h"
#include "core/scan/scattered_fit.h"
#include "core/scan/stray_points.h"

namespace evenclay {

namespace {

constexpr int kMostPoints = 200;
constexpr std::size_t kCorrected = 50'000;  // points on which parameters are corrected

Vec3 middle_of(std::span<const Vec3> points) {
  Vec3 sum;
  for (const Vec3& p : points) sum += p;
  return points.empty() ? sum : sum / static_cast<double>(points.size());
}

Eigen::Matrix3d spread_of(std::span<const Vec3> points, const Vec3& middle) {
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const Vec3& p : points) {
    const Vec3 d = p - middle;
    const Eigen::Vector3d e(d.x, d.y, d.z);
    spread += e * e.transpose();
  }
  return spread;
}

// The sign of an axis is chance; the one whose greatest part is positive is taken.
Vec3 forward(const Eigen::Vector3d& e) {
  const Vec3 v{e.x(), e.y(), e.z()};
  const Vec3 a{std::abs(v.x), std::abs(v.y), std::abs(v.z)};
  const double lead = a.x >= a.y && a.x >= a.z ? v.x : (a.y >= a.z ? v.y : v.z);
  return lead < 0.0 ? -v : v;
}

}  // namespace

Frame best_frame(std::span<const Vec3> points, std::span<const Vec3> normals) {
  const Vec3 middle = middle_of(points);
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> parts(spread_of(points, middle));
  if (!(parts.eigenvalues()(1) > 1e-12 * parts.eigenvalues()(2)))
    throw Error(say("The scan's points lie in one line. Clip a region that has an area."));
  Vec3 z = forward(parts.eigenvectors().col(0));
  Vec3 outside;
  for (const Vec3& n : normals) outside += n;
  if (length(outside) < 1e-6 * static_cast<double>(normals.size() + 1)) outside = {0, 0, 1};
  if (dot(z, outside) < 0.0) z = -z;
  const Vec3 x = forward(parts.eigenvectors().col(2));
  return {middle, x, cross(z, x), z};
}

Frame frame_facing(std::span<const Vec3> points, const Vec3& off, const Vec3& along) {
  if (!(length(off) > 0.0))
    throw Error(say("The direction off the surface has no length. Give it one."));
  const Vec3 z = normalized(off), middle = middle_of(points);
  Vec3 x = along - z * dot(along, z);
  if (!(length(x) > 1e-6 * length(along)) || !(length(along) > 0.0)) {
    const Eigen::Matrix3d flat = [&] {
      const Eigen::Vector3d n(z.x, z.y, z.z);
      const Eigen::Matrix3d p = Eigen::Matrix3d::Identity() - n * n.transpose();
      return Eigen::Matrix3d(p * spread_of(points, middle) * p);
    }();
    x = forward(Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(flat).eigenvectors().col(2));
    x = x - z * dot(x, z);
  }
  x = normalized(x);
  return {middle, x, cross(z, x), z};
}

namespace {

void check(std::span<const Vec3> points, const ScanFitPlan& p) {
  for (const auto& [count, degree] : {std::pair{p.points_u, p.degree_u}, {p.points_v, p.degree_v}})
    if (degree < 1 || degree > kMaxDegree || count < degree + 1 || count > kMostPoints)
      throw Error(
          say("A fitted surface has degree 1 to {} and from one more than its degree up to "
              "{} control points "
              "each way.",
              kMaxDegree, kMostPoints));
  if (points.size() < static_cast<std::size_t>(p.points_u) * static_cast<std::size_t>(p.points_v))
    throw Error(
        say("The scan has {} points, fewer than the {} × {} control points. Take fewer of "
            "them, or a larger "
            "region of the scan.",
            points.size(), p.points_u, p.points_v));
}

// The points over the frame's plane.
struct Extent {
  double x = 0.0, y = 0.0, wide = 0.0, high = 0.0;
};

Extent extent_of(std::span<const Vec3> points, const ScanFitPlan& plan) {
  Box3 box;
  for (const Vec3& p : points) box.add(plan.frame.to_local(p));
  Extent e{box.min.x - plan.margin, box.min.y - plan.margin,
           box.max.x - box.min.x + 2.0 * plan.margin, box.max.y - box.min.y + 2.0 * plan.margin};
  const double size = box.size();
  if (!(e.wide > 1e-6 * size && e.high > 1e-6 * size))
    throw Error(
        plan.margin < 0.0
            ? say("The margin takes away the whole scan. Make it smaller.")
            : say("Seen in this direction the scan has no area. Choose another orientation."));
  return e;
}

// Flat over the extent, at the middle of the points; straight lines of the plane are iso-curves.
Surface flat_start(const ScanFitPlan& plan, const Extent& e) {
  Surface s{uniform_knots(plan.points_u, plan.degree_u, false),
            uniform_knots(plan.points_v, plan.degree_v, false),
            Grid<Vec3>(plan.points_u, plan.points_v),
            {}};
  const std::vector<double> gu = greville_places(s.u), gv = greville_places(s.v);
  for (int i = 0; i < plan.points_u; ++i)
    for (int j = 0; j < plan.points_v; ++j)
      s.points(i, j) = plan.frame.to_world({e.x + e.wide * gu[static_cast<std::size_t>(i)],
                                            e.y + e.high * gv[static_cast<std::size_t>(j)], 0.0});
  return s;
}

std::vector<Parameter> projected(std::span<const Vec3> points, const ScanFitPlan& plan,
                                 const Extent& e) {
  std::vector<Parameter> at(points.size());
  Progress quiet;
  parallel_blocks(points.size(), 32768, quiet, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Vec3 q = plan.frame.to_local(points[k]);
      at[k] = {std::clamp((q.x - e.x) / e.wide, 0.0, 1.0),
               std::clamp((q.y - e.y) / e.high, 0.0, 1.0)};
    }
  });
  return at;
}

// By their places, so that the order in a file does not matter.
std::vector<Vec3> chosen_few(std::span<const Vec3> points, std::size_t about) {
  if (points.size() <= 2 * about) return {points.begin(), points.end()};
  const std::uint64_t every = points.size() / about;
  std::vector<char> taken(points.size());
  in_blocks(points.size(), [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Vec3& p = points[k];
      std::uint64_t h = std::bit_cast<std::uint64_t>(p.x) * 0x9E3779B97F4A7C15ULL ^
                        std::bit_cast<std::uint64_t>(p.y) * 0xC2B2AE3D27D4EB4FULL ^
                        std::bit_cast<std::uint64_t>(p.z) * 0x165667B19E3779F9ULL;
      h = (h ^ (h >> 31)) * 0xBF58476D1CE4E5B9ULL;
      taken[k] = (h >> 20) % every == 0;
    }
  });
  std::vector<Vec3> few;
  for (std::size_t k = 0; k < points.size(); ++k)
    if (taken[k] != 0) few.push_back(points[k]);
  return few;
}

// The share s of the thin plate is s · h⁴, h the length of a span: what it does depends on the grid's scale alone.
double bending_factor(double smoothing, const Surface& s, const Extent& e) {
  const double hu = e.wide / static_cast<double>(breakpoints(s.u).size() - 1);
  const double hv = e.high / static_cast<double>(breakpoints(s.v).size() - 1);
  return 1e-11 * std::pow(10.0, 10.0 * std::clamp(smoothing, 0.0, 1.0)) * hu * hu * hv * hv /
         (e.wide * e.high);
}

// The points so that neighbours on the plan are neighbours in memory, which everything that follows is quick by: a scan
// may come in any order.
struct Neighbourly {
  std::vector<std::uint32_t> order;
  std::vector<Vec3> points;

  Neighbourly(std::span<const Vec3> given, const ScanFitPlan& plan, const Extent& e,
              Progress& progress)
      : points(given.size()) {
    constexpr int kAcross = 64;
    const std::vector<Parameter> at = projected(given, plan, e);
    order = sorted_into_bins(
                given.size(), kAcross * kAcross,
                [&](std::size_t k) { return cell_of(at[k], kAcross); }, progress)
                .order;
    in_blocks(given.size(), [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) points[k] = given[order[k]];
    });
  }
  // A value for each point, in the order they came in; nothing stays nothing.
  template <typename T>
  std::vector<T> as_given(const std::vector<T>& values) const {
    std::vector<T> result(values.size());
    if (values.empty()) return result;
    in_blocks(values.size(), [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) result[order[k]] = values[k];
    });
    return result;
  }
};

// `strayness` is empty where no point is left out.
void measure(std::span<const Vec3> points, const std::vector<double>& strayness, ScanFit& fit) {
  const bool leave_out = !strayness.empty();
  std::vector<double> sizes;
  sizes.reserve(points.size());
  double sum = 0.0;
  fit.stray.assign(leave_out ? points.size() : 0, 0);
  for (std::size_t k = 0; k < points.size(); ++k) {
    const double d = std::abs(fit.off[k]);
    if (leave_out && strayness[k] >= 1.0) {
      fit.stray[k] = 1;
      ++fit.strays;
      continue;
    }
    sizes.push_back(d);
    sum += d;
    if (d > fit.max) {
      fit.max = d;
      fit.at = points[k];
    }
  }
  if (sizes.empty()) return;
  fit.mean = sum / static_cast<double>(sizes.size());
  fit.percentile95 =
      nth_smallest(sizes, static_cast<std::size_t>(static_cast<double>(sizes.size() - 1) * 0.95));
}

// In equal cells, as many as the points can fill.
double share_seen(const std::vector<Parameter>& at) {
  const int across = cells_across(at.size(), 8.0, 64);
  std::vector<char> seen(static_cast<std::size_t>(across * across), 0);
  for (const Parameter& p : at) seen[cell_of(p, across)] = 1;
  return static_cast<double>(std::count(seen.begin(), seen.end(), 1)) /
         static_cast<double>(seen.size());
}

Surface solved(const Surface& start, std::span<const Parameter> at, std::span<const Vec3> points,
               const std::vector<double>& weights, double bending, const Extent& e,
               const std::vector<char>& held, const Grid<Vec3>& rest, Progress& progress) {
  ScatteredFit system(start);
  system.add(at, points, weights, progress);
  // Nearness is a mean: the energy's share does not depend on the number of points.
  system.add_bending(bending * static_cast<double>(points.size()), e.wide, e.high, rest);
  Surface result = start;
  result.points = system.solve(start.points, held);
  return result;
}

}  // namespace

ScanFit fit_scan(std::span<const Vec3> given, const ScanFitPlan& plan, Progress& progress) {
  check(given, plan);
  const Extent e = extent_of(given, plan);
  const Neighbourly scan(given, plan, e, progress);
  const std::span<const Vec3> points(scan.points);
  const double size = std::hypot(e.wide, e.high);
  Surface s = flat_start(plan, e);
  const double bending = bending_factor(plan.smoothing, s, e);
  const Grid<Vec3> rest(plan.points_u, plan.points_v);
  const std::size_t wanted =
      16UL * static_cast<std::size_t>(plan.points_u) * static_cast<std::size_t>(plan.points_v);
  const std::vector<Vec3> few = chosen_few(points, std::max(kCorrected, wanted));
  std::vector<Parameter> at = projected(few, plan, e);
  std::vector<double> off(few.size()), weights;
  for (int round = 0; round <= plan.corrections; ++round) {
    s = solved(s, at, few, weights, bending, e, {}, rest, progress);
    const SurfaceEvaluator evaluator(s);
    improve_feet(s, evaluator, few, at, 2, progress);
    if (plan.leave_out_stray) {
      distances_to_feet(evaluator, few, at, off, progress);
      weights = weights_for(strayness(off, at, size, progress));
    }
    progress.report(0.1 + 0.4 * round / (plan.corrections + 1));
  }
  ScanFit fit;
  fit.off.resize(points.size());
  at = projected(points, plan, e);
  std::vector<double> stray;
  {
    const SurfaceEvaluator evaluator(s);
    improve_feet(s, evaluator, points, at, plan.corrections > 0 ? 2 : 0, progress);
    if (plan.leave_out_stray) {
      distances_to_feet(evaluator, points, at, fit.off, progress);
      stray = strayness(fit.off, at, size, progress);
      weights = weights_for(stray);
    }
    progress.report(0.7);
    s = solved(s, at, points, weights, bending, e, {}, rest, progress);
  }
  progress.report(0.8);
  const SurfaceEvaluator evaluator(s);
  improve_feet(s, evaluator, points, at, plan.corrections > 0 ? 1 : 2, progress);
  distances_to_feet(evaluator, points, at, fit.off, progress);
  fit.surface = std::move(s);
  measure(points, stray, fit);
  fit.off = scan.as_given(fit.off);
  fit.stray = scan.as_given(fit.stray);
  fit.seen = share_seen(at);
  progress.report(1.0);
  return fit;
}

ScanFit fit_scan_within(std::span<const Vec3> points, ScanFitPlan plan, double tolerance, int most,
                        Progress& progress) {
  if (!(tolerance > 0.0)) throw Error(say("The tolerance of a fit must be above 0 mm."));
  plan.points_u = plan.degree_u + 1;
  plan.points_v = plan.degree_v + 1;
  Progress quiet;
  const auto tried = [&](int u, int v) {
    progress.check();
    ScanFitPlan p = plan;
    p.points_u = u;
    p.points_v = v;
    return fit_scan(points, p, quiet);
  };
  const std::vector<Vec3> few = chosen_few(points, 20'000);
  const auto near = [&](int u, int v) {
    progress.check();
    ScanFitPlan p = plan;
    p.points_u = u;
    p.points_v = v;
    p.corrections = 1;
    return fit_scan(few, p, quiet).percentile95;
  };
  double reached = near(plan.points_u, plan.points_v);
  double nearest = reached;
  // One point more may even be worse, where the form wants an even number of them: steps of two are looked at, too.
  for (int without_gain = 0; reached > tolerance && without_gain < 6;) {
    double best = 1e300;
    std::array<int, 2> go{};
    for (const auto& [u, v] : {std::array{1, 0}, {0, 1}, {2, 0}, {0, 2}}) {
      if (plan.points_u + u > most || plan.points_v + v > most) continue;
      const double there = near(plan.points_u + u, plan.points_v + v);
      if (there < 0.98 * best || (there < best && there <= tolerance)) {
        best = there;
        go = {u, v};
      }
      if (best <= tolerance) break;  // the fewest first
    }
    if (go[0] + go[1] == 0) break;
    plan.points_u += go[0];
    plan.points_v += go[1];
    without_gain = best < 0.995 * nearest ? 0 : without_gain + 1;
    reached = best;
    nearest = std::min(nearest, best);
    progress.report(std::min(0.9, 0.9 * (plan.points_u + plan.points_v) / (2.0 * most)));
  }
  // What a long step brought too much goes again.
  for (bool fewer = reached <= tolerance; fewer;) {
    fewer = false;
    for (const auto& [u, v] : {std::array{1, 0}, {0, 1}}) {
      if (plan.points_u - u <= plan.degree_u || plan.points_v - v <= plan.degree_v) continue;
      if (near(plan.points_u - u, plan.points_v - v) > tolerance) continue;
      plan.points_u -= u;
      plan.points_v -= v;
      fewer = true;
    }
  }
  if (reached > tolerance)
    throw Error(
        say("No grid of up to {0} × {0} control points keeps 95 % of the scan within {1:g} "
            "mm; {2:.3f} mm is as near as "
            "it came, which is about the roughness of the scan. Ask for more than that.",
            most, tolerance, nearest));
  return tried(plan.points_u, plan.points_v);
}

namespace {

double length_through_middle(const Surface& s, bool along_u) {
  constexpr int kPieces = 64;
  double sum = 0.0;
  Vec3 last;
  for (int k = 0; k <= kPieces; ++k) {
    const double share = static_cast<double>(k) / kPieces;
    const Vec3 p = evaluate(s, s.u.first() + (along_u ? share : 0.5) * s.u.length(),
                            s.v.first() + (along_u ? 0.5 : share) * s.v.length());
    if (k > 0) sum += distance(p, last);
    last = p;
  }
  return std::max(sum, 1e-9);
}

}  // namespace

ScanFit fit_again(const Surface& surface, std::span<const Vec3> points,
                  const std::vector<char>& held, double smoothing, double reach,
                  Progress& progress) {
  check(surface);
  const SurfaceProjector projector(surface);
  std::vector<Projection> feet(points.size());
  projector.closest(points, feet, progress);
  std::vector<Vec3> near;
  std::vector<Parameter> at;
  for (std::size_t k = 0; k < points.size(); ++k)
    if (feet[k].distance <= reach) {
      near.push_back(points[k]);
      at.push_back({feet[k].u, feet[k].v});
    }
  if (near.size() < 4)
    throw Error(say(
        "The scan lies too far from the surface. Give a greater reach, or choose another scan."));
  const Extent e{0.0, 0.0, length_through_middle(surface, true),
                 length_through_middle(surface, false)};
  Surface s = surface;
  const double bending = std::max(bending_factor(smoothing, s, e), 1e-9);
  ScanFit fit;
  for (int round = 0; round < 3; ++round) {
    s = solved(s, at, near, {}, bending, e, held, surface.points, progress);
    improve_feet(s, SurfaceEvaluator(s), near, at, 2, progress);
    progress.report(0.3 + 0.2 * round);
  }
  fit.off.resize(near.size());
  distances_to_feet(SurfaceEvaluator(s), near, at, fit.off, progress);
  fit.surface = std::move(s);
  measure(near, {}, fit);
  fit.strays = points.size() - near.size();
  return fit;
}

}  // namespace evenclay
