#include "core/pattern/height.h"

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/smooth_step.h"

namespace evenclay {

namespace {

struct Rise {
  double value = 1.0, slope = 0.0;
};

// From 0 at distance 0 to 1 at `width`.
Rise rise(double distance, double width) {
  if (!(width > 0.0)) return {};
  const double x = distance / width;
  if (x <= 0.0) return {0.0, 0.0};
  if (x >= 1.0) return {};
  return {smooth_step(x), 30.0 * x * x * (x - 1.0) * (x - 1.0) / width};
}

}  // namespace

HeightFactor height_factor(const HeightRule& rule, double s, double t) {
  const Rise a = rise(s, rule.fade_s_from);
  const Rise b = rise(1.0 - s, rule.fade_s_to);
  const Rise c = rise(t, rule.fade_t_from);
  const Rise d = rise(1.0 - t, rule.fade_t_to);
  const double along = a.value * b.value;
  const double across = c.value * d.value;
  HeightFactor f{along * across, (a.slope * b.value - a.value * b.slope) * across,
                 (c.slope * d.value - c.value * d.slope) * along};
  if (rule.field) {
    const PointTangents g = rule.field->tangents(std::clamp(s, 0.0, 1.0), std::clamp(t, 0.0, 1.0));
    f = {f.value * g.p.z, f.by_s * g.p.z + f.value * g.du.z, f.by_t * g.p.z + f.value * g.dv.z};
  }
  return f;
}

namespace {

KnotVector uniform(int count, bool periodic) {
  return uniform_knots(count, 3, periodic);
}

}  // namespace

std::shared_ptr<const SurfaceEvaluator> smooth_field(const Grid<double>& samples, bool around_s,
                                                     bool around_t) {
  if (samples.rows() < 4 || samples.columns() < 4)
    throw Error(say("A field of heights needs at least 4 × 4 samples."));
  Surface s{uniform(samples.rows(), around_s),
            uniform(samples.columns(), around_t),
            Grid<Vec3>(samples.rows(), samples.columns()),
            {}};
  for (int i = 0; i < samples.rows(); ++i)
    for (int j = 0; j < samples.columns(); ++j) s.points(i, j).z = samples(i, j);
  return std::make_shared<const SurfaceEvaluator>(s);
}

}  // namespace evenclay
