#include "core/operations/form_sources.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/check/measures.h"
#include "core/operations/curves.h"
#include "core/operations/form_picks.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/sources.h"

namespace evenclay {

namespace {

constexpr NumberRange kLength{0.001, 100000.0, "mm", 1.0, 3};

Outcome outcome(Form form) {
  return {linked(std::move(form)), {}};
}

}  // namespace

void FormBoxOperation::describe(ParameterVisitor& v) {
  v.number({"size_x", "Length", "Length along x."}, size.x, kLength);
  v.number({"size_y", "Width", "Length along y."}, size.y, kLength);
  v.number({"size_z", "Height", "Length along z."}, size.z, kLength);
  v.count({"faces_x", "Faces along x", "How many faces lie side by side along x."}, faces_x,
          {1, 100});
  v.count({"faces_y", "Faces along y", "How many faces lie side by side along y."}, faces_y,
          {1, 100});
  v.count({"faces_z", "Faces along z", "How many faces lie side by side along z."}, faces_z,
          {1, 100});
  describe_place(v, centre, "Centre", "centre");
}
std::string FormBoxOperation::summary() const {
  return say("{:g} × {:g} × {:g} mm, {} × {} × {} faces", size.x, size.y, size.z, faces_x, faces_y,
             faces_z);
}
Outcome FormBoxOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  return outcome(make_box_form({centre}, size, faces_x, faces_y, faces_z, in.step));
}

void FormPlaneOperation::describe(ParameterVisitor& v) {
  describe_flat_plane(v, plane);
  v.number({"length_x", "Length", "Length along its first axis."}, length_x, kLength);
  v.number({"length_y", "Width", "Length along its second axis."}, length_y, kLength);
  v.count({"faces_x", "Faces along length", "How many faces lie side by side."}, faces_x, {1, 200});
  v.count({"faces_y", "Faces along width", "How many faces lie side by side."}, faces_y, {1, 200});
  describe_place(v, centre, "Centre", "centre");
}
std::string FormPlaneOperation::summary() const {
  return say("{:g} × {:g} mm, {} × {} faces", length_x, length_y, faces_x, faces_y);
}
Outcome FormPlaneOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  return outcome(
      make_plane_form(frame_in(plane, centre), length_x, length_y, faces_x, faces_y, in.step));
}

void FormCylinderOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Where the points lie around the axis."}, radius, kLength);
  v.number({"height", "Height", "Its length along z."}, height, kLength);
  v.count({"around", "Faces around", "How many faces lie around the axis."}, around, {3, 200});
  v.count({"along", "Faces along", "How many faces lie along the axis."}, along, {1, 200});
  v.toggle({"caps", "Caps", "Closed above and below, each cap with a ring inside."}, caps);
  describe_place(v, centre, "Foot", "centre");
}
std::string FormCylinderOperation::summary() const {
  return say("radius {:g}, height {:g} mm, {} × {} faces", radius, height, around, along);
}
Outcome FormCylinderOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  return outcome(make_cylinder_form({centre}, radius, height, around, along, caps, in.step));
}

void FormBallOperation::describe(ParameterVisitor& v) {
  v.number({"radius", "Radius", "Mean radius of the smooth ball."}, radius, kLength);
  v.count({"faces", "Faces a side", "How many faces each side of the box has, each way."}, faces,
          {1, 50});
  describe_place(v, centre, "Centre", "centre");
}
std::string FormBallOperation::summary() const {
  return say("radius {:g} mm, 6 × {} × {} faces", radius, faces, faces);
}
Outcome FormBallOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  return outcome(make_ball_form({centre}, radius, faces, in.step));
}

void FormTorusOperation::describe(ParameterVisitor& v) {
  describe_flat_plane(v, plane);
  v.number({"ring", "Ring radius", "Radius of the centre line of the ring."}, ring, kLength);
  v.number({"tube", "Tube radius", "Where the points lie around the centre line."}, tube, kLength);
  v.count({"around", "Faces around", "How many faces lie around the ring."}, around, {3, 200});
  v.count({"across", "Faces across", "How many faces lie around the tube."}, across, {3, 200});
  describe_place(v, centre, "Centre", "centre");
}
std::string FormTorusOperation::summary() const {
  return say("ring {:g}, tube {:g} mm, {} × {} faces", ring, tube, around, across);
}
Outcome FormTorusOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  return outcome(make_torus_form(frame_in(plane, centre), ring, tube, around, across, in.step));
}

FormFaceOperation::FormFaceOperation() {
  corners.places = {{-20, -15, 0}, {20, -15, 0}, {20, 15, 0}, {-20, 15, 0}};
}
void FormFaceOperation::describe(ParameterVisitor& v) {
  v.data({"corners", "Corners", "Click in the view to add corners; drag one to move it."}, corners);
}
std::string FormFaceOperation::summary() const {
  return counted(corners.places.size(), "corner");
}
Outcome FormFaceOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  if (corners.places.size() < 3)
    throw Error(say("A face needs three corners at least. Click more in the view."));
  std::vector<std::uint32_t> face(corners.places.size());
  std::iota(face.begin(), face.end(), 0U);
  return outcome(make_form(corners.places, {face}, in.step));
}
OperationPtr FormFaceOperation::with_drawn_points(std::vector<Vec3> places) const {
  auto changed = std::make_shared<FormFaceOperation>(*this);
  changed->corners.places = std::move(places);
  return changed;
}

