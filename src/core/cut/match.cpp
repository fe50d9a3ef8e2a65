#include "core/cut/match.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/quadrature.h"

namespace evenclay {

namespace {

// The surface turned so that its border is v = first, and back.
Surface turned(Surface s, Border border, bool back) {
  const bool of_u = border == Border::UMin || border == Border::UMax;
  const bool high = border == Border::UMax || border == Border::VMax;
  if (!back && of_u) s = transposed(s);
  if (high) s = reversed(s, Direction::V);
  if (back && of_u) s = transposed(s);
  return s;
}

// Shares of the length of the border at parameters.
class BorderLength {
 public:
  explicit BorderLength(const Surface& s) : curve_(border_of(s, Border::VMin)) {
    const KnotVector& k = curve_.curve().knots;
    for (int n = 0; n < kSteps; ++n)
      sums_.push_back(sums_.back() + length_of(k.first() + k.length() * n / kSteps,
                                               k.first() + k.length() * (n + 1) / kSteps));
  }
  double share(double t) const {
    const KnotVector& k = curve_.curve().knots;
    const double step = std::clamp((t - k.first()) / k.length() * kSteps, 0.0, 1.0 * kSteps);
    const auto n = std::min(static_cast<std::size_t>(step), std::size_t{kSteps - 1});
    const double from = k.first() + k.length() * static_cast<double>(n) / kSteps;
    return (sums_[n] + length_of(from, t)) / sums_.back();
  }

 private:
  static constexpr int kSteps = 64;
  double length_of(double a, double b) const {
    return integrate(a, b, [&](double t) { return length(curve_.derivatives(t, 1).d1); });
  }
  CurveEvaluator curve_;
  std::vector<double> sums_{0.0};
};

class Matcher {
 public:
  Matcher(const Surface& s, const EdgeChain& onto, const Body& neighbour, const MatchOptions& o,
          Progress& progress)
      : original_(s), onto_(onto), neighbour_(neighbour), o_(o), progress_(progress), length_(s) {
    find_sense();
  }

  Matched run() {
    Matched result;
    result.rows = o_.continuity + 1;
    Surface start = original_;
    for (int pass = 0;; ++pass) {
      progress_.check();
      result.surface = moved(start);
      measure(result);
      if (!o_.add_points || pass == 4 || result.joint.level >= o_.continuity) break;
      std::vector<double> more;
      const std::vector<double> breaks = breakpoints(start.u);
      for (std::size_t k = 0; k + 1 < breaks.size(); ++k)
        more.push_back(0.5 * (breaks[k] + breaks[k + 1]));
      result.added += static_cast<int>(more.size());
      start = insert_knots(start, Direction::U, more);
    }
    for (int i = 0; i < start.points.rows(); ++i)
      for (int j = 0; j < result.rows; ++j)
        result.farthest =
            std::max(result.farthest, distance(start.points(i, j), result.surface.points(i, j)));
    return result;
  }

 private:
  void find_sense() {
    double ahead = 0.0, against = 0.0;
    for (int k = 0; k <= 16; ++k) {
      const double t = original_.u.first() + original_.u.length() * k / 16.0;
      const Vec3 p = evaluate(original_, t, original_.v.first());
      ahead += distance(p, onto_.point(k / 16.0));
      against += distance(p, onto_.point(1.0 - k / 16.0));
    }
    backwards_ = (against < ahead) != o_.reversed;
  }

  // Where the place of the border at t belongs on the chain.
  double share(double t) const {
    const double s = length_.share(t);
    double at = backwards_ ? 1.0 - s : s;
    if (!o_.ends_to_ends || onto_.closed())
      at = nearest(evaluate(original_, t, original_.v.first()));
    return at;
  }

  double nearest(const Vec3& p) const {
    double best = 0.0, least = 1e300;
    constexpr int kPlaces = 128;
    for (int k = 0; k <= kPlaces; ++k)
      if (const double d = distance(p, onto_.point(1.0 * k / kPlaces)); d < least) {
        least = d;
        best = 1.0 * k / kPlaces;
      }
    return refined(best, p);
  }

  double refined(double share, const Vec3& p) const {
    for (int k = 0; k < 8; ++k) {
      const ChainPlace place = onto_.at(share, 1);
      share += dot(p - place.p, place.along) / onto_.length();
      if (!onto_.closed()) share = std::clamp(share, 0.0, 1.0);
    }
    return share;
  }

