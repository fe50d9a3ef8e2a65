#include <algorithm>
#include <cmath>
#include <memory>
#include <optional>
#include <vector>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/body/projector.h"
#include "core/body/region.h"
#include "core/check/faces_alike.h"
#include "core/check/measures.h"
#include "core/mesh/closest_point.h"
#include "core/nurbs/projection.h"
#include "core/nurbs/search.h"

namespace evenclay {

namespace {

constexpr int kDefinition = 10;  // samples a span along which the measure is defined

struct Answer {
  double distance = 0.0;
  Vec3 point;
  Vec3 normal;
};

// Closest point on a body or on a mesh.
class Target {
 public:
  explicit Target(const Measurable& m, int seeds_per_span = 9) : body_(m.body) {
    if (!body_.faces.empty()) projector_.emplace(body_, seeds_per_span);
    if (m.mesh == nullptr) return;
    mesh_ = m.mesh;
    mesh_projector_.emplace(*m.mesh);
  }
  double distance_to(const Vec3& q) const {
    if (mesh_projector_) return mesh_projector_->closest(q).distance;
    return projector_->closest(q).distance;
  }
  Answer answer(const Vec3& q) const {
    if (!mesh_projector_) {
      const BodyProjection p = projector_->closest(q);
      const Face& face = body_.faces[static_cast<std::size_t>(p.face)];
      const Vec3 n = normal(*face.surface, p.u, p.v);
      return {p.distance, p.point, face.flipped ? -n : n};
    }
    const MeshProjection p = mesh_projector_->closest(q);
    const auto& t = mesh_->triangles[p.triangle];
    return {p.distance, p.point,
            normalized(cross(mesh_->points[t[1]] - mesh_->points[t[0]],
                             mesh_->points[t[2]] - mesh_->points[t[0]]))};
  }

