#include "core/nurbs/knot_operations.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/line_matrix.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

const char* name_of(Direction d) {
  return d == Direction::U ? "u" : "v";
}

int multiplicity(const KnotVector& k, double t) {
  const auto range = std::equal_range(k.knots.begin(), k.knots.end(), t);
  return static_cast<int>(range.second - range.first);
}

// Along u, so that everything below needs to know one direction only.
Surface turned(const Surface& s, Direction d) {
  return d == Direction::U ? s : transposed(s);
}

Surface same_turned(Surface s, Direction d) {
  return d == Direction::U ? std::move(s) : transposed(s);
}

// The points of a periodic u direction counted from knot k on.
Surface seam_at_knot(const Surface& s, int k) {
  const int n = s.points.rows();
  Surface r{{s.u.degree, true, {}}, s.v, Grid<Vec3>(n, s.points.columns()), {}};
  // Equal knots stay equal across the old seam, where sums may differ by rounding.
  const auto next_turn = [&](double t) {
    return t == s.u.first() ? s.u.last() : std::max(s.u.last(), t + s.u.length());
  };
  for (int i = 0; i <= n; ++i)
    r.u.knots.push_back(i + k <= n ? s.u.knots[at(i + k)] : next_turn(s.u.knots[at(i + k - n)]));
  if (s.rational()) r.weights = Grid<double>(n, s.points.columns());
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < s.points.columns(); ++j) {
      r.points(i, j) = s.points((i + k) % n, j);
      if (s.rational()) r.weights(i, j) = s.weights((i + k) % n, j);
    }
  return r;
}

// Removes the knot with that index along u: rows that stay the same are copied, the few others
// solved by least squares.
Surface without_knot(const Surface& s, int index) {
  KnotVector coarse = s.u;
  coarse.knots.erase(coarse.knots.begin() + index);
  const LineMatrix a = refinement(coarse, s.u);
  const int n = coarse.point_count();
  std::vector<int> copied(at(n), -1);
  std::vector<int> mixed;
  for (int r = 0; r < a.rows(); ++r) {
    const std::size_t e = a.begin[at(r)];
    if (a.begin[at(r) + 1] == e + 1)
      copied[at(a.point[e])] = r;
    else
      mixed.push_back(r);
  }
  std::vector<int> unknown(at(n), -1);
  int unknowns = 0;
  for (int i = 0; i < n; ++i)
    if (copied[at(i)] < 0) unknown[at(i)] = unknowns++;
  const int columns = s.points.columns();
  const int width = 4 * columns;
  const auto homogeneous = [&](int r) {
    Eigen::RowVectorXd row(width);
    for (int j = 0; j < columns; ++j) {
      const double w = s.weight(r, j);
      const Vec3 p = s.points(r, j) * w;
      row.segment<4>(4 * j) << p.x, p.y, p.z, w;
    }
    return row;
  };
  Eigen::MatrixXd left = Eigen::MatrixXd::Zero(static_cast<long>(mixed.size()), unknowns);
  Eigen::MatrixXd right(static_cast<long>(mixed.size()), width);
  for (std::size_t k = 0; k < mixed.size(); ++k) {
    const auto row = static_cast<long>(k);
    right.row(row) = homogeneous(mixed[k]);
    for (std::size_t e = a.begin[at(mixed[k])]; e < a.begin[at(mixed[k]) + 1]; ++e) {
      const int i = a.point[e];
      if (unknown[at(i)] >= 0)
        left(row, unknown[at(i)]) += a.value[e];
      else
        right.row(row) -= a.value[e] * homogeneous(copied[at(i)]);
    }
  }
  Eigen::MatrixXd solved;
  if (unknowns > 0) solved = left.colPivHouseholderQr().solve(right);
  Surface result{coarse, s.v, Grid<Vec3>(n, columns), {}};
  if (s.rational()) result.weights = Grid<double>(n, columns);
  for (int i = 0; i < n; ++i) {
    const int u = unknown[at(i)];
    for (int j = 0; j < columns; ++j) {
      if (u < 0) {
        result.points(i, j) = s.points(copied[at(i)], j);
        if (s.rational()) result.weights(i, j) = s.weights(copied[at(i)], j);
        continue;
      }
      const Eigen::RowVectorXd h = solved.row(u).segment(4 * j, 4);
      if (s.rational() && !(h[3] > 1e-9))
        throw Error(
            say("A weight would not stay positive without this grid line. Choose another one."));
      const double w = s.rational() ? h[3] : 1.0;
      result.points(i, j) = Vec3{h[0], h[1], h[2]} / w;
      if (s.rational()) result.weights(i, j) = w;
    }
  }
  return result;
}

