// Knot vectors, clamped or periodic, and B-spline basis functions on them.
// Source: L. Piegl, W. Tiller, The NURBS Book, 2nd ed., Springer 1997 (algorithms A2.1 - A2.3).
#pragma once

#include <array>
#include <string_view>
#include <vector>

namespace evenclay {

inline constexpr int kMaxDegree = 11;
inline constexpr int kMaxPoints = 4096;  ///< per direction; bounds the memory a file can ask for

/// One direction of a curve or surface.
///
/// Clamped (periodic = false): the usual full vector of point_count + degree + 1 knots; the
/// domain is [knots[degree], knots[point_count]].
///
/// Periodic: the point_count + 1 knots of one period, first to last, with multiplicities; the
/// sequence goes on by repetition. No control point is stored twice. Point i is the middle of its
/// support: for odd degree its Greville place is knots[i] when the knots are uniform.
///
///   degree 3, 6 points, uniform:   knots 0  1  2  3  4  5  6 (= 0)
///                                  point 0  1  2  3  4  5  0
struct KnotVector {
  int degree = 1;
  bool periodic = false;
  std::vector<double> knots;

  int point_count() const { return static_cast<int>(knots.size()) - (periodic ? 1 : degree + 1); }
  double first() const {
    return periodic ? knots.front() : knots[static_cast<std::size_t>(degree)];
  }
  double last() const {
    return periodic ? knots.back() : knots[knots.size() - 1 - static_cast<std::size_t>(degree)];
  }
  double length() const { return last() - first(); }
  bool operator==(const KnotVector&) const = default;
};

/// Throws Error with the numbers when the vector is not a usable knot vector: degree 1..11,
/// finite, not decreasing, a domain with length, no knot more often than degree (+ 1 at clamped
/// ends), enough points. `what` names it in the sentence, such as "u direction".
void check(const KnotVector& knots, std::string_view what);

/// Evenly spaced knots over [0, 1]. Throws Error when points < degree + 1.
KnotVector uniform_knots(int points, int degree, bool periodic);

/// A periodic vector brings u into [first, last); a clamped one cuts it to [first, last].
double into_domain(const KnotVector& knots, double u);

/// Places where the basis changes its polynomial: distinct knots of the domain, first to last.
std::vector<double> breakpoints(const KnotVector& knots);

/// Each span in `per_span` equal parts; with the end of a clamped domain, without that of a periodic
/// one, which is its beginning.
std::vector<double> sample_places(const KnotVector& knots, int per_span);

/// Greville places: the mean of the inner knots of each point's support, inside the domain.
std::vector<double> greville_places(const KnotVector& knots);

/// A knot vector unrolled to the clamped-like layout on which all basis algorithms run.
/// Function f has its support on t[f .. f + degree + 1] and belongs to control point(f).
struct FlatKnots {
  int degree = 1;
  int points = 0;  ///< number of control points
  int shift = 0;   ///< periodic: point(f) = (f - shift) mod points; clamped: 0
  bool periodic = false;
  std::vector<double> t;

  int point(int f) const {
    if (!periodic) return f;
    const int r = (f - shift) % points;
    return r < 0 ? r + points : r;
  }
  int functions() const { return static_cast<int>(t.size()) - degree - 1; }
};
FlatKnots flatten(const KnotVector& knots);

/// Index k with t[k] <= u < t[k + 1], degree <= k < functions; the last such k at the end (A2.1).
int find_span(const FlatKnots& knots, double u);

/// result[d][k] = d-th derivative of function span - degree + k at u, k = 0..degree, d = 0..order.
/// u inside the domain, order <= 3; derivatives above the degree are 0 (A2.3).
using BasisDerivatives = std::array<std::array<double, kMaxDegree + 1>, 4>;
BasisDerivatives basis_derivatives(const FlatKnots& knots, int span, double u, int order);

/// result[k] = N(span - degree + k, u), k = 0..degree (A2.2). Thread-safe.
std::array<double, kMaxDegree + 1> basis_values(const FlatKnots& knots, int span, double u);

}  // namespace evenclay
