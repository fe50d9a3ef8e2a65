#include "core/nurbs/line_matrix.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// The knots as one sequence; a periodic one goes on for ever in both directions. Function i has its
// support on knot(i) .. knot(i + degree + 1).
class Sequence {
 public:
  explicit Sequence(const KnotVector& k) : k_(k), points_(k.point_count()) {}

  int degree() const { return k_.degree; }
  double knot(int i) const {
    if (!k_.periodic) return k_.knots[at(i)];
    const int turns = i >= 0 ? i / points_ : -((points_ - 1 - i) / points_);
    return k_.knots[at(i - turns * points_)] + turns * k_.length();
  }
  int point_of(int function) const {
    if (!k_.periodic) return function;
    const int r = (function + (k_.degree + 1) / 2) % points_;
    return r < 0 ? r + points_ : r;
  }
  int function_of(int point) const { return k_.periodic ? point - (k_.degree + 1) / 2 : point; }

  // The span with knot(k) <= u < knot(k + 1); the last one with length at the end.
  int span(double u) const {
    const int last = k_.periodic ? points_ : points_ - 1;
    int k = 0;
    if (k_.periodic) {
      const double turns = std::floor((u - k_.first()) / k_.length());
      k = static_cast<int>(turns) * points_;
      const double inside = u - turns * k_.length();
      k += static_cast<int>(std::upper_bound(k_.knots.begin(), k_.knots.end() - 1, inside) -
                            k_.knots.begin() - 1);
      while (knot(k + 1) <= u) ++k;
      while (knot(k) > u) --k;
      return k;
    }
    k = static_cast<int>(
            std::upper_bound(k_.knots.begin() + k_.degree, k_.knots.begin() + last + 1, u) -
            k_.knots.begin()) -
        1;
    k = std::clamp(k, k_.degree, last);
    while (k > k_.degree && knot(k) >= knot(k + 1)) --k;
    return k;
  }

 private:
  const KnotVector& k_;
  int points_;
};

using Row = std::array<double, kMaxDegree + 1>;

// Coefficients of the blossom at sorted arguments on the span k: of functions k - degree .. k.
Row blossom(const Sequence& s, int k, std::span<const double> arguments) {
  const int p = s.degree();
  Row c{};
  c[at(p)] = 1.0;  // c[p - r ..p] belong to functions k - r .. k
  for (int r = 1; r <= p; ++r) {
    const double x = arguments[at(r - 1)];
    for (int j = p - r; j <= p; ++j) {
      const int i = k - p + j;  // function
      double value = 0.0;
      if (j > p - r) value += c[at(j)] * (x - s.knot(i)) / (s.knot(i + r) - s.knot(i));
      if (j < p)
        value += c[at(j + 1)] * (s.knot(i + r + 1) - x) / (s.knot(i + r + 1) - s.knot(i + 1));
      c[at(j)] = value;
    }
  }
  return c;
}

// One row being gathered; a closed line with few points may name a point twice.
struct Entries {
  std::vector<int> point;
  std::vector<double> value;

  void add(int p, double v) {
    for (std::size_t k = 0; k < point.size(); ++k)
      if (point[k] == p) {
        value[k] += v;
        return;
      }
    point.push_back(p);
    value.push_back(v);
  }
  void clear() {
    point.clear();
    value.clear();
  }
};

void add_row(LineMatrix& m, const Entries& entries) {
  for (std::size_t k = 0; k < entries.point.size(); ++k)
    if (entries.value[k] != 0.0) {
      m.point.push_back(entries.point[k]);
      m.value.push_back(entries.value[k]);
    }
  m.begin.push_back(m.point.size());
}

void gather(const Sequence& s, int k, const Row& row, double share, Entries& out) {
  for (int j = 0; j <= s.degree(); ++j)
    if (row[at(j)] != 0.0) out.add(s.point_of(k - s.degree() + j), share * row[at(j)]);
}

using Arguments = std::array<double, kMaxDegree + 1>;

Arguments arguments_of(const Sequence& to, int function) {
  Arguments result{};
  for (int k = 1; k <= to.degree(); ++k) result[at(k - 1)] = to.knot(function + k);
  return result;
}

constexpr double kLeastWeight = 1e-9;

// out = c × in for the first entry, += for the others, over a whole row at once.
void combine(double* out, const double* in, std::size_t count, double c, bool first) {
  if (first)
    for (std::size_t k = 0; k < count; ++k) out[k] = c * in[k];
  else
    for (std::size_t k = 0; k < count; ++k) out[k] += c * in[k];
}

