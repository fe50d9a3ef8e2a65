#include "core/body/projector.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <nanoflann.hpp>
#include <optional>

#include "core/base/error.h"
#include "core/base/frame.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/nurbs/projection.h"

namespace evenclay {

namespace {

// Samples of all edges, for the nearest one of a point.
struct EdgeSamples {
  struct Sample {
    std::uint32_t edge;
    double t;
  };
  std::vector<Vec3> points;
  std::vector<Sample> at;
  // The interface nanoflann asks for.
  std::size_t kdtree_get_point_count() const { return points.size(); }
  double kdtree_get_pt(std::size_t i, std::size_t axis) const { return points[i][axis]; }
  template <typename Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
};
using Tree = nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, EdgeSamples>,
                                                 EdgeSamples, 3, std::uint32_t>;

constexpr int kEdgeSamples = 24;  // a span, 8 where there are many

struct EdgeSide {
  int face = -1;
  std::optional<CurveEvaluator> uv;
};

}  // namespace

struct BodyProjector::Impl {
  std::vector<std::optional<FaceRegion>> regions;
  std::vector<SurfaceProjector> surfaces;
  std::vector<Box3> boxes;  // of the control points of each
  std::vector<CurveEvaluator> edges;
  std::vector<EdgeSide> sides;  // a face of each edge
  EdgeSamples samples;
  std::optional<Tree> tree;

  Impl(const Body& body, int per_span) {
    if (body.faces.empty()) throw Error(say("There is no surface to measure the distance from."));
    for (const Face& f : body.faces) {
      boxes.emplace_back();
      for (const Vec3& p : f.surface->points.values()) boxes.back().add(p);
      regions.emplace_back();
      if (!f.trimmed()) {
        surfaces.emplace_back(*f.surface, per_span);
        continue;
      }
      regions.back().emplace(f);
      const FaceRegion& region = *regions.back();
      surfaces.emplace_back(*f.surface, per_span,
                            [&region](Parameter p) { return region.contains(p.u, p.v); });
    }
    prepare_edges(body);
  }

  void prepare_edges(const Body& body) {
    sides.resize(body.edges.size());
    for (const Edge& e : body.edges) edges.emplace_back(e.curve);
    for (std::size_t f = 0; f < body.faces.size(); ++f)
      for (const Loop& loop : body.faces[f].loops)
        for (const EdgeUse& use : loop) {
          EdgeSide& side = sides[use.edge];
          if (side.uv) continue;
          side.face = static_cast<int>(f);
          side.uv.emplace(use.uv);
        }
    for (std::uint32_t e = 0; e < edges.size(); ++e) {
      if (!sides[e].uv) continue;
      const KnotVector& k = edges[e].curve().knots;
      const int per_span = breakpoints(k).size() > 6 ? 8 : kEdgeSamples;
      for (const double t : sample_places(k, per_span)) {
        samples.points.push_back(edges[e].point(t));
        samples.at.push_back({e, t});
      }
    }
    if (!samples.points.empty())
      tree.emplace(3, samples, nanoflann::KDTreeSingleIndexAdaptorParams(12));
  }

  // Newton's method on the squared distance from the nearest sample, kept between its neighbours.
  BodyProjection on_edges(const Vec3& q) const {
    BodyProjection best;
    best.distance = std::numeric_limits<double>::infinity();
    constexpr std::size_t kSeeds = 12;
    std::array<std::uint32_t, kSeeds> index{};
    std::array<double, kSeeds> squared{};
    const double query[3] = {q.x, q.y, q.z};
    const std::size_t found = tree->knnSearch(query, kSeeds, index.data(), squared.data());
    for (std::size_t n = 0; n < found; ++n) {
      const EdgeSamples::Sample& seed = samples.at[index[n]];
      // Of each edge the nearest two samples.
      if (std::count_if(index.begin(), index.begin() + static_cast<long>(n),
                        [&](std::uint32_t other) { return samples.at[other].edge == seed.edge; }) >=
          2)
        continue;
      const CurveEvaluator& edge = edges[seed.edge];
      const double t = nearest(edge, q, seed.t);
      const Vec3 p = edge.point(t);
      const double d = distance(p, q);
      if (d >= best.distance) continue;
      const EdgeSide& side = sides[seed.edge];
      const Vec3 uv = side.uv->point(t);
      best = {d, p, side.face, uv.x, uv.y};
    }
    return best;
  }

  static double nearest(const CurveEvaluator& edge, const Vec3& q, double t) {
    const KnotVector& k = edge.curve().knots;
    double best = length_squared(edge.point(t) - q);
    for (int pass = 0; pass < 20; ++pass) {
      const CurveDerivatives d = edge.derivatives(t, 2);
      const Vec3 r = d.p - q;
      const double slope = dot(d.d1, r);
      double bend = dot(d.d1, d.d1) + dot(d.d2, r);
      if (!(bend > 0.0)) bend = dot(d.d1, d.d1);
      if (!(bend > 0.0)) break;
      double step = -slope / bend;
      bool better = false;
      for (int halving = 0; halving < 8 && !better; ++halving, step *= 0.5) {
        const double next = std::clamp(t + step, k.first(), k.last());
        const double value = length_squared(edge.point(next) - q);
        if (value < best) {
          better = best - value > 1e-16 * best;
          best = value;
          t = next;
          break;
        }
      }
      if (!better) break;
    }
    return t;
  }

  // The face's own closest point, when it is nearer than the best so far. True when the face is trimmed away there.
  bool look_at(std::size_t f, const Vec3& q, BodyProjection& best) const {
    const Projection p = surfaces[f].closest_within(q, best.distance);
    if (!(p.distance < best.distance)) return false;
    if (regions[f] && !regions[f]->contains(p.u, p.v)) return true;
    best = {p.distance, p.point, static_cast<int>(f), p.u, p.v};
    return false;
  }

  // Faces by how near their boxes are, until no other can be nearer than what was found.
  BodyProjection closest(const Vec3& q) const {
    BodyProjection best;
    best.distance = std::numeric_limits<double>::infinity();
    bool edges_needed = false;
    if (surfaces.size() == 1) {
      edges_needed = look_at(0, q, best);
    } else {
      std::vector<std::pair<double, std::size_t>> next(surfaces.size());
      for (std::size_t f = 0; f < next.size(); ++f) next[f] = {boxes[f].squared_gap({q, q}), f};
      std::make_heap(next.begin(), next.end(), std::greater<>());
      for (auto end = next.end();
           end != next.begin() && next.front().first < best.distance * best.distance; --end) {
        edges_needed = look_at(next.front().second, q, best) || edges_needed;
        std::pop_heap(next.begin(), end, std::greater<>());
      }
    }
    if (!tree || !edges_needed) return best;
    const BodyProjection edge = on_edges(q);
    return edge.distance < best.distance ? edge : best;
  }
};

BodyProjector::BodyProjector(const Body& body, int samples_per_span)
    : impl_(std::make_unique<Impl>(body, samples_per_span)) {}
BodyProjector::~BodyProjector() = default;
BodyProjector::BodyProjector(BodyProjector&&) noexcept = default;

BodyProjection BodyProjector::closest(const Vec3& q) const {
  return impl_->closest(q);
}

}  // namespace evenclay
