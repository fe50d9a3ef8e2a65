#include "core/operations/circle.h"

#include <fmt/format.h>

namespace evenclay {

void CircleOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Radius of the circle."}, radius, {0.001, 100000.0, "mm", 1.0, 3});
  describe_flat_plane(v, plane);
  describe_place(v, centre, "Centre", "centre");
}

std::string CircleOperation::summary() const {
  return fmt::format("radius {:g} mm", radius);
}

Outcome CircleOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_circle(frame_in(plane, centre), radius)}}, {}};
}

}  // namespace evenclay
