#include "core/pattern/stretch.h"

#include <algorithm>
#include <cmath>

#include "core/check/measures.h"
#include "core/pattern/flow_ends.h"

namespace evenclay {

namespace {

// Calls see(row, column, seconds, u, v) at the middles of equal cells of the region.
template <typename See>
void over_region(const Chart& chart, const FlowOptions& o, int samples, const See& see) {
  const Spread along_s(chart, Direction::U, o.region, o.even);
  const Spread along_t(chart, Direction::V, o.region, o.even);
  Grid<std::shared_ptr<const SurfaceEvaluator>> evaluators(chart.cells.rows(),
                                                           chart.cells.columns());
  for (int c = 0; c < chart.cells.rows(); ++c)
    for (int r = 0; r < chart.cells.columns(); ++r)
      evaluators(c, r) = std::make_shared<const SurfaceEvaluator>(chart.surface(c, r));
  std::vector<Spread::Place> v;
  for (int j = 0; j < samples; ++j) v.push_back(along_t.at((j + 0.5) / samples));
  for (int i = 0; i < samples; ++i) {
    const Spread::Place u = along_s.at((i + 0.5) / samples);
    for (int j = 0; j < samples; ++j) {
      const Spread::Place& w = v[static_cast<std::size_t>(j)];
      see(i, j, evaluators(u.cell, w.cell)->seconds(u.parameter, w.parameter), u.slope, w.slope);
    }
  }
}

struct Singular {
  double greater, lesser;
};

// Of the 3 × 2 matrix with these columns, by the eigenvalues of its Gram matrix.
Singular singular_values(const Vec3& a, const Vec3& b) {
  const double e = dot(a, a);
  const double f = dot(a, b);
  const double g = dot(b, b);
  const double middle = 0.5 * (e + g);
  const double way = std::hypot(0.5 * (e - g), f);
  return {std::sqrt(middle + way), std::sqrt(std::max(0.0, middle - way))};
}

}  // namespace

Stretch stretch_of(const Chart& chart, const FlowOptions& o, double length_x, double length_y,
                   int samples) {
  // The corner may turn the tile: its x then runs along v.
  const bool turned_over = o.corner == TargetCorner::UMaxVMin || o.corner == TargetCorner::UMinVMax;
  const double base_s = o.count_u * (turned_over ? length_y : length_x);
  const double base_t = o.count_v * (turned_over ? length_x : length_y);
  struct Sample {
    Singular values;
    double area;
  };
  Grid<Sample> all(samples, samples);
  Stretch result;
  result.rows = samples;
  result.map = Grid<double>(samples, samples);
  result.places = Grid<Vec3>(samples, samples);
  double target = 0.0;
  over_region(chart, o, samples, [&](int i, int j, const PointSecond& d, double su, double sv) {
    const Vec3 a = d.du * (su / base_s);
    const Vec3 b = d.dv * (sv / base_t);
    all(i, j) = {singular_values(a, b), length(cross(a, b))};
    target += all(i, j).area;
    result.places(i, j) = d.p;
  });
  const double scale = std::sqrt(target / (static_cast<double>(samples) * samples));
  if (!(scale > 0.0)) return result;
  for (int i = 0; i < samples; ++i)
    for (int j = 0; j < samples; ++j) {
      const Sample& s = all(i, j);
      const double stretch = 100.0 * (s.values.greater / scale - 1.0);
      const double squeeze = 100.0 * (1.0 - s.values.lesser / scale);
      const double both = std::max({stretch, squeeze, 0.0});
      result.map(i, j) = both;
      result.mean += both * s.area / target;
      if (both <= result.worst) continue;
      result.worst = both;
      result.stretch = stretch;
      result.squeeze = squeeze;
      result.at = result.places(i, j);
    }
  return result;
}

std::optional<FlowHarm> harm_of(const Chart& chart, const FlowOptions& o, double low, double high,
                                int samples) {
  const double side = side_of(chart, o);
  std::optional<FlowHarm> worst;
  over_region(chart, o, samples, [&](int, int, const PointSecond& d, double, double) {
    const auto k = curvature(d);
    if (!k) return;
    for (const double bend : {k->k1, k->k2}) {
      // At height h the surface has shrunk to the share 1 − h k along that direction.
      const double height = side * bend > 0.0 ? high : low;
      if (height * side * bend < 1.0) continue;
      const double radius = 1.0 / std::abs(bend);
      if (!worst || radius < worst->radius) worst = FlowHarm{radius, std::abs(height), d.p};
    }
  });
  return worst;
}

}  // namespace evenclay
