// Curves through points with tangents: how a curve given by a function becomes a B-spline.
#pragma once

#include <functional>
#include <span>

#include "core/nurbs/curve.h"

namespace evenclay {

/// Position p and first derivative d1 of a curve at t; the rest is not read.
using CurveFunction = std::function<CurveDerivatives(double)>;

/// The cubic B-spline with double knots that has the function's places and derivatives at `breaks`
/// (two or more, increasing) and at as many places between as it takes: a piece is halved until its
/// middle lies within `tolerance` of the function, `most` pieces at most. Domain: that of the breaks.
/// Source: cubic Hermite interpolation (C. de Boor, A Practical Guide to Splines, chapter IV).
Curve hermite_curve(const CurveFunction& function, std::span<const double> breaks, double tolerance,
                    int most = 2000);

/// The straight piece from a to b over [t0, t1].
Curve line_curve(const Vec3& a, const Vec3& b, double t0 = 0.0, double t1 = 1.0);

/// The same curve over [first, last].
Curve reparameterised(const Curve& curve, double first, double last);

}  // namespace evenclay
