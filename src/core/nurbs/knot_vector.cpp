#include "core/nurbs/knot_vector.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

void check_multiplicities(const KnotVector& k, std::string_view what) {
  const auto last = k.knots.size() - 1;
  std::size_t start = 0;
  for (std::size_t i = 1; i <= last + 1; ++i) {
    if (i <= last && k.knots[i] == k.knots[start]) continue;
    const auto count = i - start;
    const bool at_end = !k.periodic && (start == 0 || i == last + 1);
    const auto allowed = at(k.degree + (at_end ? 1 : 0));
    if (count > allowed)
      throw Error(say("The {} has the knot {} {} times; degree {} allows {}.", what, k.knots[start],
                      count, k.degree, allowed));
    start = i;
  }
}

}  // namespace

void check(const KnotVector& k, std::string_view what) {
  if (k.degree < 1 || k.degree > kMaxDegree)
    throw Error(say("The {} has degree {}; choose 1 to {}.", what, k.degree, kMaxDegree));
  const auto needed = at(k.periodic ? k.degree + 2 : 2 * k.degree + 2);
  if (k.knots.size() < needed)
    throw Error(say("The {} has {} knots; degree {} needs at least {}.", what, k.knots.size(),
                    k.degree, needed));
  if (k.point_count() > kMaxPoints)
    throw Error(say("The {} has {} control points; at most {} can be used.", what, k.point_count(),
                    kMaxPoints));
  for (std::size_t i = 0; i < k.knots.size(); ++i) {
    if (!std::isfinite(k.knots[i]))
      throw Error(say("The {} has a knot that is not a number (knot {}).", what, i));
    if (i > 0 && k.knots[i] < k.knots[i - 1])
      throw Error(
          say("The {} has decreasing knots ({} after {}).", what, k.knots[i], k.knots[i - 1]));
  }
  if (!(k.length() > 0.0))
    throw Error(say("The {} has no length: all its knots are {}.", what, k.first()));
  check_multiplicities(k, what);
}

KnotVector uniform_knots(int points, int degree, bool periodic) {
  if (points < degree + 1)
    throw Error(
        say("Degree {} needs at least {} control points in a direction, but {} are asked for. "
            "Take more points or a lower degree.",
            degree, degree + 1, points));
  KnotVector k{degree, periodic, {}};
  const int spans = periodic ? points : points - degree;
  for (int i = 0; !periodic && i < degree; ++i) k.knots.push_back(0.0);
  for (int i = 0; i <= spans; ++i) k.knots.push_back(static_cast<double>(i) / spans);
  for (int i = 0; !periodic && i < degree; ++i) k.knots.push_back(1.0);
  return k;
}

double into_domain(const KnotVector& k, double u) {
  const double a = k.first();
  const double b = k.last();
  if (!k.periodic) return std::clamp(u, a, b);
  double r = std::fmod(u - a, b - a);
  if (r < 0.0) r += b - a;
  return a + r < b ? a + r : a;
}

std::vector<double> breakpoints(const KnotVector& k) {
  std::vector<double> result;
  for (const double t : k.knots)
    if (t >= k.first() && t <= k.last() && (result.empty() || t > result.back()))
      result.push_back(t);
  return result;
}

std::vector<double> sample_places(const KnotVector& knots, int per_span) {
  const std::vector<double> breaks = breakpoints(knots);
  std::vector<double> result;
  for (std::size_t s = 0; s + 1 < breaks.size(); ++s)
    for (int k = 0; k < per_span; ++k)
      result.push_back(breaks[s] + (breaks[s + 1] - breaks[s]) * k / per_span);
  if (!knots.periodic) result.push_back(breaks.back());
  return result;
}

std::vector<double> greville_places(const KnotVector& k) {
  const FlatKnots flat = flatten(k);
  std::vector<double> result(at(flat.points), 0.0);
  for (int f = 0; f < flat.functions(); ++f) {
    double sum = 0.0;
    for (int i = 1; i <= k.degree; ++i) sum += flat.t[at(f + i)];
    const double place = sum / k.degree;
    double& slot = result[at(flat.point(f))];
    // A wrapped point has several functions; take the one whose place lies in the domain.
    const bool inside = place >= k.first() && (k.periodic ? place < k.last() : true);
    if (inside || f < flat.points) slot = inside ? place : into_domain(k, place);
  }
  if (!k.periodic)
    for (double& g : result) g = std::clamp(g, k.first(), k.last());
  return result;
}

