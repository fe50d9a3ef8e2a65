// NURBS curves as plain values.
// Source: The NURBS Book, algorithms A3.1, A3.2, A4.1, A4.2.
#pragma once

#include <vector>

#include "core/base/frame.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// weights is empty when all are 1, else as long as points and positive.
struct Curve {
  KnotVector knots;
  std::vector<Vec3> points;
  std::vector<double> weights;

  bool rational() const { return !weights.empty(); }
  int point_count() const { return static_cast<int>(points.size()); }
  double weight(int i) const {
    return weights.empty() ? 1.0 : weights[static_cast<std::size_t>(i)];
  }
  bool operator==(const Curve&) const = default;
};

/// Throws Error when knots, points and weights do not fit together or hold a number that is not
/// finite, or a weight that is not positive.
void check(const Curve& curve);

struct CurveDerivatives {
  Vec3 p, d1, d2, d3;
};

/// A curve prepared for many places. Copies what it needs. Thread-safe after construction.
class CurveEvaluator {
 public:
  explicit CurveEvaluator(Curve curve);
  /// Derivatives up to `order` <= 3; those above stay 0. Parameters outside the domain are wrapped
  /// (periodic) or cut (clamped).
  CurveDerivatives derivatives(double t, int order) const;
  Vec3 point(double t) const;
  const Curve& curve() const { return curve_; }

 private:
  Curve curve_;
  FlatKnots flat_;
};

Vec3 evaluate(const Curve& curve, double t);
CurveDerivatives derivatives(const Curve& curve, double t, int order);

/// Diagonal of the control points' box.
double size(const Curve& curve);

/// The exact rational circle of 8 points about the frame's z axis, starting on its x axis, periodic,
/// degree 2, domain [0, 1] (The NURBS Book, section 7.5). Throws Error when the radius is not positive.
Curve make_circle(const Frame& frame, double radius);

/// A curve with these control points on even knots over [0, 1]. Throws Error when there are too few
/// points for the degree, or the knots cannot be (see uniform_knots).
Curve make_curve(std::vector<Vec3> points, int degree, bool closed);

/// The curve as the border v = first of a strip of two rows, the other one moved by `beside`. All
/// that surfaces can do linearly (refit, knot operations) works on curves by way of it.
Surface strip_of(const Curve& curve, const Vec3& beside);
/// The row v = first of a surface that is clamped in v, as a curve.
Curve first_row(const Surface& surface);
/// The border of a clamped direction as a curve, running along the other direction.
Curve border_of(const Surface& surface, Border edge);

/// The place of the curve nearest to `point`: a sample each 16th of a span, then Newton's method,
/// to 1e-12 of the size. Source of the iteration: The NURBS Book, section 6.1.
struct CurvePlace {
  double t = 0.0;
  Vec3 p;
  double distance = 0.0;
};
CurvePlace closest_place(const CurveEvaluator& curve, const Vec3& point);

}  // namespace evenclay