 private:
  Body body_;
  std::optional<BodyProjector> projector_;
  const TriangleMesh* mesh_ = nullptr;
  std::optional<MeshProjector> mesh_projector_;
};

struct Weighted {
  double distance;
  double weight;
};

struct Side {
  std::vector<Weighted> samples;
  double max = -1.0;
  Vec3 at;
};

struct SamplePoint {
  Parameter at;
  Vec3 p;
  double weight;
};

// Inside a trimmed face only, with the places of its edges in its parameters, which have no area.
void keep_inside(const Face& face, const FaceRegion& region, int per_span,
                 std::vector<Parameter>& at, std::vector<double>& weight) {
  std::vector<Parameter> kept;
  std::vector<double> kept_weight;
  for (std::size_t k = 0; k < weight.size(); ++k)
    if (region.contains(at[k].u, at[k].v)) {
      kept.push_back(at[k]);
      kept_weight.push_back(weight[k]);
    }
  for (const Loop& loop : face.loops)
    for (const EdgeUse& use : loop) {
      const CurveEvaluator uv(use.uv);
      for (const double t : sample_places(use.uv.knots, per_span)) {
        const Vec3 p = uv.point(t);
        kept.push_back({p.x, p.y});
      }
    }
  at = std::move(kept);
  weight = std::move(kept_weight);
}

// per_span² midpoints with their area, and corners of spans and borders with no area.
std::vector<SamplePoint> samples_of(const Face& face, const FaceRegion& region, int per_span) {
  const Surface& s = *face.surface;
  std::vector<Parameter> at;
  std::vector<double> weight;
  const std::vector<double> bu = breakpoints(s.u);
  const std::vector<double> bv = breakpoints(s.v);
  for (std::size_t a = 0; a + 1 < bu.size(); ++a)
    for (std::size_t b = 0; b + 1 < bv.size(); ++b)
      for (int i = 0; i < per_span; ++i)
        for (int j = 0; j < per_span; ++j) {
          const double hu = (bu[a + 1] - bu[a]) / per_span;
          const double hv = (bv[b + 1] - bv[b]) / per_span;
          at.push_back({bu[a] + hu * (i + 0.5), bv[b] + hv * (j + 0.5)});
          weight.push_back(hu * hv);
        }
  const auto border = [&](const KnotVector& k, const std::vector<double>& breaks, auto&& place) {
    for (std::size_t a = 0; a + 1 < breaks.size(); ++a)
      for (int i = 0; i <= per_span; ++i) {
        const double w = breaks[a] + (breaks[a + 1] - breaks[a]) * i / per_span;
        at.push_back(place(w, k.first()));
        at.push_back(place(w, k.last()));
      }
  };
  // The corners of the spans, which of facets are the peaks.
  for (const double u : bu)
    for (const double v : bv) {
      at.push_back({u, v});
      weight.push_back(0.0);
    }
  if (face.trimmed()) {
    keep_inside(face, region, per_span, at, weight);
  } else {
    if (!s.v.periodic) border(s.v, bu, [](double w, double end) { return Parameter{w, end}; });
    if (!s.u.periodic) border(s.u, bv, [](double w, double end) { return Parameter{end, w}; });
  }
  weight.resize(at.size(), 0.0);
  std::vector<PointTangents> out(at.size());
  SurfaceEvaluator(s).tangents(at, out);
  std::vector<SamplePoint> result;
  for (std::size_t k = 0; k < at.size(); ++k)
    result.push_back({at[k], out[k].p, weight[k] * length(cross(out[k].du, out[k].dv))});
  return result;
}

// The samples with the greatest distances, each more than a step from those before it.
std::vector<std::size_t> peaks(const std::vector<SamplePoint>& samples,
                               const std::vector<double>& distances, double step_u, double step_v,
                               std::size_t most) {
  std::vector<std::size_t> order(samples.size());
  for (std::size_t k = 0; k < order.size(); ++k) order[k] = k;
  const std::size_t looked = std::min<std::size_t>(40 * most, order.size());
  std::partial_sort(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(looked), order.end(),
                    [&](auto a, auto b) { return distances[a] > distances[b]; });
  std::vector<std::size_t> result;
  for (std::size_t n = 0; n < looked && result.size() < most; ++n) {
    const Parameter& p = samples[order[n]].at;
    const bool apart = std::all_of(result.begin(), result.end(), [&](std::size_t other) {
      const Parameter& q = samples[other].at;
      return std::abs(p.u - q.u) > step_u || std::abs(p.v - q.v) > step_v;
    });
    if (apart) result.push_back(order[n]);
  }
  return result;
}

void refine(const Surface& s, const FaceRegion& region, const Target& target,
            const std::vector<SamplePoint>& samples, const std::vector<double>& distances,
            int per_span, Side& side) {
  const SurfaceEvaluator evaluator(s);
  const double step_u =
      s.u.length() / static_cast<double>(breakpoints(s.u).size() - 1) / (2.0 * per_span);
  const double step_v =
      s.v.length() / static_cast<double>(breakpoints(s.v).size() - 1) / (2.0 * per_span);
  // Facets have peaks of nearly the same height: a few more are climbed than would be for smooth forms.
  const std::size_t most = per_span < kDefinition ? 3 : 12;
  for (const std::size_t k : peaks(samples, distances, 2.0 * step_u, 2.0 * step_v, most)) {
    const SearchResult r = climb(
        s, {samples[k].at, distances[k]}, step_u, step_v,
        [&](Parameter p) {
          if (!region.contains(p.u, p.v)) return -1.0;
          return target.distance_to(evaluator.point(p.u, p.v));
        },
        // A preview is content with a hundredth of a sample's step.
        per_span < kDefinition ? 1e-2 : 1e-9);
    if (r.value > side.max) {
      side.max = r.value;
      side.at = evaluator.point(r.at.u, r.at.v);
    }
  }
}

// Spans of all surfaces; none of a mesh.
double spans_of(const Measurable& m) {
  double sum = 0.0;
  for (const Face& f : m.body.faces)
    sum += static_cast<double>((breakpoints(f.surface->u).size() - 1) *
                               (breakpoints(f.surface->v).size() - 1));
  return sum;
}

// Samples a span of `from` so that a span of `to` gets as many, too: a form with few spans may lie
// against one with many facets.
int samples_a_span(const Measurable& from, const Measurable& to, int per_span) {
  const double ours = spans_of(from);
  if (!(ours > 0.0)) return per_span;
  constexpr double kMost = 250000.0;
  const double share = std::sqrt(std::max(1.0, spans_of(to) / ours));
  const double most = std::max(static_cast<double>(per_span), std::sqrt(kMost / ours));
  return static_cast<int>(std::min(std::ceil(per_span * share), most));
}

Side one_way(const Measurable& from, const Target& to, int per_span, Progress& progress) {
  Side side;
  const auto distances_of = [&](const auto& points, auto&& point_of) {
    std::vector<double> d(points.size());
    parallel_blocks(points.size(), 128, progress, [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) d[k] = to.distance_to(point_of(points[k]));
    });
    return d;
  };
  for (const Face& face : from.body.faces) {
    const FaceRegion region(face);
    const std::vector<SamplePoint> samples = samples_of(face, region, per_span);
    const std::vector<double> d = distances_of(samples, [](const SamplePoint& p) { return p.p; });
    for (std::size_t k = 0; k < d.size(); ++k) side.samples.push_back({d[k], samples[k].weight});
    refine(*face.surface, region, to, samples, d, per_span, side);
  }
  if (from.mesh == nullptr) return side;
  std::vector<double> weight(from.mesh->points.size(), 0.0);
  for (const auto& t : from.mesh->triangles) {
    const auto& p = from.mesh->points;
    const double a = length(cross(p[t[1]] - p[t[0]], p[t[2]] - p[t[0]])) / 6.0;
    for (const std::uint32_t v : t) weight[v] += a;
  }
  const std::vector<double> d = distances_of(from.mesh->points, [](const Vec3& p) { return p; });
  for (std::size_t k = 0; k < d.size(); ++k) {
    side.samples.push_back({d[k], weight[k]});
    if (d[k] > side.max) {
      side.max = d[k];
      side.at = from.mesh->points[k];
    }
  }
  return side;
}

bool is_empty(const Measurable& m) {
  return m.body.faces.empty() && (m.mesh == nullptr || m.mesh->triangles.empty());
}

}  // namespace

