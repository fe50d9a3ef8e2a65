#include "core/nurbs/clamped.h"

#include "core/nurbs/line_matrix.h"

namespace evenclay {

namespace {

KnotVector clamped_knots(const KnotVector& k) {
  const auto ends = static_cast<std::size_t>(k.degree + 1);
  KnotVector result{k.degree, false, std::vector<double>(ends, k.first())};
  for (const double t : k.knots)
    if (t > k.first() && t < k.last()) result.knots.push_back(t);
  result.knots.insert(result.knots.end(), ends, k.last());
  return result;
}

// Rounding must not open the seam.
void close_seam(Surface& s, Direction d) {
  const bool u = d == Direction::U;
  const int last = (u ? s.points.rows() : s.points.columns()) - 1;
  const int count = u ? s.points.columns() : s.points.rows();
  for (int k = 0; k < count; ++k) {
    (u ? s.points(last, k) : s.points(k, last)) = u ? s.points(0, k) : s.points(k, 0);
    if (s.rational())
      (u ? s.weights(last, k) : s.weights(k, last)) = u ? s.weights(0, k) : s.weights(k, 0);
  }
}

}  // namespace

Surface clamped_along(const Surface& s, Direction d) {
  const KnotVector& from = d == Direction::U ? s.u : s.v;
  if (!from.periodic) return s;
  const KnotVector to = clamped_knots(from);
  Surface result = applied(refinement(from, to), s, d, to);
  close_seam(result, d);
  return result;
}

Surface clamped(const Surface& s) {
  return clamped_along(clamped_along(s, Direction::U), Direction::V);
}

}  // namespace evenclay
