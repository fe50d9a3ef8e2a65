#include "core/pattern/exact.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/body/join.h"
#include "core/nurbs/fitted.h"
#include "core/pattern/flow_ends.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostFaces = 4000;
constexpr int kMostHalvings = 4;
constexpr double kTilt = 0.04;  // degrees: two neighbours together stay below the 0.1° of tangency

struct Repeat {
  int a, b;
};

std::vector<Repeat> repeats_of(const FlowOptions& o) {
  std::vector<Repeat> all;
  for (int a = 0; a < o.count_u; ++a)
    for (int b = 0; b < o.count_v; ++b)
      if (o.made.empty() || o.made[static_cast<std::size_t>(a * o.count_v + b)])
        all.push_back({a, b});
  return all;
}

// A tile's surface in a repeat as a function of its own parameters.
class Carried {
 public:
  Carried(const SurfaceEvaluator& tile, const PatternBase& base, const FlowOptions& options,
          const FlowMap& map, Repeat at)
      : tile_(tile), base_(base), options_(options), map_(map), at_(at) {}
  Vec3 operator()(double u, double v) const {
    const Vec3 p = base_.frame.to_local(tile_.point(u, v));
    TileVertex w = turned({p.x / base_.length_x, p.y / base_.length_y, p.z, {}}, options_);
    // Rounding must not reach over the border into what may not be there.
    for (double* x : {&w.s, &w.t})
      if (std::abs(*x) < options_.weld || std::abs(*x - 1.0) < options_.weld) *x = std::round(*x);
    return map_.point(at_.a + w.s, at_.b + w.t, w.z);
  }

 private:
  const SurfaceEvaluator& tile_;
  const PatternBase& base_;
  const FlowOptions& options_;
  const FlowMap& map_;
  Repeat at_;
};

struct Fits {
  std::vector<std::vector<Surface>> surfaces;  // of each repeat
  double worst = 0.0;                          // mm
  double tilt = 0.0;                           // degrees, at borders
};

// How far the normal at a place is from that of the function, in degrees; 0 where there is none.
double tilt_at(const Surface& s, const Carried& place, double u, double v) {
  // Differences that stay inside, so that they never reach over a border into the next tile.
  const auto slope = [](const auto& f, double x, const KnotVector& k) {
    const double h = 1e-4 * k.length();
    const double way = x - k.first() < 2.0 * h ? 1.0 : k.last() - x < 2.0 * h ? -1.0 : 0.0;
    if (way == 0.0) return (f(x + h) - f(x - h)) / (2.0 * h);
    return (f(x + way * h) * 4.0 - f(x + 2.0 * way * h) - f(x) * 3.0) * (way / (2.0 * h));
  };
  const Vec3 a = slope([&](double x) { return place(x, v); }, u, s.u);
  const Vec3 b = slope([&](double x) { return place(u, x); }, v, s.v);
  const Vec3 n = cross(a, b);
  const Vec3 m = normal(s, u, v);
  if (!(length(n) > 1e-9) || !(length(m) > 0.5)) return 0.0;
  return degrees_between(n, m);
}

// The greatest along the borders, where neighbours have to agree.
double border_tilt(const Surface& s, const Carried& place) {
  double worst = 0.0;
  const auto along = [](const KnotVector& k) {
    std::vector<double> at;
    const std::vector<double> b = breakpoints(k);
    for (std::size_t i = 0; i + 1 < b.size(); ++i)
      for (const double share : {0.15, 0.5, 0.85}) at.push_back(b[i] + share * (b[i + 1] - b[i]));
    return at;
  };
  if (!s.u.periodic)
    for (const double v : along(s.v))
      for (const double u : {s.u.first(), s.u.last()})
        worst = std::max(worst, tilt_at(s, place, u, v));
  if (!s.v.periodic)
    for (const double u : along(s.u))
      for (const double v : {s.v.first(), s.v.last()})
        worst = std::max(worst, tilt_at(s, place, u, v));
  return worst;
}

