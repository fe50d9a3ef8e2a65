#include "core/nurbs/arc_length.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/quadrature.h"

namespace evenclay {

namespace {

constexpr int kIsoCurves = 16;
constexpr int kCells = 256;

// Knots between the two places, also one turn on.
std::vector<double> inner_breaks(const KnotVector& knots, double begin, double end) {
  std::vector<double> places;
  for (int turn = -1; turn <= 1; ++turn)
    for (const double b : breakpoints(knots)) {
      const double w = b + (knots.periodic ? turn * knots.length() : 0.0);
      if (w > begin && w < end) places.push_back(w);
    }
  return places;
}

std::vector<double> cell_ends(std::vector<double> places, double begin, double end) {
  places.push_back(begin);
  places.push_back(end);
  std::sort(places.begin(), places.end());
  std::vector<double> result{begin};
  const double step = (end - begin) / kCells;
  for (std::size_t k = 1; k < places.size(); ++k) {
    const double from = places[k - 1];
    const double to = places[k];
    if (!(to - from > 1e-13 * (end - begin))) continue;
    const int parts = std::max(1, static_cast<int>(std::ceil((to - from) / step)));
    for (int p = 1; p <= parts; ++p) result.push_back(from + (to - from) * p / parts);
  }
  return result;
}

// Mean speed over the iso-curves at one parameter.
double mean_speed(const SurfaceEvaluator& s, Direction direction, const Region& r, double w) {
  std::array<Parameter, kIsoCurves> at;
  std::array<PointTangents, kIsoCurves> out;
  for (std::size_t k = 0; k < kIsoCurves; ++k) {
    const double share = (static_cast<double>(k) + 0.5) / kIsoCurves;
    at[k] = direction == Direction::U ? Parameter{w, r.v_begin + (r.v_end - r.v_begin) * share}
                                      : Parameter{r.u_begin + (r.u_end - r.u_begin) * share, w};
  }
  s.tangents(at, out);
  double sum = 0.0;
  for (const PointTangents& t : out) sum += length(direction == Direction::U ? t.du : t.dv);
  return sum / kIsoCurves;
}

// Value and slope of a cubic Hermite piece.
std::array<double, 2> hermite(double x, double x0, double x1, double y0, double y1, double m0,
                              double m1) {
  const double h = x1 - x0;
  const double t = (x - x0) / h;
  const double secant = (y1 - y0) / h;
  m0 = std::clamp(m0, 0.0, 3.0 * secant);  // keeps the piece monotone (Fritsch, Carlson 1980)
  m1 = std::clamp(m1, 0.0, 3.0 * secant);
  const double c2 = 3.0 * secant - 2.0 * m0 - m1;
  const double c3 = m0 + m1 - 2.0 * secant;
  return {y0 + h * t * (m0 + t * (c2 + t * c3)), m0 + t * (2.0 * c2 + 3.0 * t * c3)};
}

std::size_t piece(const std::vector<double>& ends, double x) {
  const auto it = std::upper_bound(ends.begin() + 1, ends.end() - 1, x);
  return static_cast<std::size_t>(it - ends.begin()) - 1;
}

}  // namespace

Region whole(const Surface& s) {
  return {s.u.first(), s.u.last(), s.v.first(), s.v.last()};
}

ArcLengthMap::ArcLengthMap(const Surface& surface, Direction direction, const Region& region)
    : ArcLengthMap(std::array<const Surface*, 1>{&surface}, direction, std::array{region}) {}

ArcLengthMap::ArcLengthMap(std::span<const Surface* const> surfaces, Direction direction,
                           std::span<const Region> regions) {
  const bool along_u = direction == Direction::U;
  const double begin = along_u ? regions[0].u_begin : regions[0].v_begin;
  const double end = along_u ? regions[0].u_end : regions[0].v_end;
  if (!(end > begin)) throw Error(say("The region on the target has no extent in one direction."));
  std::vector<SurfaceEvaluator> evaluators;
  std::vector<double> breaks;
  for (const Surface* s : surfaces) {
    evaluators.emplace_back(*s);
    const auto more = inner_breaks(along_u ? s->u : s->v, begin, end);
    breaks.insert(breaks.end(), more.begin(), more.end());
  }
  const auto speed = [&](double w) {
    double sum = 0.0;
    for (std::size_t k = 0; k < evaluators.size(); ++k)
      sum += mean_speed(evaluators[k], direction, regions[k], w);
    return sum / static_cast<double>(evaluators.size());
  };
  parameter_ = cell_ends(std::move(breaks), begin, end);
  share_.assign(parameter_.size(), 0.0);
  for (std::size_t k = 0; k < parameter_.size(); ++k) {
    // Speeds just inside the region: a knot of the surface may be a kink of the parameter.
    slope_.push_back(speed(parameter_[k]));
    if (k == 0) continue;
    share_[k] = share_[k - 1] + integrate(parameter_[k - 1], parameter_[k], speed);
  }
  mean_length_ = share_.back();
  if (!(mean_length_ > 0.0))
    throw Error(say(
        "The region on the target has no length in one direction. Choose a region that leaves out "
        "the collapsed border."));
  for (double& x : share_) x /= mean_length_;
  for (double& x : slope_) x /= mean_length_;
  share_.back() = 1.0;
}

double ArcLengthMap::share_of(double w) const {
  if (w <= parameter_.front()) return (w - parameter_.front()) * slope_.front();
  if (w >= parameter_.back()) return 1.0 + (w - parameter_.back()) * slope_.back();
  const std::size_t k = piece(parameter_, w);
  return hermite(w, parameter_[k], parameter_[k + 1], share_[k], share_[k + 1], slope_[k],
                 slope_[k + 1])[0];
}

ArcLengthMap::Place ArcLengthMap::at_share(double share) const {
  const auto outside = [&](std::size_t k) {
    const double slope = 1.0 / std::max(slope_[k], 1e-12);
    return Place{parameter_[k] + (share - share_[k]) * slope, slope};
  };
  if (share <= 0.0 && slope_.front() > 0.0) return outside(0);
  if (share >= 1.0 && slope_.back() > 0.0) return outside(share_.size() - 1);
  const std::size_t k = piece(share_, share);
  const double m0 = 1.0 / std::max(slope_[k], 1e-12);
  const double m1 = 1.0 / std::max(slope_[k + 1], 1e-12);
  const auto [w, slope] =
      hermite(share, share_[k], share_[k + 1], parameter_[k], parameter_[k + 1], m0, m1);
  return {w, slope};
}

}  // namespace evenclay
