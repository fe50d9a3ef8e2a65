#include "core/points/arrange.h"

#include <fmt/format.h>

#include <Eigen/Geometry>
#include <Eigen/SVD>
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// move(p, share) for every point with a share.
template <typename F>
PointMoves moves(const Nets& nets, const PointShares& shares, const F& move) {
  PointMoves result(nets);
  for_each_point(nets, [&](PointIndex p) {
    if (const double share = shares(p); share > 0.0) result(p) = move(p, share);
  });
  return result;
}

}  // namespace

PointMoves scale(const Nets& nets, const PointShares& shares, const Frame& about,
                 const Vec3& factors) {
  return moves(nets, shares, [&](PointIndex p, double share) {
    const Vec3 local = about.to_local(nets.point(p));
    const Vec3 scaled{local.x * factors.x, local.y * factors.y, local.z * factors.z};
    return (about.to_world(scaled) - about.to_world(local)) * share;
  });
}

PointMoves turn(const Nets& nets, const PointShares& shares, const Vec3& centre, const Vec3& axis,
                double degrees) {
  const Vec3 n = normalized(axis);
  return moves(nets, shares, [&](PointIndex p, double share) {
    // Rodrigues' formula
    const double angle = degrees * share * std::numbers::pi / 180.0;
    const Vec3 r = nets.point(p) - centre;
    const Vec3 turned = r * std::cos(angle) + cross(n, r) * std::sin(angle) +
                        n * (dot(n, r) * (1.0 - std::cos(angle)));
    return turned - r;
  });
}

PointMoves set_coordinate(const Nets& nets, const PointShares& shares, int axis, double mm) {
  return moves(nets, shares, [&](PointIndex p, double share) {
    Vec3 move;
    move[at(axis)] = (mm - nets.point(p)[at(axis)]) * share;
    return move;
  });
}

PointMoves level(const Nets& nets, const PointShares& shares, const LevelPlane& plane) {
  return moves(nets, shares, [&](PointIndex p, double share) {
    return plane.normal * (-dot(nets.point(p) - plane.origin, plane.normal) * share);
  });
}

LevelPlane mean_plane(const Nets& nets, const Selection& picked) {
  if (picked.size() < 3) throw Error(say("A mean plane needs at least 3 points. Pick more."));
  Vec3 mean;
  for (const PointIndex& p : picked) mean += nets.point(p);
  mean = mean / static_cast<double>(picked.size());
  Eigen::MatrixXd rows(static_cast<long>(picked.size()), 3);
  long row = 0;
  for (const PointIndex& p : picked) {
    const Vec3 d = nets.point(p) - mean;
    rows.row(row++) << d.x, d.y, d.z;
  }
  const Eigen::JacobiSVD<Eigen::MatrixXd> svd(rows, Eigen::ComputeThinV);
  if (!(svd.singularValues()[1] > 1e-9 * svd.singularValues()[0]))
    throw Error(
        say("The picked points lie on one line, which many planes hold. Pick one more beside it."));
  const Eigen::Vector3d n = svd.matrixV().col(2);
  return {mean, {n.x(), n.y(), n.z()}};
}

LevelPlane plane_through(const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 n = cross(b - a, c - a);
  if (!(length(n) > 1e-9 * length(b - a) * length(c - a)) || length(n) == 0.0)
    throw Error(say("The three points lie on one line. Pick one beside it."));
  return {a, normalized(n)};
}

PointMoves straighten_in_view(const Nets& nets, const PointShares& shares, const Selection& picked,
                              const Vec3& view) {
  if (picked.size() < 3) throw Error(say("Straighten needs at least 3 picked points."));
  const Vec3 eye = normalized(view);
  const auto flat = [&](const Vec3& p) { return p - eye * dot(p, eye); };
  Vec3 a;
  Vec3 b;
  double farthest = -1.0;
  for (const PointIndex& p : picked)
    for (const PointIndex& q : picked) {
      const double d = distance(flat(nets.point(p)), flat(nets.point(q)));
      if (d > farthest) {
        farthest = d;
        a = flat(nets.point(p));
        b = flat(nets.point(q));
      }
    }
  if (!(farthest > 0.0))
    throw Error(say("Seen from here the picked points lie behind one another. Turn the view."));
  const Vec3 along = normalized(b - a);
  return moves(nets, shares, [&](PointIndex p, double share) {
    const Vec3 seen = flat(nets.point(p));
    return (a + along * dot(seen - a, along) - seen) * share;
  });
}

