#include "core/operations/circle.h"

#include <fmt/format.h>

#include "core/base/say.h"

namespace evenclay {

void CircleOperation::suit(const Beginning& b) {
  if (!b.plane) return;
  lie_in(*b.plane, plane, angles);
  centre = b.plane->origin;
}

void CircleOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Radius of the circle."}, radius, {0.001, 100000.0, "mm", 1.0, 3});
  describe_flat_plane(v, plane, angles);
  describe_place(v, centre, "Centre", "centre");
}

std::string CircleOperation::summary() const {
  return say("radius {:g} mm", radius);
}

Outcome CircleOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_circle(frame_in(plane, centre, angles), radius)}}, {}};
}

std::vector<Vec3> CircleOperation::drawn_points() const {
  return {centre, frame_in(plane, centre, angles).to_world({radius, 0, 0})};
}

// The centre, and a place on the circle, the last one counting.
OperationPtr CircleOperation::with_drawn_points(std::vector<Vec3> points) const {
  auto changed = std::make_shared<CircleOperation>(*this);
  changed->clicked = points;
  if (points.empty()) return changed;
  changed->centre = points.front();
  if (points.size() < 2 || !(distance(points.front(), points.back()) > 1e-3)) return changed;
  changed->radius = distance(points.front(), points.back());
  changed->plane = plane_through(points.front(), points.back(), plane, angles);
  return changed;
}

}  // namespace evenclay
