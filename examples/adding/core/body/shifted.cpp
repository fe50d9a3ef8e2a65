#include "core/body/shifted.h"

#include <cmath>

#include "core/base/error.h"

namespace evenclay {

Body shifted(const Body& body, const Vec3& way) {
  if (!std::isfinite(way.x + way.y + way.z)) throw Error("A length to shift by is not a number.");
  Body result = body;
  for (Face& f : result.faces) {
    Surface s = *f.surface;
    for (Vec3& p : s.points.values()) p += way;
    f.surface = std::make_shared<const Surface>(std::move(s));
  }
  for (Edge& e : result.edges)
    for (Vec3& p : e.curve.points) p += way;
  return result;
}

}  // namespace evenclay
