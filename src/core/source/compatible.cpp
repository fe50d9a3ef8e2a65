#include "core/source/compatible.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"

namespace evenclay {

namespace {

double square_distance(const Vec3& a, const Vec3& b) {
  return dot(a - b, a - b);
}

Surface strip(const Curve& c) {
  return strip_of(c, {0, 0, 1.0 + size(c)});
}

// Knots of `other` that `mine` does not have as often, both over the same domain.
std::vector<double> missing_knots(const KnotVector& mine, const KnotVector& other) {
  const double near = 1e-12 * std::max(1.0, std::abs(other.last()));
  const auto times = [&](const KnotVector& v, double x) {
    return std::count_if(v.knots.begin(), v.knots.end(),
                         [&](double k) { return std::abs(k - x) < near; });
  };
  std::vector<double> missing;
  for (const double k : breakpoints(other)) {
    // The seam of a closed direction is an inner knot too.
    const bool begins = std::abs(k - other.first()) < near;
    if ((begins && !other.periodic) || k >= other.last() - near) continue;
    for (auto n = times(mine, k); n < times(other, k); ++n)
      missing.push_back(begins ? mine.first() : k);
  }
  return missing;
}

// Places of equal share of the length.
std::vector<Vec3> even_places(const Curve& c, int count) {
  constexpr int kCells = 512;
  const CurveEvaluator at(c);
  const double first = c.knots.first();
  const double whole = c.knots.length();
  std::vector<double> along{0.0};
  std::vector<Vec3> points{at.point(first)};
  for (int k = 1; k <= kCells; ++k) {
    points.push_back(at.point(first + whole * k / kCells));
    along.push_back(along.back() + distance(points[points.size() - 2], points.back()));
  }
  const int last = c.knots.periodic ? count : count - 1;
  std::vector<Vec3> result;
  std::size_t cell = 0;
  for (int n = 0; n < count; ++n) {
    const double wanted = along.back() * n / last;
    while (cell + 2 < along.size() && along[cell + 1] < wanted) ++cell;
    const double step = along[cell + 1] - along[cell];
    const double share = step > 0.0 ? std::clamp((wanted - along[cell]) / step, 0.0, 1.0) : 0.0;
    result.push_back(points[cell] * (1.0 - share) + points[cell + 1] * share);
  }
  return result;
}

constexpr int kPlaces = 64;

double apart(const std::vector<Vec3>& a, const std::vector<Vec3>& b, int shift) {
  double sum = 0.0;
  for (int n = 0; n < kPlaces; ++n)
    sum += square_distance(a[static_cast<std::size_t>(n)],
                           b[static_cast<std::size_t>((n + shift) % kPlaces)]);
  return sum;
}

// The parameter at a share of the length.
double at_share(const Curve& c, double share) {
  return ArcLengthMap(strip(c), Direction::U, whole(strip(c))).at_share(share).parameter;
}

Curve aligned(const Curve& before, Curve c) {
  const std::vector<Vec3> wanted = even_places(before, kPlaces);
  if (!c.knots.periodic) {
    const Curve other = reversed(c);
    return apart(wanted, even_places(other, kPlaces), 0) < apart(wanted, even_places(c, kPlaces), 0)
               ? other
               : c;
  }
  double least = std::numeric_limits<double>::infinity();
  Curve best = c;
  double start = 0.0;
  for (const bool turned : {false, true}) {
    const Curve tried = turned ? reversed(c) : c;
    const std::vector<Vec3> places = even_places(tried, kPlaces);
    std::vector<double> sums;
    for (int shift = 0; shift < kPlaces; ++shift) sums.push_back(apart(wanted, places, shift));
    const auto k = std::min_element(sums.begin(), sums.end()) - sums.begin();
    if (!(sums[static_cast<std::size_t>(k)] < least * (1.0 - 1e-12))) continue;
    least = sums[static_cast<std::size_t>(k)];
    best = tried;
    // The lowest point of the parabola through the neighbours.
    const double left = sums[static_cast<std::size_t>((k + kPlaces - 1) % kPlaces)];
    const double right = sums[static_cast<std::size_t>((k + 1) % kPlaces)];
    const double bend = left - 2.0 * least + right;
    double fine = bend > 0.0 ? 0.5 * (left - right) / bend : 0.0;
    if (std::abs(fine) < 1e-3) fine = 0.0;  // it lies there already
    start = (static_cast<double>(k) + fine) / kPlaces;
  }
  start -= std::floor(start);
  return start > 1e-9 && start < 1.0 - 1e-9 ? with_start(best, at_share(best, start)) : best;
}

}  // namespace

Curve on_domain(const Curve& c, double first, double last) {
  return reparameterised(c, first, last);
}

Curve reversed(const Curve& c) {
  return first_row(reversed(strip(c), Direction::U));
}

Curve raised(const Curve& c, int degree) {
  return first_row(raise_degree(strip(c), Direction::U, degree));
}

Curve opened(const Curve& c, double at) {
  return first_row(opened(strip(c), Direction::U, at));
}

Curve with_knots(const Curve& c, std::span<const double> knots) {
  return knots.empty() ? c : first_row(insert_knots(strip(c), Direction::U, knots));
}

Curve with_start(const Curve& c, double at) {
  if (!c.knots.periodic) return c;
  const double period = c.knots.length();
  double t = into_domain(c.knots, at);
  Curve result = c;
  const double near = 1e-12 * period;
  if (t - c.knots.first() < near || c.knots.last() - t < near) return c;
  const auto knot = std::find_if(result.knots.knots.begin(), result.knots.knots.end(),
                                 [&](double k) { return std::abs(k - t) < near; });
  if (knot != result.knots.knots.end())
    t = *knot;
  else
    result = with_knots(result, std::array{t});
  std::vector<double>& knots = result.knots.knots;
  const auto m = std::find(knots.begin(), knots.end(), t) - knots.begin();
  std::vector<double> turned(knots.begin() + m, knots.end() - 1);
  for (long k = 0; k <= m; ++k) turned.push_back(knots[static_cast<std::size_t>(k)] + period);
  knots = turned;
  std::rotate(result.points.begin(), result.points.begin() + m, result.points.end());
  if (result.rational())
    std::rotate(result.weights.begin(), result.weights.begin() + m, result.weights.end());
  return result;
}

Curve chained(std::span<const Curve> curves) {
  if (curves.empty()) throw Error(say("There is no curve to join."));
  int degree = 1;
  bool rational = false;
  std::vector<double> lengths;
  for (const Curve& c : curves) {
    degree = std::max(degree, c.knots.degree);
    rational |= c.rational();
    double l = 0.0;
    for (std::size_t k = 1; k < c.points.size(); ++k) l += distance(c.points[k - 1], c.points[k]);
    lengths.push_back(l);
  }
  double whole = 0.0;
  for (const double l : lengths) whole += l;
  if (!(whole > 0.0)) throw Error(say("The curves to join have no length."));
  Curve result;
  double begun = 0.0;
  for (std::size_t n = 0; n < curves.size(); ++n) {
    const double end = n + 1 == curves.size() ? 1.0 : begun + lengths[n] / whole;
    if (!(end > begun)) continue;
    Curve c = opened(curves[n], curves[n].knots.first());
    c = on_domain(raised(c, degree), begun, end);
    if (rational && !c.rational()) c.weights.assign(c.points.size(), 1.0);
    begun = end;
    if (result.points.empty()) {
      result = c;
      continue;
    }
    // Where they meet there is one control point, and the weights of what follows are scaled to it.
    std::vector<double>& knots = result.knots.knots;
    knots.pop_back();
    knots.insert(knots.end(), c.knots.knots.begin() + degree + 1, c.knots.knots.end());
    result.points.insert(result.points.end(), c.points.begin() + 1, c.points.end());
    if (!rational) continue;
    const double scale = result.weights.back() / c.weights.front();
    for (std::size_t k = 1; k < c.weights.size(); ++k)
      result.weights.push_back(c.weights[k] * scale);
  }
  return result;
}

std::vector<Curve> made_compatible(std::span<const Curve> curves, const Alignment& alignment) {
  if (curves.empty()) throw Error(say("There are no curves to lay a surface through."));
  std::vector<Curve> all(curves.begin(), curves.end());
  const bool closed =
      std::all_of(all.begin(), all.end(), [](const Curve& c) { return c.knots.periodic; });
  int degree = 1;
  for (std::size_t k = 0; k < all.size(); ++k) {
    if (!closed) all[k] = opened(all[k], all[k].knots.first());
    if (k > 0 && alignment.turn) all[k] = aligned(all[k - 1], all[k]);
    if (closed && k < alignment.starts.size() && alignment.starts[k] != 0.0) {
      const double share = alignment.starts[k] - std::floor(alignment.starts[k]);
      all[k] = with_start(all[k], at_share(all[k], share));
    }
    degree = std::max(degree, all[k].knots.degree);
  }
  for (Curve& c : all) c = on_domain(raised(c, degree), 0.0, 1.0);
  for (std::size_t k = 1; k < all.size(); ++k)
    all[0] = with_knots(all[0], missing_knots(all[0].knots, all[k].knots));
  for (std::size_t k = 1; k < all.size(); ++k) {
    all[k] = with_knots(all[k], missing_knots(all[k].knots, all[0].knots));
    // What is left are differences of rounding.
    if (all[k].knots.knots.size() == all[0].knots.knots.size()) all[k].knots = all[0].knots;
  }
  return all;
}

namespace {

Surface unit(Surface s, int degree_u, int degree_v) {
  s = reparameterised(s, Direction::U, 0.0, 1.0);
  s = reparameterised(s, Direction::V, 0.0, 1.0);
  s = raise_degree(std::move(s), Direction::V, degree_v);
  return raise_degree(std::move(s), Direction::U, degree_u);
}

double corners_apart(const Surface& a, const Surface& b) {
  double sum = 0.0;
  for (const double u : {0.0, 0.25, 0.5, 1.0})
    for (const double v : {0.0, 0.25, 0.5, 1.0})
      sum += square_distance(
          evaluate(a, a.u.first() + u * a.u.length(), a.v.first() + v * a.v.length()),
          evaluate(b, b.u.first() + u * b.u.length(), b.v.first() + v * b.v.length()));
  return sum;
}

Surface turned_to(const Surface& a, const Surface& b) {
  Surface best = b;
  double least = corners_apart(a, b);
  for (int way = 1; way < 8; ++way) {
    Surface tried = (way & 4) != 0 ? transposed(b) : b;
    if (tried.u.periodic != a.u.periodic || tried.v.periodic != a.v.periodic) continue;
    if ((way & 1) != 0) tried = reversed(tried, Direction::U);
    if ((way & 2) != 0) tried = reversed(tried, Direction::V);
    if (const double d = corners_apart(a, tried); d < least * (1.0 - 1e-9)) {
      least = d;
      best = tried;
    }
  }
  return best;
}

}  // namespace

std::pair<Surface, Surface> made_compatible(const Surface& a, const Surface& b) {
  return on_common_knots(a, turned_to(a, b));
}

std::pair<Surface, Surface> on_common_knots(const Surface& a, const Surface& b) {
  Surface second = b;
  if (a.u.periodic != second.u.periodic || a.v.periodic != second.v.periodic)
    throw Error(
        say("One surface is closed where the other is open. Open the closed one (Open or close) or "
            "close "
            "the other."));
  const int du = std::max(a.u.degree, second.u.degree);
  const int dv = std::max(a.v.degree, second.v.degree);
  Surface first = unit(a, du, dv);
  second = unit(second, du, dv);
  for (const Direction d : {Direction::U, Direction::V}) {
    const auto add = [d](Surface& s, const KnotVector& other) {
      const std::vector<double> missing = missing_knots(knots_of(s, d), other);
      if (!missing.empty()) s = insert_knots(s, d, missing);
    };
    add(first, knots_of(second, d));
    add(second, knots_of(first, d));
  }
  if (second.u.knots.size() == first.u.knots.size()) second.u = first.u;
  if (second.v.knots.size() == first.v.knots.size()) second.v = first.v;
  return {first, second};
}

}  // namespace evenclay
