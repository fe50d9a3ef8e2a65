#include "core/operations/height_rule.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/smooth_step.h"
#include "core/exchange/grey_picture.h"

namespace evenclay {

namespace {

constexpr int kSamples = 49;  // of a field, each way

// Places along all curves, near enough to each other that straight pieces between them will do.
std::vector<std::array<Vec3, 2>> pieces_of(const CurveSet& set) {
  std::vector<std::array<Vec3, 2>> pieces;
  for (const Curve& c : set.curves) {
    const CurveEvaluator e(c);
    const std::vector<double> breaks = breakpoints(c.knots);
    for (std::size_t k = 0; k + 1 < breaks.size(); ++k)
      for (int n = 0; n < 8; ++n) {
        const auto at = [&](int m) { return breaks[k] + (breaks[k + 1] - breaks[k]) * m / 8; };
        pieces.push_back({e.point(at(n)), e.point(at(n + 1))});
      }
  }
  return pieces;
}

double distance_to(const std::vector<std::array<Vec3, 2>>& pieces, const Vec3& p) {
  double nearest = std::numeric_limits<double>::infinity();
  for (const auto& [a, b] : pieces) {
    const Vec3 way = b - a;
    const double square = dot(way, way);
    const double t = square > 0.0 ? std::clamp(dot(p - a, way) / square, 0.0, 1.0) : 0.0;
    nearest = std::min(nearest, distance(p, a + way * t));
  }
  return nearest;
}

Grid<double> curve_field(const CurveSet& set, double reach, const Chart& chart,
                         const FlowOptions& o) {
  const std::vector<std::array<Vec3, 2>> pieces = pieces_of(set);
  const FlowMap map(chart, o, {});
  Grid<double> field(kSamples, kSamples);
  // Samples of a closed direction stand for equal parts of it, the last going on with the first.
  const double steps_s = chart.around_s ? kSamples : kSamples - 1;
  const double steps_t = chart.around_t ? kSamples : kSamples - 1;
  for (int i = 0; i < kSamples; ++i)
    for (int j = 0; j < kSamples; ++j)
      field(i, j) = smooth_step(
          distance_to(pieces, map.point(o.count_u * i / steps_s, o.count_v * j / steps_t, 0.0)) /
          reach);
  return field;
}

Grid<double> picture_field(const Picture& picture, bool dark) {
  Grid<double> field = grey_samples(*picture.bytes, kSamples * 2, kSamples * 2);
  if (dark)
    for (double& x : field.values()) x = 1.0 - x;
  return field;
}

// Both together, where both are given; the curve's field is the coarser.
Grid<double> product(const Grid<double>& a, const Grid<double>& b) {
  if (a.empty()) return b;
  if (b.empty()) return a;
  Grid<double> both = a;
  for (int i = 0; i < a.rows(); ++i)
    for (int j = 0; j < a.columns(); ++j)
      both(i, j) *= b(i * b.rows() / a.rows(), j * b.columns() / a.columns());
  return both;
}

}  // namespace

HeightRule height_rule(const FlowPatternOperation& flow, const Inputs& inputs, const Chart& chart,
                       const FlowOptions& o) {
  HeightRule rule;
  rule.factor = flow.height;
  rule.offset = flow.offset;
  const bool around_s = chart.around_s && o.region.s_to - o.region.s_from > 1.0 - 1e-9;
  const bool around_t = chart.around_t && o.region.t_to - o.region.t_from > 1.0 - 1e-9;
  const auto share = [](double mm, const Chart& c, Direction d, const FlowOptions& options) {
    return mm > 0.0 ? mm / length_along(c, d, options.region) : 0.0;
  };
  if (!around_s) {
    rule.fade_s_from = share(flow.fade_u_from, chart, Direction::U, o);
    rule.fade_s_to = share(flow.fade_u_to, chart, Direction::U, o);
  }
  if (!around_t) {
    rule.fade_t_from = share(flow.fade_v_from, chart, Direction::V, o);
    rule.fade_t_to = share(flow.fade_v_to, chart, Direction::V, o);
  }
  Grid<double> by_curve, by_picture;
  if (!flow.fade_curve.empty()) {
    const auto* set = std::get_if<CurveSet>(inputs.parts.at(flow.fade_curve).get());
    if (set == nullptr || is_empty(*set))
      throw Error(say(
          "The heights are to fade at a curve, but that part is none. Choose a curve, or none."));
    by_curve = curve_field(*set, flow.fade_reach, chart, o);
  }
  if (!flow.fade_picture.empty()) {
    const auto* picture = std::get_if<Picture>(inputs.parts.at(flow.fade_picture).get());
    if (picture == nullptr || is_empty(*picture))
      throw Error(say(
          "The heights are to follow a picture, but that part is none. Choose a reference picture, "
          "or none."));
    by_picture = picture_field(*picture, flow.fade_dark);
  }
  if (const Grid<double> field = product(by_curve, by_picture); !field.empty())
    rule.field =
        smooth_field(field, around_s && by_picture.empty(), around_t && by_picture.empty());
  return rule;
}

}  // namespace evenclay