Surface applied_u(const LineMatrix& m, const Surface& s, const KnotVector& to) {
  const int columns = s.points.columns();
  const bool rational = s.rational();
  Grid<Vec3> weighted;
  if (rational) {
    weighted = s.points;
    for (std::size_t k = 0; k < weighted.values().size(); ++k)
      weighted.values()[k] *= s.weights.values()[k];
  }
  const Grid<Vec3>& from = rational ? weighted : s.points;
  Surface result{to, s.v, Grid<Vec3>(m.rows(), columns), {}};
  if (rational) result.weights = Grid<double>(m.rows(), columns);
  for (int r = 0; r < m.rows(); ++r)
    for (std::size_t e = m.begin[at(r)]; e < m.begin[at(r) + 1]; ++e) {
      const bool first = e == m.begin[at(r)];
      combine(&result.points(r, 0).x, &from(m.point[e], 0).x, 3 * at(columns), m.value[e], first);
      if (rational)
        combine(&result.weights(r, 0), &s.weights(m.point[e], 0), at(columns), m.value[e], first);
    }
  return result;
}

Surface applied_v(const LineMatrix& m, const Surface& s, const KnotVector& to) {
  const int rows = s.points.rows();
  const bool rational = s.rational();
  Surface result{s.u, to, Grid<Vec3>(rows, m.rows()), {}};
  if (rational) result.weights = Grid<double>(rows, m.rows());
  const int* point = m.point.data();
  const double* value = m.value.data();
  for (int i = 0; i < rows; ++i) {
    const Vec3* in = &s.points(i, 0);
    const double* weight = rational ? &s.weights(i, 0) : nullptr;
    for (int r = 0; r < m.rows(); ++r) {
      double x = 0.0, y = 0.0, z = 0.0, w = 0.0;
      for (std::size_t e = m.begin[at(r)]; e < m.begin[at(r) + 1]; ++e) {
        const double c = rational ? value[e] * weight[point[e]] : value[e];
        const Vec3& p = in[point[e]];
        x += c * p.x;
        y += c * p.y;
        z += c * p.z;
        w += c;
      }
      result.points(i, r) = {x, y, z};
      if (rational) result.weights(i, r) = w;
    }
  }
  return result;
}

}  // namespace

LineMatrix refinement(const KnotVector& from, const KnotVector& to) {
  const Sequence source(from);
  const Sequence target(to);
  const auto count = at(from.degree);
  LineMatrix m;
  Entries entries;
  for (int r = 0; r < to.point_count(); ++r) {
    const Arguments x = arguments_of(target, target.function_of(r));
    const int k = source.span(x[0]);
    entries.clear();
    gather(source, k, blossom(source, k, std::span(x).first(count)), 1.0, entries);
    add_row(m, entries);
  }
  return m;
}

KnotVector raised_knots(const KnotVector& k) {
  KnotVector result{k.degree + 1, k.periodic, {}};
  for (std::size_t i = 0; i < k.knots.size(); ++i) {
    if (i > 0 && k.knots[i] > k.knots[i - 1]) result.knots.push_back(k.knots[i - 1]);
    result.knots.push_back(k.knots[i]);
  }
  if (!k.periodic) result.knots.push_back(k.knots.back());
  return result;
}

LineMatrix raising(const KnotVector& from, const KnotVector& to) {
  const Sequence source(from);
  const Sequence target(to);
  const int p = from.degree;
  LineMatrix m;
  Entries entries;
  for (int r = 0; r < to.point_count(); ++r) {
    const Arguments x = arguments_of(target, target.function_of(r));
    entries.clear();
    for (int left_out = 0; left_out <= p;) {
      int same = 1;  // leaving out any of equal arguments is the same
      while (left_out + same <= p && x[at(left_out + same)] == x[at(left_out)]) ++same;
      Arguments rest = x;
      for (int k = left_out; k < p; ++k) rest[at(k)] = x[at(k + 1)];
      const int k = source.span(rest[0]);
      gather(source, k, blossom(source, k, std::span(rest).first(at(p))),
             static_cast<double>(same) / (p + 1), entries);
      left_out += same;
    }
    add_row(m, entries);
  }
  return m;
}

LineMatrix end_moved(const KnotVector& from, double end) {
  assert(!from.periodic);
  const Sequence source(from);
  const int n = from.point_count();
  KnotVector moved = from;
  for (int k = n; k <= n + from.degree; ++k) moved.knots[at(k)] = end;
  const Sequence target(moved);
  const int k = source.span(from.last());
  LineMatrix m;
  Entries entries;
  for (int r = 0; r < n; ++r) {
    entries.clear();
    const Arguments x = arguments_of(target, r);
    if (r < n - from.degree)
      entries.add(r, 1.0);
    else
      gather(source, k, blossom(source, k, std::span(x).first(at(from.degree))), 1.0, entries);
    add_row(m, entries);
  }
  return m;
}

Surface applied(const LineMatrix& m, const Surface& s, Direction direction, const KnotVector& to) {
  Surface result = direction == Direction::U ? applied_u(m, s, to) : applied_v(m, s, to);
  if (!result.rational()) return result;
  for (std::size_t k = 0; k < result.points.values().size(); ++k) {
    const double w = result.weights.values()[k];
    if (!(w > kLeastWeight))
      throw WeightError(
          say("The surface's weights would not stay positive. Use a shorter length, or rebuild the "
              "surface first, which makes all weights 1."));
    result.points.values()[k] = result.points.values()[k] / w;
  }
  return result;
}

}  // namespace evenclay
