#include "core/check/measures.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/body/region.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/quadrature.h"
#include "core/nurbs/search.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

double standard_deviation_share(std::span<const double> x) {
  double mean = 0.0;
  for (const double a : x) mean += a;
  mean /= static_cast<double>(x.size());
  double square = 0.0;
  for (const double a : x) square += (a - mean) * (a - mean);
  return std::sqrt(square / static_cast<double>(x.size())) / mean;
}

double evenness_along(const SurfaceEvaluator& s, const KnotVector& along, const KnotVector& other,
                      bool along_u) {
  constexpr int kCurves = 16;
  constexpr int kSteps = 64;
  std::array<std::array<double, kSteps>, kCurves> lengths{};
  std::array<double, kCurves> total{};
  std::vector<Parameter> at(kSteps * kGauss8.size());
  std::vector<PointTangents> out(at.size());
  for (int c = 0; c < kCurves; ++c) {
    const double share = static_cast<double>(c) / (other.periodic ? kCurves : kCurves - 1);
    const double fixed = other.first() + other.length() * share;
    // All places of the curve at once, which is much quicker than one by one.
    const double half = 0.5 * along.length() / kSteps;
    for (std::size_t k = 0; k < at.size(); ++k) {
      const double middle =
          along.first() + half * (2.0 * static_cast<double>(k / kGauss8.size()) + 1.0);
      const double w = middle + half * kGauss8[k % kGauss8.size()].place;
      at[k] = along_u ? Parameter{w, fixed} : Parameter{fixed, w};
    }
    s.tangents(at, out);
    for (int k = 0; k < kSteps; ++k) {
      double l = 0.0;
      for (std::size_t g = 0; g < kGauss8.size(); ++g) {
        const PointTangents& t = out[static_cast<std::size_t>(k) * kGauss8.size() + g];
        l += half * kGauss8[g].weight * length(along_u ? t.du : t.dv);
      }
      lengths[static_cast<std::size_t>(c)][static_cast<std::size_t>(k)] = l;
      total[static_cast<std::size_t>(c)] += l;
    }
  }
  const double longest = *std::max_element(total.begin(), total.end());
  double sum = 0.0;
  int used = 0;
  for (std::size_t c = 0; c < kCurves; ++c) {
    if (!(total[c] > 1e-6 * longest)) continue;
    sum += 100.0 * std::max(0.0, 1.0 - standard_deviation_share(lengths[c]));
    ++used;
  }
  return used > 0 ? sum / used : 0.0;
}

std::optional<Curvature> curvature_of(const PointSecond& s) {
  const Vec3 raw = cross(s.du, s.dv);
  const double area = length(raw);
  const double e = dot(s.du, s.du);
  const double f = dot(s.du, s.dv);
  const double g = dot(s.dv, s.dv);
  // Close to a pole the forms are mostly rounding: 1e-3 leaves ten digits.
  if (!(area > 1e-3 * (e + g)) || area == 0.0) return std::nullopt;
  const Vec3 n = raw / area;
  const double l = dot(s.duu, n);
  const double m = dot(s.duv, n);
  const double k = dot(s.dvv, n);
  const double det = e * g - f * f;
  const double gauss = (l * k - m * m) / det;
  const double mean = (e * k - 2.0 * f * m + g * l) / (2.0 * det);
  const double root = std::sqrt(std::max(0.0, mean * mean - gauss));
  Curvature c{mean + (mean < 0.0 ? -root : root), 0.0};
  c.k2 = c.k1 != 0.0 ? gauss / c.k1 : 0.0;
  return c;
}