std::vector<double> signed_distances(std::span<const Vec3> points, const Measurable& shape,
                                     Progress& progress) {
  if (is_empty(shape)) throw Error(say("There is no shape to measure the distance from."));
  const Target target(shape);
  std::vector<double> result(points.size());
  parallel_blocks(points.size(), 128, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t k = begin; k < end; ++k) {
      const Answer a = target.answer(points[k]);
      result[k] = dot(points[k] - a.point, a.normal) < 0.0 ? -a.distance : a.distance;
    }
  });
  return result;
}

bool answer_each_other(const Body& a, const Body& b) {
  const auto alike = [](const KnotVector& x, const KnotVector& y) {
    return x.periodic == y.periodic && x.first() == y.first() && x.last() == y.last();
  };
  return !a.faces.empty() && std::equal(a.faces.begin(), a.faces.end(), b.faces.begin(),
                                        b.faces.end(), [&](const Face& x, const Face& y) {
                                          return x.loops.size() == y.loops.size() &&
                                                 alike(x.surface->u, y.surface->u) &&
                                                 alike(x.surface->v, y.surface->v);
                                        });
}

namespace {

// Mean, 95th percentile: the samples weighted by area.
void take_statistics(std::vector<Weighted>& samples, Deviation& result) {
  std::sort(samples.begin(), samples.end(),
            [](const Weighted& x, const Weighted& y) { return x.distance < y.distance; });
  double total = 0.0;
  for (const Weighted& w : samples) {
    total += w.weight;
    result.mean += w.weight * w.distance;
  }
  if (total > 0.0) result.mean /= total;
  double below = 0.0;
  for (const Weighted& w : samples) {
    below += w.weight;
    result.percentile95 = w.distance;
    if (below >= 0.95 * total) break;
  }
}

// About `count` places evenly over the domain, whatever the spans.
std::vector<Parameter> even_places(const Surface& s, std::size_t count) {
  const auto side = std::max<std::size_t>(4, static_cast<std::size_t>(std::sqrt(count)));
  std::vector<Parameter> result;
  for (std::size_t i = 0; i < side; ++i)
    for (std::size_t j = 0; j < side; ++j)
      result.push_back(
          {s.u.first() + s.u.length() * static_cast<double>(i) / static_cast<double>(side - 1),
           s.v.first() + s.v.length() * static_cast<double>(j) / static_cast<double>(side - 1)});
  return result;
}

}  // namespace

