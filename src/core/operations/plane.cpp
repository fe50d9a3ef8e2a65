#include "core/operations/plane.h"

#include <fmt/format.h>

#include "core/nurbs/conics.h"
#include "core/operations/common.h"

namespace evenclay {

void PlaneOperation::describe(ParameterVisitor& v) {
  v.number({"length_x", "Length", "Length of the first side, along u."}, length_x,
           {0.001, 100000.0, "mm", 1.0, 3});
  v.number({"length_y", "Width", "Length of the second side, along v."}, length_y,
           {0.001, 100000.0, "mm", 1.0, 3});
  describe_flat_plane(v, plane);
  describe_place(v, centre, "Centre", "centre");
}

std::string PlaneOperation::summary() const {
  return fmt::format("{:g} × {:g} mm", length_x, length_y);
}

Outcome PlaneOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const Frame frame = frame_in(plane, centre);
  return {body_of({make_plane(frame, length_x, length_y, 2, 2, 1, 1)}, inputs.step), {}};
}

}  // namespace evenclay
