// NURBS surfaces as plain values, and their evaluation by the textbook (the reference route).
// For many points use SurfaceEvaluator (surface_evaluator.h), which tests hold against this one.
#pragma once

#include <array>
#include <string_view>

#include "core/base/frame.h"
#include "core/base/grid.h"
#include "core/nurbs/knot_vector.h"

namespace evenclay {

/// The two directions of a grid.
enum class Direction { U, V };

/// A tensor-product surface. points(i, j): i along u, j along v.
/// weights is empty when all are 1, else of the same size and positive.
struct Surface {
  KnotVector u;
  KnotVector v;
  Grid<Vec3> points;
  Grid<double> weights;

  bool rational() const { return !weights.empty(); }
  double weight(int i, int j) const { return weights.empty() ? 1.0 : weights(i, j); }
  bool operator==(const Surface&) const = default;
};

/// Throws Error when knots, points and weights do not fit together or hold a number that is not
/// finite, or a weight that is not positive.
void check(const Surface& surface);

/// S(u, v) and its partial derivatives by name; d[k][l] is the k-th in u, l-th in v.
struct SurfaceDerivatives {
  std::array<std::array<Vec3, 4>, 4> d{};
  const Vec3& p() const { return d[0][0]; }
  const Vec3& du() const { return d[1][0]; }
  const Vec3& dv() const { return d[0][1]; }
  const Vec3& duu() const { return d[2][0]; }
  const Vec3& duv() const { return d[1][1]; }
  const Vec3& dvv() const { return d[0][2]; }
};

/// The point at (u, v). Parameters outside the domain are wrapped (periodic) or cut (clamped).
/// Source: The NURBS Book A4.3. Thread-safe.
Vec3 evaluate(const Surface& surface, double u, double v);

/// All partial derivatives with k + l <= order <= 3. Source: The NURBS Book A3.6, A4.4.
SurfaceDerivatives derivatives(const Surface& surface, double u, double v, int order);

/// Unit normal along du x dv. At a pole, where du or dv vanishes, the limit from inside the
/// surface is taken; (0, 0, 0) only when the surface has no area there.
Vec3 normal(const Surface& surface, double u, double v);

/// The four borders of a surface.
enum class Border { UMin, UMax, VMin, VMax };
inline constexpr std::array<Border, 4> kBorders{Border::UMin, Border::UMax, Border::VMin,
                                                Border::VMax};

/// A pole: all control points of that border lie within `tolerance` (mm) of each other.
/// Always false for the borders of a periodic direction, which has none.
bool is_pole(const Surface& surface, Border edge, double tolerance);

/// True when the surface bounds a volume by itself: each direction is periodic or ends in poles
/// at both sides, and at least one is periodic.
bool is_closed(const Surface& surface, double tolerance);

/// Size used to make tolerances relative: diagonal of the control points' box.
double size(const Surface& surface);

Surface transposed(const Surface& surface);

}  // namespace evenclay
