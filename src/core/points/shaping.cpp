#include "core/points/shaping.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/nurbs/refit.h"
#include "core/points/poles.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

KnotVector to_unit(KnotVector k) {
  const double first = k.first();
  const double length = k.length();
  for (double& t : k.knots) t = (t - first) / length;
  return k;
}

// A fitted field may differ by rounding along a collapsed row: make it one value again.
void unite_poles(const Surface& below, Grid<Vec3>& values) {
  for (const auto& row : pole_rows(below))
    for (const PointIndex& p : row) values(p.i, p.j) = values(row.front().i, row.front().j);
}

}  // namespace

Shaping no_shaping(const Surface& s) {
  return {s.u, s.v, Grid<Vec3>(s.points.rows(), s.points.columns()), {}};
}

void check(const Shaping& s) {
  if (s.empty()) return;
  check(s.u, "u direction of the shaping");
  check(s.v, "v direction of the shaping");
  if (!s.displacements.same_size(s.u.point_count(), s.v.point_count()))
    throw Error("The shaping's moves do not fit the grid they were made on.");
  for (const Vec3& d : s.displacements.values())
    if (!is_finite(d)) throw Error("The shaping moves a point by something that is not a number.");
  if (s.weight_factors.empty()) return;
  if (!s.weight_factors.same_size(s.u.point_count(), s.v.point_count()))
    throw Error("The shaping's weights do not fit the grid they were made on.");
  for (const double w : s.weight_factors.values())
    if (!(w > 0.0) || !std::isfinite(w))
      throw Error("The shaping holds a weight that is not greater than 0.");
}

CarriedShaping carry(const Shaping& shaping, const Surface& below) {
  if (shaping.empty()) return {no_shaping(below), false, {}};
  const KnotVector u = to_unit(below.u);
  const KnotVector v = to_unit(below.v);
  const KnotVector old_u = to_unit(shaping.u);
  const KnotVector old_v = to_unit(shaping.v);
  if (old_u == u && old_v == v) {
    CarriedShaping kept{shaping, false, {}};
    kept.shaping.u = below.u;
    kept.shaping.v = below.v;
    return kept;
  }
  if (shaping.u.periodic != below.u.periodic || shaping.v.periodic != below.v.periodic)
    throw Error(
        "The points were shaped on a surface that was closed in another direction than the one "
        "below now. Switch this step off, or bring the earlier shape back.");
  Progress progress;
  const Surface unit_below{u, v, below.points, below.weights};
  const Shaping unit{old_u, old_v, shaping.displacements, shaping.weight_factors};
  CarriedShaping result{no_shaping(below), true, {}};
  result.wanted = apply(refit(unit_below, old_u, old_v, {}, progress), unit);
  const Surface fitted = refit(result.wanted, u, v, {.keep_weights = true}, progress);
  Shaping& carried = result.shaping;
  for (std::size_t k = 0; k < carried.displacements.values().size(); ++k)
    carried.displacements.values()[k] = fitted.points.values()[k] - below.points.values()[k];
  unite_poles(below, carried.displacements);
  if (!fitted.rational() && !below.rational()) return result;
  carried.weight_factors = Grid<double>(below.points.rows(), below.points.columns(), 1.0);
  for (int i = 0; i < below.points.rows(); ++i)
    for (int j = 0; j < below.points.columns(); ++j)
      carried.weight_factors(i, j) =
          std::clamp(fitted.weight(i, j) / below.weight(i, j), 1e-3, 1e3);
  return result;
}

Surface apply(const Surface& below, const Shaping& s) {
  Surface result = below;
  for (std::size_t k = 0; k < result.points.values().size(); ++k)
    result.points.values()[k] += s.displacements.values()[k];
  if (s.weight_factors.empty()) return result;
  if (result.weights.empty())
    result.weights = Grid<double>(result.points.rows(), result.points.columns(), 1.0);
  for (std::size_t k = 0; k < result.weights.values().size(); ++k)
    result.weights.values()[k] *= s.weight_factors.values()[k];
  return result;
}

