#include "core/points/shaping.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/refit.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

KnotVector to_unit(KnotVector k) {
  if (k.knots.empty()) return k;
  const double first = k.first();
  const double length = k.length();
  for (double& t : k.knots) t = (t - first) / length;
  return k;
}

int count_of(const KnotVector& k) {
  return k.knots.empty() ? 1 : k.point_count();
}

// A fitted field may differ by rounding where points are one place: make it one value again.
void unite(const Nets& below, Grid<Vec3>& values) {
  for (const auto& one_place : below.united)
    for (const PointIndex& p : one_place)
      values(p.i, p.j, p.k) = values(one_place.front().i, one_place.front().j, one_place.front().k);
}

bool same_net(const Shaping& s, const Net& below) {
  if (const FormNet* f = below.form()) return s.tags == f->links->point_tags;
  if (!s.tags.empty()) return false;
  const std::array<const KnotVector*, 3> old{&s.u, &s.v, &s.w};
  for (int d = 0; d < 3; ++d) {
    const KnotVector* k = below.knots(d);
    if (!(to_unit(*old[at(d)]) == (k == nullptr ? KnotVector{} : to_unit(*k)))) return false;
  }
  return true;
}

Shaping with_knots_of(Shaping s, const Net& below) {
  if (below.knots(0) != nullptr) s.u = *below.knots(0);
  if (below.knots(1) != nullptr) s.v = *below.knots(1);
  if (below.knots(2) != nullptr) s.w = *below.knots(2);
  if (const FormNet* f = below.form()) s.tags = f->links->point_tags;
  return s;
}

void check_carriable(const Shaping& s, const Net& below) {
  if (!s.tags.empty() || below.form() != nullptr)
    throw Error(say(
        "The points were shaped on a subdivision form where there is something else now, or the "
        "other way "
        "round. Switch this step off, or bring the earlier shape back."));
  if (below.directions() == 3 || !s.w.knots.empty())
    throw Error(say(
        "The points were shaped on another cage than the one below now. Switch this step off, or "
        "bring the earlier counts back."));
  if (s.v.knots.empty() != (below.directions() == 1))
    throw Error(say(
        "The points were shaped on a curve where there is a surface now, or the other way round. "
        "Switch this step off, or bring the earlier shape back."));
  if (s.u.periodic != below.closed(0) || s.v.periodic != below.closed(1))
    throw Error(say(
        "The points were shaped on a shape that was closed in another direction than the one below "
        "now. Switch this step off, or bring the earlier shape back."));
}

// The net as a surface over [0, 1]²: a curve as a strip, so that one refit serves both.
Surface unit_surface(const Net& net) {
  Surface s = net.surface() != nullptr ? *net.surface() : strip_of(*net.curve(), {0, 0, 1});
  s.u = to_unit(s.u);
  s.v = to_unit(s.v);
  return s;
}

Net net_like(const Net& kind, Surface s) {
  if (kind.curve() != nullptr) return first_row(s);
  return s;
}

}  // namespace

Shaping no_shaping(const Net& net) {
  Shaping s;
  s.displacements = Grid<Vec3>::layered(net.count(0), net.count(1), net.count(2));
  return with_knots_of(std::move(s), net);
}

Shapings no_shapings(const Nets& nets) {
  Shapings result;
  for (const Net& n : nets.nets) result.push_back(no_shaping(n));
  return result;
}

void check(const Shaping& s) {
  if (s.empty()) return;
  for (const Vec3& d : s.displacements.values())
    if (!is_finite(d))
      throw Error(say("The shaping moves a point by something that is not a number."));
  if (!s.tags.empty()) {
    if (!s.displacements.same_size(static_cast<int>(s.tags.size()), 1, 1))
      throw Error(say("The shaping's moves do not fit the points they belong to."));
    return;
  }
  check(s.u, "u direction of the shaping");
  if (!s.v.knots.empty()) check(s.v, "v direction of the shaping");
  if (!s.w.knots.empty()) check(s.w, "w direction of the shaping");
  if (!s.displacements.same_size(count_of(s.u), count_of(s.v), count_of(s.w)))
    throw Error(say("The shaping's moves do not fit the grid they were made on."));
  if (s.weight_factors.empty()) return;
  if (!s.weight_factors.same_size(count_of(s.u), count_of(s.v), count_of(s.w)))
    throw Error(say("The shaping's weights do not fit the grid they were made on."));
  for (const double w : s.weight_factors.values())
    if (!(w > 0.0) || !std::isfinite(w))
      throw Error(say("The shaping holds a weight that is not greater than 0."));
}

