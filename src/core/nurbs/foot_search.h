// Newton's method for the foot of a place on a surface, from a seed. Part of projection.cpp.
// Source: The NURBS Book, §6.1 (point inversion and projection by Newton's method), with steps that are halved until the
// foot comes nearer.
#pragma once

#include "core/nurbs/projection.h"

namespace evenclay {

/// The part of the domain in which one search stays; closed directions without creases go round.
struct FootBounds {
  double low_u, high_u, low_v, high_v;
  bool round_u, round_v;
};

/// Thread-safe after construction.
class FootSearch {
 public:
  explicit FootSearch(const Surface& surface);

  /// The foot in whose basin the seed lies, to rounding; at a pole the way down is looked for all round. Never farther
  /// away than the seed.
  Projection from(Parameter seed, const Vec3& q, const FootBounds& bounds) const;

  const SurfaceEvaluator& evaluator() const { return evaluator_; }

 private:
  struct Descent {
    Parameter at;
    PointSecond s;
    double squared;  // distance
  };
  enum class Went { Whole, Part, Hardly, Nowhere };
  Went descend(Descent& now, Parameter step, const Vec3& q, const FootBounds& bounds) const;
  bool turn_at_pole(Parameter& at, const PointSecond& s, const Vec3& q) const;
  bool last_step_likely(double way_squared, double last_way_squared) const;

  KnotVector u_, v_;
  SurfaceEvaluator evaluator_;
  double scale_squared_;  // of the surface's size
};

}  // namespace evenclay