  // What the k-th derivative across shall be.
  Vec3 wanted(double t, int k) const {
    const ChainPlace n = onto_.at(share(t), std::max(1, o_.continuity));
    if (k == 0) return n.p;
    const SurfaceDerivatives s = derivatives(original_, t, original_.v.first(), 3);
    const double h = length(s.dv());
    const Vec3 dir = normalized(s.dv());
    if (k == 1) return n.out * h;
    // How the surface's own parameter quickens stays, so that matching again changes nothing.
    const double c = dot(s.dvv(), dir) - h * h * dot(n.d2, n.out);
    if (k == 2) return n.d2 * (h * h) + n.out * c;
    const Vec3 third = n.d3 * (h * h * h) + n.d2 * (3.0 * h * c);
    return third + n.out * (dot(s.d[0][3], dir) - dot(third, n.out));
  }

  // How much the k-th derivative across grows when row k moves by one.
  static double effect(const Surface& s, int k) {
    Curve unit{s.v, std::vector<Vec3>(static_cast<std::size_t>(s.points.columns())), {}};
    unit.points[static_cast<std::size_t>(k)] = {1, 0, 0};
    const CurveDerivatives d = derivatives(unit, s.v.first(), 3);
    return k == 0 ? d.p.x : k == 1 ? d.d1.x : k == 2 ? d.d2.x : d.d3.x;
  }

  Surface moved(Surface s) const {
    const FitSamples samples = fit_samples(s.u, breakpoints(s.u));
    const auto count = static_cast<std::size_t>(s.u.point_count());
    for (int k = 0; k <= o_.continuity; ++k) {
      progress_.check();
      const double by = 1.0 / effect(s, k);
      const auto change = [&](double t) {
        return (wanted(t, k) -
                derivatives(s, t, s.v.first(), 3).d[0][static_cast<std::size_t>(k)]) *
               by;
      };
      std::vector<double> values, moves(count * 3);
      for (const double t : samples.places) {
        const Vec3 c = change(t);
        values.insert(values.end(), {c.x, c.y, c.z});
      }
      std::vector<int> fixed;
      if (!s.u.periodic) {
        fixed = {0, static_cast<int>(count) - 1};
        for (const bool end : {false, true}) {
          const Vec3 c = change(end ? s.u.last() : s.u.first());
          for (std::size_t a = 0; a < 3; ++a) moves[(end ? count - 1 : 0) * 3 + a] = c[a];
        }
      }
      LineFit(s.u, samples.places, samples.weights, fixed).solve(values, 3, moves);
      for (std::size_t i = 0; i < count; ++i)
        s.points(static_cast<int>(i), k) += Vec3{moves[3 * i], moves[3 * i + 1], moves[3 * i + 2]};
    }
    return s;
  }

  void measure(Matched& m) const {
    m.joint = {};
    double worst = -1.0;
    constexpr int kPlaces = 61;
    for (int k = 0; k < kPlaces; ++k) {
      const double t = m.surface.u.first() + m.surface.u.length() * (k + 0.5) / kPlaces;
      const double v = m.surface.v.first();
      const ChainPlace n = onto_.at(refined(share(t), evaluate(m.surface, t, v)), 1);
      const double angle = evenclay::measure(
          m.joint,
          {&m.surface, neighbour_.faces[n.face].surface.get(), t, v, n.u, n.v, n.along, -n.out},
          2e-4 * size(m.surface));
      if (angle > worst) {
        worst = angle;
        m.worst = n.p;
      }
    }
    settle(m.joint, {.gap = o_.tolerance});
  }

  const Surface& original_;
  const EdgeChain& onto_;
  const Body& neighbour_;
  const MatchOptions& o_;
  Progress& progress_;
  BorderLength length_;
  bool backwards_ = false;
};

}  // namespace

Matched matched(const Surface& surface, Border border, const EdgeChain& onto, const Body& neighbour,
                const MatchOptions& options, Progress& progress) {
  if (options.continuity < 0 || options.continuity > 3) throw Error(say("A match keeps G0 to G3."));
  if (surface.rational())
    throw Error(
        say("The surface has weights, which a match would have to give up. Rebuild it first."));
  const bool of_u = border == Border::UMin || border == Border::UMax;
  if ((of_u ? surface.u : surface.v).periodic || is_pole(surface, border, 1e-9))
    throw Error(say(
        "This edge has no length: it is a pole or lies in a closed direction. Pick another one."));
  const Surface s = turned(surface, border, false);
  if (s.u.periodic != onto.closed())
    throw Error(say(
        "One edge is closed and the other is open. Pick the whole ring on both sides, or a piece "
        "on both."));
  if (s.points.columns() < options.continuity + 2 || s.v.degree < std::min(options.continuity, 3))
    throw Error(
        say("The surface has {} rows of points across the edge and degree {}; G{} needs {} "
            "rows and degree {}. Rebuild it with more.",
            s.points.columns(), s.v.degree, options.continuity, options.continuity + 2,
            options.continuity));
  Matched result = Matcher(s, onto, neighbour, options, progress).run();
  result.surface = turned(std::move(result.surface), border, true);
  return result;
}

}  // namespace evenclay
