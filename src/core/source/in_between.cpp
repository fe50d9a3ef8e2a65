#include "core/source/in_between.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <tuple>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fitted.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/source/compatible.h"

namespace evenclay {

double eased(Ease ease, double t) {
  switch (ease) {
    case Ease::Even:
      return t;
    case Ease::SlowStart:
      return t * t;
    case Ease::SlowEnd:
      return 1.0 - (1.0 - t) * (1.0 - t);
    case Ease::SlowBoth:
      return t * t * (3.0 - 2.0 * t);
  }
  return t;
}

namespace {

// Between values so that the ends are met to the bit.
template <typename T>
T between(const T& a, const T& b, double share) {
  return a * (1.0 - share) + b * share;
}

struct Guide {
  double u = 0.5;  // where along u it works, as a share
  Vec3 off;        // how far it leaves the straight way at the share
};

std::vector<Guide> guides_at(const Surface& a, std::span<const Curve> guides, double share) {
  if (guides.size() > 2)
    throw Error(say("In-betweens take one or two guide curves. Take the others out of the list."));
  std::vector<Guide> result;
  for (const Curve& given : guides) {
    if (given.knots.periodic)
      throw Error(
          say("A guide curve runs from the first to the second; a closed one does not. Choose "
              "another."));
    // Its beginning is the end nearer to the first surface.
    const auto nearest = [&](const Vec3& p) {
      double least = 1e300;
      double at = 0.5;
      for (const double u : sample_places(a.u, 8))
        for (const double v : sample_places(a.v, 8))
          if (const double d = distance(evaluate(a, u, v), p); d < least) {
            least = d;
            at = (u - a.u.first()) / a.u.length();
          }
      return std::pair{least, at};
    };
    Curve g = given;
    auto [first, at] = nearest(evaluate(g, g.knots.first()));
    if (const auto [last, other] = nearest(evaluate(g, g.knots.last())); last < first) {
      g = reversed(g);
      at = other;
    }
    const Vec3 begin = evaluate(g, g.knots.first());
    const Vec3 end = evaluate(g, g.knots.last());
    const Vec3 here = evaluate(g, g.knots.first() + share * g.knots.length());
    result.push_back({at, here - between(begin, end, share)});
  }
  return result;
}

Vec3 moved_by(const std::vector<Guide>& guides, double u) {
  if (guides.empty()) return {};
  if (guides.size() == 1) return guides[0].off;
  const double span = guides[1].u - guides[0].u;
  if (std::abs(span) < 1e-6) return (guides[0].off + guides[1].off) * 0.5;
  const double share = std::clamp((u - guides[0].u) / span, 0.0, 1.0);
  return between(guides[0].off, guides[1].off, share);
}

}  // namespace

Surface in_between(const Surface& a, const Surface& b, double share,
                   std::span<const Curve> guides) {
  auto [first, second] = made_compatible(a, b);
  const bool rational = first.rational() || second.rational();
  Surface s = first;
  if (rational) s.weights = Grid<double>(s.points.rows(), s.points.columns());
  const std::vector<Guide> steer = guides_at(first, guides, share);
  const std::vector<double> at = greville_places(first.u);
  for (int i = 0; i < s.points.rows(); ++i) {
    const Vec3 off =
        moved_by(steer, (at[static_cast<std::size_t>(i)] - first.u.first()) / first.u.length());
    for (int j = 0; j < s.points.columns(); ++j) {
      s.points(i, j) = between(first.points(i, j), second.points(i, j), share) + off;
      if (rational) s.weights(i, j) = between(first.weight(i, j), second.weight(i, j), share);
    }
  }
  return s;
}

Surface in_between(const Surface& a, const Surface& b, double share) {
  return in_between(a, b, share, {});
}

Curve in_between(const Curve& a, const Curve& b, double share, std::span<const Curve> guides) {
  const std::vector<Curve> both = made_compatible(std::array{a, b}, Alignment{});
  Curve c = both[0];
  if (both[1].rational() && !c.rational()) c.weights.assign(c.points.size(), 1.0);
  const std::vector<Guide> steer = guides_at(strip_of(both[0], {}), guides, share);
  const std::vector<double> at = greville_places(c.knots);
  for (int i = 0; i < c.point_count(); ++i) {
    const auto k = static_cast<std::size_t>(i);
    c.points[k] = between(both[0].points[k], both[1].points[k], share) + moved_by(steer, at[k]);
    if (c.rational()) c.weights[k] = between(both[0].weight(i), both[1].weight(i), share);
  }
  return c;
}

Curve in_between(const Curve& a, const Curve& b, double share) {
  return in_between(a, b, share, {});
}

namespace {

bool folds_at(const Surface& s, const SurfaceEvaluator& evaluator, double mm) {
  for (const double u : sample_places(s.u, 4))
    for (const double v : sample_places(s.v, 4)) {
      const PointSecond d = evaluator.seconds(u, v);
      if (!has_sound_normal(d.du, d.dv, s.u.length(), s.v.length())) continue;
      const Vec3 unit = normalized(cross(d.du, d.dv));
      const double l = dot(d.duu, unit);
      const double m = dot(d.duv, unit);
      const double q = dot(d.dvv, unit);
      const double e = dot(d.du, d.du);
      const double f = dot(d.du, d.dv);
      const double g = dot(d.dv, d.dv);
      const double gauss = (l * q - m * m) / (e * g - f * f);
      const double mean = 0.5 * (e * q - 2.0 * f * m + g * l) / (e * g - f * f);
      const double root = std::sqrt(std::max(0.0, mean * mean - gauss));
      // 1 − mm κ turns over where the radius on that side is passed.
      if (1.0 - mm * (mean + root) < 0.0 || 1.0 - mm * (mean - root) < 0.0) return true;
    }
  return false;
}

}  // namespace

namespace {

// Where the surface has a pole, its offset has one, too.
void keep_poles(Surface& fitted, const Surface& s, const SurfaceFunction& place) {
  for (const Border b : kBorders) {
    if (!is_pole(s, b, 1e-9 * (1.0 + size(s)))) continue;
    const bool of_u = b == Border::UMin || b == Border::UMax;
    const bool low = b == Border::UMin || b == Border::VMin;
    const int rows = fitted.points.rows(), columns = fitted.points.columns();
    const Vec3 pole = of_u ? place(low ? s.u.first() : s.u.last(), s.v.first())
                           : place(s.u.first(), low ? s.v.first() : s.v.last());
    const Vec3 out = of_u ? normal(s, low ? s.u.first() : s.u.last(), s.v.first())
                          : normal(s, s.u.first(), low ? s.v.first() : s.v.last());
    for (int k = 0; k < (of_u ? columns : rows); ++k) {
      (of_u ? fitted.points(low ? 0 : rows - 1, k) : fitted.points(k, low ? 0 : columns - 1)) =
          pole;
      // The row beside it lies in the tangent plane, or the pole would be a tip.
      Vec3& beside =
          of_u ? fitted.points(low ? 1 : rows - 2, k) : fitted.points(k, low ? 1 : columns - 2);
      beside -= out * dot(beside - pole, out);
    }
  }
}

}  // namespace

Offset offset(const Surface& s, double mm, double tolerance, Progress& progress) {
  const SurfaceEvaluator evaluator(s);
  const auto place = [&](double u, double v) {
    const PointTangents t = evaluator.tangents(u, v);
    const bool sound = has_sound_normal(t.du, t.dv, s.u.length(), s.v.length());
    return t.p + (sound ? normalized(cross(t.du, t.dv)) : normal(s, u, v)) * mm;
  };
  Offset result{s, 0.0, folds_at(s, evaluator, mm)};
  KnotVector ku = refined_cubic(s.u, 0);
  KnotVector kv = refined_cubic(s.v, 0);
  for (;;) {
    result.surface = fitted_surface(place, ku, kv, s, progress);
    keep_poles(result.surface, s, place);
    result.worst = greatest_miss(result.surface, place);
    if (result.worst <= tolerance) return result;
    if (ku.point_count() > 200 || kv.point_count() > 200)
      throw Error(
          say("The offset surface stays {:.3g} mm off where the surface is sharp. Round "
              "the sharp places, "
              "or offset by less.",
              result.worst));
    // Both are halved only where one alone does not help.
    const KnotVector finer_u = refined_cubic(ku, 1);
    const KnotVector finer_v = refined_cubic(kv, 1);
    const double by_u = greatest_miss(fitted_surface(place, finer_u, kv, s, progress), place);
    const double by_v = greatest_miss(fitted_surface(place, ku, finer_v, s, progress), place);
    if (by_u < 0.5 * result.worst || by_u <= by_v) ku = finer_u;
    if (by_v < 0.5 * result.worst || by_v < by_u) kv = finer_v;
  }
}

}  // namespace evenclay
