#include "core/operations/sphere.h"

#include <fmt/format.h>

#include "core/nurbs/conics.h"
#include "core/operations/common.h"

namespace evenclay {

void SphereOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Radius of the sphere."}, radius, {0.001, 100000.0, "mm", 1.0, 3});
  describe_place(v, centre, "Centre", "centre");
}

std::string SphereOperation::summary() const {
  return fmt::format("radius {:g} mm", radius);
}

Outcome SphereOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  Frame frame;
  frame.origin = centre;
  return {body_of({make_sphere(frame, radius)}, inputs.step), {}};
}

}  // namespace evenclay
