#include "core/operations/solids.h"

#include <fmt/format.h>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/curve.h"
#include "core/source/swept.h"

namespace evenclay {

namespace {

constexpr NumberRange kLength{0.001, 100000.0, "mm", 1.0, 3};

}  // namespace

void CylinderOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Radius of the cylinder."}, radius, kLength);
  v.number({"height", "Height", "Its length along z."}, height, kLength);
  describe_place(v, centre, "Foot", "centre");
}

std::string CylinderOperation::summary() const {
  return say("radius {:g}, height {:g} mm", radius, height);
}

Outcome CylinderOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  return {body_of({make_cylinder({centre}, radius, height)}, inputs.step), {}};
}

void ConeOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Radius of the lower circle."}, radius, kLength);
  v.number({"top", "Upper radius", "Radius of the upper circle; 0 makes a tip."}, top,
           {0.0, 100000.0, "mm", 1.0, 3});
  v.number({"height", "Height", "Its length along z."}, height, kLength);
  describe_place(v, centre, "Foot", "centre");
}

std::string ConeOperation::summary() const {
  return top > 0.0 ? say("radius {:g} to {:g} mm", radius, top)
                   : say("radius {:g}, height {:g} mm", radius, height);
}

Outcome ConeOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const Curve side =
      make_curve({centre + Vec3{radius, 0, 0}, centre + Vec3{top, 0, height}}, 1, false);
  return {body_of({revolve(side, {centre}, 360.0)}, inputs.step), {}};
}

void TorusOperation::describe(ParameterVisitor& v) {
  v.number({"ring", "Ring radius", "Radius of the centre line of the ring."}, ring, kLength);
  v.number({"tube", "Tube radius", "Radius of the ring's section."}, tube, kLength);
  describe_place(v, centre, "Centre", "centre");
}

std::string TorusOperation::summary() const {
  return say("ring {:g}, tube {:g} mm", ring, tube);
}

Outcome TorusOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  return {body_of({make_torus({centre}, ring, tube)}, inputs.step), {}};
}

void BoxOperation::describe(ParameterVisitor& v) {
  v.number({"length_x", "Length x", "Length along x."}, length_x, kLength);
  v.number({"length_y", "Length y", "Length along y."}, length_y, kLength);
  v.number({"length_z", "Length z", "Length along z."}, length_z, kLength);
  describe_place(v, centre, "Centre", "centre");
}

std::string BoxOperation::summary() const {
  return fmt::format("{:g} × {:g} × {:g} mm", length_x, length_y, length_z);
}

Outcome BoxOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const double length[3] = {length_x, length_y, length_z};
  std::vector<Surface> sides;
  for (std::size_t axis = 0; axis < 3; ++axis)
    for (const double side : {-1.0, 1.0}) {
      const std::size_t a = (axis + 1) % 3;
      const std::size_t b = (axis + 2) % 3;
      Frame f;
      f.x = f.y = f.z = Vec3{};
      f.x[a] = side;  // so that z looks out
      f.y[b] = 1.0;
      f.z[axis] = side;
      f.origin = centre + f.z * (0.5 * length[axis]);
      sides.push_back(make_plane(f, length[a], length[b], 2, 2, 1, 1));
    }
  return {body_of(std::move(sides), inputs.step), {}};
}

}  // namespace evenclay