namespace {

// What each point of the form was given, by its name; the others nothing.
Shaping by_names(const Shaping& shaping, const FormNet& form) {
  std::unordered_map<Tag, Vec3> moves;
  for (std::size_t k = 0; k < shaping.tags.size(); ++k)
    if (const Vec3& d = shaping.displacements.values()[k]; d != Vec3{}) moves[shaping.tags[k]] = d;
  Shaping result = no_shaping(form);
  for (std::size_t k = 0; k < result.tags.size(); ++k)
    if (const auto found = moves.find(result.tags[k]); found != moves.end())
      result.displacements.values()[k] = found->second;
  return result;
}

}  // namespace

CarriedShaping carry(const Shaping& shaping, const Net& below) {
  if (shaping.empty()) return {no_shaping(below), false, {}};
  if (same_net(shaping, below)) return {with_knots_of(shaping, below), false, {}};
  if (below.lattice() != nullptr && !shaping.w.knots.empty()) {
    CarriedShaping moved{no_shaping(below), true, {}};
    moved.shaping.displacements =
        on_lattice(shaping.u, shaping.v, shaping.w, shaping.displacements, *below.lattice());
    return moved;
  }
  if (const FormNet* form = below.form(); form != nullptr && !shaping.tags.empty())
    return {by_names(shaping, *form), false, {}};
  check_carriable(shaping, below);
  const Surface unit_below = unit_surface(below);
  const KnotVector old_u = to_unit(shaping.u);
  const bool curve = below.curve() != nullptr;
  const KnotVector old_v = curve ? unit_below.v : to_unit(shaping.v);
  Progress progress;
  const Net back = net_like(below, refit(unit_below, old_u, old_v, {}, progress));
  Shaping unit = shaping;
  unit.u = old_u;
  if (!curve) unit.v = old_v;
  CarriedShaping result{no_shaping(below), true, with_shaping(back, unit)};
  const Net fitted = net_like(below, refit(unit_surface(*result.wanted), unit_below.u, unit_below.v,
                                           {.keep_weights = true}, progress));
  Shaping& carried = result.shaping;
  bool rational = false;
  for_each_point(below, 0, [&](PointIndex p) {
    carried.displacements(p.i, p.j, p.k) = fitted.point(p.i, p.j, p.k) - below.point(p.i, p.j, p.k);
    rational |= fitted.weight(p.i, p.j, p.k) != below.weight(p.i, p.j, p.k);
  });
  unite(Nets(std::vector<Net>{below}), carried.displacements);
  if (!rational) return result;
  carried.weight_factors = Grid<double>(below.count(0), below.count(1), 1.0);
  for_each_point(below, 0, [&](PointIndex p) {
    carried.weight_factors(p.i, p.j) =
        std::clamp(fitted.weight(p.i, p.j, 0) / below.weight(p.i, p.j, 0), 1e-3, 1e3);
  });
  return result;
}

namespace {

// The part of a surface between two values of a direction.
Surface part_of(Surface s, Direction d, double from, double to) {
  const KnotVector& k = knots_of(s, d);
  const double least = 1e-9 * k.length();
  if (from > k.first() + least) s = split(clamped_along(s, d), d, from).second;
  if (to < knots_of(s, d).last() - least) s = split(clamped_along(s, d), d, to).first;
  return s;
}

}  // namespace

Shaping restricted(const Shaping& shaping, double u0, double u1, double v0, double v1) {
  Shaping result = shaping;
  const auto part = [&](const Surface& whole) {
    return part_of(part_of(whole, Direction::U, u0, u1), Direction::V, v0, v1);
  };
  const Surface moves = part({shaping.u, shaping.v, shaping.displacements, {}});
  result.u = moves.u;
  result.v = moves.v;
  result.displacements = moves.points;
  if (shaping.weight_factors.empty()) return result;
  Grid<Vec3> factors(shaping.weight_factors.rows(), shaping.weight_factors.columns());
  for (std::size_t k = 0; k < factors.values().size(); ++k)
    factors.values()[k].x = shaping.weight_factors.values()[k];
  const Surface kept = part({shaping.u, shaping.v, factors, {}});
  result.weight_factors = Grid<double>(kept.points.rows(), kept.points.columns());
  for (std::size_t k = 0; k < kept.points.values().size(); ++k)
    result.weight_factors.values()[k] = kept.points.values()[k].x;
  return result;
}

Net with_shaping(const Net& below, const Shaping& s) {
  Net result = below;
  for_each_point(below, 0, [&](PointIndex p) {
    const Vec3& d = s.displacements(p.i, p.j, p.k);
    if (d != Vec3{}) result.set_point(p.i, p.j, p.k, below.point(p.i, p.j, p.k) + d);
  });
  if (!s.weight_factors.empty()) result.multiply_weights(s.weight_factors);
  return result;
}