std::vector<SymmetryPlane> planes_of(SymmetryPlane choice) {
  using enum SymmetryPlane;
  switch (choice) {
    case None:
      return {};
    case YZAndXZ:
      return {YZ, XZ};
    case XZAndXY:
      return {XZ, XY};
    case YZAndXY:
      return {YZ, XY};
    case All:
      return {YZ, XZ, XY};
    default:
      return {choice};
  }
}

Vec3 mirrored(const Vec3& p, SymmetryPlane plane) {
  switch (plane) {
    case SymmetryPlane::YZ:
      return {-p.x, p.y, p.z};
    case SymmetryPlane::XZ:
      return {p.x, -p.y, p.z};
    case SymmetryPlane::XY:
      return {p.x, p.y, -p.z};
    default:
      break;
  }
  return p;
}

namespace {

// An index map of one direction: k → (±k + shift) mod n, or reversal when not periodic.
std::vector<std::vector<int>> index_maps(const KnotVector& k) {
  const int n = k.point_count();
  std::vector<std::vector<int>> maps;
  const auto add = [&](auto&& f) {
    std::vector<int> map;
    for (int i = 0; i < n; ++i) map.push_back(f(i));
    maps.push_back(std::move(map));
  };
  if (!k.periodic) {
    add([](int i) { return i; });
    add([n](int i) { return n - 1 - i; });
    return maps;
  }
  for (int shift = 0; shift < n; ++shift) {
    add([=](int i) { return (i + shift) % n; });
    add([=](int i) { return (shift - i + n) % n; });
  }
  return maps;
}

double mismatch(const Surface& s, SymmetryPlane plane, const std::vector<int>& mu,
                const std::vector<int>& mv, double give_up) {
  double worst = 0.0;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      worst = std::max(worst,
                       distance(mirrored(s.points(i, j), plane), s.points(mu[at(i)], mv[at(j)])));
      if (worst > give_up) return worst;
    }
  return worst;
}

}  // namespace

std::optional<MirrorMap> find_mirror(const Surface& s, SymmetryPlane plane, double tolerance) {
  if (plane == SymmetryPlane::None) return std::nullopt;
  MirrorMap best{plane, Grid<PointIndex>(s.points.rows(), s.points.columns()), true, tolerance};
  bool found = false;
  for (const auto& mu : index_maps(s.u))
    for (const auto& mv : index_maps(s.v)) {
      const double gap = mismatch(s, plane, mu, mv, best.worst_gap);
      if (gap > best.worst_gap || (found && gap == best.worst_gap)) continue;
      found = true;
      best.worst_gap = gap;
      for (int i = 0; i < s.points.rows(); ++i)
        for (int j = 0; j < s.points.columns(); ++j) best.partner(i, j) = {0, mu[at(i)], mv[at(j)]};
    }
  if (found) return best;
  best.on_grid = false;
  best.worst_gap = 0.0;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      const Vec3 image = mirrored(s.points(i, j), plane);
      double nearest = std::numeric_limits<double>::infinity();
      for (int k = 0; k < s.points.rows(); ++k)
        for (int l = 0; l < s.points.columns(); ++l)
          if (const double d = distance(image, s.points(k, l)); d < nearest) {
            nearest = d;
            best.partner(i, j) = {0, k, l};
          }
      best.worst_gap = std::max(best.worst_gap, nearest);
      if (best.worst_gap > tolerance) return std::nullopt;
    }
  return best;
}

std::optional<std::vector<MirrorMap>> find_mirrors(const Surface& s, SymmetryPlane choice,
                                                   double tolerance) {
  std::vector<MirrorMap> result;
  for (const SymmetryPlane plane : planes_of(choice)) {
    auto map = find_mirror(s, plane, tolerance);
    if (!map) return std::nullopt;
    result.push_back(std::move(*map));
  }
  return result;
}

GrevillePlace greville(const Surface& s, PointIndex p) {
  return {greville_places(s.u)[at(p.i)], greville_places(s.v)[at(p.j)]};
}

Vec3 skin_normal(const Surface& s, PointIndex p) {
  const GrevillePlace g = greville(s, p);
  return normal(s, g.u, g.v);
}