// Greatest distance between the end rows of a clamped u direction.
double gap_of_ends(const Surface& s) {
  double gap = 0.0;
  const int last = s.points.rows() - 1;
  for (int j = 0; j < s.points.columns(); ++j)
    gap = std::max(gap, distance(s.points(0, j), s.points(last, j)));
  return gap;
}

// The same rows with the seam's knot `degree` times in a periodic vector.
Surface wrapped(const Surface& s) {
  const int n = s.points.rows() - 1;
  const int p = s.u.degree;
  Surface r{{p, true, {}}, s.v, Grid<Vec3>(n, s.points.columns()), {}};
  r.u.knots.assign(s.u.knots.begin() + 1, s.u.knots.end() - p);
  if (s.rational()) r.weights = Grid<double>(n, s.points.columns());
  for (int f = 0; f < n; ++f)
    for (int j = 0; j < s.points.columns(); ++j) {
      const int i = (f - 1 + (p + 1) / 2 + n) % n;
      const bool seam = f == 0;
      r.points(i, j) = seam ? (s.points(0, j) + s.points(n, j)) * 0.5 : s.points(f, j);
      if (s.rational())
        r.weights(i, j) = seam ? 0.5 * (s.weights(0, j) + s.weights(n, j)) : s.weights(f, j);
    }
  check(r);
  return r;
}

double farthest_between(const Surface& a, const Surface& b) {
  const SurfaceEvaluator one(a), other(b);
  double worst = 0.0;
  for (const double u : sample_places(a.u, 4))
    for (const double v : sample_places(a.v, 4))
      worst = std::max(worst, distance(one.point(u, v), other.point(u, v)));
  return worst;
}

}  // namespace

const KnotVector& knots_of(const Surface& s, Direction d) {
  return d == Direction::U ? s.u : s.v;
}

Surface insert_knots(const Surface& s, Direction d, std::span<const double> fresh) {
  const KnotVector& old = knots_of(s, d);
  KnotVector to = old;
  for (double t : fresh) {
    if (!std::isfinite(t) || t < old.first() || t > old.last())
      throw Error(say("There is no place {} in {}; it runs from {} to {}.", t, name_of(d),
                      old.first(), old.last()));
    if (old.periodic && t == old.last()) t = old.first();
    to.knots.insert(std::upper_bound(to.knots.begin(), to.knots.end(), t), t);
  }
  check(to, fmt::format("{} direction", name_of(d)));
  return applied(refinement(old, to), s, d, to);
}

Surface insert_halfway(const Surface& s, Direction d) {
  const std::vector<double> breaks = breakpoints(knots_of(s, d));
  std::vector<double> middles;
  for (std::size_t k = 0; k + 1 < breaks.size(); ++k)
    middles.push_back(0.5 * (breaks[k] + breaks[k + 1]));
  return insert_knots(s, d, middles);
}

Surface remove_knot(const Surface& s, Direction d, double place) {
  const KnotVector& k = knots_of(s, d);
  int best = -1;
  for (std::size_t i = 0; i < k.knots.size(); ++i) {
    const double t = k.knots[i];
    if (t <= k.first() || t >= k.last()) continue;
    if (best < 0 || std::abs(t - place) < std::abs(k.knots[at(best)] - place))
      best = static_cast<int>(i);
  }
  if (best < 0)
    throw Error(say("{} has one span only, so there is no grid line to remove.", name_of(d)));
  if (k.periodic && k.point_count() - 1 < k.degree + 1)
    throw Error(say(
        "{} is closed with {} control points, the fewest for degree {}. Lower the degree first.",
        name_of(d), k.point_count(), k.degree));
  return same_turned(without_knot(turned(s, d), best), d);
}

Surface raise_degree(Surface s, Direction d, int degree) {
  if (degree > kMaxDegree)
    throw Error(say("Degree {} cannot be used; choose 1 to {}.", degree, kMaxDegree));
  if (degree < knots_of(s, d).degree)
    throw Error(say("{} has degree {} already, which is more than {}.", name_of(d),
                    knots_of(s, d).degree, degree));
  while (knots_of(s, d).degree < degree) {
    const KnotVector to = raised_knots(knots_of(s, d));
    check(to, fmt::format("{} direction", name_of(d)));
    s = applied(raising(knots_of(s, d), to), s, d, to);
  }
  return s;
}

