#include "core/nurbs/projection.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <nanoflann.hpp>
#include <tuple>

#include "core/base/parallel.h"
#include "core/nurbs/foot_search.h"
#include "core/nurbs/projection_cells.h"
#include "core/nurbs/projection_samples.h"

namespace evenclay {

namespace {

using Tree =
    nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, SurfaceSamples>,
                                        SurfaceSamples, 3, std::uint32_t>;

constexpr std::size_t kMostSamples = 400000;
constexpr std::size_t kMostSeeds = 64;
constexpr double kAnywhere = std::numeric_limits<double>::infinity();

// The nearest sample or one hardly farther away: branches that could bring less than the slack are left out.
class NearEnough {
 public:
  explicit NearEnough(double slack) : slack_(slack) {}
  std::uint32_t index() const { return index_; }
  double squared() const { return best_; }
  // The interface nanoflann asks for.
  std::size_t size() const { return full() ? 1 : 0; }
  bool full() const { return best_ < std::numeric_limits<double>::infinity(); }
  double worstDist() const { return best_ - slack_; }
  bool addPoint(double squared, std::uint32_t index) {
    if (squared < best_) {
      best_ = squared;
      index_ = index;
    }
    return true;
  }

 private:
  double slack_;
  double best_ = std::numeric_limits<double>::infinity();
  std::uint32_t index_ = 0;
};

struct PoleRing {
  bool around_u;                 // u runs around the pole, v leads to it
  int row;                       // of the samples that are the pole
  std::array<double, 2> places;  // of rings inside the next row
};

}  // namespace

struct SurfaceProjector::Impl {
  KnotVector u, v;
  FootSearch feet;
  std::vector<double> kinks_u, kinks_v;  // where the surface may have a crease, with the ends
  std::vector<PoleRing> rings;
  SampleClearance clearance;
  SmoothCells cells;  // of creased surfaces
  SurfaceSamples samples;
  double slack;          // by which a seed's squared distance may be more than the least (mm²)
  double longest_reach;  // of all samples
  Tree tree;

  Impl(const Surface& s, int per_span, const std::function<bool(Parameter)>& keep)
      : u(s.u),
        v(s.v),
        feet(s),
        kinks_u(kinks(s.u)),
        kinks_v(kinks(s.v)),
        rings(pole_rings(s, per_span)),
        samples(sample(s, per_span, keep)),
        slack(rings.empty() ? slack_of(samples) : 0.0),
        longest_reach(samples.reach.empty()
                          ? 0.0
                          : *std::max_element(samples.reach.begin(), samples.reach.end())),
        tree(3, samples, nanoflann::KDTreeSingleIndexAdaptorParams(12)) {}

