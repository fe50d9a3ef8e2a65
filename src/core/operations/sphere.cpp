#include "core/operations/sphere.h"

#include <fmt/format.h>

#include <array>

#include "core/base/say.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/common.h"

namespace evenclay {

void SphereOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Radius of the sphere."}, radius, {0.001, 100000.0, "mm", 1.0, 3});
  static constexpr std::array<Choice, 3> parts{
      {{"whole", "Whole"}, {"upper", "Upper half"}, {"lower", "Lower half"}}};
  visit_choice(v, {"part", "Part", "The whole sphere, or the half above or below its centre."},
               part, parts);
  describe_place(v, centre, "Centre", "centre");
}

std::string SphereOperation::summary() const {
  return say("{}radius {:g} mm", part == SpherePart::Whole ? "" : "half, ", radius);
}

Outcome SphereOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  Frame frame;
  frame.origin = centre;
  Surface s = make_sphere(frame, radius);
  if (part != SpherePart::Whole) {
    const auto [below, above] = split(s, Direction::V, 0.5);
    s = reparameterised(part == SpherePart::Upper ? above : below, Direction::V, 0.0, 1.0);
  }
  return {body_of({std::move(s)}, inputs.step), {}};
}

}  // namespace evenclay
