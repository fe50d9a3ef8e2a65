#include "core/body/edge_points.h"

#include <algorithm>

#include "core/nurbs/curve.h"

namespace evenclay {

namespace {

Vec3 at_share(const Vec3& a, const Vec3& b, double share) {
  return a + (b - a) * share;
}

// Whether the chord over [a, b] stays within the tolerance of the curve, at quarters and at knots.
bool chord_holds(const CurveEvaluator& curve, const std::vector<double>& breaks, double a, double b,
                 double tolerance) {
  const Vec3 pa = curve.point(a);
  const Vec3 pb = curve.point(b);
  const Vec3 way = pb - pa;
  const double square = std::max(length_squared(way), 1e-300);
  const auto leaves = [&](double t) {
    const Vec3 p = curve.point(t);
    const double share = std::clamp(dot(p - pa, way) / square, 0.0, 1.0);
    return length_squared(p - at_share(pa, pb, share)) > tolerance * tolerance;
  };
  for (const double share : {0.25, 0.5, 0.75})
    if (leaves(a + (b - a) * share)) return false;
  const auto first = std::upper_bound(breaks.begin(), breaks.end(), a);
  const auto last = std::lower_bound(breaks.begin(), breaks.end(), b);
  const long step = std::max(1L, (last - first) / 16);
  for (auto k = first; k < last; k += std::min(step, last - k))
    if (leaves(*k)) return false;
  return true;
}

void add_chords(const CurveEvaluator& curve, const std::vector<double>& breaks, double a, double b,
                double tolerance, int depth, std::vector<double>& out) {
  if (depth > 0 && !chord_holds(curve, breaks, a, b, tolerance)) {
    const double m = 0.5 * (a + b);
    add_chords(curve, breaks, a, m, tolerance, depth - 1, out);
    add_chords(curve, breaks, m, b, tolerance, depth - 1, out);
    return;
  }
  out.push_back(b);
}

// Knots where the curve may have a corner.
std::vector<double> corners_of(const KnotVector& k) {
  std::vector<double> result;
  for (const double t : breakpoints(k)) {
    const auto [from, to] = std::equal_range(k.knots.begin(), k.knots.end(), t);
    if (to - from >= k.degree) result.push_back(t);
  }
  return result;
}

}  // namespace

std::vector<double> edge_places(const Edge& edge, double chord) {
  const CurveEvaluator curve(edge.curve);
  const std::vector<double> breaks = breakpoints(edge.curve.knots);
  const std::vector<double> corners = corners_of(edge.curve.knots);
  std::vector<double> result{corners.front()};
  const bool straight = edge.curve.knots.degree == 1 && !edge.curve.rational();
  const int parts = straight ? 1 : (corners.size() == 2 ? 4 : 2);
  for (std::size_t k = 0; k + 1 < corners.size(); ++k)
    for (int n = 0; n < parts; ++n) {
      const double h = (corners[k + 1] - corners[k]) / parts;
      const double b = n + 1 == parts ? corners[k + 1] : corners[k] + h * (n + 1);
      add_chords(curve, breaks, corners[k] + h * n, b, chord, 12, result);
    }
  return result;
}

std::vector<Vec3> polyline(const Curve& curve, double chord) {
  const CurveEvaluator e(curve);
  std::vector<Vec3> result;
  for (const double t : edge_places({0, curve, 0.0}, chord)) result.push_back(e.point(t));
  return result;
}

}  // namespace evenclay
