#include "core/operations/directions.h"

#include <fmt/format.h>

#include <array>

#include "core/base/error.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/knot_operations.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

void visit_along(ParameterVisitor& v, AlongDirection& along, std::string_view help) {
  static constexpr std::array<Choice, 2> directions{{{"u", "u"}, {"v", "v"}}};
  visit_choice(v, {"along", "Direction", help}, along, directions);
}

Direction direction(AlongDirection a) {
  return a == AlongDirection::U ? Direction::U : Direction::V;
}

Surface by_length(const Surface& s, Direction d) {
  const double mm = ArcLengthMap(s, d, whole(s)).mean_length();
  return reparameterised(s, d, 0.0, mm);
}

}  // namespace

void DirectionsOperation::describe(ParameterVisitor& v) {
  v.toggle({"swap", "Swap u and v", "The two directions change places; the normal turns over."},
           swap);
  v.toggle({"reverse_u", "Turn u round", "u runs the other way; the normal turns over."},
           reverse_u);
  v.toggle({"reverse_v", "Turn v round", "v runs the other way; the normal turns over."},
           reverse_v);
  static constexpr std::array<Choice, 3> ranges{
      {{"keep", "As they are"}, {"unit", "From 0 to 1"}, {"length", "From 0 to the mean length"}}};
  visit_choice(v, {"range", "Parameters run", "What u and v count; the grid stays."}, range,
               ranges);
}

std::string DirectionsOperation::summary() const {
  std::string text;
  const auto add = [&](bool on, const char* words) {
    if (on) text += fmt::format("{}{}", text.empty() ? "" : ", ", words);
  };
  add(swap, "u and v swapped");
  add(reverse_u, "u turned");
  add(reverse_v, "v turned");
  add(range == ParameterRange::Unit, "from 0 to 1");
  add(range == ParameterRange::Length, "by length");
  return text.empty() ? "as they are" : text;
}

Outcome DirectionsOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  return each_surface(before, label(), [&](Surface s) {
    if (swap) s = transposed(s);
    if (reverse_u) s = reversed(s, Direction::U);
    if (reverse_v) s = reversed(s, Direction::V);
    for (const Direction d : {Direction::U, Direction::V}) {
      if (range == ParameterRange::Unit) s = reparameterised(s, d, 0.0, 1.0);
      if (range == ParameterRange::Length) s = by_length(s, d);
    }
    return s;
  });
}

void OpenCloseOperation::describe(ParameterVisitor& v) {
  visit_along(v, along, "The direction that is opened or closed.");
  v.toggle({"closed", "Closed", "On closes a direction whose ends meet; off opens a closed one."},
           closed);
  v.number({"place", "Opened at", "Share of the way round at which the ends will lie."}, place,
           {0.0, 1.0, "", 0.01, 4});
}

std::string OpenCloseOperation::summary() const {
  const char* name = along == AlongDirection::U ? "u" : "v";
  return closed ? fmt::format("{} closed", name) : fmt::format("{} opened at {:.3g}", name, place);
}

Outcome OpenCloseOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  const Direction d = direction(along);
  return each_surface(before, label(), [&](const Surface& s) {
    const KnotVector& k = knots_of(s, d);
    if (closed == k.periodic)
      throw Error(fmt::format("{} is {} already. Choose the other direction, or remove this step.",
                              along == AlongDirection::U ? "u" : "v", closed ? "closed" : "open"));
    return closed ? evenclay::closed(s, d, inputs.tolerance)
                  : opened(s, d, k.first() + place * k.length());
  });
}

void SplitSurfaceOperation::describe(ParameterVisitor& v) {
  visit_along(v, along, "The surface is cut across this direction.");
  describe_surface_place(v, place_u, place_v, surface);
}

std::string SplitSurfaceOperation::summary() const {
  return along == AlongDirection::U ? fmt::format("at u {:.3g}", place_u)
                                    : fmt::format("at v {:.3g}", place_v);
}

Outcome SplitSurfaceOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  SurfaceSet result = surfaces_of(before, label());
  const Surface s = surface_numbered(result, surface);
  const KnotVector& k = knots_of(s, direction(along));
  const double share = along == AlongDirection::U ? place_u : place_v;
  auto [first, second] = split(s, direction(along), k.first() + share * k.length());
  surface_numbered(result, surface) = std::move(first);
  result.surfaces.insert(result.surfaces.begin() + surface, std::move(second));
  std::string note = fmt::format("The part now has {} surfaces.", result.surfaces.size());
  return {std::move(result), {std::move(note)}};
}

}  // namespace evenclay
