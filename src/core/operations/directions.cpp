#include "core/operations/directions.h"

#include <fmt/format.h>

#include <array>
#include <tuple>

#include "core/base/error.h"
#include "core/base/say.h"
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
  const auto add = [&](bool on, const std::string& words) {
    if (on) text += fmt::format("{}{}", text.empty() ? "" : ", ", words);
  };
  add(swap, say("u and v swapped"));
  add(reverse_u, say("u turned"));
  add(reverse_v, say("v turned"));
  add(range == ParameterRange::Unit, say("from 0 to 1"));
  add(range == ParameterRange::Length, say("by length"));
  return text.empty() ? "as they are" : text;
}

Outcome DirectionsOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  Body body = faces_of(before, label());
  for (Face& face : body.faces) {
    const Surface changed = turned(*face.surface);
    map_parameters(face, map_to(*face.surface, changed));
    face.surface = std::make_shared<const Surface>(changed);
    face.piece_of = 0;
  }
  return {std::move(body), {}};
}

Surface DirectionsOperation::turned(Surface s) const {
  if (swap) s = transposed(s);
  if (reverse_u) s = reversed(s, Direction::U);
  if (reverse_v) s = reversed(s, Direction::V);
  for (const Direction d : {Direction::U, Direction::V}) {
    if (range == ParameterRange::Unit) s = reparameterised(s, d, 0.0, 1.0);
    if (range == ParameterRange::Length) s = by_length(s, d);
  }
  return s;
}

// Where a place of the old parameters lies in the new ones.
ParameterMap DirectionsOperation::map_to(const Surface& from, const Surface& to) const {
  const auto along = [](const KnotVector& a, const KnotVector& b, bool reverse) {
    const double f = b.length() / a.length() * (reverse ? -1.0 : 1.0);
    return std::pair{f, (reverse ? b.last() : b.first()) - a.first() * f};
  };
  ParameterMap m;
  if (swap) {
    const auto [b, e] = along(from.v, to.u, reverse_u);
    const auto [c, f] = along(from.u, to.v, reverse_v);
    return {0.0, b, c, 0.0, e, f};
  }
  std::tie(m.a, m.e) = along(from.u, to.u, reverse_u);
  std::tie(m.d, m.f) = along(from.v, to.v, reverse_v);
  return m;
}

void OpenCloseOperation::suit(const Beginning& b) {
  const Surface* s = first_surface(b.before);
  if (s == nullptr) return;
  closed = !s->u.periodic && !s->v.periodic;
  along = s->u.periodic || !s->v.periodic ? AlongDirection::U : AlongDirection::V;
}

void SplitSurfaceOperation::suit(const Beginning& b) {
  if (const Surface* s = first_surface(b.before))
    along = s->u.periodic ? AlongDirection::V : AlongDirection::U;
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
  return closed ? say("{} closed", name) : say("{} opened at {:.3g}", name, place);
}

Outcome OpenCloseOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  const Direction d = direction(along);
  for (const Face& face : faces_of(before, label()).faces) refuse_trimmed(face, label());
  return each_surface(before, label(), [&](const Surface& s) {
    const KnotVector& k = knots_of(s, d);
    if (closed == k.periodic)
      throw Error(say("{} is {} already. Choose the other direction, or remove this step.",
                      along == AlongDirection::U ? "u" : "v", closed ? "closed" : "open"));
    return closed ? evenclay::closed(s, d, inputs.tolerance)
                  : opened(s, d, k.first() + place * k.length());
  });
}

void SplitSurfaceOperation::describe(ParameterVisitor& v) {
  visit_along(v, along, "The surface is cut across this direction.");
  describe_face_place(v, on);
}

std::string SplitSurfaceOperation::summary() const {
  return along == AlongDirection::U ? say("at u {:.3g}", on.u) : say("at v {:.3g}", on.v);
}

Outcome SplitSurfaceOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  Body result = faces_of(before, label());
  const FacePlace place = located(result, on);
  const std::size_t number = place.face;
  const Face whole = result.faces[number];
  refuse_trimmed(whole, label());
  const Surface& s = *whole.surface;
  const KnotVector& k = knots_of(s, direction(along));
  const double share = along == AlongDirection::U ? place.u : place.v;
  auto [first, second] = split(s, direction(along), k.first() + share * k.length());
  std::vector<Face> pieces(2, whole);
  pieces[0].surface = std::make_shared<const Surface>(std::move(first));
  pieces[1].surface = std::make_shared<const Surface>(std::move(second));
  for (std::size_t p = 0; p < 2; ++p) {
    pieces[p].tag = make_tag(inputs.step, whole.tag, p + 1);
    pieces[p].piece_of = whole.piece_of != 0 ? whole.piece_of : whole.tag;
  }
  const auto at = result.faces.begin() + static_cast<long>(number);
  *at = pieces[0];
  result.faces.insert(at + 1, pieces[1]);
  std::string note = say("The part now has {} surfaces.", result.faces.size());
  return {std::move(result), notes_of(place, std::move(note))};
}

OperationPtr SplitSurfaceOperation::with_place(const Pick& face, int number, double u,
                                               double v) const {
  return placed(*this, face, number, u, v);
}

}  // namespace evenclay
