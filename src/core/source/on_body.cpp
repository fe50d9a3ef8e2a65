// Curves found on bodies: projected and cut (curve_work.h).
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/projector.h"
#include "core/body/region.h"
#include "core/check/on_plane.h"
#include "core/source/curve_work.h"

namespace evenclay {

namespace {

// Where the line through `from` along `d` meets the body, near `start` mm along it.
std::optional<double> met(const BodyProjector& body, const Body& of, const Vec3& from,
                          const Vec3& d, double start, double tolerance) {
  double s = start;
  for (int pass = 0; pass < 40; ++pass) {
    const BodyProjection at = body.closest(from + d * s);
    if (at.face < 0) return std::nullopt;
    const Vec3 n = normal(*of.faces[static_cast<std::size_t>(at.face)].surface, at.u, at.v);
    const double slope = dot(n, d);
    if (std::abs(slope) < 1e-3) return std::nullopt;  // seen edge-on
    const double next = dot(n, at.point - from) / slope;
    if (std::abs(next - s) < 1e-3 * tolerance && at.distance < tolerance) return next;
    // On a border the closest place stays where it is: the line passes beside.
    if (std::abs(next - s) < 1e-9) return std::nullopt;
    s = next;
  }
  return std::nullopt;
}

struct Hit {
  double t = 0.0;
  Vec3 p;
};

Curve through_hits(const std::vector<Hit>& run,
                   const std::function<std::optional<Vec3>(double)>& at, double tolerance) {
  const auto place = [&](double t) {
    if (const auto p = at(t)) return *p;
    const auto next =
        std::lower_bound(run.begin(), run.end(), t, [](const Hit& h, double x) { return h.t < x; });
    return next == run.end() ? run.back().p : next->p;
  };
  return fitted_curve(place, run.front().t, run.back().t,
                      std::max<int>(4, static_cast<int>(run.size()) / 24), tolerance);
}

}  // namespace

std::vector<Curve> projected(const Curve& curve, const Body& body, ProjectionWay way,
                             const Vec3& direction, double tolerance, Progress& progress) {
  if (way == ProjectionWay::Along && !(length(direction) > 0.0))
    throw Error(say("The direction to project along has no length. Choose one."));
  const BodyProjector onto(body);
  const CurveEvaluator e(curve);
  const Vec3 d = way == ProjectionWay::Along ? normalized(direction) : Vec3{};
  std::vector<double> places = sample_places(curve.knots, 24);
  if (curve.knots.periodic) places.push_back(curve.knots.last());
  double last_s = 0.0;
  const auto at = [&](double t) -> std::optional<Vec3> {
    const Vec3 p = e.point(t);
    if (way == ProjectionWay::Closest) return onto.closest(p).point;
    auto s = met(onto, body, p, d, last_s, tolerance);
    if (!s) s = met(onto, body, p, d, 0.0, tolerance);
    if (!s) return std::nullopt;
    last_s = *s;
    return p + d * *s;
  };
  std::vector<std::vector<Hit>> runs(1);
  for (const double t : places) {
    progress.check();
    if (const auto p = at(t))
      runs.back().push_back({t, *p});
    else if (!runs.back().empty())
      runs.emplace_back();
  }
  std::vector<Curve> result;
  for (const std::vector<Hit>& run : runs) {
    if (run.size() < 2) continue;
    progress.check();
    last_s = dot(run.front().p - e.point(run.front().t), d);
    result.push_back(through_hits(run, at, tolerance));
  }
  if (result.empty())
    throw Error(
        say("The curve misses the part. Choose another direction, or move the curve over it."));
  const bool whole = runs.size() == 1 && runs[0].size() == places.size();
  if (curve.knots.periodic && whole) result[0] = closed_curve(result[0], 10.0 * tolerance);
  return result;
}

namespace {

// The stretches of a run that lie inside the face.
std::vector<std::vector<Parameter>> inside_of(const SectionRun& run, const FaceRegion& region) {
  std::vector<Parameter> at = run.at;
  if (run.closed && !at.empty()) at.push_back(at.front());
  if (region.whole()) return {at};
  std::vector<std::vector<Parameter>> result(1);
  for (const Parameter& p : at) {
    if (region.contains(p.u, p.v))
      result.back().push_back(p);
    else if (!result.back().empty())
      result.emplace_back();
  }
  return result;
}

// From one parameter to the next the shorter way round closed directions.
Parameter between(const Surface& s, const Parameter& a, const Parameter& b, double share) {
  double du = b.u - a.u;
  double dv = b.v - a.v;
  if (s.u.periodic) du -= std::round(du / s.u.length()) * s.u.length();
  if (s.v.periodic) dv -= std::round(dv / s.v.length()) * s.v.length();
  return {a.u + du * share, a.v + dv * share};
}

}  // namespace

std::vector<Curve> section_curves(const Body& body, const Vec3& origin, const Vec3& normal,
                                  double tolerance, Progress& progress) {
  if (!(length(normal) > 0.0)) throw Error(say("The plane has no normal. Choose a direction."));
  const SectionPlane plane{origin, normalized(normal)};
  std::vector<Curve> pieces;
  for (const Face& face : body.faces) {
    progress.check();
    const Surface& s = *face.surface;
    const OnPlane on(s, plane);
    const FaceRegion region(face);
    for (const SectionRun& run : section(s, plane))
      for (const std::vector<Parameter>& at : inside_of(run, region)) {
        if (at.size() < 2) continue;
        std::vector<double> along{0.0};
        std::vector<Parameter> kept{at.front()};
        for (std::size_t k = 1; k < at.size(); ++k) {
          const double step =
              distance(evaluate(s, kept.back().u, kept.back().v), evaluate(s, at[k].u, at[k].v));
          if (!(step > 1e-9)) continue;
          along.push_back(along.back() + step);
          kept.push_back(at[k]);
        }
        if (kept.size() < 2) continue;
        const auto place = [&](double t) {
          const auto next = std::upper_bound(along.begin() + 1, along.end() - 1, t) - along.begin();
          const auto k = static_cast<std::size_t>(next);
          const double share = (t - along[k - 1]) / (along[k] - along[k - 1]);
          const Parameter p = on.refined(between(s, kept[k - 1], kept[k], share));
          return evaluate(s, p.u, p.v);
        };
        pieces.push_back(fitted_curve(place, 0.0, along.back(),
                                      std::max<int>(2, static_cast<int>(kept.size()) / 8),
                                      tolerance));
      }
  }
  if (pieces.empty())
    throw Error(say("The plane does not meet the part. Move it, or turn it to cut through."));
  return joined(pieces, 10.0 * tolerance).curves;
}

}  // namespace evenclay
