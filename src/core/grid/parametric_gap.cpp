#include "core/grid/parametric_gap.h"

#include <algorithm>
#include <cmath>

namespace evenclay {

namespace {

constexpr int kPerSpan = 4;

// Shares of the domain: even ones, fine enough for the direction with more spans, and the ends.
std::vector<double> shares(const KnotVector& a, const KnotVector& b) {
  const std::size_t spans = std::max(breakpoints(a).size(), breakpoints(b).size()) - 1;
  const std::size_t count = spans * kPerSpan + 1;
  std::vector<double> result;
  for (std::size_t k = 0; k <= count; ++k)
    result.push_back(static_cast<double>(k) / static_cast<double>(count));
  return result;
}

std::vector<double> places(const KnotVector& k, const std::vector<double>& shares) {
  std::vector<double> result;
  for (const double s : shares) result.push_back(k.first() + s * k.length());
  result.back() = k.last();
  return result;
}

Vec3 taken(const std::array<std::vector<double>, 3>& plane, std::size_t k) {
  return {plane[0][k], plane[1][k], plane[2][k]};
}

Vec3 off_line(const Vec3& d, const Vec3& along) {
  const double square = length_squared(along);
  return square > 0.0 ? d - along * (dot(d, along) / square) : d;
}

}  // namespace

ParametricGap::ParametricGap(const Surface& surface)
    : u_(surface.u), v_(surface.v), projector_(surface, 0) {}

template <typename Take>
void ParametricGap::compare(const Surface& other, const Take& take) const {
  const std::vector<double> pu = places(u_, shares(u_, other.u));
  const std::vector<double> pv = places(v_, shares(v_, other.v));
  GridSamples<double> a;
  GridSamples<double> b;
  Progress progress;
  projector_.evaluator().grid(pu, pv, a, progress);
  SurfaceEvaluator(other).grid(places(other.u, shares(u_, other.u)),
                               places(other.v, shares(v_, other.v)), b, progress);
  for (std::size_t i = 0; i < a.rows; ++i)
    for (std::size_t j = 0; j < a.columns; ++j) {
      const std::size_t k = i * a.columns + j;
      const Vec3 d = taken(b.p, k) - taken(a.p, k);
      const Vec3 du = taken(a.du, k);
      const Vec3 dv = taken(a.dv, k);
      const bool u_border = !u_.periodic && (i == 0 || i + 1 == a.rows);
      const bool v_border = !v_.periodic && (j == 0 || j + 1 == a.columns);
      double gap = 0.0;
      if (u_border && v_border) {
        gap = length(d);
      } else if (u_border) {
        gap = length(off_line(d, dv));
      } else if (v_border) {
        gap = length(off_line(d, du));
      } else {
        const Vec3 n = cross(du, dv);
        const double area = length(n);
        gap = area > 0.0 ? std::abs(dot(d, n)) / area : length(d);
      }
      take(Place{gap, {pu[i], pv[j]}, taken(b.p, k)});
    }
}

double ParametricGap::to(const Surface& other) const {
  double worst = 0.0;
  compare(other, [&](const Place& p) { worst = std::max(worst, p.gap); });
  return worst;
}

bool ParametricGap::exceeds(const Surface& other, double mm) const {
  constexpr std::size_t kLooked = 16;
  std::vector<Place> far;
  compare(other, [&](const Place& p) {
    if (p.gap > 0.5 * mm) far.push_back(p);
  });
  const std::size_t n = std::min(far.size(), kLooked);
  std::partial_sort(far.begin(), far.begin() + static_cast<std::ptrdiff_t>(n), far.end(),
                    [](const Place& a, const Place& b) { return a.gap > b.gap; });
  for (std::size_t k = 0; k < n; ++k)
    if (projector_.closest_near(far[k].other, far[k].at).distance > mm) return true;
  return false;
}

}  // namespace evenclay
