#include "core/operations/curves.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <memory>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/projector.h"
#include "core/check/folds.h"
#include "core/source/swept.h"

namespace evenclay {

const std::vector<Curve>& curves_of(const Shape& shape, std::string_view label) {
  const auto* set = std::get_if<CurveSet>(&shape);
  if (set == nullptr) throw Error(say("{} works on curves. Choose a part that is a curve.", label));
  if (set->curves.empty())
    throw Error(
        say("{} has no curve to work on. Mend or switch on the steps below it first.", label));
  return set->curves;
}

std::vector<Curve> gathered_curves(const Inputs& inputs, const std::vector<PartRef>& parts,
                                   std::string_view what) {
  if (parts.empty())
    throw Error(
        say("No {} chosen yet. Click the curves in the view, or add their parts in the settings.",
            what));
  std::vector<Curve> result;
  for (const PartRef& part : parts) {
    const auto* set = std::get_if<CurveSet>(inputs.parts.at(part).get());
    if (set == nullptr || set->curves.empty())
      throw Error(say(
          "A part of the list of {} has no curves. Take it out, or choose a part that is a curve.",
          what));
    result.insert(result.end(), set->curves.begin(), set->curves.end());
  }
  return result;
}

Curve single_curve(const Inputs& inputs, const PartRef& part, std::string_view what) {
  if (part.empty())
    throw Error(say("No {} chosen yet. Choose a part that is a curve in the settings.", what));
  const auto* set = std::get_if<CurveSet>(inputs.parts.at(part).get());
  if (set == nullptr || set->curves.size() != 1)
    throw Error(say("The {} must be a part of one curve. Choose another part.", what));
  return set->curves.front();
}

std::vector<const Body*> gathered_bodies(const Inputs& inputs, const std::vector<PartRef>& parts) {
  std::vector<const Body*> result;
  for (const PartRef& part : parts)
    if (const auto* body = std::get_if<Body>(inputs.parts.at(part).get());
        body != nullptr && !body->faces.empty())
      result.push_back(body);
  return result;
}

namespace {

ShapePtr known_shape(const Beginning& b, PartId part) {
  if (part == b.chosen && b.before) return b.before;
  const auto found = b.parts.find(part);
  return found != b.parts.end() ? found->second : nullptr;
}

}  // namespace

bool is_curve(const Beginning& b, PartId part) {
  const ShapePtr shape = known_shape(b, part);
  return shape && std::holds_alternative<CurveSet>(*shape) && !is_empty(*shape);
}

bool is_body(const Beginning& b, PartId part) {
  const ShapePtr shape = known_shape(b, part);
  return shape && std::holds_alternative<Body>(*shape);
}

PartRef other_curve(const Beginning& b) {
  for (const PartId part : b.picked)
    if (part != b.chosen && is_curve(b, part)) return part;
  for (const auto& [part, shape] : b.parts)
    if (part != b.chosen && is_curve(b, part)) return part;
  return {};
}

std::vector<PartRef> picked_curves(const Beginning& b, std::size_t least) {
  std::vector<PartRef> result;
  for (const PartId part : b.picked)
    if (is_curve(b, part) || !known_shape(b, part)) result.emplace_back(part);
  if (least > 1 && result.size() < least)
    if (const PartRef other = other_curve(b);
        !other.empty() && std::find(result.begin(), result.end(), other) == result.end())
      result.push_back(other);
  return result;
}

Vec3 across(const Curve& curve) {
  const CurveEvaluator e(curve);
  std::vector<Vec3> places;
  for (const double t : sample_places(curve.knots, 16)) places.push_back(e.point(t));
  Vec3 sum;
  for (std::size_t k = 0; k < places.size(); ++k)
    sum += cross(places[k] - places[0], places[(k + 1) % places.size()] - places[0]);
  if (length(sum) > 1e-9 * size(curve) * size(curve)) return normalized(sum);
  const Vec3 along = places.back() - places.front();
  const Vec3 side = cross(along, Vec3{0, 0, 1});
  return length(side) > 1e-9 * length(along) ? normalized(cross(side, along)) : Vec3{1, 0, 0};
}

Body outward(std::vector<Surface> surfaces, int step) {
  Body body = body_of(std::move(surfaces), step);
  for (Face& f : body.faces) {
    Box3 box;
    for (const Vec3& p : f.surface->points.values()) box.add(p);
    f.flipped = looks_inward(*f.surface, box.centre());
  }
  return body;
}

Outcome outcome_of(std::vector<Surface> surfaces, int step, std::vector<std::string> notes) {
  for (const Surface& s : surfaces)
    if (const auto at = fold_of(s)) {
      notes.push_back(
          say("The surface folds back on itself at ({:.1f}, {:.1f}, {:.1f}). Where curves "
              "cross each other or run opposite "
              "ways, turn one round or move its points.",
              at->x, at->y, at->z));
      break;
    }
  return {outward(std::move(surfaces), step), std::move(notes)};
}

Onward onward_from(const std::vector<const Body*>& bodies, double tolerance) {
  if (bodies.empty()) return {};
  struct Beside {
    const Body* body;
    BodyProjector projector;
    double probe;  // mm, small against the body
  };
  auto all = std::make_shared<std::vector<Beside>>();
  for (const Body* b : bodies) all->push_back({b, BodyProjector(*b), 1e-3 * size(*b)});
  return [all, tolerance](const Vec3& place, const Vec3& along) -> std::optional<Vec3> {
    for (const Beside& b : *all) {
      const BodyProjection at = b.projector.closest(place);
      if (at.face < 0 || at.distance > tolerance) continue;
      const Vec3 n = normal(*b.body->faces[static_cast<std::size_t>(at.face)].surface, at.u, at.v);
      const Vec3 way = cross(n, along);
      if (!(length(way) > 1e-6)) continue;
      // The way on is the one on which the neighbour's skin is left behind.
      const Vec3 d = normalized(way);
      const double ahead = b.projector.closest(place + d * b.probe).distance;
      const double behind = b.projector.closest(place - d * b.probe).distance;
      return ahead >= behind ? d : d * -1.0;
    }
    return std::nullopt;
  };
}

}  // namespace evenclay
