#include "core/check/continuity.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
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
      throw Error(say("This edge has no length: it is a pole or lies in a closed direction."));
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

double measure(Continuity& joint, const JointPlace& place, double step) {
  const Surface& a = *place.a;
  const Surface& b = *place.b;
  const At pa{place.ua, place.va};
  const At pb{place.ub, place.vb};
  joint.gap = std::max(joint.gap, distance(evaluate(a, pa.u, pa.v), evaluate(b, pb.u, pb.v)));
  const Vec3 na = normal(a, pa.u, pa.v);
  Vec3 nb = normal(b, pb.u, pb.v);
  if (dot(na, nb) < 0.0) nb = -nb;
  const double sine = std::min(1.0, length(cross(na, nb)));
  const double angle = std::asin(sine) * 180.0 / std::numbers::pi;
  joint.angle = std::max(joint.angle, angle);
  // Across the joint, into b; in each surface within its own tangent plane.
  Vec3 way = cross(na, place.along);
  if (dot(way, place.into_b) < 0.0) way = -way;
  const Vec3 way_b = normalized(way - nb * dot(way, nb));
  const double ka = across(a, pa, way, na).curvature;
  const double kb = across(b, pb, way_b, nb).curvature;
  joint.curvature = std::max(joint.curvature, share_of_greater(ka, kb, 1e-4));
  const double ca = -change_across(a, pa, -way, na, step);
  const double cb = change_across(b, pb, way_b, nb, step);
  joint.change = std::max(joint.change, share_of_greater(ca, cb, 1e-5));
  return angle;
}

void settle(Continuity& joint, const ContinuityLimits& limits) {
  joint.level = -1;
  if (joint.gap <= limits.gap) joint.level = 0;
  if (joint.level == 0 && joint.angle <= limits.angle) joint.level = 1;
  if (joint.level == 1 && joint.curvature <= limits.curvature) joint.level = 2;
  if (joint.level == 2 && joint.change <= limits.change) joint.level = 3;
}

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
    const Vec3 into_b =
        (edge_b.of_u() ? derivatives(b, pb.u, pb.v, 1).du() : derivatives(b, pb.u, pb.v, 1).dv()) *
        (edge_b.inside_is_forward() ? 1.0 : -1.0);
    measure(result, {&a, &b, pa.u, pa.v, pb.u, pb.v, edge_a.tangent(pa), into_b}, step);
  }
  settle(result, limits);
  return result;
}

}  // namespace evenclay
