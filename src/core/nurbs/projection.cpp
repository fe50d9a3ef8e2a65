#include "core/nurbs/projection.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <nanoflann.hpp>

#include "core/base/parallel.h"

namespace evenclay {

namespace {

struct Samples {
  std::vector<Vec3> points;
  std::vector<Parameter> at;
  // The interface nanoflann asks for.
  std::size_t kdtree_get_point_count() const { return points.size(); }
  double kdtree_get_pt(std::size_t i, std::size_t axis) const { return points[i][axis]; }
  template <typename Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
};

using Tree = nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, Samples>,
                                                 Samples, 3, std::uint32_t>;

constexpr std::size_t kMostSamples = 400000;

}  // namespace

struct SurfaceProjector::Impl {
  KnotVector u, v;
  SurfaceEvaluator evaluator;
  double scale_squared;  // of the surface's size
  Samples samples;
  Tree tree;

  Impl(const Surface& s, int per_span)
      : u(s.u),
        v(s.v),
        evaluator(s),
        scale_squared(size(s) * size(s)),
        samples(sample(s, per_span)),
        tree(3, samples, nanoflann::KDTreeSingleIndexAdaptorParams(12)) {}

  Samples sample(const Surface& s, int per_span) const {
    const auto spans = (breakpoints(s.u).size() - 1) * (breakpoints(s.v).size() - 1);
    while (per_span > 2 && spans * static_cast<std::size_t>(per_span * per_span) > kMostSamples)
      --per_span;
    Samples result;
    if (per_span == 0) return result;
    const std::vector<double> vs = sample_places(s.v, per_span);
    for (const double a : sample_places(s.u, per_span))
      for (const double b : vs) result.at.push_back({a, b});
    result.points.resize(result.at.size());
    evaluator.points(result.at, result.points);
    return result;
  }

