#include "core/check/curve_measures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

#include "core/nurbs/quadrature.h"
#include "core/nurbs/search.h"

namespace evenclay {

namespace {

constexpr int kPerSpan = 40;

std::vector<double> places_of(const KnotVector& k, int per_span) {
  std::vector<double> places = sample_places(k, per_span);
  if (k.periodic) places.push_back(k.last());
  return places;
}

struct Sample {
  double distance, weight;
  Vec3 at;
};

void add_samples(const CurveEvaluator& from, const CurveEvaluator& to, Progress& progress,
                 std::vector<Sample>& samples) {
  const std::vector<double> places = places_of(from.curve().knots, kPerSpan);
  for (std::size_t n = 0; n < places.size(); ++n) {
    if (n % 64 == 0) progress.check();
    const Vec3 p = from.point(places[n]);
    const double before = n > 0 ? distance(p, from.point(places[n - 1])) : 0.0;
    const double after = n + 1 < places.size() ? distance(p, from.point(places[n + 1])) : 0.0;
    samples.push_back({closest_place(to, p).distance, 0.5 * (before + after), p});
  }
}

double length_between(const CurveEvaluator& c, double a, double b) {
  return integrate(a, b, [&](double t) { return length(c.derivatives(t, 1).d1); });
}

}  // namespace

CurveDeviation deviation(const Curve& a, const Curve& b, Progress& progress) {
  const CurveEvaluator ea(a);
  const CurveEvaluator eb(b);
  std::vector<Sample> samples;
  add_samples(ea, eb, progress, samples);
  add_samples(eb, ea, progress, samples);
  std::sort(samples.begin(), samples.end(),
            [](const Sample& x, const Sample& y) { return x.distance < y.distance; });
  CurveDeviation result;
  result.max = samples.back().distance;
  result.at = samples.back().at;
  double whole = 0.0;
  for (const Sample& s : samples) {
    whole += s.weight;
    result.mean += s.weight * s.distance;
  }
  if (!(whole > 0.0)) return result;
  result.mean /= whole;
  double so_far = 0.0;
  for (const Sample& s : samples) {
    so_far += s.weight;
    result.percentile95 = s.distance;
    if (so_far >= 0.95 * whole) break;
  }
  return result;
}

CurveMirrorGap mirror_gap(const Curve& curve, int axis, Progress& progress) {
  Curve image = curve;
  for (Vec3& p : image.points) p[static_cast<std::size_t>(axis)] *= -1.0;
  std::vector<Sample> samples;
  add_samples(CurveEvaluator(curve), CurveEvaluator(image), progress, samples);
  CurveMirrorGap result;
  for (const Sample& s : samples)
    if (s.distance > result.max) result = {s.distance, s.at};
  return result;
}

double arc_length(const Curve& curve) {
  const CurveEvaluator c(curve);
  const std::vector<double> breaks = breakpoints(curve.knots);
  double previous = 0.0;
  for (int parts = 1; parts <= 64; parts *= 2) {
    double sum = 0.0;
    for (std::size_t k = 0; k + 1 < breaks.size(); ++k)
      for (int p = 0; p < parts; ++p) {
        const double step = (breaks[k + 1] - breaks[k]) / parts;
        sum += length_between(c, breaks[k] + step * p, breaks[k] + step * (p + 1));
      }
    if (parts > 1 && std::abs(sum - previous) <= 1e-11 * sum) return sum;
    previous = sum;
  }
  return previous;
}

double evenness(const Curve& curve) {
  constexpr int kSteps = 64;
  const CurveEvaluator c(curve);
  std::array<double, kSteps> lengths{};
  const double step = curve.knots.length() / kSteps;
  for (int k = 0; k < kSteps; ++k) {
    const double from = curve.knots.first() + step * k;
    for (int p = 0; p < 4; ++p)
      lengths[static_cast<std::size_t>(k)] +=
          length_between(c, from + step * p / 4.0, from + step * (p + 1) / 4.0);
  }
  const double mean = std::accumulate(lengths.begin(), lengths.end(), 0.0) / kSteps;
  if (!(mean > 0.0)) return 0.0;
  double square = 0.0;
  for (const double l : lengths) square += (l - mean) * (l - mean);
  return 100.0 * std::max(0.0, 1.0 - std::sqrt(square / kSteps) / mean);
}

namespace {

std::optional<Tooth> tooth_of(const CurveEvaluator& c, double t) {
  const CurveDerivatives d = c.derivatives(t, 2);
  const double speed = length_squared(d.d1);
  if (!(speed > 0.0)) return std::nullopt;
  return Tooth{d.p, cross(cross(d.d1, d.d2), d.d1) / (speed * speed)};
}

}  // namespace

std::optional<CurveRadius> least_radius(const Curve& curve) {
  const CurveEvaluator c(curve);
  const auto [t, bend] = search_maximum(curve.knots, kPerSpan, [&](double w) {
    const auto tooth = tooth_of(c, w);
    return tooth ? length(tooth->curvature) : 0.0;
  });
  if (!(bend * size(curve) > 1e-9)) return std::nullopt;
  return CurveRadius{1.0 / bend, c.point(t)};
}

Box3 tight_box(const Curve& curve) {
  const CurveEvaluator c(curve);
  Box3 box;
  for (std::size_t axis = 0; axis < 3; ++axis) {
    box.min[axis] =
        -search_maximum(curve.knots, kPerSpan, [&](double t) { return -c.point(t)[axis]; }).value;
    box.max[axis] =
        search_maximum(curve.knots, kPerSpan, [&](double t) { return c.point(t)[axis]; }).value;
  }
  return box;
}

Comb comb(const Curve& curve, int per_span) {
  const CurveEvaluator c(curve);
  const std::vector<double> places = places_of(curve.knots, std::clamp(per_span, 1, 100));
  return comb_along(
      places, [&](double t) { return tooth_of(c, t); }, size(curve));
}

}  // namespace evenclay