FlatKnots flatten(const KnotVector& k) {
  FlatKnots flat;
  flat.degree = k.degree;
  flat.points = k.point_count();
  flat.periodic = k.periodic;
  if (!k.periodic) {
    flat.t = k.knots;
    return flat;
  }
  flat.shift = k.degree - (k.degree + 1) / 2;
  const int n = flat.points;
  const double period = k.length();
  flat.t.reserve(at(n + 1 + 2 * k.degree));
  for (int i = -k.degree; i <= n + k.degree; ++i) {
    const int turns = i >= 0 ? i / n : -((n - 1 - i) / n);
    flat.t.push_back(k.knots[at(i - turns * n)] + turns * period);
  }
  return flat;
}

int find_span(const FlatKnots& k, double u) {
  const int last = k.functions();  // domain ends at t[functions]
  if (u >= k.t[at(last)]) {
    int s = last - 1;
    while (s > k.degree && k.t[at(s)] >= k.t[at(last)]) --s;
    return s;
  }
  const auto begin = k.t.begin() + k.degree;
  const auto end = k.t.begin() + last + 1;
  const auto it = std::upper_bound(begin, end, u);
  return std::max(k.degree, static_cast<int>(it - k.t.begin()) - 1);
}

BasisDerivatives basis_derivatives(const FlatKnots& k, int span, double u, int order) {
  const int p = k.degree;
  std::array<std::array<double, kMaxDegree + 1>, kMaxDegree + 1> ndu{};
  std::array<double, kMaxDegree + 1> left{};
  std::array<double, kMaxDegree + 1> right{};
  ndu[0][0] = 1.0;
  for (int j = 1; j <= p; ++j) {
    left[at(j)] = u - k.t[at(span + 1 - j)];
    right[at(j)] = k.t[at(span + j)] - u;
    double saved = 0.0;
    for (int r = 0; r < j; ++r) {
      ndu[at(j)][at(r)] = right[at(r + 1)] + left[at(j - r)];
      const double temp = ndu[at(r)][at(j - 1)] / ndu[at(j)][at(r)];
      ndu[at(r)][at(j)] = saved + right[at(r + 1)] * temp;
      saved = left[at(j - r)] * temp;
    }
    ndu[at(j)][at(j)] = saved;
  }
  BasisDerivatives ders{};
  for (int j = 0; j <= p; ++j) ders[0][at(j)] = ndu[at(j)][at(p)];
  for (int r = 0; r <= p; ++r) {
    std::array<std::array<double, kMaxDegree + 1>, 2> a{};
    std::size_t s1 = 0;
    std::size_t s2 = 1;
    a[0][0] = 1.0;
    for (int d = 1; d <= std::min(order, p); ++d) {
      double sum = 0.0;
      const int rk = r - d;
      const int pk = p - d;
      if (r >= d) {
        a[s2][0] = a[s1][0] / ndu[at(pk + 1)][at(rk)];
        sum = a[s2][0] * ndu[at(rk)][at(pk)];
      }
      const int j1 = rk >= -1 ? 1 : -rk;
      const int j2 = r - 1 <= pk ? d - 1 : p - r;
      for (int j = j1; j <= j2; ++j) {
        a[s2][at(j)] = (a[s1][at(j)] - a[s1][at(j - 1)]) / ndu[at(pk + 1)][at(rk + j)];
        sum += a[s2][at(j)] * ndu[at(rk + j)][at(pk)];
      }
      if (r <= pk) {
        a[s2][at(d)] = -a[s1][at(d - 1)] / ndu[at(pk + 1)][at(r)];
        sum += a[s2][at(d)] * ndu[at(r)][at(pk)];
      }
      ders[at(d)][at(r)] = sum;
      std::swap(s1, s2);
    }
  }
  double factor = p;
  for (int d = 1; d <= std::min(order, p); ++d) {
    for (int j = 0; j <= p; ++j) ders[at(d)][at(j)] *= factor;
    factor *= p - d;
  }
  return ders;
}

std::array<double, kMaxDegree + 1> basis_values(const FlatKnots& knots, int span, double u) {
  std::array<double, kMaxDegree + 1> n;
  std::array<double, kMaxDegree + 1> left, right;
  n[0] = 1.0;
  const auto degree = static_cast<std::size_t>(knots.degree);
  const double* t = knots.t.data() + span;
  for (std::size_t j = 1; j <= degree; ++j) {
    left[j] = u - *(t + 1 - static_cast<std::ptrdiff_t>(j));
    right[j] = t[j] - u;
    double saved = 0.0;
    for (std::size_t r = 0; r < j; ++r) {
      const double part = n[r] / (right[r + 1] + left[j - r]);
      n[r] = saved + right[r + 1] * part;
      saved = left[j - r] * part;
    }
    n[j] = saved;
  }
  for (std::size_t j = degree + 1; j < n.size(); ++j) n[j] = 0.0;
  return n;
}

}  // namespace evenclay