PointMoves straighten_rows(const Nets& nets, const PointShares& shares, const Selection& picked,
                           int direction) {
  std::map<PointIndex, std::vector<PointIndex>> rows;  // by the place where the row begins
  for (const PointIndex& p : picked)
    if (nets.of(p).form() != nullptr)
      throw Error(say("A form has no rows to straighten. Straighten in the view instead."));
  for (const PointIndex& p : picked) rows[with_place(p, direction, 0)].push_back(p);
  PointMoves result(nets);
  bool any = false;
  for (const auto& [begin, points] : rows) {
    if (points.size() < 3) continue;
    any = true;
    const int from = place_along(points.front(), direction);
    const int to = place_along(points.back(), direction);
    const Vec3 first = nets.point(points.front());
    const Vec3 last = nets.point(points.back());
    for (const PointIndex& p : points) {
      const double way = static_cast<double>(place_along(p, direction) - from) / (to - from);
      result(p) = (first + (last - first) * way - nets.point(p)) * shares(p);
    }
  }
  if (!any) throw Error(say("No row holds three picked points. Pick a row with E or R first."));
  return result;
}

namespace {

std::array<std::vector<double>, 3> greville_of(const Net& net) {
  std::array<std::vector<double>, 3> result;
  for (int d = 0; d < net.directions(); ++d) result[at(d)] = greville_places(*net.knots(d));
  return result;
}

// Towards the mean of the neighbours; between unequal ones the mean lies where the parameter lies
// between them.
Vec3 towards_neighbours(const Net& net, const std::array<std::vector<double>, 3>& greville,
                        PointIndex p) {
  Vec3 sum;
  double weight = 0.0;
  if (net.form() != nullptr) {
    for_each_neighbour(net, p, [&](PointIndex q) {
      sum += net.point(q.i, q.j, q.k);
      weight += 1.0;
    });
    const FormTopology& t = net.form()->links->topology;
    for (const std::uint32_t e : t.edges_of_point[at(p.i)])
      if (t.edges[e].border()) return {};
  }
  for (int d = 0; d < net.directions(); ++d) {
    const auto before = neighbour(net, p, d, -1);
    const auto after = neighbour(net, p, d, 1);
    if (!before || !after) return {};
    const double period = net.knots(d)->length();
    const auto gap = [&](PointIndex q) {
      double g =
          std::abs(greville[at(d)][at(place_along(p, d))] - greville[at(d)][at(place_along(q, d))]);
      if (net.closed(d)) g = std::min(g, period - g);
      return std::max(g / period, 1e-9);
    };
    const double b = gap(*before);
    const double a = gap(*after);
    sum += net.point(before->i, before->j, before->k) * (a / (a + b)) +
           net.point(after->i, after->j, after->k) * (b / (a + b));
    weight += 1.0;
  }
  return sum / weight - net.point(p.i, p.j, p.k);
}

}  // namespace

PointMoves smooth(const Nets& nets, const PointShares& shares, double amount) {
  std::vector<std::array<std::vector<double>, 3>> greville;
  for (const Net& net : nets.nets) greville.push_back(greville_of(net));
  return moves(nets, shares, [&](PointIndex p, double share) {
    return towards_neighbours(nets.of(p), greville[at(p.net)], p) * (amount * share);
  });
}

namespace {

// Where the bilinearly blended Coons net of the border rows has its point.
Vec3 coons_point(const Net& net, const std::array<std::vector<double>, 3>& g, int i, int j) {
  const int n = net.count(0) - 1;
  const int m = net.count(1) - 1;
  const auto p = [&](int a, int b) { return net.point(a, b, 0); };
  const double u = (g[0][at(i)] - g[0].front()) / (g[0].back() - g[0].front());
  if (net.directions() == 1) return p(0, 0) * (1 - u) + p(n, 0) * u;
  const double v = (g[1][at(j)] - g[1].front()) / (g[1].back() - g[1].front());
  const Vec3 ruled_u = p(0, j) * (1 - u) + p(n, j) * u;
  const Vec3 ruled_v = p(i, 0) * (1 - v) + p(i, m) * v;
  const Vec3 corners =
      (p(0, 0) * (1 - u) + p(n, 0) * u) * (1 - v) + (p(0, m) * (1 - u) + p(n, m) * u) * v;
  return ruled_u + ruled_v - corners;
}

}  // namespace

