#include "core/nurbs/projection.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <nanoflann.hpp>
#include <tuple>

#include "core/base/parallel.h"
#include "core/nurbs/projection_samples.h"

namespace evenclay {

namespace {

using Tree =
    nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, SurfaceSamples>,
                                        SurfaceSamples, 3, std::uint32_t>;

constexpr std::size_t kMostSamples = 400000;
constexpr std::size_t kMostSeeds = 64;

}  // namespace

namespace {

// The part of the domain in which one search stays; closed directions without creases go round.
struct Bounds {
  double low_u, high_u, low_v, high_v;
  bool round_u, round_v;
};

struct PoleRing {
  bool around_u;                 // u runs around the pole, v leads to it
  int row;                       // of the samples that are the pole
  std::array<double, 2> places;  // of rings inside the next row
};

}  // namespace

struct SurfaceProjector::Impl {
  KnotVector u, v;
  SurfaceEvaluator evaluator;
  double scale_squared;                  // of the surface's size
  std::vector<double> kinks_u, kinks_v;  // where the surface may have a crease, with the ends
  std::vector<PoleRing> rings;
  SampleClearance clearance;
  SurfaceSamples samples;
  Tree tree;

  Impl(const Surface& s, int per_span, const std::function<bool(Parameter)>& keep)
      : u(s.u),
        v(s.v),
        evaluator(s),
        scale_squared(size(s) * size(s)),
        kinks_u(kinks(s.u)),
        kinks_v(kinks(s.v)),
        rings(pole_rings(s, per_span)),
        samples(sample(s, per_span, keep)),
        tree(3, samples, nanoflann::KDTreeSingleIndexAdaptorParams(12)) {}

  SurfaceSamples sample(const Surface& s, int per_span,
                        const std::function<bool(Parameter)>& keep) {
    const auto spans = (breakpoints(s.u).size() - 1) * (breakpoints(s.v).size() - 1);
    while (per_span > 2 && spans * static_cast<std::size_t>(per_span * per_span) > kMostSamples)
      --per_span;
    if (per_span == 0) return {};
    SurfaceSamples result =
        sampled(evaluator, sample_places(s.u, per_span), sample_places(s.v, per_span));
    if (!creased()) clearance = SampleClearance(result, s.u.periodic, s.v.periodic);
    if (keep) result.keep_only(keep);
    return result;
  }

  // Knots as often as the degree: there the first derivatives may jump.
  static std::vector<double> kinks(const KnotVector& k) {
    std::vector<double> result;
    for (const double t : breakpoints(k)) {
      const auto [from, to] = std::equal_range(k.knots.begin(), k.knots.end(), t);
      if (t == k.first() || t == k.last() || to - from >= k.degree) result.push_back(t);
    }
    return result;
  }
  static std::vector<PoleRing> pole_rings(const Surface& s, int per_span) {
    std::vector<PoleRing> result;
    if (per_span == 0) return result;
    for (const Border e : kBorders) {
      const bool around_u = e == Border::VMin || e == Border::VMax;
      if ((around_u ? s.v : s.u).periodic || !is_pole(s, e, 1e-9 * size(s))) continue;
      const std::vector<double> rows = sample_places(around_u ? s.v : s.u, per_span);
      const std::size_t n = rows.size();
      const bool begin = e == Border::UMin || e == Border::VMin;
      const double end = begin ? rows[0] : rows[n - 1];
      const double next = begin ? rows[1] : rows[n - 2];
      result.push_back({around_u,
                        begin ? 0 : static_cast<int>(n) - 1,
                        {end + 0.3 * (next - end), end + 0.7 * (next - end)}});
    }
    return result;
  }
  bool creased() const { return kinks_u.size() > 2 || kinks_v.size() > 2; }
  class Tried;
  bool at_end(const Parameter& at) const;
  void look_around_poles(const Vec3& q, std::uint32_t nearest, Projection& best) const;
  Bounds smooth_part(const Parameter& at) const;

