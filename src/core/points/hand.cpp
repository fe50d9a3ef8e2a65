#include "core/points/hand.h"

#include <algorithm>
#include <limits>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

void need_points(const Hand& hand) {
  if (hand.picked.empty())
    throw Error(say("Nothing is picked. Pick the points first that this is to work on."));
}

// Moves found from the shown nets, with symmetry and holds kept.
template <typename Field>
Shapings moved(const Hand& hand, const Field& field) {
  need_points(hand);
  const PointShares shares = shares_of(hand);
  return with_moves(hand.shapings, hand.shown, field(shares), shares, rules_of(hand));
}

Shapings carry_out(const Hand& h, const MovePoints& e) {
  return moved(h, [&](const PointShares& s) { return moves_of(h.shown, s, e.move); });
}

Shapings carry_out(const Hand& h, const ScalePoints& e) {
  return moved(h, [&](const PointShares& s) { return scale(h.shown, s, e.about, e.factors); });
}

Shapings carry_out(const Hand& h, const TurnPoints& e) {
  return moved(h,
               [&](const PointShares& s) { return turn(h.shown, s, e.centre, e.axis, e.degrees); });
}

Shapings carry_out(const Hand& h, const SetCoordinate& e) {
  return moved(h, [&](const PointShares& s) { return set_coordinate(h.shown, s, e.axis, e.mm); });
}

Shapings carry_out(const Hand& h, const LevelTo& e) {
  return moved(h, [&](const PointShares& s) { return level(h.shown, s, e.plane); });
}

Shapings carry_out(const Hand& h, const LevelToMean&) {
  need_points(h);
  return carry_out(h, LevelTo{mean_plane(h.shown, h.picked)});
}

Shapings carry_out(const Hand& h, const StraightenRows&) {
  return moved(h, [&](const PointShares& s) {
    return straighten_rows(h.shown, s, h.picked, row_direction(h.picked).value_or(0));
  });
}

Shapings carry_out(const Hand& h, const StraightenInView& e) {
  return moved(
      h, [&](const PointShares& s) { return straighten_in_view(h.shown, s, h.picked, e.view); });
}

Shapings carry_out(const Hand& h, const SmoothPoints& e) {
  return moved(h, [&](const PointShares& s) { return smooth(h.shown, s, e.share); });
}

Shapings carry_out(const Hand& h, const RelaxPoints&) {
  return moved(h, [&](const PointShares& s) { return relax_from_borders(h.shown, s); });
}

Shapings carry_out(const Hand& h, const SetWeight& e) {
  need_points(h);
  return with_weight(h.shapings, h.below, with_partners(h.mirrors, h.picked), e.weight);
}

Shapings carry_out(const Hand& h, const MultiplyWeight& e) {
  need_points(h);
  return with_weight_factor(h.shapings, h.shown, with_partners(h.mirrors, h.picked), e.factor);
}

Shapings carry_out(const Hand& h, const PullSkin& e) {
  const PullReach reach = pull_reach(h, e.place);
  ShapeRules rules = rules_of(h);
  rules.leader = reach.leader;
  const Vec3 from = skin_point(h.shown, e.place);
  // Mirrored moves reach the place too: ask for what is still missing until it follows exactly.
  Vec3 asked = e.way;
  Shapings result;
  for (int pass = 0; pass < (h.mirrors.empty() ? 1 : 12); ++pass) {
    const PointMoves field = pull_skin(h.shown, reach.shares, e.place, asked);
    result = with_moves(h.shapings, h.shown, field, reach.shares, rules);
    if (h.mirrors.empty()) break;
    const Nets now = with_shaping(h.below, result);
    asked += e.way - (skin_point(now, e.place) - from);
  }
  return result;
}

Shapings carry_out(const Hand& h, const MakeSymmetric& e) {
  Shapings result = h.shapings;
  Nets now = h.shown;
  for (const SymmetryPlane plane : planes_of(e.planes)) {
    // Of a net shaped by hand the points may be far from symmetric: partners are found on the grid.
    auto map = find_mirror(h.below, plane, kMirrorTolerance);
    if (!map) map = find_mirror(now, plane, 0.25 * box_of(now).size());
    if (!map || !map->on_grid)
      throw Error(say(
          "No side of this net answers the other: rows and columns do not mirror. Rebuild it to "
          "an even count first."));
    result = made_symmetric(result, now, *map, h.leader);
    now = with_shaping(h.below, result);
  }
  return result;
}

