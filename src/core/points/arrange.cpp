#include "core/points/arrange.h"

#include <fmt/format.h>

#include <Eigen/Geometry>
#include <Eigen/SVD>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

#include "core/base/error.h"
#include "core/points/poles.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// move(p, share) for every point with a share.
template <typename F>
Grid<Vec3> moves(const Surface& s, const PointShares& shares, const F& move) {
  Grid<Vec3> result(s.points.rows(), s.points.columns());
  for (int i = 0; i < s.points.rows(); ++i)
    for (int j = 0; j < s.points.columns(); ++j)
      if (shares(i, j) > 0.0) result(i, j) = move(i, j, shares(i, j));
  return result;
}

}  // namespace

Grid<Vec3> scale(const Surface& s, const PointShares& shares, const Frame& about,
                 const Vec3& factors) {
  return moves(s, shares, [&](int i, int j, double share) {
    const Vec3 local = about.to_local(s.points(i, j));
    const Vec3 scaled{local.x * factors.x, local.y * factors.y, local.z * factors.z};
    return (about.to_world(scaled) - about.to_world(local)) * share;
  });
}

Grid<Vec3> turn(const Surface& s, const PointShares& shares, const Vec3& centre, const Vec3& axis,
                double degrees) {
  const Vec3 n = normalized(axis);
  return moves(s, shares, [&](int i, int j, double share) {
    // Rodrigues' formula
    const double angle = degrees * share * std::numbers::pi / 180.0;
    const Vec3 r = s.points(i, j) - centre;
    const Vec3 turned = r * std::cos(angle) + cross(n, r) * std::sin(angle) +
                        n * (dot(n, r) * (1.0 - std::cos(angle)));
    return turned - r;
  });
}

Grid<Vec3> set_coordinate(const Surface& s, const PointShares& shares, int axis, double mm) {
  return moves(s, shares, [&](int i, int j, double share) {
    Vec3 move;
    move[at(axis)] = (mm - s.points(i, j)[at(axis)]) * share;
    return move;
  });
}

Grid<Vec3> level(const Surface& s, const PointShares& shares, const LevelPlane& plane) {
  return moves(s, shares, [&](int i, int j, double share) {
    return plane.normal * (-dot(s.points(i, j) - plane.origin, plane.normal) * share);
  });
}

LevelPlane mean_plane(const Surface& s, const Selection& picked) {
  if (picked.size() < 3) throw Error("A mean plane needs at least 3 points. Pick more.");
  Vec3 mean;
  for (const PointIndex& p : picked) mean += s.points(p.i, p.j);
  mean = mean / static_cast<double>(picked.size());
  Eigen::MatrixXd rows(static_cast<long>(picked.size()), 3);
  long row = 0;
  for (const PointIndex& p : picked) {
    const Vec3 d = s.points(p.i, p.j) - mean;
    rows.row(row++) << d.x, d.y, d.z;
  }
  const Eigen::JacobiSVD<Eigen::MatrixXd> svd(rows, Eigen::ComputeThinV);
  if (!(svd.singularValues()[1] > 1e-9 * svd.singularValues()[0]))
    throw Error(
        "The picked points lie on one line, which many planes hold. Pick one more beside it.");
  const Eigen::Vector3d n = svd.matrixV().col(2);
  return {mean, {n.x(), n.y(), n.z()}};
}

LevelPlane plane_through(const Vec3& a, const Vec3& b, const Vec3& c) {
  const Vec3 n = cross(b - a, c - a);
  if (!(length(n) > 1e-9 * length(b - a) * length(c - a)) || length(n) == 0.0)
    throw Error("The three points lie on one line. Pick one beside it.");
  return {a, normalized(n)};
}

Grid<Vec3> straighten_in_view(const Surface& s, const PointShares& shares, const Selection& picked,
                              const Vec3& view) {
  if (picked.size() < 3) throw Error("Straighten needs at least 3 picked points.");
  const Vec3 eye = normalized(view);
  const auto flat = [&](const Vec3& p) { return p - eye * dot(p, eye); };
  Vec3 a;
  Vec3 b;
  double farthest = -1.0;
  for (const PointIndex& p : picked)
    for (const PointIndex& q : picked) {
      const double d = distance(flat(s.points(p.i, p.j)), flat(s.points(q.i, q.j)));
      if (d > farthest) {
        farthest = d;
        a = flat(s.points(p.i, p.j));
        b = flat(s.points(q.i, q.j));
      }
    }
  if (!(farthest > 0.0))
    throw Error("Seen from here the picked points lie behind one another. Turn the view.");
  const Vec3 along = normalized(b - a);
  return moves(s, shares, [&](int i, int j, double share) {
    const Vec3 p = flat(s.points(i, j));
    return (a + along * dot(p - a, along) - p) * share;
  });
}

Grid<Vec3> straighten_rows(const Surface& s, const PointShares& shares, const Selection& picked,
                           bool along_u) {
  std::map<int, std::vector<int>> rows;  // of each row, the places of its picked points
  for (const PointIndex& p : picked) rows[along_u ? p.j : p.i].push_back(along_u ? p.i : p.j);
  Grid<Vec3> result(s.points.rows(), s.points.columns());
  bool any = false;
  for (auto& [row, places] : rows) {
    if (places.size() < 3) continue;
    any = true;
    std::sort(places.begin(), places.end());
    const auto point = [&](int k) { return along_u ? s.points(k, row) : s.points(row, k); };
    const Vec3 first = point(places.front());
    const Vec3 last = point(places.back());
    for (const int k : places) {
      const double way = static_cast<double>(k - places.front()) / (places.back() - places.front());
      const double share = along_u ? shares(k, row) : shares(row, k);
      (along_u ? result(k, row) : result(row, k)) =
          (first + (last - first) * way - point(k)) * share;
    }
  }
  if (!any) throw Error("No row holds three picked points. Pick a row with E or R first.");
  return result;
}