void FormOfPartOperation::suit(const Beginning& b) {
  if (b.before != nullptr) part = b.chosen;
}
void FormOfPartOperation::describe(ParameterVisitor& v) {
  v.part({"part", "Part", "Surfaces give their control nets, a mesh its faces, a form itself."},
         part);
  v.number(
      {"flat", "Flat within", "Two triangles that bend less become one quadrangle; 0 keeps all."},
      flat, {0.0, 60.0, "°", 1.0, 2});
}
std::string FormOfPartOperation::summary() const {
  return say("the faces of another part");
}
namespace {

// How far the limit's triangles lie from the surfaces that the cage was taken from.
std::string nearness(const Form& form, const Body& body, Progress& progress) {
  const TriangleMesh mesh = limit_within(form, 1e-3 * size(form), 20'000, progress);
  double most = 0.0, mean = 0.0;
  for (const double d : signed_distances(mesh.points, body, progress)) {
    most = std::max(most, std::abs(d));
    mean += std::abs(d) / static_cast<double>(mesh.points.size());
  }
  return say("The smooth form lies within {:.3g} mm of the surfaces, {:.2g} mm on average.", most,
             mean);
}

}  // namespace

Outcome FormOfPartOperation::apply(const Shape&, const Inputs& in, Progress& progress) const {
  const auto found = in.parts.find(part);
  if (found == in.parts.end()) throw Error(say("Choose the part whose faces the form is to have."));
  const Shape& shape = *found->second;
  if (is_empty(shape)) throw Error(say("That part has no shape yet. Mend its build steps first."));
  if (const auto* form = std::get_if<Form>(&shape)) return outcome(*form);
  if (const auto* mesh = std::get_if<TriangleMesh>(&shape)) {
    Form form = make_mesh_form(*mesh, flat, in.step);
    const std::string said =
        say("{} triangles became {}.", mesh->triangles.size(), counted(form.faces.size(), "face"));
    return {linked(std::move(form)), {said}};
  }
  const Body& body = faces_of(shape, label());
  const std::vector<Surface> surfaces = surfaces_of(body);
  const Form form = make_net_form(surfaces, in.step);
  Outcome made = outcome(form);
  made.notes.push_back(nearness(form, body, progress));
  if (is_trimmed(body))
    made.notes.emplace_back(
        say("Cut away pieces are there again: the form has the whole control nets."));
  return made;
}

void FormFromCurveOperation::suit(const Beginning& b) {
  curve = other_curve(b);
}
void FormFromCurveOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 2> ways{{{"extrude", "Extrude"}, {"revolve", "Revolve"}}};
  static constexpr std::array<Choice, 3> axes{{{"x", "x"}, {"y", "y"}, {"z", "z"}}};
  v.part({"curve", "Curve", "Its control points become points of the form."}, curve);
  visit_choice(v, {"way", "Way", "Moved along a line, or around an axis."}, way, ways);
  if (way == Way::Extrude) {
    describe_place(v, by, "By", "by");
    v.count({"rows", "Faces along", "How many faces lie along the way."}, rows, {1, 200});
    return;
  }
  visit_choice(v, {"axis", "Axis", "The world axis it is parallel to."}, axis, axes);
  describe_place(v, axis_at, "Axis at", "axis_at");
  v.number({"angle", "Angle", "How far round."}, angle, {1.0, 360.0, "°", 5.0, 2});
  v.count({"around", "Faces around", "How many faces lie over the angle."}, around, {3, 200});
}
std::string FormFromCurveOperation::summary() const {
  return way == Way::Extrude ? say("extruded, {} rows", rows)
                             : say("revolved by {:g}°, {} faces", angle, around);
}

namespace {

// Seen from outside, so that a closed form holds its volume.
Form outside_out(Form form) {
  double volume = 0.0;
  for (const FormFace& f : form.faces)
    for (std::size_t k = 1; k + 1 < f.points.size(); ++k)
      volume += dot(form.points[f.points[0]],
                    cross(form.points[f.points[k]], form.points[f.points[k + 1]]));
  if (volume < 0.0)
    for (FormFace& f : form.faces) std::reverse(f.points.begin(), f.points.end());
  form.links.reset();
  return form;
}

}  // namespace

Outcome FormFromCurveOperation::apply(const Shape&, const Inputs& in, Progress&) const {
  const auto found = in.parts.find(curve);
  const auto* set = found == in.parts.end() ? nullptr : std::get_if<CurveSet>(found->second.get());
  if (set == nullptr || set->curves.empty())
    throw Error(say("Choose the curve whose points become the form."));
  std::vector<Surface> nets;
  for (const Curve& c : set->curves) {
    const int n = static_cast<int>(c.points.size());
    const bool full = way == Way::Revolve && angle >= 360.0;
    const int count = way == Way::Extrude ? rows + 1 : (full ? around : around + 1);
    Surface s;
    s.u.periodic = full;
    s.v.periodic = c.knots.periodic;
    s.points = Grid<Vec3>(count, n);
    static constexpr std::array<Vec3, 3> kAxes{{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
    const Vec3 z = kAxes[static_cast<std::size_t>(axis)];
    for (int k = 0; k < count; ++k) {
      const double share = static_cast<double>(k) / (way == Way::Extrude ? rows : around);
      for (int j = 0; j < n; ++j) {
        const Vec3& p = c.points[static_cast<std::size_t>(j)];
        if (way == Way::Extrude) {
          s.points(k, j) = p + by * share;
          continue;
        }
        const double a = share * angle * std::numbers::pi / 180.0;
        const Vec3 r = p - axis_at;
        s.points(k, j) = axis_at + r * std::cos(a) + cross(z, r) * std::sin(a) +
                         z * (dot(z, r) * (1.0 - std::cos(a)));
      }
    }
    nets.push_back(std::move(s));
  }
  return outcome(outside_out(make_net_form(nets, in.step)));
}

}  // namespace evenclay
