#include "core/nurbs/surface.h"

#include <fmt/format.h>

#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

struct Homogeneous {
  Vec3 p;
  double w = 0.0;
};

using HomogeneousDerivatives = std::array<std::array<Homogeneous, 4>, 4>;

HomogeneousDerivatives homogeneous_derivatives(const Surface& s, double u, double v, int order) {
  const FlatKnots fu = flatten(s.u);
  const FlatKnots fv = flatten(s.v);
  u = into_domain(s.u, u);
  v = into_domain(s.v, v);
  const int su = find_span(fu, u);
  const int sv = find_span(fv, v);
  const BasisDerivatives nu = basis_derivatives(fu, su, u, order);
  const BasisDerivatives nv = basis_derivatives(fv, sv, v, order);
  HomogeneousDerivatives h{};
  for (int a = 0; a <= s.u.degree; ++a) {
    const int i = fu.point(su - s.u.degree + a);
    std::array<Homogeneous, 4> row{};
    for (int b = 0; b <= s.v.degree; ++b) {
      const int j = fv.point(sv - s.v.degree + b);
      const double w = s.weight(i, j);
      for (int l = 0; l <= order; ++l) {
        row[at(l)].p += s.points(i, j) * (w * nv[at(l)][at(b)]);
        row[at(l)].w += w * nv[at(l)][at(b)];
      }
    }
    for (int k = 0; k <= order; ++k)
      for (int l = 0; k + l <= order; ++l) {
        h[at(k)][at(l)].p += row[at(l)].p * nu[at(k)][at(a)];
        h[at(k)][at(l)].w += row[at(l)].w * nu[at(k)][at(a)];
      }
  }
  return h;
}

constexpr std::array<std::array<double, 4>, 4> kBinomial{
    {{1, 0, 0, 0}, {1, 1, 0, 0}, {1, 2, 1, 0}, {1, 3, 3, 1}}};

}  // namespace

void check(const Surface& s) {
  check(s.u, "u direction");
  check(s.v, "v direction");
  if (!s.points.same_size(s.u.point_count(), s.v.point_count()))
    throw Error(say("The surface has {} × {} control points, but its knots need {} × {}.",
                    s.points.rows(), s.points.columns(), s.u.point_count(), s.v.point_count()));
  for (const Vec3& p : s.points.values())
    if (!is_finite(p)) throw Error(say("The surface has a control point that is not a number."));
  if (!s.rational()) return;
  if (!s.weights.same_size(s.points.rows(), s.points.columns()))
    throw Error(say("The surface has another count of weights than of control points."));
  for (const double w : s.weights.values())
    if (!(w > 0.0) || !std::isfinite(w))
      throw Error(say("The surface has the weight {}; weights are greater than 0.", w));
}

SurfaceDerivatives derivatives(const Surface& s, double u, double v, int order) {
  const HomogeneousDerivatives h = homogeneous_derivatives(s, u, v, order);
  SurfaceDerivatives result;
  const double w = h[0][0].w;
  for (int k = 0; k <= order; ++k)
    for (int l = 0; k + l <= order; ++l) {
      Vec3 value = h[at(k)][at(l)].p;
      for (int i = 0; i <= k; ++i)
        for (int j = 0; j <= l; ++j)
          if (i + j > 0)
            value -= result.d[at(k - i)][at(l - j)] *
                     (kBinomial[at(k)][at(i)] * kBinomial[at(l)][at(j)] * h[at(i)][at(j)].w);
      result.d[at(k)][at(l)] = value / w;
    }
  return result;
}

Vec3 evaluate(const Surface& s, double u, double v) {
  return derivatives(s, u, v, 0).p();
}

Vec3 normal(const Surface& s, double u, double v) {
  u = into_domain(s.u, u);
  v = into_domain(s.v, v);
  const SurfaceDerivatives here = derivatives(s, u, v, 1);
  Vec3 n = cross(here.du(), here.dv());
  if (has_sound_normal(here.du(), here.dv(), s.u.length(), s.v.length())) return normalized(n);
  const double scale = size(s);
  const auto area_normal = [&](double a, double b) {
    const SurfaceDerivatives d = derivatives(s, a, b, 1);
    return cross(d.du(), d.dv()) * (s.u.length() * s.v.length());
  };
  n = area_normal(u, v);
  // Near a pole both the area and its rounding error vanish: step inside until the area is sound.
  for (double step = 1e-7; length(n) < 1e-9 * scale * scale && step < 1e-2; step *= 10.0) {
    const double middle_u = 0.5 * (s.u.first() + s.u.last());
    const double middle_v = 0.5 * (s.v.first() + s.v.last());
    const double a = s.u.periodic ? u : u + (middle_u - u) * step;
    const double b = s.v.periodic ? v : v + (middle_v - v) * step;
    n = area_normal(a, b) / step;
  }
  return normalized(n);
}

bool is_pole(const Surface& s, Border edge, double tolerance) {
  const bool along_v = edge == Border::UMin || edge == Border::UMax;
  if (along_v ? s.u.periodic : s.v.periodic) return false;
  const int last = along_v ? s.points.rows() - 1 : s.points.columns() - 1;
  const int fixed = edge == Border::UMax || edge == Border::VMax ? last : 0;
  const int count = along_v ? s.points.columns() : s.points.rows();
  const auto point = [&](int k) { return along_v ? s.points(fixed, k) : s.points(k, fixed); };
  for (int k = 1; k < count; ++k)
    if (distance(point(k), point(0)) > tolerance) return false;
  return true;
}

bool is_closed(const Surface& s, double tolerance) {
  const bool u_ends = is_pole(s, Border::UMin, tolerance) && is_pole(s, Border::UMax, tolerance);
  const bool v_ends = is_pole(s, Border::VMin, tolerance) && is_pole(s, Border::VMax, tolerance);
  return (s.u.periodic && (s.v.periodic || v_ends)) || (s.v.periodic && u_ends);
}

double size(const Surface& s) {
  Box3 box;
  for (const Vec3& p : s.points.values()) box.add(p);
  return box.size();
}

Surface transposed(const Surface& s) {
  return {s.v, s.u, transposed(s.points), transposed(s.weights)};
}

}  // namespace evenclay
