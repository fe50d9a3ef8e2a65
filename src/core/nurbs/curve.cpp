#include "core/nurbs/curve.h"

#include <fmt/format.h>

#include <array>
#include <cmath>
#include <limits>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

}  // namespace

void check(const Curve& c) {
  check(c.knots, "curve");
  if (c.point_count() != c.knots.point_count())
    throw Error(say("The curve has {} control points, but its knots need {}.", c.point_count(),
                    c.knots.point_count()));
  for (const Vec3& p : c.points)
    if (!is_finite(p)) throw Error(say("The curve has a control point that is not a number."));
  if (!c.rational()) return;
  if (c.weights.size() != c.points.size())
    throw Error(say("The curve has another count of weights than of control points."));
  for (const double w : c.weights)
    if (!(w > 0.0) || !std::isfinite(w))
      throw Error(say("The curve has the weight {}; weights are greater than 0.", w));
}

CurveEvaluator::CurveEvaluator(Curve curve)
    : curve_(std::move(curve)), flat_(flatten(curve_.knots)) {}

CurveDerivatives CurveEvaluator::derivatives(double t, int order) const {
  t = into_domain(curve_.knots, t);
  const int degree = curve_.knots.degree;
  const int span = find_span(flat_, t);
  const BasisDerivatives n = basis_derivatives(flat_, span, t, order);
  std::array<Vec3, 4> p{};
  std::array<double, 4> w{};
  for (int a = 0; a <= degree; ++a) {
    const int i = flat_.point(span - degree + a);
    const double weight = curve_.weight(i);
    for (int k = 0; k <= order; ++k) {
      p[at(k)] += curve_.points[at(i)] * (weight * n[at(k)][at(a)]);
      w[at(k)] += weight * n[at(k)][at(a)];
    }
  }
  static constexpr std::array<std::array<double, 4>, 4> binomial{
      {{1, 0, 0, 0}, {1, 1, 0, 0}, {1, 2, 1, 0}, {1, 3, 3, 1}}};
  std::array<Vec3, 4> d{};
  for (int k = 0; k <= order; ++k) {
    Vec3 value = p[at(k)];
    for (int i = 1; i <= k; ++i) value -= d[at(k - i)] * (binomial[at(k)][at(i)] * w[at(i)]);
    d[at(k)] = value / w[0];
  }
  return {d[0], d[1], d[2], d[3]};
}

Vec3 CurveEvaluator::point(double t) const {
  t = into_domain(curve_.knots, t);
  const int degree = curve_.knots.degree;
  const int span = find_span(flat_, t);
  const auto n = basis_values(flat_, span, t);
  Vec3 p;
  double w = 0.0;
  for (int a = 0; a <= degree; ++a) {
    const int i = flat_.point(span - degree + a);
    const double share = n[at(a)] * curve_.weight(i);
    p += curve_.points[at(i)] * share;
    w += share;
  }
  return curve_.rational() ? p / w : p;
}

Vec3 evaluate(const Curve& curve, double t) {
  return CurveEvaluator(curve).point(t);
}

CurveDerivatives derivatives(const Curve& curve, double t, int order) {
  return CurveEvaluator(curve).derivatives(t, order);
}

double size(const Curve& curve) {
  Box3 box;
  for (const Vec3& p : curve.points) box.add(p);
  return box.size();
}

Curve make_circle(const Frame& frame, double radius) {
  if (!(radius > 0.0) || !(radius < 1e7))
    throw Error(say("The circle's radius is {} mm; it must be greater than 0.", radius));
  static constexpr int cx[8] = {1, 1, 0, -1, -1, -1, 0, 1};
  static constexpr int cy[8] = {0, 1, 1, 1, 0, -1, -1, -1};
  Curve c{{2, true, {0.0, 0.0, 0.25, 0.25, 0.5, 0.5, 0.75, 0.75, 1.0}}, {}, {}};
  for (int i = 0; i < 8; ++i) {
    c.points.push_back(frame.to_world({radius * cx[i], radius * cy[i], 0.0}));
    c.weights.push_back(i % 2 == 0 ? 1.0 : 0.5 * std::numbers::sqrt2);
  }
  return c;
}

