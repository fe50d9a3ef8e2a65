#include "core/nurbs/foot_search.h"

#include <algorithm>
#include <cmath>

namespace evenclay {

namespace {

// A symmetric 2 × 2 matrix.
struct Symmetric {
  double a, b, c;
  double determinant() const { return a * c - b * b; }
};

Parameter solved(const Symmetric& m, double gu, double gv) {
  const double det = m.determinant();
  return {(-gu * m.c + gv * m.b) / det, (-gv * m.a + gu * m.b) / det};
}

// Newton's step where the squared distance is no bowl: its bends, measured along the surface (1 − distance × curvature),
// are taken without their sign, so that the way leads down and is no longer than the bend asks for. `metric` holds the
// products of the first derivatives and is not singular.
Parameter step_off_saddle(const Symmetric& metric, const Symmetric& hessian, double gu, double gv) {
  constexpr double kLeastBend = 0.05;
  // Cholesky: metric = L Lᵀ, and M = L⁻¹ hessian L⁻ᵀ.
  const double l11 = std::sqrt(metric.a), l21 = metric.b / l11;
  const double l22 = std::sqrt(metric.c - l21 * l21);
  const double m11 = hessian.a / metric.a;
  const double m21 = (hessian.b / l11 - l21 * m11) / l22;
  const double m22 = (hessian.c - l21 * (2.0 * m21 * l22 + l21 * m11)) / (l22 * l22);
  const double angle = 0.5 * std::atan2(2.0 * m21, m11 - m22);
  const double x = std::cos(angle), y = std::sin(angle);
  const double first = m11 * x * x + 2.0 * m21 * x * y + m22 * y * y;
  const double second = m11 + m22 - first;
  const double g1 = gu / l11, g2 = (gv - l21 * g1) / l22;
  const double s1 = -(g1 * x + g2 * y) / std::max(std::abs(first), kLeastBend);
  const double s2 = -(g2 * x - g1 * y) / std::max(std::abs(second), kLeastBend);
  const double w2 = (s1 * y + s2 * x) / l22;
  return {(s1 * x - s2 * y - l21 * w2) / l11, w2};
}

// Down each direction for itself.
Parameter slope_step(const PointSecond& s, const Vec3& r, bool free_u, bool free_v) {
  return {free_u ? -dot(s.du, r) / dot(s.du, s.du) : 0.0,
          free_v ? -dot(s.dv, r) / dot(s.dv, s.dv) : 0.0};
}

// The step of one damped Newton iteration.
Parameter newton_step(const PointSecond& s, const Vec3& r, bool free_u, bool free_v) {
  const double gu = dot(s.du, r);
  const double gv = dot(s.dv, r);
  const Symmetric metric{dot(s.du, s.du), dot(s.du, s.dv), dot(s.dv, s.dv)};
  const Symmetric hessian{metric.a + dot(s.duu, r), metric.b + dot(s.duv, r),
                          metric.c + dot(s.dvv, r)};
  const auto along = [](double bend, double length, double slope) {
    return -slope / (bend > 0.0 ? bend : std::max(length, 1e-300));
  };
  if (!free_u) return {0.0, along(hessian.c, metric.c, gv)};
  if (!free_v) return {along(hessian.a, metric.a, gu), 0.0};
  if (hessian.a > 0.0 && hessian.c > 0.0 && hessian.determinant() > 1e-14 * hessian.a * hessian.c)
    return solved(hessian, gu, gv);
  if (metric.determinant() > 1e-10 * metric.a * metric.c)
    return step_off_saddle(metric, hessian, gu, gv);
  return slope_step(s, r, true, true);
}

double moved(const KnotVector& k, double u, double step, double low, double high, bool round) {
  // A step longer than a quarter of the domain leaves the basin of the seed.
  step = std::clamp(step, -0.25 * k.length(), 0.25 * k.length());
  return round ? into_domain(k, u + step) : std::clamp(u + step, low, high);
}

bool inside(const Parameter& at, const FootBounds& b) {
  return (b.round_u || (at.u >= b.low_u && at.u <= b.high_u)) &&
         (b.round_v || (at.v >= b.low_v && at.v <= b.high_v));
}

bool pushed_out(double u, double gradient, double low, double high, bool round) {
  return !round && ((u <= low && gradient > 0.0) || (u >= high && gradient < 0.0));
}

}  // namespace

FootSearch::FootSearch(const Surface& s)
    : u_(s.u), v_(s.v), evaluator_(s), scale_squared_(size(s) * size(s)) {}

// At a pole one parameter does not move the point, and whether the other may leave the border
// depends on it: look around the pole for the direction of steepest descent.
bool FootSearch::turn_at_pole(Parameter& at, const PointSecond& s, const Vec3& q) const {
  const double du = length_squared(s.du) * u_.length() * u_.length();
  const double dv = length_squared(s.dv) * v_.length() * v_.length();
  const bool around_u = du < 1e-18 * dv;
  if (!around_u && !(dv < 1e-18 * du)) return false;
  const KnotVector& around = around_u ? u_ : v_;
  const KnotVector& across = around_u ? v_ : u_;
  const double place = around_u ? at.v : at.u;
  const double inward = place <= across.first() ? 1.0 : -1.0;
  constexpr int kRays = 48;
  double steepest = 0.0;
  Parameter best = at;
  for (int k = 0; k < kRays; ++k) {
    const double w = around.first() + around.length() * k / kRays;
    const Parameter p = around_u ? Parameter{w, at.v} : Parameter{at.u, w};
    const PointTangents t = evaluator_.tangents(p.u, p.v);
    // Per length, so that the ray whose line passes nearest is taken, not the longest one.
    const Vec3 ray = around_u ? t.dv : t.du;
    const double l = length(ray);
    const double slope = l > 0.0 ? inward * dot(ray, t.p - q) / l : 0.0;
    if (slope < steepest) {
      steepest = slope;
      best = p;
    }
  }
  at = best;
  return steepest < 0.0;
}

// Whether what a further step would bring after this one is rounding: Newton's steps shrink by the square of their
// share. Short ones need no new evaluation: the surface is its second order there.
bool FootSearch::last_step_likely(double way_squared, double last_way_squared) const {
  const double share = way_squared / last_way_squared;
  return last_way_squared > 0.0 && way_squared < 1e-14 * scale_squared_ &&
         way_squared * share * share < 1e-26 * scale_squared_;
}

// Along the step, or a part of it, to where the place comes nearer.
FootSearch::Went FootSearch::descend(Descent& now, Parameter step, const Vec3& q,
                                     const FootBounds& b) const {
  for (int halving = 0; halving < 12; ++halving) {
    const Parameter next{moved(u_, now.at.u, step.u, b.low_u, b.high_u, b.round_u),
                         moved(v_, now.at.v, step.v, b.low_v, b.high_v, b.round_v)};
    const PointSecond t = evaluator_.seconds(next.u, next.v);
    const double squared = length_squared(t.p - q);
    if (squared < now.squared) {
      const bool better =
          now.squared - squared > 1e-18 * now.squared && length(t.p - now.s.p) > 0.0;
      now = {next, t, squared};
      return !better ? Went::Hardly : halving == 0 ? Went::Whole : Went::Part;
    }
    step.u *= 0.5;
    step.v *= 0.5;
  }
  return Went::Nowhere;
}

Projection FootSearch::from(Parameter at, const Vec3& q, const FootBounds& b) const {
  Descent now{at, evaluator_.seconds(at.u, at.v), 0.0};
  now.squared = length_squared(now.s.p - q);
  int turns = 0;
  double last_way_squared = 0.0;  // of a whole step; 0 when none was taken
  for (int iteration = 0; iteration < 40; ++iteration) {
    const bool on_border = (!v_.periodic && (now.at.v <= v_.first() || now.at.v >= v_.last())) ||
                           (!u_.periodic && (now.at.u <= u_.first() || now.at.u >= u_.last()));
    if (on_border && turns < 2 && turn_at_pole(now.at, now.s, q)) {
      ++turns;
      now.s = evaluator_.seconds(now.at.u, now.at.v);
    }
    const PointSecond& s = now.s;
    const Vec3 r = s.p - q;
    const double du = length_squared(s.du) * u_.length() * u_.length();
    const double dv = length_squared(s.dv) * v_.length() * v_.length();
    const bool free_u =
        du > 1e-18 * dv && !pushed_out(now.at.u, dot(s.du, r), b.low_u, b.high_u, b.round_u);
    const bool free_v =
        dv > 1e-18 * du && !pushed_out(now.at.v, dot(s.dv, r), b.low_v, b.high_v, b.round_v);
    if (!free_u && !free_v) break;
    const Parameter step = newton_step(s, r, free_u, free_v);
    // The way the step promises, on the surface: when it is rounding, the foot is found.
    const Vec3 way = s.du * step.u + s.dv * step.v;
    const double way_squared = length_squared(way);
    if (way_squared < 1e-26 * scale_squared_) break;
    const Parameter whole{now.at.u + step.u, now.at.v + step.v};
    if (last_step_likely(way_squared, last_way_squared) && inside(whole, b) &&
        std::abs(step.u) < 1e-6 * u_.length() && std::abs(step.v) < 1e-6 * v_.length()) {
      const Vec3 p = s.p + way + s.duu * (0.5 * step.u * step.u) + s.duv * (step.u * step.v) +
                     s.dvv * (0.5 * step.v * step.v);
      return {into_domain(u_, whole.u), into_domain(v_, whole.v), p, distance(p, q)};
    }
    last_way_squared = 0.0;
    Went went = descend(now, step, q, b);
    if (went == Went::Whole) last_way_squared = way_squared;
    // A border may cut the step to one that leads up; the slopes themselves never do.
    if (went == Went::Nowhere) went = descend(now, slope_step(s, r, free_u, free_v), q, b);
    if (went == Went::Nowhere || went == Went::Hardly) break;
  }
  return {now.at.u, now.at.v, now.s.p, std::sqrt(now.squared)};
}

}  // namespace evenclay
