#include "core/check/comb.h"

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

// At knots where the curvature may jump there are two teeth, one from each side.
std::vector<double> with_both_sides(std::vector<double> places, const KnotVector& k) {
  const std::vector<double> knots = breakpoints(k);
  for (std::size_t n = 1; n + 1 < knots.size(); ++n) {
    const auto times = std::count(k.knots.begin(), k.knots.end(), knots[n]);
    if (times >= k.degree - 1) places.push_back(std::nextafter(knots[n], k.first()));
  }
  std::sort(places.begin(), places.end());
  return places;
}

class IsoCurve {
 public:
  IsoCurve(const Surface& s, Direction d, double fixed)
      : s_(s), u_(d == Direction::U), fixed_(fixed) {}

  std::optional<Tooth> tooth(double w) const {
    const PointSecond p = u_ ? s_.seconds(w, fixed_) : s_.seconds(fixed_, w);
    const Vec3& d1 = u_ ? p.du : p.dv;
    const Vec3& d2 = u_ ? p.duu : p.dvv;
    const double speed = length_squared(d1);
    if (!(speed > 0.0)) return std::nullopt;
    return Tooth{p.p, cross(cross(d1, d2), d1) / (speed * speed)};
  }

 private:
  SurfaceEvaluator s_;
  bool u_;
  double fixed_;
};

}  // namespace

Comb comb_along(std::span<const double> places,
                const std::function<std::optional<Tooth>(double)>& tooth, double size) {
  Comb result;
  std::vector<double> kept;
  for (const double w : places)
    if (const auto t = tooth(w)) {
      result.teeth.push_back(*t);
      kept.push_back(w);
      result.greatest = std::max(result.greatest, length(t->curvature));
    }
  // Rounding bends a straight line to all sides.
  const double nothing = 1e-7 * result.greatest + 1e-9 / std::max(size, 1e-9);
  for (std::size_t k = 1; k < kept.size(); ++k) {
    const Vec3& before = result.teeth[k - 1].curvature;
    const Vec3& after = result.teeth[k].curvature;
    if (dot(before, after) >= 0.0 || length(before) < nothing || length(after) < nothing) continue;
    double a = kept[k - 1];
    double b = kept[k];
    for (int halving = 0; halving < 10; ++halving) {
      const double middle = 0.5 * (a + b);
      const auto t = tooth(middle);
      if (!t) break;
      (dot(t->curvature, before) >= 0.0 ? a : b) = middle;
    }
    if (const auto t = tooth(0.5 * (a + b))) result.inflections.push_back(t->at);
  }
  return result;
}

Comb comb(const Surface& s, Direction direction, double fixed, int per_span) {
  const KnotVector& along = direction == Direction::U ? s.u : s.v;
  const IsoCurve curve(s, direction, fixed);
  std::vector<double> places =
      with_both_sides(sample_places(along, std::clamp(per_span, 1, 400)), along);
  if (along.periodic) places.push_back(along.last());
  return comb_along(
      places, [&](double w) { return curve.tooth(w); }, size(s));
}

}  // namespace evenclay