namespace {

// The leg from a point to the next one of its row, or from the one before for negative amounts;
// at an end whichever there is.
Vec3 leg(const Surface& s, PointIndex p, bool along_u, bool forward) {
  const int count = along_u ? s.points.rows() : s.points.columns();
  const bool periodic = along_u ? s.u.periodic : s.v.periodic;
  const int k = along_u ? p.i : p.j;
  const auto point = [&](int n) {
    n = (n + count) % count;
    return along_u ? s.points(n, p.j) : s.points(p.i, n);
  };
  if (!periodic && k == 0) forward = true;
  if (!periodic && k + 1 == count) forward = false;
  return normalized(forward ? point(k + 1) - point(k) : point(k) - point(k - 1));
}

Vec3 displacement_of(const Surface& s, PointIndex p, const Move& move) {
  const auto within = [&](const Vec3& normal) {
    return move.vector - normal * dot(move.vector, normal);
  };
  switch (move.direction) {
    case MoveDirection::X:
      return {move.amount, 0, 0};
    case MoveDirection::Y:
      return {0, move.amount, 0};
    case MoveDirection::Z:
      return {0, 0, move.amount};
    case MoveDirection::OffSkin:
      return skin_normal(s, p) * move.amount;
    case MoveDirection::InView:
      return move.vector;
    case MoveDirection::OnSkin:
      return within(skin_normal(s, p));
    case MoveDirection::AlongU:
      return leg(s, p, true, move.amount >= 0.0) * move.amount;
    case MoveDirection::AlongV:
      return leg(s, p, false, move.amount >= 0.0) * move.amount;
    case MoveDirection::WorkPlane:
      return within(normalized(move.plane_normal));
  }
  return {};
}

double side_of(const Vec3& p, SymmetryPlane plane) {
  return plane == SymmetryPlane::YZ ? p.x : (plane == SymmetryPlane::XZ ? p.y : p.z);
}

// Points of one collapsed row share one move: that of the row's first point.
PointIndex representative(const Surface& s, PointIndex p) {
  return *with_whole_poles(s, {p}, kPoleTolerance).begin();
}

// Moves of collapsed rows become one: the longest of the row.
void unite_pole_moves(const Surface& s, Grid<Vec3>& field) {
  for (const auto& row : pole_rows(s)) {
    Vec3 longest;
    for (const PointIndex& p : row)
      if (length(field(p.i, p.j)) > length(longest)) longest = field(p.i, p.j);
    for (const PointIndex& p : row) field(p.i, p.j) = longest;
  }
}

// Partners take the mirrored moves; the shares follow, for a further plane.
void mirror_moves(const Surface& s, const MirrorMap& mirror, PointIndex leader, Grid<Vec3>& field,
                  Grid<double>& shares) {
  double lead_side = side_of(s.points(leader.i, leader.j), mirror.plane);
  if (std::abs(lead_side) < 1e-9) lead_side = 1.0;  // a leader on the plane: one side must lead
  const Grid<Vec3> before = field;
  const Grid<double> taking_part = shares;
  for (int i = 0; i < field.rows(); ++i)
    for (int j = 0; j < field.columns(); ++j) {
      if (!(taking_part(i, j) > 0.0)) continue;
      const PointIndex q = mirror.partner(i, j);
      const Vec3& d = before(i, j);
      if ((q.i == i && q.j == j) ||
          representative(s, {0, q.i, q.j}) == representative(s, {0, i, j})) {  // on the plane
        field(i, j) = (d + mirrored(d, mirror.plane)) * 0.5;
        continue;
      }
      const bool follows =
          taking_part(q.i, q.j) > 0.0 && lead_side * side_of(s.points(i, j), mirror.plane) < 0.0;
      if (follows) continue;
      field(q.i, q.j) = mirrored(d, mirror.plane);
      shares(q.i, q.j) = std::max(shares(q.i, q.j), taking_part(i, j));
    }
}

}  // namespace