Shapings carry_out(const Hand& h, const BringBack&) {
  need_points(h);
  Shapings result = h.shapings;
  for (const PointIndex& p : with_partners(h.mirrors, with_united(h.shown, h.picked))) {
    Shaping& s = result[static_cast<std::size_t>(p.net)];
    if (s.empty()) continue;
    s.displacements(p.i, p.j, p.k) = {};
    if (!s.weight_factors.empty()) s.weight_factors(p.i, p.j, p.k) = 1.0;
  }
  return result;
}

}  // namespace

void check_symmetry(const Hand& hand) {
  if (hand.symmetry != SymmetryPlane::None && hand.mirrors.empty())
    throw Error(
        say("The control points are not symmetric about the chosen planes within 0.01 mm. Switch "
            "symmetry off, choose another plane, or make them symmetric first."));
}

Shapings edited(const Hand& hand, const PointEdit& edit) {
  if (!std::holds_alternative<MakeSymmetric>(edit) && !std::holds_alternative<BringBack>(edit))
    check_symmetry(hand);
  return std::visit([&](const auto& e) { return carry_out(hand, e); }, edit);
}

PointShares shares_of(const Hand& hand) {
  return shares(hand.shown, hand.picked, hand.falloff);
}

PullReach pull_reach(const Hand& h, const SkinPlace& place) {
  PullReach result;
  double nearest = std::numeric_limits<double>::infinity();
  const Vec3 skin = skin_point(h.shown, place);
  for_each_point(h.shown, [&](PointIndex p) {
    if (const double d = distance(h.shown.point(p), skin); d < nearest) {
      nearest = d;
      result.leader = p;
    }
  });
  const bool limited = h.falloff.reach_along > 0 || h.falloff.reach_across > 0;
  result.shares = limited ? shares(h.shown, with_united(h.shown, {result.leader}), h.falloff)
                          : PointShares(h.shown, 1.0);
  for_each_point(h.shown, [&](PointIndex p) {
    if (is_held(h.shown, p, h.holds)) result.shares(p) = 0.0;
  });
  return result;
}

ShapeRules rules_of(const Hand& hand) {
  return {hand.mirrors, hand.leader, hand.holds};
}

Selection with_partners(const std::vector<MirrorMap>& mirrors, Selection points) {
  for (const MirrorMap& m : mirrors)
    for (const PointIndex& p : Selection(points)) points.insert(m.partner(p));
  return points;
}

Box3 box_of(const Nets& nets) {
  Box3 box;
  for_each_point(nets, [&](PointIndex p) { box.add(nets.point(p)); });
  return box;
}

Vec3 pivot_place(const Nets& nets, const Selection& picked, PointIndex leader,
                 SymmetryPlane symmetry, Pivot pivot) {
  Vec3 centre;
  for (const PointIndex& p : picked) centre += nets.point(p);
  if (!picked.empty()) centre = centre / static_cast<double>(picked.size());
  switch (pivot) {
    case Pivot::Picked:
      break;
    case Pivot::Part:
      return box_of(nets).centre();
    case Pivot::Leader:
      return nets.point(leader);
    case Pivot::Symmetry:
      for (const SymmetryPlane plane : planes_of(symmetry))
        centre = (centre + mirrored(centre, plane)) * 0.5;
      break;
  }
  return centre;
}

SkinPlace skin_place(const Nets& nets, int net, double share_u, double share_v) {
  const Net& n = nets.nets[static_cast<std::size_t>(net)];
  const auto at = [](const KnotVector* k, double share) {
    return k == nullptr ? 0.0 : k->first() + std::clamp(share, 0.0, 1.0) * k->length();
  };
  return {net, at(n.knots(0), share_u), at(n.knots(1), share_v)};
}

}  // namespace evenclay
