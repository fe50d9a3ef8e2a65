// Curvature combs along iso-curves.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <vector>

#include "core/nurbs/surface.h"

namespace evenclay {

/// One tooth: a place of the curve and its curvature vector (1/mm), which points to the centre of
/// the circle that fits the curve there.
struct Tooth {
  Vec3 at;
  Vec3 curvature;
};

struct Comb {
  std::vector<Tooth> teeth;
  std::vector<Vec3> inflections;  ///< where the curve bends over to the other side
  double greatest = 0.0;          ///< 1/mm
};

/// The comb of the iso-curve along `direction` at the fixed other parameter, with `per_span` teeth a
/// span (1..400) and one at the end; knots where the curvature may jump
/// have two, one from each side. Curvature vector (c' × c'') × c' / |c'|⁴ (M. do Carmo,
/// Differential Geometry of Curves and Surfaces, 1976, section 1-5). Inflections are found where
/// neighbouring curvature vectors turn over, to the distance of two teeth ÷ 1000. Empty when the
/// curve has no length, such as along a pole.
Comb comb(const Surface& surface, Direction direction, double fixed, int per_span);

/// The comb of any curve with teeth at the given places (in order); `tooth` gives the place of a
/// parameter, or nothing where the curve has no direction. `size` (mm) tells bends from rounding.
Comb comb_along(std::span<const double> places,
                const std::function<std::optional<Tooth>(double)>& tooth, double size);

}  // namespace evenclay
