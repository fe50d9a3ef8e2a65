#include "core/operations/plane.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/conics.h"
#include "core/operations/common.h"

namespace evenclay {

void PlaneOperation::suit(const Beginning& b) {
  if (!b.plane) return;
  lie_in(*b.plane, plane, angles);
  centre = b.plane->origin;
}

void PlaneOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 3> ways{{{"centre", "About its centre"},
                                               {"corner", "From a corner"},
                                               {"points", "Through three places"}}};
  visit_choice(v, {"by", "Given", "What the plane is laid out from."}, by, ways);
  if (by == PlaneBy::Points) {
    describe_place(v, centre, "Corner", "centre");
    describe_place(v, along_u, "End of u", "along_u");
    describe_place(v, along_v, "End of v", "along_v");
    return;
  }
  v.number({"length_x", "Length", "Length of the first side, along u."}, length_x,
           {0.001, 100000.0, "mm", 1.0, 3});
  v.number({"length_y", "Width", "Length of the second side, along v."}, length_y,
           {0.001, 100000.0, "mm", 1.0, 3});
  describe_flat_plane(v, plane, angles);
  describe_place(v, centre, by == PlaneBy::Corner ? "Corner" : "Centre", "centre");
}

std::string PlaneOperation::summary() const {
  return by == PlaneBy::Points ? std::string("through three places")
                               : fmt::format("{:g} × {:g} mm", length_x, length_y);
}

Outcome PlaneOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  Frame frame = frame_in(plane, centre, angles);
  if (by == PlaneBy::Corner)
    frame.origin = frame.origin + frame.x * (0.5 * length_x) + frame.y * (0.5 * length_y);
  if (by != PlaneBy::Points)
    return {body_of({make_plane(frame, length_x, length_y, 2, 2, 1, 1)}, inputs.step), {}};
  const Vec3 u = along_u - centre;
  const Vec3 w = along_v - centre;
  if (!(length(cross(u, w)) > 1e-9 * std::max(1e-9, length(u) * length(w))))
    throw Error(say("The three places lie on a line. Move one of them aside."));
  Surface s = make_plane({}, 1.0, 1.0, 2, 2, 1, 1);
  s.points(0, 0) = centre;
  s.points(1, 0) = along_u;
  s.points(0, 1) = along_v;
  s.points(1, 1) = along_u + w;  // the sides need not be at a right angle
  return {body_of({std::move(s)}, inputs.step), {}};
}

}  // namespace evenclay
