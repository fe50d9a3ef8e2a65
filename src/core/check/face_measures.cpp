// Measures of faces: the same as of surfaces where there are no loops, else only inside them.
#include <algorithm>
#include <cmath>
#include <functional>

#include "core/body/region.h"
#include "core/check/curve_measures.h"
#include "core/check/measures.h"
#include "core/nurbs/quadrature.h"
#include "core/nurbs/search.h"

namespace evenclay {

namespace {

using Integrand = std::function<double(const PointTangents&)>;

// Knots of a direction between two values, one turn on as well where it is closed; sorted.
std::vector<double> lines_between(const KnotVector& k, double low, double high) {
  std::vector<double> result;
  for (const int turn : {-1, 0, 1}) {
    if (turn != 0 && !k.periodic) continue;
    for (const double t : breakpoints(k)) {
      const double x = t + turn * k.length();
      if (x > low && x < high && (result.empty() || x > result.back())) result.push_back(x);
    }
  }
  return result;
}

class LoopIntegral {
 public:
  LoopIntegral(const Face& face, const Integrand& f, Progress& progress)
      : face_(face),
        f_(f),
        progress_(progress),
        evaluator_(*face.surface),
        region_(face),
        u_lines_(lines_between(face.surface->u, region_.u_low(), region_.u_high())),
        v_lines_(lines_between(face.surface->v, region_.v_low(), region_.v_high())) {}

  double value() {
    const std::vector<bool> turned = loops_turned(face_);
    double sum = 0.0;
    for (std::size_t l = 0; l < face_.loops.size(); ++l)
      for (const EdgeUse& use : face_.loops[l]) {
        progress_.check();
        const double part = along(use.uv);
        sum += use.forward != turned[l] ? part : -part;
      }
    return sum;
  }

 private:
  // ∫ f over u from the lowest one to u, at constant v.
  double inner(double u, double v) const {
    double sum = 0.0;
    double from = region_.u_low();
    const auto piece = [&](double to) {
      const double middle = 0.5 * (from + to);
      for (const auto& [a, b] : {std::pair{from, middle}, std::pair{middle, to}})
        sum += integrate(a, b, [&](double s) { return f_(evaluator_.tangents(s, v)); });
      from = to;
    };
    for (const double line : u_lines_) {
      if (line >= u) break;
      if (line > from) piece(line);
    }
    if (u > from) piece(u);
    return sum;
  }

  double along(const Curve& uv) const {
    const CurveEvaluator curve(uv);
    const std::vector<double> breaks = smooth_pieces(curve);
    double sum = 0.0;
    for (std::size_t k = 0; k + 1 < breaks.size(); ++k)
      sum += settled(curve, breaks[k], breaks[k + 1], once(curve, breaks[k], breaks[k + 1]), 6);
    return sum;
  }

  double once(const CurveEvaluator& curve, double a, double b) const {
    return integrate(a, b, [&](double t) {
      const CurveDerivatives c = curve.derivatives(t, 1);
      return c.d1.y == 0.0 ? 0.0 : inner(c.p.x, c.p.y) * c.d1.y;
    });
  }

  double settled(const CurveEvaluator& curve, double a, double b, double whole, int depth) const {
    const double m = 0.5 * (a + b);
    const double left = once(curve, a, m);
    const double right = once(curve, m, b);
    const double both = left + right;
    if (depth == 0 || std::abs(both - whole) <= 1e-11 * (std::abs(both) + scale_)) return both;
    return settled(curve, a, m, left, depth - 1) + settled(curve, m, b, right, depth - 1);
  }

  // Between knots of the curve and crossings with the surface's grid lines the integrand is smooth.
  std::vector<double> smooth_pieces(const CurveEvaluator& curve) const {
    const KnotVector& k = curve.curve().knots;
    std::vector<double> result = breakpoints(k);
    const std::vector<double> places = sample_places(k, 8);
    for (std::size_t n = 0; n + 1 < places.size(); ++n)
      for (const std::size_t axis : {std::size_t{0}, std::size_t{1}})
        for (const double line : axis == 0 ? u_lines_ : v_lines_)
          if (const double a = curve.point(places[n])[axis] - line,
              b = curve.point(places[n + 1])[axis] - line;
              a * b < 0.0)
            result.push_back(root(curve, axis, line, places[n], places[n + 1], a));
    std::sort(result.begin(), result.end());
    return result;
  }
  static double root(const CurveEvaluator& curve, std::size_t axis, double line, double a, double b,
                     double at_a) {
    for (int k = 0; k < 50; ++k) {
      const double m = 0.5 * (a + b);
      if ((curve.point(m)[axis] - line < 0.0) == (at_a < 0.0))
        a = m;
      else
        b = m;
    }
    return 0.5 * (a + b);
  }

  const Face& face_;
  const Integrand& f_;
  Progress& progress_;
  SurfaceEvaluator evaluator_;
  FaceRegion region_;
  std::vector<double> u_lines_, v_lines_;
  double scale_ = 1e-9;
};

// Integral of f(PointTangents) over each span, halved until two levels agree.
double surface_integral(const Surface& surface, const Integrand& f) {
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

double area(const Face& face, Progress& progress) {
  const Integrand f = [&progress](const PointTangents& t) {
    progress.check();
    return length(cross(t.du, t.dv));
  };
  if (!face.trimmed()) return surface_integral(*face.surface, f);
  return LoopIntegral(face, f, progress).value();
}

double volume(const Face& face, Progress& progress) {
  const double sign = face.flipped ? -1.0 : 1.0;
  const Integrand f = [&progress](const PointTangents& t) {
    progress.check();
    return dot(t.p, cross(t.du, t.dv)) / 3.0;
  };
  if (!face.trimmed()) return sign * surface_integral(*face.surface, f);
  return sign * LoopIntegral(face, f, progress).value();
}

namespace {

// The greatest value of f inside the loops; outside it counts as less than anything.
SearchResult search_inside(const Face& face, const FaceRegion& region, int per_span,
                           const std::function<double(Parameter)>& f) {
  constexpr double kOutside = -1e300;
  return search_maximum(*face.surface, per_span,
                        [&](Parameter p) { return region.contains(p.u, p.v) ? f(p) : kOutside; });
}

}  // namespace

std::optional<LeastRadius> least_radius(const Face& face, int per_span, Progress& progress) {
  const SurfaceEvaluator s(*face.surface);
  const FaceRegion region(face);
  const SearchResult best = search_inside(face, region, per_span, [&](Parameter p) {
    progress.check();
    const auto c = curvature(s.seconds(p.u, p.v));
    return c ? std::abs(c->k1) : 0.0;
  });
  // Flatter than 1e-9 of the size: no radius worth naming.
  if (!(best.value * size(*face.surface) > 1e-9)) return std::nullopt;
  return LeastRadius{1.0 / best.value, s.point(best.at.u, best.at.v)};
}

Box3 tight_box(const Face& face, const Body& body, Progress& progress) {
  const SurfaceEvaluator s(*face.surface);
  const FaceRegion region(face);
  Box3 box;
  for (const Loop& loop : face.loops)
    for (const EdgeUse& use : loop) box.add(tight_box(body.edges[use.edge].curve));
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (const double sign : {-1.0, 1.0}) {
      const SearchResult r = search_inside(face, region, 8, [&](Parameter p) {
        progress.check();
        return sign * s.point(p.u, p.v)[axis];
      });
      if (r.value <= -1e299) continue;
      double& side = (sign < 0.0 ? box.min : box.max)[axis];
      side = sign < 0.0 ? std::min(side, -r.value) : std::max(side, r.value);
    }
  return box;
}

}  // namespace evenclay