PointMoves relax_from_borders(const Nets& nets, const PointShares& shares) {
  std::vector<std::array<std::vector<double>, 3>> greville;
  for (const Net& net : nets.nets) {
    if (net.form() != nullptr)
      throw Error(say("Relax from borders works on surfaces and curves. Use Smooth on a form."));
    if (net.closed(0) || net.closed(1))
      throw Error(say(
          "Relax from borders needs four borders, but this surface is closed. Open it first, or "
          "use "
          "Smooth."));
    if (net.directions() == 3)
      throw Error(say("Relax from borders works on surfaces and curves. Use Smooth on a cage."));
    greville.push_back(greville_of(net));
  }
  return moves(nets, shares, [&](PointIndex p, double share) {
    const Net& net = nets.of(p);
    for (int d = 0; d < net.directions(); ++d)
      if (place_along(p, d) == 0 || place_along(p, d) + 1 == net.count(d)) return Vec3{};
    return (coons_point(net, greville[at(p.net)], p.i, p.j) - nets.point(p)) * share;
  });
}

namespace {

// The points that a place of one direction depends on, and their basis values.
std::vector<std::pair<int, double>> basis_at(const KnotVector& knots, double t) {
  const FlatKnots flat = flatten(knots);
  t = into_domain(knots, t);
  const int span = find_span(flat, t);
  const auto n = basis_values(flat, span, t);
  std::vector<std::pair<int, double>> result;
  for (int a = 0; a <= knots.degree; ++a)
    result.emplace_back(flat.point(span - knots.degree + a), n[at(a)]);
  return result;
}

// Rational basis values of all points at a place; points that are one place carry their sum.
PointShares basis_of(const Nets& nets, const SkinPlace& place) {
  const Net& net = nets.nets[at(place.net)];
  if (net.directions() == 3)
    throw Error(say("A cage has no skin to pull. Move its points, or pull the shape inside it."));
  if (net.form() != nullptr)
    throw Error(say("The skin of a form is not pulled itself. Move its points, edges or faces."));
  PointShares basis(nets);
  const auto of_u = basis_at(*net.knots(0), place.u);
  const auto of_v = net.directions() == 2 ? basis_at(*net.knots(1), place.v)
                                          : std::vector<std::pair<int, double>>{{0, 1.0}};
  double sum = 0.0;
  for (const auto& [i, nu] : of_u)
    for (const auto& [j, nv] : of_v) {
      const double w = nu * nv * net.weight(i, j, 0);
      basis({place.net, i, j}) += w;
      sum += w;
    }
  for (double& b : basis.nets[at(place.net)].values()) b /= sum;
  for (const auto& one_place : nets.united) {
    double whole = 0.0;
    for (const PointIndex& p : one_place) whole += basis(p);
    for (const PointIndex& p : one_place) basis(p) = whole;
  }
  return basis;
}

}  // namespace

Vec3 skin_point(const Nets& nets, const SkinPlace& place) {
  const Net& net = nets.nets[at(place.net)];
  if (net.surface() != nullptr) return evaluate(*net.surface(), place.u, place.v);
  if (net.curve() != nullptr) return evaluate(*net.curve(), place.u);
  if (net.form() != nullptr)
    throw Error(say("The skin of a form is not pulled itself. Move its points, edges or faces."));
  throw Error(say("A cage has no skin."));
}

PointMoves pull_skin(const Nets& nets, const PointShares& shares, const SkinPlace& place,
                     const Vec3& way) {
  const PointShares basis = basis_of(nets, place);
  double square = 0.0;
  for_each_point(nets, [&](PointIndex p) {
    if (nets.representative(p) == p) square += basis(p) * basis(p) * shares(p);
  });
  if (!(square > 1e-12))
    throw Error(
        say("No point that may move reaches this place of the skin. Let go of a hold, or widen "
            "the falloff."));
  // Least Σ |d|² / share with Σ basis · d = way (a Lagrange multiplier gives it in one step).
  return moves(nets, shares,
               [&](PointIndex p, double share) { return way * (basis(p) * share / square); });
}

}  // namespace evenclay
