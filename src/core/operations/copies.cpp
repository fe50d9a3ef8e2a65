#include "core/operations/copies.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/arc_length.h"
#include "core/operations/curves.h"
#include "core/source/loft.h"
#include "core/subdivision/edits.h"

namespace evenclay {

namespace {

// The form elsewhere, with names of its own; a mirrored one is turned inside out again.
Form placed_form(const Form& form, const Placement& at, int step, std::uint64_t copy) {
  Form made = unlinked(form);
  for (Vec3& p : made.points) p = at(p);
  for (Tag& tag : made.point_tags) tag = make_tag(step, tag, copy);
  for (FormFace& f : made.faces) {
    f.tag = make_tag(step, f.tag, copy);
    if (at.mirrors()) std::reverse(f.points.begin(), f.points.end());
  }
  return made;
}

// One overload for each kind of shape: the shape itself (when kept), then a copy at each placement.
struct MakeCopies {
  const std::vector<Placement>& at;
  bool keep;
  int step;
  Progress& progress;

  Shape operator()(const Body& body) const {
    Body all = keep ? body : Body{};
    for (std::size_t k = 0; k < at.size(); ++k) {
      progress.check();
      append(all, placed(body, at[k], step, k + 1));
    }
    return all;
  }
  Shape operator()(const TriangleMesh& mesh) const {
    if (mesh.triangles.size() * (at.size() + 1) > 50'000'000)
      throw Error(say("The copies would have more than fifty million triangles. Make fewer."));
    TriangleMesh all = keep ? mesh : TriangleMesh{};
    for (const Placement& p : at) {
      progress.check();
      append(all, placed(mesh, p));
    }
    return all;
  }
  Shape operator()(const CurveSet& set) const {
    CurveSet all = keep ? set : CurveSet{};
    for (const Placement& p : at)
      for (const Curve& c : set.curves) all.curves.push_back(placed(c, p));
    return all;
  }
  Shape operator()(const Form& form) const {
    Form all = keep ? unlinked(form) : Form{};
    for (std::size_t k = 0; k < at.size(); ++k) append(all, placed_form(form, at[k], step, k + 1));
    return linked(std::move(all));
  }
  Shape operator()(const PointCloud& cloud) const {
    PointCloud all = keep ? cloud : PointCloud{};
    for (const Placement& p : at) {
      for (const Vec3& q : cloud.points) all.points.push_back(p(q));
      for (const Vec3& n : cloud.normals) all.normals.push_back(p(n) - p.shift);
    }
    return all;
  }
  Shape operator()(const Cage&) const {
    throw Error(say("A cage cannot be copied like a shape. Make another cage instead."));
  }
  Shape operator()(const Picture&) const {
    throw Error(
        say("A reference picture cannot be copied like a shape. Add it a second time instead."));
  }
};

}  // namespace

void MirrorOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 3> planes{{{"xy", "x–y, top and bottom"},
                                                 {"xz", "x–z, front and back"},
                                                 {"yz", "y–z, left and right"}}};
  visit_choice(v, {"plane", "Plane", "The world plane the mirror is parallel to."}, plane, planes);
  v.number({"place", "Place", "Where the mirror stands along its normal."}, place,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.toggle({"keep", "Keep the first", "Off leaves only the mirror image."}, keep);
}

std::string MirrorOperation::summary() const {
  static constexpr const char* names[] = {"x–y", "x–z", "y–z"};
  return say("in {}", names[static_cast<std::size_t>(plane)]);
}

Outcome MirrorOperation::apply(const Shape& before, const Inputs& inputs,
                               Progress& progress) const {
  if (is_empty(before)) throw Error(say("There is no shape to mirror yet."));
  static constexpr Vec3 normals[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  const Vec3 n = normals[static_cast<std::size_t>(plane)];
  const std::vector<Placement> at{mirrored_in(n * place, n)};
  return {std::visit(MakeCopies{at, keep, inputs.step, progress}, before), {}};
}

void ArrayOperation::suit(const Beginning& b) {
  along = other_curve(b);
}

void ArrayOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 4> ways{{{"line", "In a row"},
                                               {"ring", "Around an axis"},
                                               {"grid", "In a grid"},
                                               {"curve", "Along a curve"}}};
  visit_choice(
      v, {"way", "Arranged", "In a row, around an axis, in rows of a grid, or along a curve."}, way,
      ways);
  v.count({"count", "Count", "How many there are in all, or in each row of a grid."}, count,
          {1, kMost});
  describe_place(v, step, "Row step", "step");
  if (way == ArrayWay::Grid) {
    v.count({"rows", "Rows", "How many rows the grid has."}, rows, {1, kMost});
    describe_place(v, row_step, "Step of rows", "row_step");
  }
  if (way == ArrayWay::Curve) {
    v.part({"along", "Curve", "The part whose curve the copies follow, from its start."}, along);
    v.toggle({"turned", "Turned along", "The copies turn with the curve."}, turned);
  }
  static constexpr std::array<Choice, 3> axes{{{"xy", "z"}, {"xz", "y"}, {"yz", "x"}}};
  visit_choice(v, {"plane", "Ring axis", "The direction of the axis of the ring."}, plane, axes);
  v.number({"angle", "Ring angle",
            "360 spreads them evenly all round; less is from the first to the last."},
           angle, {-360.0, 360.0, "°", 15.0, 2});
  describe_place(v, centre, "Ring centre", "centre");
}

std::string ArrayOperation::summary() const {
  switch (way) {
    case ArrayWay::Line:
      return say("{} in a row", count);
    case ArrayWay::Ring:
      return say("{} around", count);
    case ArrayWay::Grid:
      return fmt::format("{} × {}", count, rows);
    case ArrayWay::Curve:
      break;
  }
  return say("{} along a curve", count);
}

namespace {

// What carries frame a to frame b.
Placement carried(const Frame& a, const Frame& b) {
  const auto to = [&](const Vec3& d) {
    return b.x * dot(d, a.x) + b.y * dot(d, a.y) + b.z * dot(d, a.z);
  };
  Placement p{to({1, 0, 0}), to({0, 1, 0}), to({0, 0, 1}), {}};
  p.shift = b.origin - p(a.origin);
  return p;
}

// Places of equal share of the length, the first at the start.
std::vector<double> even_places(const Curve& c, int count) {
  const Surface strip = strip_of(c, {0, 0, 1.0 + size(c)});
  const ArcLengthMap map(strip, Direction::U, whole(strip));
  const int steps = c.knots.periodic ? count : std::max(1, count - 1);
  std::vector<double> result;
  for (int k = 0; k < count; ++k)
    result.push_back(map.at_share(static_cast<double>(k) / steps).parameter);
  return result;
}

}  // namespace

std::vector<Placement> ArrayOperation::placements(const Inputs& inputs) const {
  static constexpr Vec3 axes[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  const bool all_round = std::abs(angle) == 360.0;
  const double apart = count > 1 ? angle / (all_round ? count : count - 1) : 0.0;
  std::vector<Placement> at;
  if (way == ArrayWay::Curve) {
    const Curve c = single_curve(inputs, along, "curve");
    const std::vector<double> places = even_places(c, count);
    const std::vector<Frame> frames = rail_frames(c, places, SweepTwist::Least);
    for (std::size_t k = 1; k < frames.size(); ++k)
      at.push_back(turned ? carried(frames[0], frames[k])
                          : moved_by(frames[k].origin - frames[0].origin));
    return at;
  }
  if (way == ArrayWay::Grid && static_cast<long>(count) * rows > kMost)
    throw Error(say("The grid has {} copies; at most {} can be made.",
                    static_cast<long>(count) * rows, kMost));
  for (int r = 0; r < (way == ArrayWay::Grid ? rows : 1); ++r)
    for (int k = r == 0 ? 1 : 0; k < count; ++k)
      at.push_back(
          way == ArrayWay::Ring
              ? turned_about(centre, axes[static_cast<std::size_t>(plane)], apart * k)
              : moved_by(step * static_cast<double>(k) + row_step * static_cast<double>(r)));
  return at;
}

Outcome ArrayOperation::apply(const Shape& before, const Inputs& inputs, Progress& progress) const {
  if (is_empty(before)) throw Error(say("There is no shape to copy yet."));
  const std::vector<Placement> at = placements(inputs);
  std::vector<std::string> notes;
  const bool none =
      (way == ArrayWay::Line && !(length(step) > 0.0)) || (way == ArrayWay::Ring && angle == 0.0);
  if (count > 1 && none)
    notes.emplace_back(say("All copies lie in one place: give them a step or an angle."));
  return {std::visit(MakeCopies{at, true, inputs.step, progress}, before), std::move(notes)};
}

}  // namespace evenclay