Grid<Vec3> smooth(const Surface& s, const PointShares& shares, double amount) {
  const std::vector<double> gu = greville_places(s.u);
  const std::vector<double> gv = greville_places(s.v);
  const int rows = s.points.rows();
  const int columns = s.points.columns();
  const auto gap = [](const std::vector<double>& g, const KnotVector& k, int a, int b) {
    double d = std::abs(g[at(a)] - g[at(b)]);
    if (k.periodic) d = std::min(d, k.length() - d);
    return std::max(d / k.length(), 1e-9);
  };
  return moves(s, shares, [&](int i, int j, double share) {
    const bool border = (!s.u.periodic && (i == 0 || i + 1 == rows)) ||
                        (!s.v.periodic && (j == 0 || j + 1 == columns));
    if (border) return Vec3{};
    Vec3 sum;
    double weight = 0.0;
    const auto take = [&](int a, int b, double w) {
      sum += s.points(a, b) * w;
      weight += w;
    };
    const int before_i = (i + rows - 1) % rows;
    const int after_i = (i + 1) % rows;
    const int before_j = (j + columns - 1) % columns;
    const int after_j = (j + 1) % columns;
    // Between unequal neighbours the mean lies where the parameter lies between them.
    const double bu = gap(gu, s.u, before_i, i);
    const double au = gap(gu, s.u, after_i, i);
    const double bv = gap(gv, s.v, before_j, j);
    const double av = gap(gv, s.v, after_j, j);
    take(before_i, j, au / (au + bu));
    take(after_i, j, bu / (au + bu));
    take(i, before_j, av / (av + bv));
    take(i, after_j, bv / (av + bv));
    return (sum / weight - s.points(i, j)) * (amount * share);
  });
}

Grid<Vec3> relax_from_borders(const Surface& s, const PointShares& shares) {
  if (s.u.periodic || s.v.periodic)
    throw Error(
        "Relax from borders needs four borders, but this surface is closed. Open it first, or use "
        "Smooth.");
  const int n = s.points.rows() - 1;
  const int m = s.points.columns() - 1;
  const std::vector<double> gu = greville_places(s.u);
  const std::vector<double> gv = greville_places(s.v);
  const auto& p = s.points;
  return moves(s, shares, [&](int i, int j, double share) {
    if (i == 0 || j == 0 || i == n || j == m) return Vec3{};
    const double u = (gu[at(i)] - gu.front()) / (gu.back() - gu.front());
    const double v = (gv[at(j)] - gv.front()) / (gv.back() - gv.front());
    const Vec3 ruled_u = p(0, j) * (1 - u) + p(n, j) * u;
    const Vec3 ruled_v = p(i, 0) * (1 - v) + p(i, m) * v;
    const Vec3 corners =
        (p(0, 0) * (1 - u) + p(n, 0) * u) * (1 - v) + (p(0, m) * (1 - u) + p(n, m) * u) * v;
    return (ruled_u + ruled_v - corners - p(i, j)) * share;
  });
}

Grid<Vec3> pull_skin(const Surface& s, const PointShares& shares, double u, double v,
                     const Vec3& way) {
  const FlatKnots fu = flatten(s.u);
  const FlatKnots fv = flatten(s.v);
  u = into_domain(s.u, u);
  v = into_domain(s.v, v);
  const int su = find_span(fu, u);
  const int sv = find_span(fv, v);
  const auto nu = basis_values(fu, su, u);
  const auto nv = basis_values(fv, sv, v);
  Grid<double> basis(s.points.rows(), s.points.columns());
  double sum = 0.0;
  for (int a = 0; a <= s.u.degree; ++a)
    for (int b = 0; b <= s.v.degree; ++b) {
      const int i = fu.point(su - s.u.degree + a);
      const int j = fv.point(sv - s.v.degree + b);
      const double w = nu[at(a)] * nv[at(b)] * s.weight(i, j);
      basis(i, j) += w;
      sum += w;
    }
  for (double& b : basis.values()) b /= sum;
  // A row collapsed to a pole is one point: it counts once, with the basis of the whole row.
  Grid<double> once = shares;
  for (const auto& row : pole_rows(s)) {
    double whole = 0.0;
    for (const PointIndex& p : row) whole += basis(p.i, p.j);
    for (const PointIndex& p : row) {
      basis(p.i, p.j) = whole;
      if (p != row.front()) once(p.i, p.j) = 0.0;
    }
  }
  double square = 0.0;
  for (std::size_t k = 0; k < basis.values().size(); ++k)
    square += basis.values()[k] * basis.values()[k] * once.values()[k];
  if (!(square > 1e-12))
    throw Error(
        "No point that may move reaches this place of the skin. Let go of a hold, or widen "
        "the falloff.");
  // Least Σ |d|² / share with Σ basis · d = way (a Lagrange multiplier gives it in one step).
  Grid<Vec3> result(s.points.rows(), s.points.columns());
  for (std::size_t k = 0; k < basis.values().size(); ++k)
    result.values()[k] = way * (basis.values()[k] * shares.values()[k] / square);
  return result;
}

}  // namespace evenclay