Nets with_shaping(const Nets& below, const Shapings& shapings) {
  Nets result = below;
  for (std::size_t n = 0; n < result.nets.size() && n < shapings.size(); ++n)
    if (!shapings[n].empty()) result.nets[n] = with_shaping(below.nets[n], shapings[n]);
  return result;
}

Surface with_shaping(const Surface& below, const Shaping& shaping) {
  return *with_shaping(Net(below), shaping).surface();
}

GrevillePlace greville(const Nets& nets, PointIndex p) {
  const Net& net = nets.of(p);
  return {greville_places(*net.knots(0))[at(p.i)],
          net.knots(1) != nullptr ? greville_places(*net.knots(1))[at(p.j)] : 0.0};
}

int rows_held(EdgeRule rule) {
  return rule == EdgeRule::FreeTangent ? 0 : static_cast<int>(rule);
}

namespace {

bool held_alone(const Net& net, PointIndex p, const std::array<EdgeRule, 4>& edges) {
  for (int d = 0; d < std::min(net.directions(), 2); ++d) {
    if (net.closed(d)) continue;
    const int place = place_along(p, d);
    if (place < rows_held(edges[at(2 * d)]) ||
        net.count(d) - 1 - place < rows_held(edges[at(2 * d + 1)]))
      return true;
  }
  return false;
}

}  // namespace

bool is_held(const Nets& nets, PointIndex p, const std::array<EdgeRule, 4>& edges) {
  const auto found = nets.united_of.find(p);
  if (found == nets.united_of.end()) return held_alone(nets.of(p), p, edges);
  const auto& all = nets.united[found->second];
  return std::any_of(all.begin(), all.end(),
                     [&](const PointIndex& q) { return held_alone(nets.of(q), q, edges); });
}

namespace {

// Moves of points that are one place become one: the longest of them.
void unite_moves(const Nets& nets, PointMoves& field) {
  for (const auto& one_place : nets.united) {
    Vec3 longest;
    for (const PointIndex& p : one_place)
      if (length(field(p)) > length(longest)) longest = field(p);
    for (const PointIndex& p : one_place) field(p) = longest;
  }
}

// At an edge that is free but keeps its tangent, the border's point and the one behind it move
// together, whichever of them was moved.
void link_rows(const Nets& nets, const std::array<EdgeRule, 4>& edges, PointMoves& field) {
  for (int n = 0; n < static_cast<int>(nets.nets.size()); ++n) {
    const Net& net = nets.nets[at(n)];
    for (int e = 0; e < 4; ++e) {
      const int d = e / 2;
      if (edges[at(e)] != EdgeRule::FreeTangent || d >= net.directions() || net.closed(d)) continue;
      const int border = e % 2 == 0 ? 0 : net.count(d) - 1;
      const int behind = e % 2 == 0 ? 1 : net.count(d) - 2;
      for_each_point(net, n, [&](PointIndex p) {
        if (place_along(p, d) != border) return;
        const PointIndex q = with_place(p, d, behind);
        if (length(field(q)) > length(field(p)))
          field(p) = field(q);
        else
          field(q) = field(p);
      });
    }
  }
}

// Partners take the mirrored moves; the shares follow, for a further plane.
void mirror_moves(const Nets& nets, const MirrorMap& mirror, PointIndex leader, PointMoves& field,
                  PointShares& shares) {
  double lead_side = side_of(nets.point(leader), mirror.plane);
  if (std::abs(lead_side) < 1e-9) lead_side = 1.0;  // a leader on the plane: one side must lead
  const PointMoves before = field;
  const PointShares taking_part = shares;
  for_each_point(nets, [&](PointIndex p) {
    if (!(taking_part(p) > 0.0)) return;
    const PointIndex q = mirror.partner(p);
    const Vec3& d = before(p);
    if (nets.representative(q) == nets.representative(p)) {  // on the plane
      field(p) = (d + mirrored(d, mirror.plane)) * 0.5;
      return;
    }
    const bool follows =
        taking_part(q) > 0.0 && lead_side * side_of(nets.point(p), mirror.plane) < 0.0;
    if (follows) return;
    field(q) = mirrored(d, mirror.plane);
    shares(q) = std::max(shares(q), taking_part(p));
  });
}

// Points that are held, and those whose partners are: the held side decides for both.
PerPoint<char> held_points(const Nets& nets, const ShapeRules& rules) {
  PerPoint<char> held(nets, 0);
  if (std::none_of(rules.edges.begin(), rules.edges.end(),
                   [](EdgeRule e) { return rows_held(e) > 0; }))
    return held;
  for_each_point(nets, [&](PointIndex p) { held(p) = is_held(nets, p, rules.edges) ? 1 : 0; });
  for (const MirrorMap& mirror : rules.mirrors) {
    const PerPoint<char> before = held;
    for_each_point(nets, [&](PointIndex p) {
      if (before(p) != 0) held(mirror.partner(p)) = 1;
    });
  }
  return held;
}

}  // namespace

