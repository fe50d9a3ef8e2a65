// Least squares for scattered places whose parameters are known.
// Source: The NURBS Book, section 9.4 (normal equations); thin-plate energy: G. Wahba, Spline models for
// observational data, 1990, chapter 2.
#pragma once

#include <memory>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// The normal equations of Σ w |S(at) − place|² + bending for the control points of a surface of given knots and
/// weights. Places may come in any order and on any number of cores: the sums are formed in one order.
class ScatteredFit {
 public:
  explicit ScatteredFit(const Surface& basis);
  ~ScatteredFit();
  ScatteredFit(ScatteredFit&&) noexcept;

  /// Adds places; `weights` is empty (all 1) or one each, not negative. Throws Cancelled.
  void add(std::span<const Parameter> at, std::span<const Vec3> places,
           std::span<const double> weights, Progress& progress);
  /// Adds factor · ∫ |D_xx|² + 2 |D_xy|² + |D_yy|² dx dy of the difference D from control points `rest`, where the domain is
  /// `wide` × `high` mm. Weights of the surface are not looked at.
  void add_bending(double factor, double wide, double high, const Grid<Vec3>& rest);

  /// The control points; those that are held (empty: none) stay at `start`. Throws Error when the places leave some
  /// of them open.
  Grid<Vec3> solve(const Grid<Vec3>& start, const std::vector<char>& held) const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace evenclay
