#include "core/cut/blend.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/cut/prepared.h"
#include "core/nurbs/fit.h"

namespace evenclay {

namespace {

// How the second chain is walked beside the first.
struct Match {
  double sense = 1.0, shift = 0.0;
  double at(double share) const { return sense * share + shift; }
};

double apart(const EdgeChain& a, const EdgeChain& b, const Match& m) {
  double sum = 0.0;
  constexpr int kPlaces = 32;
  for (int k = 0; k < kPlaces; ++k) {
    const double share = (k + 0.5) / kPlaces;
    const Vec3 d = a.point(share) - b.point(m.at(share));
    sum += dot(d, d);
  }
  return sum;
}

Match best_match(const EdgeChain& a, const EdgeChain& b, bool reversed, double seam) {
  Match best;
  double least = 1e300;
  // Places at all multiples of a 64th: equal shares moved on by a 64th are among them.
  constexpr int kGrid = 64;
  std::vector<Vec3> on_a, on_b;
  for (int k = 0; k < kGrid; ++k) {
    on_a.push_back(a.point(static_cast<double>(k) / kGrid));
    on_b.push_back(b.point(static_cast<double>(k) / kGrid));
  }
  const int steps = a.closed() ? kGrid : 1;
  for (const int sense : {1, -1})
    for (int k = 0; k < steps; ++k) {
      const Match m{1.0 * sense,
                    a.closed() ? static_cast<double>(k) / kGrid : (sense > 0 ? 0.0 : 1.0)};
      double sum = 0.0;
      for (int n = 1; n < kGrid; n += 2) {
        const int at = a.closed() ? (sense * n + k + kGrid) % kGrid : (sense > 0 ? n : kGrid - n);
        const Vec3 d = on_a[static_cast<std::size_t>(n)] - on_b[static_cast<std::size_t>(at)];
        sum += dot(d, d);
      }
      if (sum < least) {
        least = sum;
        best = m;
      }
    }
  for (double step = 0.5 / steps; a.closed() && step > 1e-5; step *= 0.5)
    for (const double way : {-step, step}) {
      const Match m{best.sense, best.shift + way};
      if (const double sum = apart(a, b, m); sum < least) {
        least = sum;
        best = m;
      }
    }
  if (reversed) best = {-best.sense, a.closed() ? best.shift : 1.0 - best.shift};
  if (a.closed()) best.shift += seam;
  return best;
}

// Bulges at a share: those of the sections around it, going over by a cosine.
std::array<double, 2> bulges_at(const BlendOptions& o, bool closed, double share) {
  if (o.sections.empty()) return {o.a.bulge, o.b.bulge};
  std::vector<BlendSection> all = o.sections;
  std::sort(all.begin(), all.end(),
            [](const BlendSection& x, const BlendSection& y) { return x.share < y.share; });
  if (!closed) {
    if (all.front().share > 0.0) all.insert(all.begin(), {0.0, o.a.bulge, o.b.bulge});
    if (all.back().share < 1.0) all.push_back({1.0, o.a.bulge, o.b.bulge});
  } else if (all.size() == 1) {
    all.push_back({all[0].share + 0.5, o.a.bulge, o.b.bulge});
  }
  const BlendSection first = all.front(), last = all.back();
  if (closed) {
    all.insert(all.begin(), {last.share - 1.0, last.bulge_a, last.bulge_b});
    all.push_back({first.share + 1.0, first.bulge_a, first.bulge_b});
  }
  for (std::size_t k = 0; k + 1 < all.size(); ++k) {
    const double low = all[k].share, high = all[k + 1].share;
    if (share < low || share > high) continue;
    const double w =
        high > low ? 0.5 - 0.5 * std::cos(std::numbers::pi * (share - low) / (high - low)) : 0.0;
    return {all[k].bulge_a + w * (all[k + 1].bulge_a - all[k].bulge_a),
            all[k].bulge_b + w * (all[k + 1].bulge_b - all[k].bulge_b)};
  }
  return {o.a.bulge, o.b.bulge};
}

// The first control points of a Bézier curve of that degree from its end and the neighbour's derivatives.
std::vector<Vec3> end_points(const ChainPlace& p, int continuity, double h, int degree) {
  std::vector<Vec3> q{p.p};
  const double n = degree;
  if (continuity >= 1) q.push_back(q[0] + p.out * (h / n));
  if (continuity >= 2) q.push_back(q[1] * 2.0 - q[0] + p.d2 * (h * h / (n * (n - 1.0))));
  if (continuity >= 3)
    q.push_back(q[2] * 3.0 - q[1] * 3.0 + q[0] + p.d3 * (h * h * h / (n * (n - 1.0) * (n - 2.0))));
  return q;
}

class CrossCurves {
 public:
  CrossCurves(const EdgeChain& a, const Body& body_a, const EdgeChain& b, const Body& body_b,
              const BlendOptions& o, Progress& progress)
      : a_(a),
        b_(b),
        body_a_(body_a),
        body_b_(body_b),
        o_(o),
        progress_(progress),
        match_(best_match(a, b, o.reversed, o.seam)),
        degree_(o.a.continuity + o.b.continuity + 1) {}