  Projection newton(Parameter seed, const Vec3& q, const Bounds& bounds) const;
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

double moved(const KnotVector& k, double u, double step, double low, double high, bool round) {
  // A step longer than a quarter of the domain leaves the basin of the seed.
  step = std::clamp(step, -0.25 * k.length(), 0.25 * k.length());
  return round ? into_domain(k, u + step) : std::clamp(u + step, low, high);
}

bool pushed_out(double u, double gradient, double low, double high, bool round) {
  return !round && ((u <= low && gradient > 0.0) || (u >= high && gradient < 0.0));
}

// Between the creases around a value: the upper end a hair below the crease, where the derivatives
// are still those of this side.
std::pair<double, double> between(const std::vector<double>& kinks, double u) {
  auto above = std::upper_bound(kinks.begin(), kinks.end(), u);
  if (above == kinks.end()) --above;
  if (above == kinks.begin()) ++above;
  const bool last = above + 1 == kinks.end();
  const double hair = last ? 0.0 : 1e-13 * (kinks.back() - kinks.front());
  return {*(above - 1), *above - hair};
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

Bounds SurfaceProjector::Impl::smooth_part(const Parameter& at) const {
  Bounds b{u.first(), u.last(), v.first(), v.last(), u.periodic, v.periodic};
  if (kinks_u.size() > 2) {
    std::tie(b.low_u, b.high_u) = between(kinks_u, at.u);
    b.round_u = false;
  }
  if (kinks_v.size() > 2) {
    std::tie(b.low_v, b.high_v) = between(kinks_v, at.v);
    b.round_v = false;
  }
  return b;
}

Projection SurfaceProjector::Impl::newton(Parameter at, const Vec3& q, const Bounds& b) const {
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
    const bool free_u =
        du > 1e-18 * dv && !pushed_out(at.u, dot(s.du, r), b.low_u, b.high_u, b.round_u);
    const bool free_v =
        dv > 1e-18 * du && !pushed_out(at.v, dot(s.dv, r), b.low_v, b.high_v, b.round_v);
    if (!free_u && !free_v) break;
    Parameter step = newton_step(s, r, free_u, free_v);
    // The way the step promises, on the surface: when it is rounding, the foot is found.
    const Vec3 way = s.du * step.u + s.dv * step.v;
    if (length_squared(way) < 1e-26 * scale_squared) break;
    bool better = false;
    for (int halving = 0; halving < 12; ++halving) {
      const Parameter next{moved(u, at.u, step.u, b.low_u, b.high_u, b.round_u),
                           moved(v, at.v, step.v, b.low_v, b.high_v, b.round_v)};
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

// On the border of an open direction or on a crease, where the surface may go on elsewhere.
bool SurfaceProjector::Impl::at_end(const Parameter& at) const {
  const auto on = [](const std::vector<double>& kinks, const KnotVector& k, double x) {
    if (k.periodic && kinks.size() == 2) return false;
    const double hair = 1e-5 * k.length();  // damped steps may stop just short of it
    const auto near = std::lower_bound(kinks.begin(), kinks.end(), x - hair);
    return near != kinks.end() && *near <= x + hair;
  };
  return on(kinks_u, u, at.u) || on(kinks_v, v, at.v);
}

// Inside the first row of samples around a pole whatever the surface does around it has many basins
// close to each other: Newton's method from every place of a ring that is nearer than those beside it.
void SurfaceProjector::Impl::look_around_poles(const Vec3& q, std::uint32_t nearest,
                                               Projection& best) const {
  constexpr std::size_t kMost = 192;
  for (const PoleRing& ring : rings) {
    const auto& row = samples.row[nearest];
    if (std::abs((ring.around_u ? row[1] : row[0]) - ring.row) > 1) continue;
    const KnotVector& around = ring.around_u ? u : v;
    const std::size_t rays =
        std::clamp<std::size_t>(4 * (breakpoints(around).size() - 1), 32, kMost);
    std::array<Parameter, kMost> at;
    std::array<Vec3, kMost> points;
    for (const double place : ring.places) {
      for (std::size_t k = 0; k < rays; ++k) {
        const double w =
            around.first() + around.length() * static_cast<double>(k) / static_cast<double>(rays);
        at[k] = ring.around_u ? Parameter{w, place} : Parameter{place, w};
      }
      evaluator.points(std::span(at).first(rays), std::span(points).first(rays));
      const auto squared = [&](std::size_t k) { return length_squared(points[k % rays] - q); };
      for (std::size_t k = 0; k < rays; ++k) {
        if (squared(k) > squared(k + 1) || squared(k) > squared(k + rays - 1)) continue;
        const Projection candidate = newton(at[k], q, smooth_part(at[k]));
        if (candidate.distance < best.distance) best = candidate;
      }
    }
  }
}

// The samples from which a search has begun.
class SurfaceProjector::Impl::Tried {
 public:
  explicit Tried(const Impl& impl) : impl_(impl) {}
  void add(std::uint32_t sample) { tried_[count_++] = sample; }
  // Whether a search from the sample leads to where an earlier one did. From afar, all of the same
  // sheet do.
  bool knows(std::uint32_t sample, const Bounds& b, bool far) const {
    return std::any_of(tried_.begin(), tried_.begin() + count_, [&](std::uint32_t other) {
      const Parameter& t = impl_.samples.at[other];
      if (impl_.creased())
        return t.u >= b.low_u && t.u <= b.high_u && t.v >= b.low_v && t.v <= b.high_v;
      const Parameter& p = impl_.samples.at[sample];
      if (far && std::abs(p.u - t.u) < 0.1 * impl_.u.length() &&
          std::abs(p.v - t.v) < 0.1 * impl_.v.length())
        return true;
      const auto& r = impl_.samples.row[sample];
      const auto& o = impl_.samples.row[other];
      return beside(r[0], o[0], impl_.samples.rows_u, impl_.u.periodic) &&
             beside(r[1], o[1], impl_.samples.rows_v, impl_.v.periodic);
    });
  }

 private:
  static bool beside(int a, int b, int rows, bool round) {
    const int apart = std::abs(a - b);
    return apart <= 2 || (round && rows - apart <= 2);
  }
  const Impl& impl_;
  std::array<std::uint32_t, kMostSeeds> tried_{};
  std::ptrdiff_t count_ = 0;
};

// The nearest sample decides nearly always. Another one can do so only when the surface around it
// comes nearer than what was found: folds that come close, ripples beside a pole, cells on the other
// side of a border or a crease.
Projection SurfaceProjector::Impl::closest(const Vec3& q) const {
  std::array<std::uint32_t, kMostSeeds> index{};
  std::array<double, kMostSeeds> squared{};
  const double query[3] = {q.x, q.y, q.z};
  Projection best;
  best.distance = std::numeric_limits<double>::infinity();
  if (!creased()) {
    tree.knnSearch(query, 1, index.data(), squared.data());
    const Parameter p = samples.at[index[0]];
    best = newton(p, q, smooth_part(p));
    const double room = clearance.of(samples.row[index[0]]) - std::sqrt(squared[0]);
    if (best.distance < room) return best;
  }
  std::size_t asked = creased() ? 3 : 8;
  std::size_t found = tree.knnSearch(query, asked, index.data(), squared.data());
  Tried tried(*this);
  if (!creased()) tried.add(index[0]);
  for (std::size_t k = 0; k < found; ++k) {
    const double reach = static_cast<double>(samples.reach[index[k]]);
    const double away = std::sqrt(squared[k]);
    if (creased() || away <= best.distance + reach) {
      const Parameter p = samples.at[index[k]];
      const Bounds bounds = smooth_part(p);
      if (!tried.knows(index[k], bounds, best.distance > 3.0 * reach)) {
        tried.add(index[k]);
        const Projection candidate = newton(p, q, bounds);
        if (candidate.distance < best.distance) best = candidate;
      }
    }
    // Between creases the foot is the nearest one unless it lies on one of them.
    const bool more = k + 1 == found && found == asked && asked < 24 &&
                      (creased() ? at_end({best.u, best.v}) : away <= best.distance + reach);
    if (!more) continue;
    asked = creased() ? 24 : (asked == 8 ? 20 : kMostSeeds);
    found = tree.knnSearch(query, asked, index.data(), squared.data());
  }
  look_around_poles(q, index[0], best);
  return best;
}

SurfaceProjector::SurfaceProjector(const Surface& surface, int samples_per_span,
                                   const std::function<bool(Parameter)>& keep)
    : impl_(std::make_unique<Impl>(surface, samples_per_span, keep)) {}
SurfaceProjector::~SurfaceProjector() = default;
SurfaceProjector::SurfaceProjector(SurfaceProjector&&) noexcept = default;
SurfaceProjector& SurfaceProjector::operator=(SurfaceProjector&&) noexcept = default;

Projection SurfaceProjector::closest(const Vec3& q) const {
  return impl_->closest(q);
}

Projection SurfaceProjector::closest_near(const Vec3& q, const Parameter& seed) const {
  return impl_->newton(seed, q, impl_->smooth_part(seed));
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