  Projection newton(Parameter seed, const Vec3& q) const;
  bool turn_at_pole(Parameter& at, const PointSecond& s, const Vec3& q) const;
  Projection closest(const Vec3& q) const;
};

namespace {

// The step of one damped Newton iteration; Gauss-Newton where the Hessian is not positive.
Parameter newton_step(const PointSecond& s, const Vec3& r, bool free_u, bool free_v) {
  const double gu = dot(s.du, r);
  const double gv = dot(s.dv, r);
  double a = dot(s.du, s.du) + dot(s.duu, r);
  double b = dot(s.du, s.dv) + dot(s.duv, r);
  double c = dot(s.dv, s.dv) + dot(s.dvv, r);
  if (!(a > 0.0 && c > 0.0 && a * c - b * b > 1e-14 * a * c)) {
    a = dot(s.du, s.du);
    b = 0.0;
    c = dot(s.dv, s.dv);
  }
  if (!free_u) return {0.0, c > 0.0 ? -gv / c : 0.0};
  if (!free_v) return {a > 0.0 ? -gu / a : 0.0, 0.0};
  const double det = a * c - b * b;
  if (!(det > 0.0)) return {a > 0.0 ? -gu / a : 0.0, c > 0.0 ? -gv / c : 0.0};
  return {(-gu * c + gv * b) / det, (-gv * a + gu * b) / det};
}

double moved(const KnotVector& k, double u, double step) {
  // A step longer than a quarter of the domain leaves the basin of the seed.
  step = std::clamp(step, -0.25 * k.length(), 0.25 * k.length());
  return into_domain(k, u + step);
}

bool pushed_out(const KnotVector& k, double u, double gradient) {
  return !k.periodic && ((u <= k.first() && gradient > 0.0) || (u >= k.last() && gradient < 0.0));
}

}  // namespace

// At a pole one parameter does not move the point, and whether the other may leave the border
// depends on it: look around the pole for the direction of steepest descent.
bool SurfaceProjector::Impl::turn_at_pole(Parameter& at, const PointSecond& s,
                                          const Vec3& q) const {
  const double du = length_squared(s.du) * u.length() * u.length();
  const double dv = length_squared(s.dv) * v.length() * v.length();
  const bool around_u = du < 1e-18 * dv;
  if (!around_u && !(dv < 1e-18 * du)) return false;
  const KnotVector& around = around_u ? u : v;
  const KnotVector& across = around_u ? v : u;
  const double place = around_u ? at.v : at.u;
  const double inward = place <= across.first() ? 1.0 : -1.0;
  constexpr int kRays = 48;
  double steepest = 0.0;
  Parameter best = at;
  for (int k = 0; k < kRays; ++k) {
    const double w = around.first() + around.length() * k / kRays;
    const Parameter p = around_u ? Parameter{w, at.v} : Parameter{at.u, w};
    const PointTangents t = evaluator.tangents(p.u, p.v);
    // Per length, so that the ray whose line passes nearest is taken, not the longest one.
    const Vec3 ray = around_u ? t.dv : t.du;
    const double l = length(ray);
    const double slope = l > 0.0 ? inward * dot(ray, t.p - q) / l : 0.0;
    if (slope < steepest) {
      steepest = slope;
      best = p;
    }
  }
  at = best;
  return steepest < 0.0;
}

Projection SurfaceProjector::Impl::newton(Parameter at, const Vec3& q) const {
  PointSecond s = evaluator.seconds(at.u, at.v);
  double best = length_squared(s.p - q);
  int turns = 0;
  for (int iteration = 0; iteration < 40; ++iteration) {
    const bool on_border = (!v.periodic && (at.v <= v.first() || at.v >= v.last())) ||
                           (!u.periodic && (at.u <= u.first() || at.u >= u.last()));
    if (on_border && turns < 2 && turn_at_pole(at, s, q)) {
      ++turns;
      s = evaluator.seconds(at.u, at.v);
    }
    const Vec3 r = s.p - q;
    const double du = length_squared(s.du) * u.length() * u.length();
    const double dv = length_squared(s.dv) * v.length() * v.length();
    const bool free_u = du > 1e-18 * dv && !pushed_out(u, at.u, dot(s.du, r));
    const bool free_v = dv > 1e-18 * du && !pushed_out(v, at.v, dot(s.dv, r));
    if (!free_u && !free_v) break;
    Parameter step = newton_step(s, r, free_u, free_v);
    // The way the step promises, on the surface: when it is rounding, the foot is found.
    const Vec3 way = s.du * step.u + s.dv * step.v;
    if (length_squared(way) < 1e-26 * scale_squared) break;
    bool better = false;
    for (int halving = 0; halving < 12; ++halving) {
      const Parameter next{moved(u, at.u, step.u), moved(v, at.v, step.v)};
      const PointSecond t = evaluator.seconds(next.u, next.v);
      const double d = length_squared(t.p - q);
      if (d < best) {
        const double travelled = length(t.p - s.p);
        at = next;
        s = t;
        better = best - d > 1e-18 * best && travelled > 0.0;
        best = d;
        break;
      }
      step.u *= 0.5;
      step.v *= 0.5;
    }
    if (!better) break;
  }
  return {at.u, at.v, s.p, std::sqrt(best)};
}

Projection SurfaceProjector::Impl::closest(const Vec3& q) const {
  // The nearest sample decides nearly always; two more guard folds that come close.
  constexpr std::size_t kSeeds = 3;
  std::array<std::uint32_t, kSeeds> index{};
  std::array<double, kSeeds> squared{};
  const double query[3] = {q.x, q.y, q.z};
  const std::size_t found = tree.knnSearch(query, kSeeds, index.data(), squared.data());
  Projection best;
  best.distance = std::numeric_limits<double>::infinity();
  for (std::size_t k = 0; k < found; ++k) {
    // A seed next to an earlier one in the surface leads to the same place.
    const Parameter p = samples.at[index[k]];
    const Parameter first = samples.at[index[0]];
    const bool beside = k > 0 && std::abs(p.u - first.u) < 0.1 * u.length() &&
                        std::abs(p.v - first.v) < 0.1 * v.length();
    if (beside) continue;
    const Projection candidate = newton(p, q);
    if (candidate.distance < best.distance) best = candidate;
  }
  return best;
}

SurfaceProjector::SurfaceProjector(const Surface& surface, int samples_per_span)
    : impl_(std::make_unique<Impl>(surface, samples_per_span)) {}
SurfaceProjector::~SurfaceProjector() = default;
SurfaceProjector::SurfaceProjector(SurfaceProjector&&) noexcept = default;
SurfaceProjector& SurfaceProjector::operator=(SurfaceProjector&&) noexcept = default;

Projection SurfaceProjector::closest(const Vec3& q) const {
  return impl_->closest(q);
}

Projection SurfaceProjector::closest_near(const Vec3& q, const Parameter& seed) const {
  return impl_->newton(seed, q);
}

void SurfaceProjector::closest(std::span<const Vec3> q, std::span<Projection> out,
                               Progress& progress) const {
  parallel_blocks(q.size(), 256, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) out[k] = impl_->closest(q[k]);
  });
}

const SurfaceEvaluator& SurfaceProjector::evaluator() const {
  return impl_->evaluator;
}

}  // namespace evenclay
