#include "core/check/watch.h"

#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/body/projector.h"
#include "core/check/faces_alike.h"
#include "core/nurbs/feet.h"

namespace evenclay {

namespace {

constexpr std::size_t kWorst = 5;

std::vector<WorstPlace> worst_of(std::span<const Vec3> places, std::span<const double> off,
                                 double reach) {
  std::vector<std::uint32_t> order(places.size());
  std::iota(order.begin(), order.end(), 0U);
  const std::size_t looked = std::min<std::size_t>(order.size(), 4000);
  std::partial_sort(
      order.begin(), order.begin() + static_cast<std::ptrdiff_t>(looked), order.end(),
      [&](std::uint32_t a, std::uint32_t b) { return std::abs(off[a]) > std::abs(off[b]); });
  std::vector<WorstPlace> worst;
  for (std::size_t k = 0; k < looked && worst.size() < kWorst; ++k) {
    const Vec3& p = places[order[k]];
    const bool apart = std::all_of(worst.begin(), worst.end(),
                                   [&](const WorstPlace& w) { return distance(w.at, p) > reach; });
    if (apart) worst.push_back({p, off[order[k]]});
  }
  return worst;
}

}  // namespace

WatchReport watch_report(std::span<const Vec3> places, std::span<const double> off, double band,
                         double reach) {
  if (places.empty()) throw Error(say("There is nothing to measure: it holds no places."));
  if (!(band > 0.0)) throw Error(say("The band of a deviation must be above 0 mm."));
  WatchReport r;
  r.band = band;
  r.places = places.size();
  const double share = 1.0 / static_cast<double>(places.size());
  std::vector<double> sizes(off.size());
  for (std::size_t k = 0; k < off.size(); ++k) {
    const double size = std::abs(off[k]);
    sizes[k] = size;
    r.mean += size * share;
    r.bias += off[k] * share;
    r.max = std::max(r.max, size);
    if (size <= band) r.inside += share;
    const double step = std::floor((off[k] + 2.0 * band) / (0.1 * band));
    r.histogram[static_cast<std::size_t>(std::clamp(step, -1.0, 40.0) + 1.0)] += share;
  }
  const auto at95 =
      sizes.begin() + static_cast<std::ptrdiff_t>(static_cast<double>(sizes.size() - 1) * 0.95);
  std::nth_element(sizes.begin(), at95, sizes.end());
  r.percentile95 = *at95;
  r.worst = worst_of(places, off, reach);
  return r;
}

struct ScanWatch::Impl {
  std::vector<Vec3> points;
  std::vector<double> off;
  Body last;
  std::vector<std::uint32_t> face;
  std::vector<Parameter> at;
  // Points in the order of their faces, so that each face is one run.
  std::vector<std::uint32_t> order;
  std::vector<std::size_t> first;

  bool follows(const Body& body) const {
    return !is_trimmed(body) && answer_each_other(body, last);
  }

  void find(const Body& body, Progress& progress) {
    const BodyProjector projector(body);
    parallel_blocks(points.size(), 256, progress, [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) {
        const BodyProjection p = projector.closest(points[k]);
        const Face& f = body.faces[static_cast<std::size_t>(p.face)];
        face[k] = static_cast<std::uint32_t>(p.face);
        at[k] = {p.u, p.v};
        const Vec3 n = normal(*f.surface, p.u, p.v) * (f.flipped ? -1.0 : 1.0);
        off[k] = std::copysign(p.distance, dot(points[k] - p.point, n));
      }
    });
    sort_by_face(body.faces.size());
  }

  void sort_by_face(std::size_t faces) {
    first.assign(faces + 1, 0);
    for (const std::uint32_t f : face) ++first[f + 1];
    std::partial_sum(first.begin(), first.end(), first.begin());
    order.resize(points.size());
    std::vector<std::size_t> next(first.begin(), first.end() - 1);
    for (std::uint32_t k = 0; k < points.size(); ++k) order[next[face[k]]++] = k;
  }

  void follow(const Body& body, Progress& progress) {
    if (body.faces.size() == 1) {
      follow_face(body.faces.front(), points, at, off, progress);
      return;
    }
    std::vector<Vec3> q;
    std::vector<Parameter> p;
    std::vector<double> d;
    for (std::size_t f = 0; f < body.faces.size(); ++f) {
      const std::span run(order.data() + first[f], first[f + 1] - first[f]);
      q.clear();
      p.clear();
      for (const std::uint32_t k : run) {
        q.push_back(points[k]);
        p.push_back(at[k]);
      }
      d.resize(q.size());
      follow_face(body.faces[f], q, p, d, progress);
      for (std::size_t n = 0; n < run.size(); ++n) {
        at[run[n]] = p[n];
        off[run[n]] = d[n];
      }
    }
  }

  static void follow_face(const Face& f, std::span<const Vec3> q, std::span<Parameter> p,
                          std::span<double> d, Progress& progress) {
    const SurfaceEvaluator evaluator(*f.surface);
    improve_feet(*f.surface, evaluator, q, p, 1, progress);
    distances_to_feet(evaluator, q, p, d, progress);
    if (f.flipped)
      for (double& x : d) x = -x;
  }
};

ScanWatch::ScanWatch(std::vector<Vec3> points) : impl_(std::make_unique<Impl>()) {
  impl_->off.resize(points.size());
  impl_->face.resize(points.size());
  impl_->at.resize(points.size());
  impl_->points = std::move(points);
}
ScanWatch::~ScanWatch() = default;
ScanWatch::ScanWatch(ScanWatch&&) noexcept = default;

const std::vector<Vec3>& ScanWatch::points() const {
  return impl_->points;
}

const std::vector<double>& ScanWatch::measure(const Body& body, bool quick, Progress& progress) {
  if (body.faces.empty()) throw Error(say("There is no surface to measure the scan against."));
  if (quick && impl_->follows(body))
    impl_->follow(body, progress);
  else
    impl_->find(body, progress);
  impl_->last = body;
  return impl_->off;
}

}  // namespace evenclay
