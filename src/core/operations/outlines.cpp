#include "core/operations/outlines.h"

#include <fmt/format.h>

#include "core/source/outlines.h"

namespace evenclay {

namespace {

constexpr NumberRange kLength{0.001, 100000.0, "mm", 1.0, 3};

}  // namespace

void EllipseOperation::describe(ParameterVisitor& v) {
  v.number(
      {"half_x", "First half axis", "From the centre to the border, along the plane's first axis."},
      half_x, kLength);
  v.number({"half_y", "Second half axis", "From the centre to the border, along the other axis."},
           half_y, kLength);
  describe_flat_plane(v, plane);
  describe_place(v, centre, "Centre", "centre");
}

std::string EllipseOperation::summary() const {
  return fmt::format("{:g} × {:g} mm", 2.0 * half_x, 2.0 * half_y);
}

Outcome EllipseOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_ellipse(frame_in(plane, centre), half_x, half_y)}}, {}};
}

void RectangleOperation::describe(ParameterVisitor& v) {
  v.number({"length", "Length", "Along the plane's first axis."}, length, kLength);
  v.number({"width", "Width", "Along the plane's second axis."}, width, kLength);
  v.number({"corner", "Corner radius", "0 leaves the corners sharp."}, corner,
           {0.0, 100000.0, "mm", 1.0, 3});
  describe_flat_plane(v, plane);
  describe_place(v, centre, "Centre", "centre");
}

std::string RectangleOperation::summary() const {
  return fmt::format("{:g} × {:g} mm", length, width);
}

Outcome RectangleOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_rectangle(frame_in(plane, centre), length, width, corner)}}, {}};
}

void ArcOperation::describe(ParameterVisitor& v) {
  describe_place(v, from, "From", "from");
  describe_place(v, over, "Over", "over");
  describe_place(v, to, "To", "to");
}

std::string ArcOperation::summary() const {
  return "through three points";
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
  return fmt::format("{:g} turns", turns);
}

Outcome HelixOperation::apply(const Shape&, const Inputs&, Progress&) const {
  return {CurveSet{{make_helix({centre}, radius, pitch, turns)}}, {}};
}

}  // namespace evenclay
