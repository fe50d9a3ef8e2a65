#include "core/body/pick.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/projector.h"

namespace evenclay {

namespace {

void need(const Pick& pick, PickKind kind) {
  if (pick.kind != kind)
    throw Error(say("A {} is needed here, but a {} is picked.", name_of(kind), name_of(pick.kind)));
}

}  // namespace

std::optional<Found> find_face(const Body& body, const Pick& pick) {
  need(pick, PickKind::Face);
  if (body.faces.empty()) return std::nullopt;
  if (pick.tag != 0)
    if (const int face = face_with_tag(body, pick.tag); face >= 0)
      return Found{static_cast<std::size_t>(face), true, 0.0, 0.0};
  std::vector<std::size_t> candidates;
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    if (pick.tag != 0 && body.faces[f].piece_of == pick.tag) candidates.push_back(f);
  if (candidates.empty())
    for (std::size_t f = 0; f < body.faces.size(); ++f) candidates.push_back(f);
  Body some;
  some.edges = body.edges;
  for (const std::size_t f : candidates) some.faces.push_back(body.faces[f]);
  const BodyProjection p = BodyProjector(some).closest(pick.near);
  return Found{candidates[static_cast<std::size_t>(p.face)], false, p.u, p.v};
}

std::optional<Found> find_edge(const Body& body, const Pick& pick) {
  need(pick, PickKind::Edge);
  std::optional<Found> best;
  double nearest = std::numeric_limits<double>::infinity();
  for (std::size_t e = 0; e < body.edges.size(); ++e) {
    if (pick.tag != 0 && body.edges[e].tag == pick.tag) return Found{e, true, 0.0, 0.0};
    const double d = closest_place(CurveEvaluator(body.edges[e].curve), pick.near).distance;
    if (d >= nearest) continue;
    nearest = d;
    best = Found{e, false, 0.0, 0.0};
  }
  return best;
}

std::string_view name_of(PickKind kind) {
  switch (kind) {
    case PickKind::Face:
      return "face";
    case PickKind::Edge:
      return "edge";
    case PickKind::Corner:
      return "corner";
  }
  return "";
}

PickKind pick_kind(std::string_view name) {
  for (const PickKind kind : {PickKind::Face, PickKind::Edge, PickKind::Corner})
    if (name_of(kind) == name) return kind;
  throw Error(say("'{}' cannot be picked; a face, an edge or a corner can.", name.substr(0, 40)));
}

}  // namespace evenclay
