#include "core/check/continuity.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/error.h"
#include "core/nurbs/curve.h"

namespace evenclay {

namespace {

struct At {
  double u, v;
};

// A place on an edge, and the way from it into the surface.
class BorderWalk {
 public:
  BorderWalk(const Surface& s, Border edge)
      : s_(s), edge_(edge), of_u_(edge == Border::UMin || edge == Border::UMax) {
    if ((of_u_ ? s.u : s.v).periodic || is_pole(s, edge, 1e-9))
      throw Error("This edge has no length: it is a pole or lies in a closed direction.");
  }
  const KnotVector& along() const { return of_u_ ? s_.v : s_.u; }
  At place(double t) const {
    const KnotVector& across = of_u_ ? s_.u : s_.v;
    const bool end = edge_ == Border::UMax || edge_ == Border::VMax;
    const double fixed = end ? across.last() : across.first();
    return of_u_ ? At{fixed, t} : At{t, fixed};
  }
  // Unit tangent of the border there.
  Vec3 tangent(At p) const {
    const SurfaceDerivatives d = derivatives(s_, p.u, p.v, 1);
    return normalized(of_u_ ? d.dv() : d.du());
  }
  bool inside_is_forward() const { return edge_ == Border::UMin || edge_ == Border::VMin; }
  bool of_u() const { return of_u_; }

 private:
  const Surface& s_;
  Border edge_;
  bool of_u_;
};

// Curvature at p of the section of the surface along the unit tangent `way`, for normal n: positive
// towards n. And the parameter step of moving 1 mm that way.
struct Across {
  double curvature = 0.0;
  double a = 0.0, b = 0.0;
};
Across across(const Surface& s, At p, const Vec3& way, const Vec3& n) {
  const SurfaceDerivatives d = derivatives(s, p.u, p.v, 2);
  const double e = dot(d.du(), d.du());
  const double f = dot(d.du(), d.dv());
  const double g = dot(d.dv(), d.dv());
  const double det = e * g - f * f;
  const double a = (g * dot(way, d.du()) - f * dot(way, d.dv())) / det;
  const double b = (e * dot(way, d.dv()) - f * dot(way, d.du())) / det;
  return {a * a * dot(d.duu(), n) + 2.0 * a * b * dot(d.duv(), n) + b * b * dot(d.dvv(), n), a, b};
}

// The derivative by arc length of the curvature across, going into the surface along `inward`, in the
// plane of `inward` and n; four steps inside, extrapolated to the edge.
double change_across(const Surface& s, At p, const Vec3& inward, const Vec3& n, double step) {
  const Vec3 side = cross(inward, n);  // the normal of the section's plane
  const SurfaceDerivatives start = derivatives(s, p.u, p.v, 0);
  std::array<double, 5> k{};
  std::array<double, 5> at{};
  Vec3 last = start.p();
  double run = 0.0;
  for (std::size_t m = 0; m < k.size(); ++m) {
    const SurfaceDerivatives d = derivatives(s, p.u, p.v, 1);
    const Vec3 here = normalized(cross(d.du(), d.dv()));
    const Vec3 normal_here = dot(here, n) < 0.0 ? -here : here;
    Vec3 way = normalized(cross(normal_here, side));
    if (dot(way, inward) < 0.0) way = -way;
    const Across c = across(s, p, way, normal_here);
    // Curvature of the plane section itself (Meusnier).
    const double lean = dot(normal_here, side);
    k[m] = c.curvature / std::sqrt(std::max(1e-12, 1.0 - lean * lean));
    run += distance(d.p(), last);
    last = d.p();
    at[m] = run;
    p = {into_domain(s.u, p.u + c.a * step), into_domain(s.v, p.v + c.b * step)};
    // Back into the plane of the section.
    for (int pass = 0; pass < 3; ++pass) {
      const SurfaceDerivatives q = derivatives(s, p.u, p.v, 1);
      const double off = dot(q.p() - start.p(), side);
      const double gu = dot(q.du(), side);
      const double gv = dot(q.dv(), side);
      const double square = gu * gu + gv * gv;
      if (!(square > 0.0)) break;
      p = {into_domain(s.u, p.u - off * gu / square), into_domain(s.v, p.v - off * gv / square)};
    }
  }
  // The slope at the first place of the polynomial through all five.
  double slope = 0.0;
  for (std::size_t m = 0; m < k.size(); ++m) {
    double factor = 1.0;
    double derivative = 0.0;
    if (m == 0) {
      for (std::size_t l = 1; l < k.size(); ++l) derivative += 1.0 / (at[0] - at[l]);
    } else {
      for (std::size_t l = 1; l < k.size(); ++l)
        if (l != m) factor *= (at[0] - at[l]) / (at[m] - at[l]);
      derivative = factor / (at[m] - at[0]);
    }
    slope += k[m] * derivative;
  }
  return slope;
}

double share_of_greater(double a, double b, double flat) {
  const double greater = std::max(std::abs(a), std::abs(b));
  return greater < flat ? 0.0 : std::abs(a - b) / greater;
}

}  // namespace

Continuity continuity(const Surface& a, Border of_a, const Surface& b, Border of_b,
                      Progress& progress, int places, const ContinuityLimits& limits) {
  const BorderWalk edge_a(a, of_a);
  const BorderWalk edge_b(b, of_b);
  const CurveEvaluator curve_b(border_of(b, of_b));
  const double step = 2e-4 * std::max(size(a), size(b));
  Continuity result;
  for (int k = 0; k < places; ++k) {
    progress.check();
    // Away from the very ends, where a corner may have no normal.
    const double share = (k + 0.5) / places;
    const At pa = edge_a.place(edge_a.along().first() + share * edge_a.along().length());
    const SurfaceDerivatives da = derivatives(a, pa.u, pa.v, 1);
    const CurvePlace near = closest_place(curve_b, da.p());
    const At pb = edge_b.place(near.t);
    result.gap = std::max(result.gap, near.distance);
    const Vec3 na = normal(a, pa.u, pa.v);
    Vec3 nb = normal(b, pb.u, pb.v);
    if (dot(na, nb) < 0.0) nb = -nb;
    const double sine = std::min(1.0, length(cross(na, nb)));
    result.angle = std::max(result.angle, std::asin(sine) * 180.0 / std::numbers::pi);
    // Across the joint, into b; in each surface within its own tangent plane.
    const Vec3 tangent = edge_a.tangent(pa);
    Vec3 way = cross(na, tangent);
    const Vec3 inward_b =
        (edge_b.of_u() ? derivatives(b, pb.u, pb.v, 1).du() : derivatives(b, pb.u, pb.v, 1).dv()) *
        (edge_b.inside_is_forward() ? 1.0 : -1.0);
    if (dot(way, inward_b) < 0.0) way = -way;
    const double ka = across(a, pa, way, na).curvature;
    const double kb = across(b, pb, normalized(way - nb * dot(way, nb)), nb).curvature;
    result.curvature = std::max(result.curvature, share_of_greater(ka, kb, 1e-4));
    const double ca = -change_across(a, pa, -way, na, step);
    const double cb = change_across(b, pb, normalized(way - nb * dot(way, nb)), nb, step);
    result.change = std::max(result.change, share_of_greater(ca, cb, 1e-5));
  }
  if (result.gap <= limits.gap) result.level = 0;
  if (result.level == 0 && result.angle <= limits.angle) result.level = 1;
  if (result.level == 1 && result.curvature <= limits.curvature) result.level = 2;
  if (result.level == 2 && result.change <= limits.change) result.level = 3;
  return result;
}

}  // namespace evenclay
