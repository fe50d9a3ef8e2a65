// Places of a surface brought onto a plane, for sections.
#pragma once

#include <algorithm>
#include <cmath>

#include "core/check/section.h"

namespace evenclay {

/// The signed distance (mm) from the plane over the domain, and places brought onto it by Newton's method
/// along the gradient of the distance. The surface must outlive it.
class OnPlane {
 public:
  OnPlane(const Surface& s, const SectionPlane& plane)
      : surface_(s), evaluator_(s), plane_(plane), near_(1e-10 * std::max(size(s), 1e-9)) {}

  double distance(Parameter p) const {
    return dot(evaluator_.point(p.u, p.v) - plane_.origin, plane_.normal);
  }

  Parameter refined(Parameter p) const {
    for (int pass = 0; pass < 8; ++pass) {
      const PointTangents t = evaluator_.tangents(p.u, p.v);
      const double f = dot(t.p - plane_.origin, plane_.normal);
      // The gradient in shares of the domain, so that long and short domains weigh alike.
      const double gu = dot(t.du, plane_.normal) * surface_.u.length();
      const double gv = dot(t.dv, plane_.normal) * surface_.v.length();
      const double square = gu * gu + gv * gv;
      if (std::abs(f) < near_ || !(square > 0.0)) break;
      p.u = kept(surface_.u, p.u - f * gu / square * surface_.u.length());
      p.v = kept(surface_.v, p.v - f * gv / square * surface_.v.length());
    }
    return p;
  }

 private:
  static double kept(const KnotVector& k, double t) {
    return k.periodic ? t : std::clamp(t, k.first(), k.last());
  }
  const Surface& surface_;
  SurfaceEvaluator evaluator_;
  SectionPlane plane_;
  double near_;
};

}  // namespace evenclay