  BlendedSurface run() {
    BlendedSurface result;
    std::vector<double> breaks = first_breaks();
    // Where the neighbours have knots their derivatives are less smooth than they are; so may the blend be.
    for (int multiplicity = 1; multiplicity <= 2; ++multiplicity) {
      std::vector<double> finer = breaks;
      for (;;) {
        progress_.check();
        result.surface = fitted(finer, multiplicity);
        measure_joints(result);
        if (result.at_a.level >= o_.a.continuity && result.at_b.level >= o_.b.continuity) {
          multiplicity = 2;
          break;
        }
        if (2 * (finer.size() - 1) > kMostSpans) break;
        finer = halved(finer);
      }
    }
    check_folds(result.surface);
    list_matches(result);
    return result;
  }

 private:
  std::vector<Vec3> cross_curve(double share) const {
    const ChainPlace pa = a_.at(share, std::max(1, o_.a.continuity));
    const ChainPlace pb = b_.at(match_.at(share), std::max(1, o_.b.continuity));
    const double across = distance(pa.p, pb.p);
    const auto [bulge_a, bulge_b] = bulges_at(o_, a_.closed(), share);
    std::vector<Vec3> q = end_points(pa, o_.a.continuity, bulge_a * across, degree_);
    const std::vector<Vec3> r = end_points(pb, o_.b.continuity, bulge_b * across, degree_);
    q.insert(q.end(), r.rbegin(), r.rend());
    return q;
  }

  // Knots of both chains, and so many more that no span is longer than a sixteenth.
  std::vector<double> first_breaks() const {
    std::vector<double> all = a_.knots();
    for (const double t : b_.knots()) {
      double share = (t - match_.shift) * match_.sense;
      if (a_.closed()) share -= std::floor(share);
      all.push_back(std::clamp(share, 0.0, 1.0));
    }
    all.insert(all.end(), {0.0, 1.0});
    std::sort(all.begin(), all.end());
    std::vector<double> breaks;
    for (const double t : all)
      if (breaks.empty() || t - breaks.back() > kNearest) breaks.push_back(t);
    breaks.back() = 1.0;
    for (bool again = true; again && breaks.size() <= kMostSpans;) {
      again = false;
      for (std::size_t k = 0; k + 1 < breaks.size(); ++k)
        if (breaks[k + 1] - breaks[k] > 1.0 / 16.0) again = true;
      if (again) breaks = halved(breaks);
    }
    return breaks;
  }

  static std::vector<double> halved(const std::vector<double>& breaks) {
    std::vector<double> result;
    for (std::size_t k = 0; k + 1 < breaks.size(); ++k) {
      result.push_back(breaks[k]);
      result.push_back(0.5 * (breaks[k] + breaks[k + 1]));
    }
    result.push_back(breaks.back());
    return result;
  }

  static constexpr std::size_t kMostSpans = 320;
  static constexpr double kNearest = 2e-3;  // share between knots

  Surface fitted(const std::vector<double>& breaks, int multiplicity) const {
    KnotVector u;
    u.degree = 3;
    u.periodic = a_.closed();
    if (!u.periodic) u.knots.assign(4, 0.0);
    for (std::size_t k = u.periodic ? 0 : 1; k + 1 < breaks.size(); ++k)
      u.knots.insert(u.knots.end(), static_cast<std::size_t>(multiplicity), breaks[k]);
    u.knots.insert(u.knots.end(), u.periodic ? 1 : 4, 1.0);
    const FitSamples samples = fit_samples(u, breakpoints(u));
    const auto rows = static_cast<std::size_t>(degree_ + 1);
    std::vector<double> values;
    for (const double t : samples.places)
      for (const Vec3& p : cross_curve(t)) values.insert(values.end(), {p.x, p.y, p.z});
    const std::size_t width = 3 * rows;
    const auto count = static_cast<std::size_t>(u.point_count());
    std::vector<double> coefficients(count * width);
    std::vector<int> fixed;
    if (!u.periodic) {
      fixed = {0, static_cast<int>(count) - 1};
      for (const bool end : {false, true}) {
        const std::vector<Vec3> q = cross_curve(end ? 1.0 : 0.0);
        for (std::size_t r = 0; r < rows; ++r)
          for (std::size_t k = 0; k < 3; ++k)
            coefficients[(end ? count - 1 : 0) * width + 3 * r + k] = q[r][k];
      }
    }
    LineFit(u, samples.places, samples.weights, fixed).solve(values, width, coefficients);
    Surface s;
    s.u = u;
    s.v.degree = degree_;
    s.v.knots.assign(rows, 0.0);
    s.v.knots.insert(s.v.knots.end(), rows, 1.0);
    s.points = Grid<Vec3>(static_cast<int>(count), static_cast<int>(rows));
    for (std::size_t i = 0; i < count; ++i)
      for (std::size_t r = 0; r < rows; ++r) {
        const double* c = &coefficients[i * width + 3 * r];
        s.points(static_cast<int>(i), static_cast<int>(r)) = {c[0], c[1], c[2]};
      }
    return s;
  }

