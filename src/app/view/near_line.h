// How near drawn lines come to the cursor.
#pragma once

#include <limits>
#include <vector>

#include "app/view/camera.h"

namespace evenclay {

inline constexpr double kCurveRadius = 7.0;  ///< pixels within which a curve is meant

/// How near line pieces come to a place on the screen, and where: the number of the piece and the
/// share of the way along it.
struct NearLine {
  double pixels = std::numeric_limits<double>::infinity();
  std::size_t piece = 0;
  double share = 0.0;
  double depth = 0.0;
};

/// `pieces` holds 6 numbers each, from and to.
NearLine near_line(const Camera& camera, const QRect& viewport, const QPointF& at,
                   const std::vector<float>& pieces);

}  // namespace evenclay
