// What a build step makes and passes on.
#pragma once

#include <memory>
#include <variant>
#include <vector>

#include "core/mesh/triangle_mesh.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/surface.h"

namespace evenclay {

/// Surfaces of one part, in the order of their numbers.
struct SurfaceSet {
  std::vector<Surface> surfaces;
};

/// Curves of one part, in the order of their numbers.
struct CurveSet {
  std::vector<Curve> curves;
};

using Shape = std::variant<SurfaceSet, TriangleMesh, CurveSet>;
using ShapePtr = std::shared_ptr<const Shape>;

/// True when there is nothing to show or measure.
bool is_empty(const Shape& shape);

}  // namespace evenclay