  // Each against its neighbour's own derivatives, at places between those that were fitted.
  void measure_joints(BlendedSurface& result) const {
    result.at_a = result.at_b = {};
    double worst_a = -1.0, worst_b = -1.0;
    const double step = 2e-4 * std::max(size(result.surface), std::min(a_.length(), b_.length()));
    const ContinuityLimits limits{.gap = o_.tolerance};
    constexpr int kPlaces = 37;
    for (int k = 0; k < kPlaces; ++k) {
      const double t = (k + 0.5) / kPlaces;
      const ChainPlace pa = nearest(a_, t, evaluate(result.surface, t, 0.0));
      const ChainPlace pb = nearest(b_, match_.at(t), evaluate(result.surface, t, 1.0));
      const double at_a = measure(result.at_a,
                                  {&result.surface, body_a_.faces[pa.face].surface.get(), t, 0.0,
                                   pa.u, pa.v, pa.along, -pa.out},
                                  step);
      const double at_b = measure(result.at_b,
                                  {&result.surface, body_b_.faces[pb.face].surface.get(), t, 1.0,
                                   pb.u, pb.v, pb.along, -pb.out},
                                  step);
      if (at_a > worst_a) result.worst_a = pa.p;
      if (at_b > worst_b) result.worst_b = pb.p;
      worst_a = std::max(worst_a, at_a);
      worst_b = std::max(worst_b, at_b);
    }
    settle(result.at_a, limits);
    settle(result.at_b, limits);
  }

  // The place of a chain nearest to one that lies almost on it.
  static ChainPlace nearest(const EdgeChain& chain, double share, const Vec3& p) {
    ChainPlace place = chain.at(share, 1);
    for (int k = 0; k < 3; ++k) {
      share += dot(p - place.p, place.along) / chain.length();
      place = chain.at(share, 1);
    }
    return place;
  }

  // Between neighbouring places the outside must not turn round.
  void check_folds(const Surface& s) const {
    const SurfaceEvaluator e(s);
    constexpr int kAlong = 48, kAcross = 24;
    for (int i = 0; i < kAlong; ++i) {
      const double u = s.u.first() + s.u.length() * (i + 0.5) / kAlong;
      std::optional<Vec3> last;
      for (int j = 0; j <= kAcross; ++j) {
        const PointTangents p = e.tangents(u, static_cast<double>(j) / kAcross);
        const Vec3 n = cross(p.du, p.dv);
        if (!(length(n) > 1e-12 * length(p.du) * length(p.dv))) continue;
        const Vec3 here = normalized(n);
        if (last && dot(*last, here) < 0.0)
          throw Error(say(
              "The blend folds over {}: the edges lie too near to each other, or face away, for "
              "these bulges. Lower the bulge, turn the match with Reverse or Seam, or move a part.",
              place_words(p.p)));
        last = here;
      }
    }
  }

  void list_matches(BlendedSurface& result) const {
    result.shortest = 1e300;
    constexpr int kLines = 24;
    for (int k = 0; k < kLines; ++k) {
      const double t = static_cast<double>(k) / (a_.closed() ? kLines : kLines - 1);
      const Vec3 p = a_.point(t), q = b_.point(match_.at(t));
      result.matched.push_back({p, q});
      result.shortest = std::min(result.shortest, distance(p, q));
      result.longest = std::max(result.longest, distance(p, q));
    }
    constexpr int kSeams = 64;
    for (int k = 0; a_.closed() && k <= kSeams; ++k)
      result.seams.push_back(
          b_.point(match_.shift - o_.seam - 0.5 + static_cast<double>(k) / kSeams));
  }

  const EdgeChain& a_;
  const EdgeChain& b_;
  const Body& body_a_;
  const Body& body_b_;
  const BlendOptions& o_;
  Progress& progress_;
  Match match_;
  int degree_;
};

}  // namespace

BlendedSurface blended(const EdgeChain& a, const Body& body_a, const EdgeChain& b,
                       const Body& body_b, const BlendOptions& options, Progress& progress) {
  if (a.closed() != b.closed())
    throw Error(say(
        "One chain of edges is closed and the other is open. Pick the whole ring on both sides, "
        "or a piece on both."));
  for (const BlendSide* side : {&options.a, &options.b})
    if (side->continuity < 0 || side->continuity > 3 || !(side->bulge > 0.0))
      throw Error(
          say("A blend needs a continuity from G0 to G3 and a bulge above 0 on each side."));
  const BlendedSurface result = CrossCurves(a, body_a, b, body_b, options, progress).run();
  if (!(result.shortest > 1e-6 * a.length()))
    throw Error(say("The two chains of edges meet; there is nothing between them to blend."));
  return result;
}

}  // namespace evenclay