// Integral of f(PointTangents) over each span, halved until two levels agree.
template <typename F>
double surface_integral(const Surface& surface, const F& f) {
  const SurfaceEvaluator s(surface);
  const std::vector<double> bu = breakpoints(surface.u);
  const std::vector<double> bv = breakpoints(surface.v);
  double previous = 0.0;
  for (int parts = 1; parts <= 16; parts *= 2) {
    double sum = 0.0;
    for (std::size_t a = 0; a + 1 < bu.size(); ++a)
      for (std::size_t b = 0; b + 1 < bv.size(); ++b)
        for (int i = 0; i < parts; ++i)
          for (int j = 0; j < parts; ++j) {
            const double hu = (bu[a + 1] - bu[a]) / parts;
            const double hv = (bv[b + 1] - bv[b]) / parts;
            const double u0 = bu[a] + hu * i;
            const double v0 = bv[b] + hv * j;
            sum += integrate(u0, u0 + hu, [&](double u) {
              return integrate(v0, v0 + hv, [&](double v) { return f(s.tangents(u, v)); });
            });
          }
    if (parts > 1 && std::abs(sum - previous) <= 1e-11 * std::abs(sum)) return sum;
    previous = sum;
  }
  return previous;
}

}  // namespace

Evenness evenness(const Surface& surface) {
  const SurfaceEvaluator s(surface);
  return {evenness_along(s, surface.u, surface.v, true),
          evenness_along(s, surface.v, surface.u, false)};
}

std::optional<Curvature> curvature(const PointSecond& derivatives) {
  return curvature_of(derivatives);
}

std::optional<Curvature> curvature(const Surface& surface, double u, double v) {
  return curvature_of(SurfaceEvaluator(surface).seconds(u, v));
}

std::optional<LeastRadius> least_radius(const Surface& surface, int per_span) {
  const SurfaceEvaluator s(surface);
  const auto bend = [&](Parameter p) {
    const auto c = curvature_of(s.seconds(p.u, p.v));
    return c ? std::abs(c->k1) : 0.0;
  };
  const SearchResult best = search_maximum(surface, per_span, bend);
  // Flatter than 1e-9 of the size: no radius worth naming.
  if (!(best.value * size(surface) > 1e-9)) return std::nullopt;
  return LeastRadius{1.0 / best.value, s.point(best.at.u, best.at.v)};
}

MirrorGap mirror_gap(const Measurable& shape, int axis, Progress& progress, int per_span) {
  std::vector<Vec3> points;
  if (shape.mesh != nullptr) points = shape.mesh->points;
  for (const Face& face : shape.body.faces) {
    const Surface& surface = *face.surface;
    const SurfaceEvaluator s(surface);
    const FaceRegion region(face);
    const std::vector<double> vs = sample_places(surface.v, per_span);
    for (const double u : sample_places(surface.u, per_span)) {
      progress.check();
      for (const double v : vs)
        if (region.contains(u, v)) points.push_back(s.point(u, v));
    }
  }
  for (const Edge& e : shape.body.edges) {
    const CurveEvaluator curve(e.curve);
    for (const double t : sample_places(e.curve.knots, 2)) points.push_back(curve.point(t));
  }
  std::vector<Vec3> images = points;
  for (Vec3& p : images) p[static_cast<std::size_t>(axis)] *= -1.0;
  const std::vector<double> gaps = signed_distances(images, shape, progress);
  MirrorGap result;
  for (std::size_t k = 0; k < gaps.size(); ++k)
    if (std::abs(gaps[k]) > result.max) result = {std::abs(gaps[k]), points[k]};
  return result;
}

double area(const Surface& surface) {
  return surface_integral(surface,
                          [](const PointTangents& t) { return length(cross(t.du, t.dv)); });
}

double volume(const Surface& surface) {
  return surface_integral(surface,
                          [](const PointTangents& t) { return dot(t.p, cross(t.du, t.dv)) / 3.0; });
}

Box3 tight_box(const Surface& surface) {
  const SurfaceEvaluator s(surface);
  Box3 box;
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (const double sign : {-1.0, 1.0}) {
      const SearchResult r =
          search_maximum(surface, 8, [&](Parameter p) { return sign * s.point(p.u, p.v)[axis]; });
      (sign < 0.0 ? box.min : box.max)[axis] = sign * r.value;
    }
  return box;
}

}  // namespace evenclay
