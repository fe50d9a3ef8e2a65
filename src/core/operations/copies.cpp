#include "core/operations/copies.h"

#include <fmt/format.h>

#include "core/base/error.h"
#include "core/source/copies.h"

namespace evenclay {

namespace {

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
      throw Error("The copies would have more than fifty million triangles. Make fewer.");
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
  Shape operator()(const Picture&) const {
    throw Error("A reference picture cannot be copied like a shape. Add it a second time instead.");
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
  return fmt::format("in {}", names[static_cast<std::size_t>(plane)]);
}

Outcome MirrorOperation::apply(const Shape& before, const Inputs& inputs,
                               Progress& progress) const {
  if (is_empty(before)) throw Error("There is no shape to mirror yet.");
  static constexpr Vec3 normals[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  const Vec3 n = normals[static_cast<std::size_t>(plane)];
  const std::vector<Placement> at{mirrored_in(n * place, n)};
  return {std::visit(MakeCopies{at, keep, inputs.step, progress}, before), {}};
}

void ArrayOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 2> ways{{{"line", "In a row"}, {"ring", "Around an axis"}}};
  visit_choice(v, {"way", "Arranged", "In a row, or around an axis."}, way, ways);
  v.count({"count", "Count", "How many there are in all."}, count, {1, kMost});
  describe_place(v, step, "Row step", "step");
  static constexpr std::array<Choice, 3> axes{{{"xy", "z"}, {"xz", "y"}, {"yz", "x"}}};
  visit_choice(v, {"plane", "Ring axis", "The direction of the axis of the ring."}, plane, axes);
  v.number({"angle", "Ring angle",
            "360 spreads them evenly all round; less is from the first to the last."},
           angle, {-360.0, 360.0, "°", 15.0, 2});
  describe_place(v, centre, "Ring centre", "centre");
}

std::string ArrayOperation::summary() const {
  return fmt::format("{} {}", count, way == ArrayWay::Line ? "in a row" : "around");
}

Outcome ArrayOperation::apply(const Shape& before, const Inputs& inputs, Progress& progress) const {
  if (is_empty(before)) throw Error("There is no shape to copy yet.");
  static constexpr Vec3 axes[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  const bool all_round = std::abs(angle) == 360.0;
  const double apart = count > 1 ? angle / (all_round ? count : count - 1) : 0.0;
  std::vector<Placement> at;
  for (int k = 1; k < count; ++k)
    at.push_back(way == ArrayWay::Line
                     ? moved_by(step * static_cast<double>(k))
                     : turned_about(centre, axes[static_cast<std::size_t>(plane)], apart * k));
  std::vector<std::string> notes;
  const bool none = way == ArrayWay::Line ? !(length(step) > 0.0) : apart == 0.0;
  if (count > 1 && none)
    notes.emplace_back("All copies lie in one place: give them a step or an angle.");
  return {std::visit(MakeCopies{at, true, inputs.step, progress}, before), std::move(notes)};
}

}  // namespace evenclay