std::pair<Surface, Surface> split(const Surface& s, Direction d, double place) {
  const KnotVector& k = knots_of(s, d);
  if (k.periodic)
    throw Error(say("{} is closed. Open it first; that is the first cut.", name_of(d)));
  if (!(place > k.first() && place < k.last()))
    throw Error(say("A surface is split inside {}, between {} and {}, not at {}.", name_of(d),
                    k.first(), k.last(), place));
  const std::vector<double> fresh(at(k.degree - multiplicity(k, place)), place);
  const Surface full = turned(insert_knots(s, d, fresh), d);
  const int p = full.u.degree;
  const auto begin =
      std::lower_bound(full.u.knots.begin(), full.u.knots.end(), place);  // first of p copies
  const int first = static_cast<int>(begin - full.u.knots.begin());
  Surface left{{p, false, {full.u.knots.begin(), begin}}, full.v, {}, {}};
  left.u.knots.insert(left.u.knots.end(), at(p + 1), place);
  Surface right{{p, false, std::vector<double>(1, place)}, full.v, {}, {}};
  right.u.knots.insert(right.u.knots.end(), begin, full.u.knots.end());
  const auto take = [&](Surface& part, int from) {
    const int rows = part.u.point_count();
    part.points = Grid<Vec3>(rows, full.points.columns());
    if (full.rational()) part.weights = Grid<double>(rows, full.points.columns());
    for (int i = 0; i < rows; ++i)
      for (int j = 0; j < full.points.columns(); ++j) {
        part.points(i, j) = full.points(from + i, j);
        if (full.rational()) part.weights(i, j) = full.weights(from + i, j);
      }
  };
  take(left, 0);
  take(right, first - 1);
  return {same_turned(std::move(left), d), same_turned(std::move(right), d)};
}

Surface opened(const Surface& s, Direction d, double place) {
  if (!knots_of(s, d).periodic) return s;
  Surface t = turned(s, d);
  place = into_domain(t.u, place);
  if (multiplicity(t.u, place) == 0)
    t = insert_knots(t, Direction::U, std::array<double, 1>{place});
  const auto found = std::lower_bound(t.u.knots.begin(), t.u.knots.end(), place);
  t = seam_at_knot(t, static_cast<int>(found - t.u.knots.begin()));
  return same_turned(clamped_along(t, Direction::U), d);
}

Surface closed(const Surface& s, Direction d, double tolerance) {
  if (knots_of(s, d).periodic) return s;
  const Surface t = turned(s, d);
  const double gap = gap_of_ends(t);
  if (gap > tolerance)
    throw Error(say(
        "The two ends of {} are {:.3g} mm apart, more than the tolerance of {:g} mm. Move their "
        "rows together first.",
        name_of(d), gap, tolerance));
  if (t.points.rows() - 1 < t.u.degree + 1)
    throw Error(say(
        "{} has too few control points to be closed; degree {} needs {}. Add a grid line first.",
        name_of(d), t.u.degree, t.u.degree + 2));
  Surface result = wrapped(t);
  // Knots at the seam go as long as the shape allows: what was smooth there becomes smooth again.
  while (multiplicity(result.u, result.u.first()) > 1 &&
         result.points.rows() - 1 >= result.u.degree + 1) {
    const Surface fewer = without_knot(result, 0);
    if (farthest_between(fewer, result) > std::max(1e-10 * size(s), 0.1 * tolerance)) break;
    result = fewer;
  }
  return same_turned(std::move(result), d);
}

Surface reversed(const Surface& s, Direction d) {
  const Surface t = turned(s, d);
  Surface r = t;
  const int n = t.points.rows();
  const double front = t.u.knots.front();
  const double back = t.u.knots.back();
  const auto mirrored = [&](double k) {  // the ends exactly, whatever their sum rounds to
    if (k == front) return back;
    return k == back ? front : std::clamp(front + back - k, front, back);
  };
  for (std::size_t k = 0; k < r.u.knots.size(); ++k)
    r.u.knots[k] = mirrored(t.u.knots[t.u.knots.size() - 1 - k]);
  for (int i = 0; i < n; ++i) {
    int from = n - 1 - i;
    if (t.u.periodic) from = (2 * n - i + 2 * ((t.u.degree + 1) / 2) - t.u.degree - 1) % n;
    for (int j = 0; j < t.points.columns(); ++j) {
      r.points(i, j) = t.points(from, j);
      if (t.rational()) r.weights(i, j) = t.weights(from, j);
    }
  }
  return same_turned(std::move(r), d);
}

Surface reparameterised(const Surface& s, Direction d, double first, double last) {
  if (!std::isfinite(first) || !std::isfinite(last) || !(last > first))
    throw Error(
        say("{} cannot run from {} to {}; the end must be greater.", name_of(d), first, last));
  Surface result = s;
  KnotVector& k = d == Direction::U ? result.u : result.v;
  const double old_first = k.first();
  const double scale = (last - first) / k.length();
  for (double& t : k.knots) {
    const double share = (t - old_first) * scale;
    t = t == knots_of(s, d).last() ? last : first + share;
  }
  return result;
}

}  // namespace evenclay
