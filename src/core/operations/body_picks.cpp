#include "core/operations/body_picks.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/cut/edge_edit.h"
#include "core/grid/extend.h"
#include "core/operations/common.h"
#include "core/operations/curves.h"
#include "core/source/in_between.h"

namespace evenclay {

namespace {

template <typename Find>
std::vector<std::size_t> found(const std::vector<Pick>& picks, std::string_view what,
                               const Find& find, std::vector<std::string>& notes) {
  std::vector<std::size_t> result;
  int by_nearness = 0;
  for (const Pick& pick : picks) {
    const std::optional<Found> at = find(pick);
    if (!at) continue;
    by_nearness += pick.tag != 0 && !at->by_tag ? 1 : 0;
    if (std::find(result.begin(), result.end(), at->index) == result.end())
      result.push_back(at->index);
  }
  if (result.empty()) throw Error(say("No {} is picked. Click one on the part.", what));
  if (by_nearness > 0)
    notes.push_back(say_of(
        by_nearness,
        "{} picked one is no longer there; the nearest is used. Pick again if it is another.",
        "{} picked ones are no longer there; the nearest are used. Pick again if it is another.",
        by_nearness));
  return result;
}

}  // namespace

Body edged(const Body& body) {
  return with_edges(body);
}

std::vector<std::size_t> faces_picked(const Body& body, const std::vector<Pick>& picks,
                                      std::vector<std::string>& notes) {
  return found(
      picks, "face", [&](const Pick& p) { return find_face(body, p); }, notes);
}

std::vector<std::size_t> edges_picked(const Body& body, const std::vector<Pick>& picks,
                                      std::vector<std::string>& notes) {
  return found(
      picks, "edge", [&](const Pick& p) { return find_edge(body, p); }, notes);
}

Pick pick_of_body_face(const Body& body, std::size_t face) {
  const Face& f = body.faces[face];
  const Parameter at = inner_place(FaceRegion(f));
  return {PickKind::Face, f.tag, evaluate(*f.surface, at.u, at.v)};
}

Pick pick_of_body_edge(const Body& body, std::size_t edge) {
  const Edge& e = body.edges[edge];
  const KnotVector& k = e.curve.knots;
  return {PickKind::Edge, e.tag, evaluate(e.curve, k.first() + 0.5 * k.length())};
}

std::vector<Body> other_bodies(const Inputs& inputs, const std::vector<PartRef>& parts,
                               std::string_view label) {
  if (parts.empty())
    throw Error(say("{} has no other part yet. Choose one in the settings, or click it.", label));
  std::vector<Body> result;
  for (const PartRef& p : parts) result.push_back(faces_of(*inputs.parts.at(p), label));
  return result;
}

std::vector<PartRef> other_picked_bodies(const Beginning& b) {
  std::vector<PartRef> result;
  for (const PartId part : b.picked)
    if (part != b.chosen && is_body(b, part)) result.emplace_back(part);
  return result;
}

OffsetSurface offset_within(double tolerance, Progress& progress) {
  return [tolerance, &progress](const Surface& s, double mm) {
    return offset(s, mm, 0.5 * tolerance, progress).surface;
  };
}

GrowSurface grow_within(double tolerance, Progress& progress) {
  return [tolerance, &progress](const Surface& s, Border border, double mm) {
    ExtendOptions o;
    o.lengths[static_cast<std::size_t>(border)] = mm;
    o.tolerance = 0.5 * tolerance;
    return extend(s, o, progress).surface;
  };
}

void Carried::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 5> ways{{{"across", "Across the curve"},
                                               {"x", "Along x"},
                                               {"y", "Along y"},
                                               {"z", "Along z"},
                                               {"view", "Along a view"}}};
  visit_choice(v, {"direction", "Carried", "The direction in which the curve is carried."}, way,
               ways);
  if (way == Carry::View) describe_place(v, view, "View", "view");
}

Vec3 Carried::along(const Curve& curve) const {
  if (way == Carry::AcrossCurve) return across(curve);
  if (way == Carry::X) return {1, 0, 0};
  if (way == Carry::Y) return {0, 1, 0};
  return way == Carry::Z ? Vec3{0, 0, 1} : view;
}

}  // namespace evenclay