Shapings with_moves(const Shapings& shapings, const Nets& nets, const PointMoves& moves,
                    const PointShares& shares, const ShapeRules& rules) {
  PointMoves field = moves;
  PointShares taking_part = shares;
  unite_moves(nets, field);
  if (std::any_of(rules.edges.begin(), rules.edges.end(),
                  [](EdgeRule e) { return e == EdgeRule::FreeTangent; })) {
    link_rows(nets, rules.edges, field);
    unite_moves(nets, field);
    for_each_point(nets, [&](PointIndex p) {
      if (field(p) != Vec3{} && taking_part(p) == 0.0) taking_part(p) = 1.0;
    });
  }
  for (const MirrorMap& mirror : rules.mirrors)
    mirror_moves(nets, mirror, rules.leader, field, taking_part);
  const PerPoint<char> held = held_points(nets, rules);
  Shapings result = shapings;
  result.resize(nets.nets.size());
  for (std::size_t n = 0; n < result.size(); ++n)
    if (result[n].empty()) result[n] = no_shaping(nets.nets[n]);
  for_each_point(nets, [&](PointIndex p) {
    if (held(p) == 0 && field(p) != Vec3{})
      result[at(p.net)].displacements(p.i, p.j, p.k) += field(p);
  });
  return result;
}

Shapings made_symmetric(const Shapings& shapings, const Nets& nets, const MirrorMap& mirror,
                        PointIndex leader) {
  const double lead_side = side_of(nets.point(leader), mirror.plane);
  Shapings result = shapings;
  result.resize(nets.nets.size());
  for (std::size_t n = 0; n < result.size(); ++n)
    if (result[n].empty()) result[n] = no_shaping(nets.nets[n]);
  for_each_point(nets, [&](PointIndex index) {
    const PointIndex q = mirror.partner(index);
    const Vec3& p = nets.point(index);
    Vec3& d = result[at(index.net)].displacements(index.i, index.j, index.k);
    if (nets.representative(q) == nets.representative(index))  // on the plane
      d += (mirrored(p, mirror.plane) - p) * 0.5;
    else if (lead_side * side_of(p, mirror.plane) < 0.0)
      d += mirrored(nets.point(q), mirror.plane) - p;
  });
  return result;
}

namespace {

void check_weight(double weight) {
  if (!(weight >= 0.01 && weight <= 100.0))
    throw Error(say("The weight {} cannot be used; choose 0.01 to 100.", weight));
}

// new_factor(p, old factor) for every point, and those that are one place with it.
template <typename F>
Shapings with_factors(const Shapings& shapings, const Nets& nets, const Selection& points,
                      const F& new_factor) {
  Shapings result = shapings;
  result.resize(nets.nets.size());
  for (const PointIndex& p : with_united(nets, points)) {
    const Net& net = nets.of(p);
    if (net.lattice() != nullptr || net.form() != nullptr) continue;
    Shaping& s = result[at(p.net)];
    if (s.empty()) s = no_shaping(net);
    if (s.weight_factors.empty()) s.weight_factors = Grid<double>(net.count(0), net.count(1), 1.0);
    s.weight_factors(p.i, p.j) = new_factor(p, s.weight_factors(p.i, p.j));
  }
  for (Shaping& s : result) {
    const auto& factors = s.weight_factors.values();
    if (std::all_of(factors.begin(), factors.end(), [](double w) { return w == 1.0; }))
      s.weight_factors = {};
  }
  return result;
}

}  // namespace

Shapings with_weight(const Shapings& shapings, const Nets& below, const Selection& points,
                     double weight) {
  check_weight(weight);
  return with_factors(shapings, below, points,
                      [&](PointIndex p, double) { return weight / below.weight(p); });
}

Shapings with_weight_factor(const Shapings& shapings, const Nets& nets, const Selection& points,
                            double factor) {
  return with_factors(shapings, nets, points, [&](PointIndex p, double old) {
    const double now = nets.weight(p);
    return old * std::clamp(now * factor, 0.01, 100.0) / now;
  });
}

Shaping moved(const Shaping& shaping, const Surface& s, const Selection& selection,
              const Move& move, const std::optional<MirrorMap>& mirror, PointIndex leader) {
  const Nets nets(s);
  PointShares shares(nets);
  for (const PointIndex& p : with_united(nets, selection)) shares(p) = 1.0;
  ShapeRules rules;
  if (mirror) rules.mirrors.push_back(*mirror);
  rules.leader = leader;
  return with_moves({shaping}, nets, moves_of(nets, shares, move), shares, rules).front();
}

}  // namespace evenclay