Curve make_curve(std::vector<Vec3> points, int degree, bool closed) {
  const int count = static_cast<int>(points.size());
  if (count < degree + 1)
    throw Error(say_of(
        static_cast<std::size_t>(count),
        "A curve of degree {} needs at least {} control points; there is {}. Add points or lower "
        "the degree.",
        "A curve of degree {} needs at least {} control points; there are {}. Add points or lower "
        "the degree.",
        degree, degree + 1, count));
  Curve c{uniform_knots(count, degree, closed), std::move(points), {}};
  check(c);
  return c;
}

Surface strip_of(const Curve& c, const Vec3& beside) {
  Surface s{c.knots, uniform_knots(2, 1, false), Grid<Vec3>(c.point_count(), 2), {}};
  if (c.rational()) s.weights = Grid<double>(c.point_count(), 2, 1.0);
  for (int i = 0; i < c.point_count(); ++i)
    for (int j = 0; j < 2; ++j) {
      s.points(i, j) = c.points[at(i)] + beside * static_cast<double>(j);
      if (c.rational()) s.weights(i, j) = c.weights[at(i)];
    }
  return s;
}

Curve first_row(const Surface& s) {
  return border_of(s, Border::VMin);
}

Curve border_of(const Surface& s, Border edge) {
  const bool of_u = edge == Border::UMin || edge == Border::UMax;
  const int last = (of_u ? s.points.rows() : s.points.columns()) - 1;
  const int fixed = edge == Border::UMax || edge == Border::VMax ? last : 0;
  const int count = of_u ? s.points.columns() : s.points.rows();
  Curve c{of_u ? s.v : s.u, {}, {}};
  for (int k = 0; k < count; ++k) {
    const int i = of_u ? fixed : k;
    const int j = of_u ? k : fixed;
    c.points.push_back(s.points(i, j));
    if (s.rational()) c.weights.push_back(s.weights(i, j));
  }
  return c;
}

namespace {

// Newton's method on (C − P) · C′ = 0 from a seed, kept between the neighbouring samples.
double refined(const CurveEvaluator& c, const Vec3& point, double t, double reach) {
  const KnotVector& k = c.curve().knots;
  const double low = t - reach;
  const double high = t + reach;
  for (int pass = 0; pass < 20; ++pass) {
    const CurveDerivatives d = c.derivatives(t, 2);
    const Vec3 gap = d.p - point;
    const double slope = dot(gap, d.d1);
    double bend = dot(gap, d.d2) + length_squared(d.d1);
    if (!(bend > 0.0)) bend = length_squared(d.d1);
    if (!(bend > 0.0)) return t;
    double next = std::clamp(t - slope / bend, low, high);
    if (!k.periodic) next = std::clamp(next, k.first(), k.last());
    if (std::abs(next - t) < 1e-15 * k.length()) return next;
    t = next;
  }
  return t;
}

}  // namespace

CurvePlace closest_place(const CurveEvaluator& c, const Vec3& point) {
  const KnotVector& k = c.curve().knots;
  const std::vector<double> seeds = sample_places(k, 16);
  // The nearest sample may belong to another branch than the nearest place: try the best few.
  std::vector<std::pair<double, std::size_t>> ranked;
  for (std::size_t s = 0; s < seeds.size(); ++s)
    ranked.emplace_back(distance(c.point(seeds[s]), point), s);
  const std::size_t tries = std::min<std::size_t>(4, ranked.size());
  std::partial_sort(ranked.begin(), ranked.begin() + static_cast<long>(tries), ranked.end());
  CurvePlace best;
  best.distance = std::numeric_limits<double>::infinity();
  for (std::size_t n = 0; n < tries; ++n) {
    const std::size_t s = ranked[n].second;
    const double before = s > 0 ? seeds[s] - seeds[s - 1] : k.length() / 16.0;
    const double after = s + 1 < seeds.size() ? seeds[s + 1] - seeds[s] : k.length() / 16.0;
    const double t = refined(c, point, seeds[s], std::max(before, after));
    for (const double candidate : {t, seeds[s]}) {
      const Vec3 p = c.point(candidate);
      if (const double d = distance(p, point); d < best.distance)
        best = {into_domain(k, candidate), p, d};
    }
  }
  return best;
}

}  // namespace evenclay
