#include "core/operations/outlines.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/say.h"
#include "core/source/outlines.h"

namespace evenclay {

namespace {

constexpr NumberRange kLength{0.001, 100000.0, "mm", 1.0, 3};

}  // namespace

void EllipseOperation::suit(const Beginning& b) {
  if (!b.plane) return;
  lie_in(*b.plane, plane, angles);
  centre = b.plane->origin;
}

void EllipseOperation::describe(ParameterVisitor& v) {
  v.number(
      {"half_x", "First half axis", "From the centre to the border, along the plane's first axis."},
      half_x, kLength);
  v.number({"half_y", "Second half axis", "From the centre to the border, along the other axis."},
           half_y, kLength);
  describe_flat_plane(v, plane, angles);
  describe_place(v, centre, "Centre", "centre");
}

std::string EllipseOperation::summary() const {
  return fmt::format("{:g} × {:g} mm", 2.0 * half_x, 2.0 * half_y);
}

Outcome EllipseOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_ellipse(frame_in(plane, centre, angles), half_x, half_y)}}, {}};
}

void RectangleOperation::suit(const Beginning& b) {
  if (!b.plane) return;
  lie_in(*b.plane, plane, angles);
  centre = b.plane->origin;
}

void RectangleOperation::describe(ParameterVisitor& v) {
  v.number({"length", "Length", "Along the plane's first axis."}, length, kLength);
  v.number({"width", "Width", "Along the plane's second axis."}, width, kLength);
  v.number({"corner", "Corner radius", "0 leaves the corners sharp."}, corner,
           {0.0, 100000.0, "mm", 1.0, 3});
  describe_flat_plane(v, plane, angles);
  describe_place(v, centre, "Centre", "centre");
}

std::string RectangleOperation::summary() const {
  return fmt::format("{:g} × {:g} mm", length, width);
}

Outcome RectangleOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_rectangle(frame_in(plane, centre, angles), length, width, corner)}}, {}};
}

void ArcOperation::describe(ParameterVisitor& v) {
  describe_place(v, from, "From", "from");
  describe_place(v, over, "Over", "over");
  describe_place(v, to, "To", "to");
}

std::string ArcOperation::summary() const {
  return say("through three points");
}

Outcome ArcOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_arc(from, over, to)}}, {}};
}

void HelixOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Distance from the axis."}, radius, kLength);
  v.number({"pitch", "Rise a turn", "How far one turn goes up; below 0 it goes down."}, pitch,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.number({"turns", "Turns", "How often it winds round."}, turns, {0.01, 200.0, "", 1.0, 2});
  describe_place(v, centre, "Foot", "centre");
}

std::string HelixOperation::summary() const {
  return say("{:g} turns", turns);
}

Outcome HelixOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_helix({centre}, radius, pitch, turns)}}, {}};
}

std::vector<Vec3> EllipseOperation::drawn_points() const {
  return {centre, frame_in(plane, centre, angles).to_world({half_x, half_y, 0})};
}

// The centre, and a corner of the box around it.
OperationPtr EllipseOperation::with_drawn_points(std::vector<Vec3> points) const {
  auto changed = std::make_shared<EllipseOperation>(*this);
  changed->clicked = points;
  if (points.empty()) return changed;
  changed->centre = points.front();
  if (points.size() < 2) return changed;
  changed->plane = plane_through(points.front(), points.back(), plane, angles);
  const Vec3 l = frame_in(changed->plane, changed->centre, angles).to_local(points.back());
  if (std::abs(l.x) > 1e-3) changed->half_x = std::abs(l.x);
  if (std::abs(l.y) > 1e-3) changed->half_y = std::abs(l.y);
  return changed;
}

std::vector<Vec3> RectangleOperation::drawn_points() const {
  const Frame f = frame_in(plane, centre, angles);
  return {f.to_world({-0.5 * length, -0.5 * width, 0}), f.to_world({0.5 * length, 0.5 * width, 0})};
}

// Two corners opposite each other; the radius of the corners gives way where it has no room.
OperationPtr RectangleOperation::with_drawn_points(std::vector<Vec3> points) const {
  auto changed = std::make_shared<RectangleOperation>(*this);
  changed->clicked = points;
  if (points.size() < 2) {
    if (!points.empty()) changed->centre = points.front();
    return changed;
  }
  changed->plane = plane_through(points.front(), points.back(), plane, angles);
  const Vec3 l = frame_in(changed->plane, points.front(), angles).to_local(points.back());
  if (!(std::abs(l.x) > 1e-3) || !(std::abs(l.y) > 1e-3)) return changed;
  changed->length = std::abs(l.x);
  changed->width = std::abs(l.y);
  changed->centre = (points.front() + points.back()) * 0.5;
  changed->corner = std::min(corner, 0.49 * std::min(changed->length, changed->width));
  return changed;
}

std::vector<Vec3> ArcOperation::drawn_points() const {
  return {from, to, over};
}

// Beginning, end, and a place it runs over, the last one counting; with two it bows out by a quarter.
OperationPtr ArcOperation::with_drawn_points(std::vector<Vec3> points) const {
  auto changed = std::make_shared<ArcOperation>(*this);
  changed->clicked = points;
  if (points.empty()) return changed;
  changed->from = points.front();
  if (points.size() < 2) return changed;
  changed->to = points[1];
  const Vec3 chord = changed->to - changed->from;
  const Vec3 flat = cross(Vec3{0, 0, 1}, chord);
  const Vec3 aside = evenclay::length(flat) > 1e-9 ? flat : cross(Vec3{0, 1, 0}, chord);
  changed->over =
      points.size() > 2 ? points.back() : (changed->from + changed->to) * 0.5 - aside * 0.25;
  return changed;
}

}  // namespace evenclay
