// How high a pattern stands, place by place.
#pragma once

#include <memory>

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Factor of the heights over the region of a pattern, and a distance added to all of them.
struct HeightRule {
  double factor = 1.0;  ///< ≥ 0
  double offset = 0.0;  ///< mm, towards the side the heights point to
  /// Shares of the region along which heights rise from 0 at that border: 6x⁵ − 15x⁴ + 10x³, which begins
  /// and ends without slope and bend. 0: not faded.
  double fade_s_from = 0.0, fade_s_to = 0.0, fade_t_from = 0.0, fade_t_to = 0.0;
  /// A further factor as the z of a surface over [0, 1] × [0, 1]; null: 1.
  std::shared_ptr<const SurfaceEvaluator> field;

  bool plain() const {
    return fade_s_from == 0.0 && fade_s_to == 0.0 && fade_t_from == 0.0 && fade_t_to == 0.0 &&
           !field;
  }
};

/// The factor at shares s and t of the region with its derivatives.
struct HeightFactor {
  double value = 1.0, by_s = 0.0, by_t = 0.0;
};
HeightFactor height_factor(const HeightRule& rule, double s, double t);

/// A field that runs smoothly over samples at equal steps (rows along s); in closed directions the last sample
/// goes on with the first. Samples are control values of a uniform cubic B-spline, which rounds them a little.
std::shared_ptr<const SurfaceEvaluator> smooth_field(const Grid<double>& samples, bool around_s,
                                                     bool around_t);

}  // namespace evenclay