bool is_held(const Surface& s, PointIndex p, const std::array<int, 4>& held) {
  const int last_u = s.points.rows() - 1;
  const int last_v = s.points.columns() - 1;
  const bool u = !s.u.periodic && (p.i < held[0] || last_u - p.i < held[1]);
  const bool v = !s.v.periodic && (p.j < held[2] || last_v - p.j < held[3]);
  return u || v;
}

Grid<Vec3> moves_of(const Surface& s, const Grid<double>& shares, const Move& move) {
  Grid<Vec3> field(s.points.rows(), s.points.columns());
  for (int i = 0; i < field.rows(); ++i)
    for (int j = 0; j < field.columns(); ++j)
      if (shares(i, j) > 0.0)
        field(i, j) = displacement_of(s, representative(s, {0, i, j}), move) * shares(i, j);
  return field;
}

Shaping with_moves(const Shaping& shaping, const Surface& s, const Grid<Vec3>& moves,
                   const Grid<double>& shares, const ShapeRules& rules) {
  Grid<Vec3> field = moves;
  Grid<double> taking_part = shares;
  unite_pole_moves(s, field);
  for (const MirrorMap& mirror : rules.mirrors)
    mirror_moves(s, mirror, rules.leader, field, taking_part);
  Shaping result = shaping.empty() ? no_shaping(s) : shaping;
  for (int i = 0; i < field.rows(); ++i)
    for (int j = 0; j < field.columns(); ++j)
      if (!is_held(s, {0, i, j}, rules.held_rows)) result.displacements(i, j) += field(i, j);
  return result;
}

Shaping made_symmetric(const Shaping& shaping, const Surface& s, const MirrorMap& mirror,
                       PointIndex leader) {
  const double lead_side = side_of(s.points(leader.i, leader.j), mirror.plane);
  Shaping result = shaping.empty() ? no_shaping(s) : shaping;
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      const PointIndex q = mirror.partner(i, j);
      const Vec3& p = s.points(i, j);
      const bool on_plane = (q.i == i && q.j == j) ||
                            representative(s, {0, q.i, q.j}) == representative(s, {0, i, j});
      if (on_plane)
        result.displacements(i, j) += (mirrored(p, mirror.plane) - p) * 0.5;
      else if (lead_side * side_of(p, mirror.plane) < 0.0)
        result.displacements(i, j) += mirrored(s.points(q.i, q.j), mirror.plane) - p;
    }
  return result;
}

Shaping moved(const Shaping& shaping, const Surface& s, const Selection& selection,
              const Move& move, const std::optional<MirrorMap>& mirror, PointIndex leader) {
  Grid<double> shares(s.points.rows(), s.points.columns());
  for (const PointIndex& p : with_whole_poles(s, selection, kPoleTolerance)) shares(p.i, p.j) = 1.0;
  ShapeRules rules;
  if (mirror) rules.mirrors.push_back(*mirror);
  rules.leader = leader;
  return with_moves(shaping, s, moves_of(s, shares, move), shares, rules);
}

Shaping with_weight(const Shaping& shaping, const Surface& below, const Selection& selection,
                    double weight, const std::optional<MirrorMap>& mirror) {
  if (!(weight >= 0.01 && weight <= 100.0))
    throw Error(fmt::format("The weight {} cannot be used; choose 0.01 to 100.", weight));
  Shaping result = shaping.empty() ? no_shaping(below) : shaping;
  if (result.weight_factors.empty())
    result.weight_factors = Grid<double>(below.points.rows(), below.points.columns(), 1.0);
  for (const PointIndex& p : with_whole_poles(below, selection, kPoleTolerance)) {
    result.weight_factors(p.i, p.j) = weight / below.weight(p.i, p.j);
    if (!mirror) continue;
    const PointIndex q = mirror->partner(p.i, p.j);
    result.weight_factors(q.i, q.j) = weight / below.weight(q.i, q.j);
  }
  const auto& factors = result.weight_factors.values();
  if (std::all_of(factors.begin(), factors.end(), [](double w) { return w == 1.0; }))
    result.weight_factors = {};
  return result;
}

}  // namespace evenclay
