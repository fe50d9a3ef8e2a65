#include "core/operations/border_surface.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <nlohmann/json.hpp>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/source/curve_work.h"
#include "core/source/loft.h"

namespace evenclay {

namespace {

std::size_t number(int n) {
  return static_cast<std::size_t>(n);
}

// Moves of one family of ribs as curves over [0, 1].
std::vector<Curve> moves_of(const Shapings& all, int from, int count) {
  std::vector<Curve> result;
  for (int k = from; k < from + count; ++k) {
    const Shaping* s = k < static_cast<int>(all.size()) ? &all[number(k)] : nullptr;
    if (s == nullptr || s->empty() || !s->v.knots.empty() || s->u.periodic) {
      result.push_back({uniform_knots(4, 3, false), std::vector<Vec3>(4), {}});
      continue;
    }
    Curve c{s->u, s->displacements.values(), {}};
    c.points.front() = c.points.back() = {};
    result.push_back(std::move(c));
  }
  return result;
}

// A rib's own net: a curve of few points that follows the iso-curve of the surface.
Curve net_along(const Curve& curve, int points) {
  const KnotVector k = uniform_knots(points, std::min(3, points - 1), false);
  const std::vector<double> at = greville_places(k);
  std::vector<double> values;
  const CurveEvaluator e(curve);
  for (const double t : at) {
    const Vec3 p = e.point(curve.knots.first() + t * curve.knots.length());
    values.insert(values.end(), {p.x, p.y, p.z});
  }
  const std::vector<double> x = interpolated(k, at, values, 3);
  Curve c{k, {}, {}};
  for (std::size_t i = 0; i < at.size(); ++i)
    c.points.push_back({x[3 * i], x[3 * i + 1], x[3 * i + 2]});
  return c;
}

// The moves on a rib of that many points; to the bit where it has them already.
Curve shifted(const Curve& moves, int points) {
  if (moves.knots == uniform_knots(points, std::min(3, points - 1), false)) return moves;
  return net_along(moves, points);
}

// What the moves of the ribs come to on ribs of other counts: first the ribs across u take all there is, then
// those across v what is left.
RibMoves carried(const RibMoves& old, int ribs_u, int ribs_v, int points) {
  const KnotVector flat = uniform_knots(2, 1, false);
  const Surface nothing{flat, flat, Grid<Vec3>(2, 2), {}};
  const Surface field = with_ribs(nothing, old);
  RibMoves made;
  for (int k = 1; k <= ribs_u; ++k)
    made.across_u.push_back(
        shifted(iso_curve(field, Direction::U, static_cast<double>(k) / (ribs_u + 1)), points));
  RibMoves minus = made;
  for (Curve& c : minus.across_u)
    for (Vec3& p : c.points) p = p * -1.0;
  const Surface left = with_ribs(field, minus);
  for (int k = 1; k <= ribs_v; ++k)
    made.across_v.push_back(
        shifted(iso_curve(left, Direction::V, static_cast<double>(k) / (ribs_v + 1)), points));
  return made;
}

Shaping shaping_of(const Curve& moves) {
  Shaping s;
  s.u = moves.knots;
  s.displacements = Grid<Vec3>(moves.point_count(), 1);
  s.displacements.values() = moves.points;
  return s;
}

}  // namespace

std::string RibsData::to_json() const {
  return fmt::format(R"({{"across_u":{},"across_v":{},"nets":{}}})", across_u, across_v,
                     ShapingData::to_json());
}

void RibsData::from_json(const std::string& text) {
  try {
    const auto j = nlohmann::ordered_json::parse(text);
    const int u = j.at("across_u").get<int>();
    const int v = j.at("across_v").get<int>();
    if (u < 0 || v < 0 || u > 20 || v > 20) throw Error(say("There are at most 20 ribs each way."));
    ShapingData::from_json(j.at("nets").dump());
    across_u = u;
    across_v = v;
  } catch (const nlohmann::json::exception&) {
    throw Error(say("The ribs are not written as they should be."));
  }
}

void BorderSurfaceOperation::suit(const Beginning& b) {
  border = picked_curves(b);
  for (const PartId p : b.picked)
    if (is_body(b, p)) neighbours.emplace_back(p);
}

void BorderSurfaceOperation::describe(ParameterVisitor& v) {
  v.parts({"border", "Border", "The four curves that go round, in any order."}, border,
          {8, kCurves});
  v.count({"ribs_u", "Ribs across u", "Inner curves to shape, running from bottom to top."}, ribs_u,
          {0, 20});
  v.count({"ribs_v", "Ribs across v", "Inner curves to shape, running from left to right."}, ribs_v,
          {0, 20});
  v.count({"rib_points", "Points a rib", "Control points of each rib, with its two ends."},
          rib_points, {4, 40});
  v.number({"push", "Push", "Raises the inner area; borders keep place and direction."}, push,
           {-10000.0, 10000.0, "mm", 1.0, 3});
  v.parts({"neighbours", "Goes on from",
           "Parts beside the border that the surface leaves tangent; where none lies it is free."},
          neighbours, {20, kBody});
  describe_symmetry(v, symmetry);
  v.data({"ribs", "Ribs", "What the hand did to the ribs' points."}, ribs);
}

std::string BorderSurfaceOperation::summary() const {
  return say("{} × {} ribs{}", ribs_u, ribs_v, push != 0.0 ? say(", push {:g} mm", push) : "");
}

Outcome BorderSurfaceOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const std::vector<Curve> curves = gathered_curves(inputs, border, "border");
  Surface s = coons(four_borders(curves, inputs.tolerance));
  std::vector<std::string> notes;
  const auto bodies = gathered_bodies(inputs, neighbours);
  const Onward onward = onward_from(bodies, std::max(inputs.tolerance, 1e-3));
  if (onward) {
    const MadeTangent t = made_tangent(s, onward);
    s = t.surface;
    notes.push_back(t.borders == 0
                        ? say("None of the parts to go on from lies along a whole border.")
                        : say("It leaves its neighbours along {} of 4 borders within {:.2f}°.",
                              t.borders, t.worst_degrees));
  }
  s = pushed(s, push);
  RibMoves moves{moves_of(ribs.nets, 0, ribs.across_u),
                 moves_of(ribs.nets, ribs.across_u, ribs.across_v)};
  if (ribs.across_u != ribs_u || ribs.across_v != ribs_v) {
    const bool shaped = std::any_of(ribs.nets.begin(), ribs.nets.end(),
                                    [](const Shaping& r) { return !r.empty(); });
    moves = carried(moves, ribs_u, ribs_v, rib_points);
    if (shaped)
      notes.push_back(say("Shaped on {} × {} ribs, carried over to {} × {}.", ribs.across_u,
                          ribs.across_v, ribs_u, ribs_v));
  }
  const Surface bare = s;
  s = with_ribs(s, moves);
  // Each rib's net lies where the others have moved it to; what it does itself comes on top.
  auto hand = std::make_shared<HandNets>();
  std::vector<Net> nets;
  const auto add = [&](const std::vector<Curve>& family, Direction constant) {
    const auto count = static_cast<int>(family.size());
    for (int k = 0; k < count; ++k) {
      const KnotVector& along = constant == Direction::U ? bare.u : bare.v;
      const double at = along.first() + along.length() * (k + 1) / (count + 1);
      Curve net = net_along(iso_curve(s, constant, at), rib_points);
      Curve own = shifted(family[number(k)], rib_points);
      for (std::size_t i = 0; i < net.points.size(); ++i)
        net.points[i] = net.points[i] - own.points[i];
      nets.emplace_back(std::move(net));
      hand->shapings.push_back(shaping_of(own));
    }
  };
  add(moves.across_u, Direction::U);
  add(moves.across_v, Direction::V);
  hand->below = Nets(std::move(nets));
  Outcome outcome = outcome_of({std::move(s)}, inputs.step, std::move(notes));
  if (!hand->shapings.empty()) outcome.hand = std::move(hand);
  return outcome;
}

ShapesPoints::Offer BorderSurfaceOperation::offered(const Shape&) const {
  throw Error(say("The ribs of a border surface come with its shape."));
}

OperationPtr BorderSurfaceOperation::with_shapings(Shapings shapings) const {
  auto changed = std::make_shared<BorderSurfaceOperation>(*this);
  changed->ribs.nets = std::move(shapings);
  changed->ribs.across_u = ribs_u;
  changed->ribs.across_v = ribs_v;
  return changed;
}

OperationPtr BorderSurfaceOperation::with_symmetry(SymmetryPlane planes) const {
  auto changed = std::make_shared<BorderSurfaceOperation>(*this);
  changed->symmetry = planes;
  return changed;
}

std::array<EdgeRule, 4> BorderSurfaceOperation::edge_rules() const {
  return {EdgeRule::Position, EdgeRule::Position, EdgeRule::Free, EdgeRule::Free};
}

}  // namespace evenclay