std::optional<Deviation> quick_deviation(const Body& now, const Body& before, std::size_t samples,
                                         Progress& progress) {
  if (!answer_each_other(now, before)) return std::nullopt;
  Deviation result;
  std::vector<Weighted> all;
  for (std::size_t n = 0; n < now.faces.size(); ++n) {
    const Surface& s = *now.faces[n].surface;
    const Surface& old_surface = *before.faces[n].surface;
    std::vector<Parameter> at = even_places(s, samples / now.faces.size());
    if (now.faces[n].trimmed()) {
      const FaceRegion region(now.faces[n]);
      std::erase_if(at, [&](const Parameter& p) { return !region.contains(p.u, p.v); });
      if (at.empty()) continue;
    }
    const SurfaceEvaluator evaluator(s);
    std::vector<PointTangents> here(at.size());
    evaluator.tangents(at, here);
    const SurfaceProjector there(old_surface, 0);
    std::vector<Projection> feet(at.size());
    parallel_blocks(at.size(), 128, progress, [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) feet[k] = there.closest_near(here[k].p, at[k]);
    });
    for (std::size_t k = 0; k < at.size(); ++k)
      all.push_back({feet[k].distance, length(cross(here[k].du, here[k].dv))});
    const auto worst =
        static_cast<std::size_t>(std::max_element(feet.begin(), feet.end(),
                                                  [](const Projection& x, const Projection& y) {
                                                    return x.distance < y.distance;
                                                  }) -
                                 feet.begin());
    if (feet[worst].distance < result.max) continue;
    result.max = feet[worst].distance;
    result.at = here[worst].p;
    const Vec3 outward = normal(old_surface, feet[worst].u, feet[worst].v);
    result.signed_at =
        dot(here[worst].p - feet[worst].point, outward) < 0.0 ? -result.max : result.max;
  }
  take_statistics(all, result);
  return result;
}

Deviation deviation(const Measurable& a, const Measurable& b, Progress& progress, int per_span) {
  if (is_empty(a) || is_empty(b))
    throw Error(say("Deviation needs two shapes, but one of them is empty."));
  // Preparing many seeds would cost a preview more than its few samples do.
  const int seeds = per_span < kDefinition ? std::min(per_span + 1, 4) : 9;
  const Target to_a(a, seeds);
  const Target to_b(b, seeds);
  progress.report(0.1);
  Side ab = one_way(a, to_b, samples_a_span(a, b, per_span), progress);
  progress.report(0.6);
  Side ba = one_way(b, to_a, samples_a_span(b, a, per_span), progress);
  Deviation result;
  result.max = std::max(ab.max, ba.max);
  result.at = ab.max >= ba.max ? ab.at : ba.at;
  const Answer there = ab.max >= ba.max ? to_b.answer(result.at) : to_a.answer(result.at);
  const double side = dot(result.at - there.point, there.normal);
  result.signed_at = (side < 0.0 ? -1.0 : 1.0) * (ab.max >= ba.max ? 1.0 : -1.0) * result.max;
  ab.samples.insert(ab.samples.end(), ba.samples.begin(), ba.samples.end());
  take_statistics(ab.samples, result);
  progress.report(1.0);
  return result;
}

}  // namespace evenclay
