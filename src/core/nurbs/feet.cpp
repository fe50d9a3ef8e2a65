#include "core/nurbs/feet.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/parallel.h"

namespace evenclay {

namespace {

constexpr std::size_t kBatch = 512;

struct Reach {
  double longest_u, longest_v;  // of a step
};

Reach reach_of(const Surface& s) {
  return {s.u.length() / static_cast<double>(breakpoints(s.u).size() - 1),
          s.v.length() / static_cast<double>(breakpoints(s.v).size() - 1)};
}

// Whether a clamped direction is at its end and would leave it.
bool stuck(const KnotVector& k, double at, double gradient) {
  return !k.periodic && ((at <= k.first() && gradient > 0.0) || (at >= k.last() && gradient < 0.0));
}

Parameter stepped(const Surface& s, const Reach& reach, const Vec3& q, const Parameter& at,
                  const PointSecond& d) {
  const Vec3 r = d.p - q;
  const double gu = dot(r, d.du), gv = dot(r, d.dv);
  const double uu = dot(d.du, d.du), uv = dot(d.du, d.dv), vv = dot(d.dv, d.dv);
  double huu = uu + dot(r, d.duu), huv = uv + dot(r, d.duv), hvv = vv + dot(r, d.dvv);
  const bool hold_u = stuck(s.u, at.u, gu), hold_v = stuck(s.v, at.v, gv);
  const auto bends_up = [](double a, double b, double c) {
    return a > 0.0 && a * c - b * b > 1e-12 * a * c;
  };
  if (!bends_up(huu, huv, hvv)) {
    huu = uu;
    huv = uv;
    hvv = vv;
  }
  double su = 0.0, sv = 0.0;
  const double determinant = huu * hvv - huv * huv;
  if (!hold_u && !hold_v && determinant > 1e-14 * huu * hvv) {
    su = -(hvv * gu - huv * gv) / determinant;
    sv = -(huu * gv - huv * gu) / determinant;
  } else {
    if (!hold_u && huu > 0.0) su = -gu / huu;
    if (!hold_v && hvv > 0.0 && (hold_u || !(huu > 0.0))) sv = -gv / hvv;
  }
  su = std::clamp(su, -reach.longest_u, reach.longest_u);
  sv = std::clamp(sv, -reach.longest_v, reach.longest_v);
  return {into_domain(s.u, at.u + su), into_domain(s.v, at.v + sv)};
}

}  // namespace

void improve_feet(const Surface& surface, const SurfaceEvaluator& evaluator,
                  std::span<const Vec3> places, std::span<Parameter> at, int steps,
                  Progress& progress) {
  const Reach reach = reach_of(surface);
  parallel_blocks(places.size(), 8 * kBatch, progress, [&](std::size_t begin, std::size_t end) {
    std::array<PointSecond, kBatch> d;
    for (std::size_t from = begin; from < end; from += kBatch) {
      const std::size_t count = std::min(kBatch, end - from);
      for (int n = 0; n < steps; ++n) {
        evaluator.seconds(at.subspan(from, count), std::span(d).first(count));
        for (std::size_t k = 0; k < count; ++k)
          at[from + k] = stepped(surface, reach, places[from + k], at[from + k], d[k]);
      }
    }
  });
}

void distances_to_feet(const SurfaceEvaluator& evaluator, std::span<const Vec3> places,
                       std::span<const Parameter> at, std::span<double> out, Progress& progress) {
  parallel_blocks(places.size(), 8 * kBatch, progress, [&](std::size_t begin, std::size_t end) {
    std::array<PointTangents, kBatch> d;
    for (std::size_t from = begin; from < end; from += kBatch) {
      const std::size_t count = std::min(kBatch, end - from);
      evaluator.tangents(at.subspan(from, count), std::span(d).first(count));
      for (std::size_t k = 0; k < count; ++k) {
        const Vec3 away = places[from + k] - d[k].p;
        out[from + k] = std::copysign(length(away), dot(away, cross(d[k].du, d[k].dv)));
      }
    }
  });
}

}  // namespace evenclay