Fits fits(const std::vector<Surface>& tile, const PatternBase& base, const FlowOptions& o,
          const FlowMap& map, const std::vector<Repeat>& repeats, int halvings, double enough,
          bool last, Progress& progress) {
  std::vector<SurfaceEvaluator> evaluators;
  std::vector<std::array<KnotVector, 2>> knots;
  for (const Surface& s : tile) {
    evaluators.emplace_back(s);
    knots.push_back({refined_cubic(s.u, halvings), refined_cubic(s.v, halvings)});
  }
  Fits result;
  result.surfaces.resize(repeats.size());
  std::vector<double> worst(repeats.size(), 0.0), tilt(repeats.size(), 0.0);
  parallel_blocks(repeats.size(), 1, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t r = begin; r < end; ++r)
      for (std::size_t k = 0; k < tile.size(); ++k) {
        const Carried place(evaluators[k], base, o, map, repeats[r]);
        Progress quiet;
        Surface s = fitted_surface(place, knots[k][0], knots[k][1], tile[k], quiet);
        worst[r] = std::max(worst[r], greatest_miss(s, place));
        tilt[r] = std::max(tilt[r], border_tilt(s, place));
        result.surfaces[r].push_back(std::move(s));
        if (worst[r] > enough || (tilt[r] > kTilt && !last)) return;  // will be done again finer
      }
  });
  result.worst = *std::max_element(worst.begin(), worst.end());
  result.tilt = *std::max_element(tilt.begin(), tilt.end());
  return result;
}

// Added to what is there, with names of their own.
void add_repeat(Body& all, const Body& tile, std::vector<Surface> surfaces, bool turned_over,
                int step, std::size_t number) {
  Body one = with_surfaces(tile, std::move(surfaces), NewParameters::Scaled);
  const auto first = static_cast<std::uint32_t>(all.edges.size());
  for (Edge& e : one.edges) {
    e.tag = make_tag(step, e.tag, number);
    all.edges.push_back(std::move(e));
  }
  for (Face& f : one.faces) {
    f.tag = make_tag(step, f.tag, number);
    f.piece_of = 0;
    f.flipped = f.flipped != turned_over;
    for (Loop& loop : f.loops)
      for (EdgeUse& use : loop) use.edge += first;
    all.faces.push_back(std::move(f));
  }
}

}  // namespace

FlowedBody flow_surfaces(const Body& tile, const PatternBase& base, const Chart& chart,
                         const FlowOptions& o, const HeightRule& heights, double tolerance,
                         int step, Progress& progress) {
  if (tile.faces.empty())
    throw Error(say("The tile is empty. Choose a tile part that has a shape."));
  if (!(base.length_x > 1e-6) || !(base.length_y > 1e-6))
    throw Error(say("The pattern's base has no area. Choose a tile that lies flat in x–y."));
  const FlowMap map(chart, o, heights);
  const std::vector<Repeat> repeats = repeats_of(o);
  if (repeats.empty())
    throw Error(
        say("No whole tile lies on the face. Use more and smaller tiles, or a band beside the "
            "opening."));
  if (repeats.size() * tile.faces.size() > kMostFaces)
    throw Error(
        say("{} tiles of {} faces are more than the {} faces that can be made as surfaces. "
            "Use fewer tiles, or take "
            "the result as a mesh.",
            repeats.size(), tile.faces.size(), kMostFaces));
  const std::vector<Surface> surfaces = surfaces_of(tile);
  // Half for the fit, half for what two neighbours may differ by.
  const double enough = 0.5 * tolerance;
  Fits made;
  for (int halvings = 0;; ++halvings) {
    progress.report(0.8 * halvings / (kMostHalvings + 1));
    const bool last = halvings == kMostHalvings;
    made = fits(surfaces, base, o, map, repeats, halvings, enough, last, progress);
    if (made.worst <= enough && (made.tilt <= kTilt || last)) break;
    if (last)
      throw Error(say(
          "The surfaces come only within {:.3g} mm of the exact pattern, the tolerance is {:.3g} "
          "mm. The target has "
          "a kink or a pole under the tiles: choose another region, or take the result as a mesh.",
          made.worst, tolerance));
  }
  Body all;
  for (std::size_t r = 0; r < repeats.size(); ++r)
    add_repeat(all, tile, std::move(made.surfaces[r]), is_mirrored(chart, o), step, r);
  JoinedBody one = joined(all, tolerance);
  progress.report(1.0);
  return {std::move(one.body), made.worst, made.tilt, one.gap, one.open};
}

}  // namespace evenclay
