#include "core/check/measures.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/body/projector.h"
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

namespace {

// Of crumpled forms a foot may be missed: the worst ones are looked for again among more samples,
// until one of them stays the worst.
MirrorGap worst_confirmed(const std::vector<Vec3>& points, const std::vector<Vec3>& images,
                          std::vector<double>& gaps, const Measurable& shape, Progress& progress) {
  if (gaps.empty()) return {};
  std::optional<BodyProjector> finer;
  for (int tries = 0;; ++tries) {
    progress.check();
    const auto worst =
        static_cast<std::size_t>(std::max_element(gaps.begin(), gaps.end()) - gaps.begin());
    constexpr int kMostTries = 500;
    if (shape.mesh != nullptr || gaps[worst] < 1e-9 || tries == kMostTries)
      return {gaps[worst], points[worst]};
    constexpr int kFiner = 25;  // samples a span
    if (!finer) finer.emplace(shape.body, kFiner);
    const double again = finer->closest(images[worst]).distance;
    if (again > 0.999 * gaps[worst]) return {gaps[worst], points[worst]};
    gaps[worst] = again;
  }
}

}  // namespace

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
  std::vector<double> gaps = signed_distances(images, shape, progress);
  for (double& gap : gaps) gap = std::abs(gap);
  return worst_confirmed(points, images, gaps, shape, progress);
}

// A whole surface is a face without loops.
namespace {
Face whole_face(const Surface& surface) {
  return body_of({surface}).faces.front();
}
}  // namespace

std::optional<LeastRadius> least_radius(const Surface& surface, int per_span) {
  Progress progress;
  return least_radius(whole_face(surface), per_span, progress);
}

double area(const Surface& surface) {
  Progress progress;
  return area(whole_face(surface), progress);
}

double volume(const Surface& surface) {
  Progress progress;
  return volume(whole_face(surface), progress);
}

Box3 tight_box(const Surface& surface) {
  Progress progress;
  return tight_box(whole_face(surface), {}, progress);
}

}  // namespace evenclay