  SurfaceSamples sample(const Surface& s, int per_span,
                        const std::function<bool(Parameter)>& keep) {
    const auto spans = (breakpoints(s.u).size() - 1) * (breakpoints(s.v).size() - 1);
    while (per_span > 2 && spans * static_cast<std::size_t>(per_span * per_span) > kMostSamples)
      --per_span;
    if (per_span == 0) return {};
    const std::vector<double> us = sample_places(s.u, per_span), vs = sample_places(s.v, per_span);
    SurfaceSamples result = sampled(feet.evaluator(), us, vs);
    if (creased())
      cells = SmoothCells(result, us, vs, kinks_u, kinks_v);
    else
      clearance = SampleClearance(result, s.u.periodic, s.v.periodic);
    if (keep) {
      result.keep_only(keep);
      cells.keep_only(keep);
    }
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
  // So that a seed lies hardly a sample beside the nearest one, even where samples are densest.
  static double slack_of(const SurfaceSamples& samples) {
    std::vector<float> reach = samples.reach;
    if (reach.empty()) return 0.0;
    const auto low = reach.begin() + static_cast<std::ptrdiff_t>(reach.size() / 20);
    std::nth_element(reach.begin(), low, reach.end());
    return 0.5 * static_cast<double>(*low) * static_cast<double>(*low);
  }
  bool creased() const { return kinks_u.size() > 2 || kinks_v.size() > 2; }
  class Tried;
  class Another;
  bool search_within_reach(const Vec3& q, Tried& tried, Projection& best) const;
  std::uint32_t search_from_nearest(const Vec3& q, Tried& tried, Projection& best) const;
  void search_other_cells(const Vec3& q, const Tried& tried, Projection& best) const;
  bool at_end(const Parameter& at) const;
  void look_around_poles(const Vec3& q, std::uint32_t nearest, Projection& best) const;
  void look_inside_borders(const Vec3& q, Projection& best) const;
  FootBounds smooth_part(const Parameter& at) const;

  Projection closest(const Vec3& q, double bound) const;
};

namespace {

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

FootBounds SurfaceProjector::Impl::smooth_part(const Parameter& at) const {
  FootBounds b{u.first(), u.last(), v.first(), v.last(), u.periodic, v.periodic};
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
      feet.evaluator().points(std::span(at).first(rays), std::span(points).first(rays));
      const auto squared = [&](std::size_t k) { return length_squared(points[k % rays] - q); };
      for (std::size_t k = 0; k < rays; ++k) {
        if (squared(k) > squared(k + 1) || squared(k) > squared(k + rays - 1)) continue;
        const Projection candidate = feet.from(at[k], q, smooth_part(at[k]));
        if (candidate.distance < best.distance) best = candidate;
      }
    }
  }
}

// A border may hold a foot though the surface comes nearer just inside it: there the squared distance is no bowl. The
// search goes on from a little way in.
void SurfaceProjector::Impl::look_inside_borders(const Vec3& q, Projection& best) const {
  const auto inward = [](const KnotVector& k, const std::vector<double>& kinks, double x) {
    if (k.periodic || (x > kinks.front() && x < kinks.back())) return 0.0;
    const std::vector<double> b = breakpoints(k);
    return x <= kinks.front() ? 0.1 * (b[1] - b[0]) : -0.1 * (b.back() - b[b.size() - 2]);
  };
  const double du = inward(u, kinks_u, best.u), dv = inward(v, kinks_v, best.v);
  if (du == 0.0 && dv == 0.0) return;
  const PointSecond s = feet.evaluator().seconds(best.u, best.v);
  const Vec3 r = s.p - q;
  const double a = dot(s.du, s.du) + dot(s.duu, r), b = dot(s.du, s.dv) + dot(s.duv, r);
  const double c = dot(s.dv, s.dv) + dot(s.dvv, r);
  if (a > 0.0 && c > 0.0 && a * c > b * b) return;
  const Parameter seed{best.u + du, best.v + dv};
  const Projection candidate = feet.from(seed, q, smooth_part(seed));
  if (candidate.distance < best.distance) best = candidate;
}

// The samples from which a search has begun.
class SurfaceProjector::Impl::Tried {
 public:
  explicit Tried(const Impl& impl) : impl_(impl) {}
  void add(std::uint32_t sample) {
    if (!full()) tried_[count_++] = sample;
  }
  bool full() const { return count_ == kMostSeeds; }
  bool has_been_in(const FootBounds& b) const {
    return std::any_of(tried_.data(), tried_.data() + count_, [&](std::uint32_t other) {
      const Parameter& t = impl_.samples.at[other];
      return t.u >= b.low_u && t.u <= b.high_u && t.v >= b.low_v && t.v <= b.high_v;
    });
  }
  // Whether a search from the sample leads to where an earlier one did. From afar, all of the same
  // sheet do.
  bool knows(std::uint32_t sample, const FootBounds& b, bool far) const {
    if (impl_.creased()) return has_been_in(b);
    return std::any_of(tried_.data(), tried_.data() + count_, [&](std::uint32_t other) {
      const Parameter& t = impl_.samples.at[other];
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
  std::size_t count_ = 0;
};

// Collects the nearest sample from which a search might find something nearer than what was found: one within reach of
// it, and not beside the start of an earlier search.
class SurfaceProjector::Impl::Another {
 public:
  Another(const Impl& impl, const Tried& tried, double found)
      : impl_(impl), tried_(tried), found_(found), worst_((found + impl.longest_reach)) {
    worst_ *= worst_;
  }
  bool any() const { return any_; }
  std::uint32_t index() const { return index_; }
  bool too_many() const { return seen_ > kMost; }
  // The interface nanoflann asks for.
  std::size_t size() const { return any_ ? 1 : 0; }
  bool full() const { return any_; }
  double worstDist() const { return worst_; }
  bool addPoint(double squared, std::uint32_t sample) {
    const auto reach = static_cast<double>(impl_.samples.reach[sample]);
    if (squared < worst_ && std::sqrt(squared) <= found_ + reach &&
        !tried_.knows(sample, {}, found_ > 3.0 * reach)) {
      any_ = true;
      index_ = sample;
      worst_ = squared;
    }
    return ++seen_ <= kMost;
  }

 private:
  static constexpr int kMost = 400;  // from afar nearly all samples are within reach
  const Impl& impl_;
  const Tried& tried_;
  double found_, worst_;
  std::uint32_t index_ = 0;
  bool any_ = false;
  int seen_ = 0;
};

// False when there are too many samples to look at.
bool SurfaceProjector::Impl::search_within_reach(const Vec3& q, Tried& tried,
                                                 Projection& best) const {
  const double query[3] = {q.x, q.y, q.z};
  while (!tried.full()) {
    Another another(*this, tried, best.distance);
    tree.findNeighbors(another, query, nanoflann::SearchParams());
    if (another.too_many()) return false;
    if (!another.any()) return true;
    tried.add(another.index());
    const Parameter p = samples.at[another.index()];
    const Projection candidate = feet.from(p, q, smooth_part(p));
    if (candidate.distance < best.distance) best = candidate;
  }
  return true;
}

// From the nearest samples on, as many as seem needed. Returns the nearest one.
std::uint32_t SurfaceProjector::Impl::search_from_nearest(const Vec3& q, Tried& tried,
                                                          Projection& best) const {
  std::array<std::uint32_t, kMostSeeds> index{};
  std::array<double, kMostSeeds> squared{};
  const double query[3] = {q.x, q.y, q.z};
  std::size_t asked = creased() ? 3 : 8;
  std::size_t found = tree.knnSearch(query, asked, index.data(), squared.data());
  for (std::size_t k = 0; k < found; ++k) {
    const double reach = static_cast<double>(samples.reach[index[k]]);
    const double away = std::sqrt(squared[k]);
    if (creased() || away <= best.distance + reach) {
      const Parameter p = samples.at[index[k]];
      const FootBounds bounds = smooth_part(p);
      if (!tried.knows(index[k], bounds, best.distance > 3.0 * reach)) {
        tried.add(index[k]);
        const Projection candidate = feet.from(p, q, bounds);
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
  return index[0];
}

// Each smooth cell that comes nearer than what was found, from its nearest sample.
void SurfaceProjector::Impl::search_other_cells(const Vec3& q, const Tried& tried,
                                                Projection& best) const {
  cells.for_each_nearer(
      q, [&] { return best.distance; },
      [&](Parameter seed) {
        const FootBounds bounds = smooth_part(seed);
        if (tried.has_been_in(bounds)) return;
        const Projection candidate = feet.from(seed, q, bounds);
        if (candidate.distance < best.distance) best = candidate;
      });
}

// The nearest sample decides nearly always. Another one can do so only when the surface around it
// comes nearer than what was found: folds that come close, ripples beside a pole, cells on the other
// side of a border or a crease.
Projection SurfaceProjector::Impl::closest(const Vec3& q, double bound) const {
  Projection best;
  best.distance = kAnywhere;
  Tried tried(*this);
  std::uint32_t nearest = 0;
  if (creased()) {
    nearest = search_from_nearest(q, tried, best);
    search_other_cells(q, tried, best);
  } else {
    NearEnough seed(slack);
    const double query[3] = {q.x, q.y, q.z};
    tree.findNeighbors(seed, query, nanoflann::SearchParams());
    nearest = seed.index();
    if (std::sqrt(seed.squared()) > bound + 2.0 * longest_reach) return best;
    const Parameter p = samples.at[nearest];
    best = feet.from(p, q, smooth_part(p));
    look_inside_borders(q, best);
    const double room = clearance.of(samples.row[nearest]) - std::sqrt(seed.squared());
    if (best.distance < room) return best;
    tried.add(nearest);
    if (!search_within_reach(q, tried, best)) search_from_nearest(q, tried, best);
  }
  look_around_poles(q, nearest, best);
  return best;
}

SurfaceProjector::SurfaceProjector(const Surface& surface, int samples_per_span,
                                   const std::function<bool(Parameter)>& keep)
    : impl_(std::make_unique<Impl>(surface, samples_per_span, keep)) {}
SurfaceProjector::~SurfaceProjector() = default;
SurfaceProjector::SurfaceProjector(SurfaceProjector&&) noexcept = default;
SurfaceProjector& SurfaceProjector::operator=(SurfaceProjector&&) noexcept = default;

Projection SurfaceProjector::closest(const Vec3& q) const {
  return impl_->closest(q, kAnywhere);
}

Projection SurfaceProjector::closest_within(const Vec3& q, double bound) const {
  return impl_->closest(q, bound);
}

Projection SurfaceProjector::closest_near(const Vec3& q, const Parameter& seed) const {
  return impl_->feet.from(seed, q, impl_->smooth_part(seed));
}

void SurfaceProjector::closest(std::span<const Vec3> q, std::span<Projection> out,
                               Progress& progress) const {
  parallel_blocks(q.size(), 256, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) out[k] = impl_->closest(q[k], kAnywhere);
  });
}

const SurfaceEvaluator& SurfaceProjector::evaluator() const {
  return impl_->feet.evaluator();
}

}  // namespace evenclay
