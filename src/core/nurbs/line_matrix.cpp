#include "core/nurbs/line_matrix.h"

#include <algorithm>
#include <array>
#include <cassert>
#include <cmath>
#include <limits>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/kernels.h"

namespace evenclay {

namespace {

constexpr std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}

// The knots as one sequence; a periodic one goes on for ever in both directions. Function i has its
// support on knot(i) .. knot(i + degree + 1).
class Sequence {
 public:
  explicit Sequence(const KnotVector& k)
      : k_(k), points_(k.point_count()), last_span_(span(k.last())) {}

  int degree() const { return k_.degree; }
  bool periodic() const { return k_.periodic; }
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
  // The same for a u that is not before the span k.
  int span_after(int k, double u) const {
    const int top = k_.periodic ? std::numeric_limits<int>::max() : last_span_;
    while (k < top && knot(k + 1) <= u) ++k;
    return k;
  }

 private:
  const KnotVector& k_;
  int points_;
  int last_span_;
};

using Row = std::array<double, kMaxDegree + 1>;

// Blossoms on one span after another: what depends on the span alone is kept until another one is asked for.
class Blossoms {
 public:
  explicit Blossoms(const Sequence& s) : sequence_(s) {}

  // Coefficients at sorted arguments on the span k: of functions k - degree .. k.
  Row at_arguments(int k, const double* arguments) {
    if (k != span_) prepare(k);
    const int p = sequence_.degree();
    const double* inverse = inverse_.data();
    Row c;
    c[0] = 1.0;  // c[0 .. r] belong to functions k - r .. k
    for (int r = 1; r <= p; ++r) {
      const double x = arguments[r - 1];
      double kept = 0.0;
      for (int j = 0; j < r; ++j) {
        // At its end a share is 1 without rounding, so that points which stay are copied.
        const double share = x == near_[at(p + j)] ? 1.0 : (x - near_[at(p - r + j)]) * *inverse;
        ++inverse;
        const double old = c[at(j)];
        c[at(j)] = kept + (1.0 - share) * old;
        kept = share * old;
      }
      c[at(r)] = kept;
    }
    return c;
  }

 private:
  void prepare(int k) {
    span_ = k;
    const int p = sequence_.degree();
    for (int i = 0; i < 2 * p; ++i) near_[at(i)] = sequence_.knot(k - p + 1 + i);
    std::size_t n = 0;
    for (int r = 1; r <= p; ++r)
      for (int j = 0; j < r; ++j) inverse_[n++] = 1.0 / (near_[at(p + j)] - near_[at(p - r + j)]);
  }

  const Sequence& sequence_;
  int span_ = std::numeric_limits<int>::min();
  std::array<double, 2 * at(kMaxDegree)> near_;  // knots span - p + 1 .. span + p
  std::array<double, at(kMaxDegree) * at(kMaxDegree + 1) / 2> inverse_;
};

// One row being gathered: shares of the functions from `first` on. Blossoms of one row begin at most a full knot
// apart.
struct Gathered {
  int first = 0;
  int count = 0;
  std::array<double, 2 * at(kMaxDegree) + 2> share{};
};

void gather(int k, int degree, const Row& row, double share, Gathered& out) {
  if (out.count == 0) out.first = k - degree;
  const int from = k - degree - out.first;
  assert(from >= 0);
  for (int j = 0; j <= degree; ++j) out.share[at(from + j)] += share * row[at(j)];
  out.count = std::max(out.count, from + degree + 1);
}

void add_entry(LineMatrix& m, bool may_be_there, int point, double value) {
  for (std::size_t e = m.begin.back(); may_be_there && e < m.point.size(); ++e)
    if (m.point[e] == point) {
      m.value[e] += value;
      return;
    }
  m.point.push_back(point);
  m.value.push_back(value);
}

// A closed line with few points may name a point twice in a row.
void add_row(LineMatrix& m, const Sequence& s, const Gathered& row) {
  for (int f = 0; f < row.count; ++f)
    if (row.share[at(f)] != 0.0)
      add_entry(m, s.periodic(), s.point_of(row.first + f), row.share[at(f)]);
  m.begin.push_back(m.point.size());
}

LineMatrix with_room(int rows, int degree) {
  LineMatrix m;
  m.begin.reserve(at(rows + 1));
  m.point.reserve(at(rows * (degree + 1)));
  m.value.reserve(at(rows * (degree + 1)));
  return m;
}

using Arguments = std::array<double, kMaxDegree + 1>;

Arguments arguments_of(const Sequence& to, int function) {
  Arguments result{};
  for (int k = 1; k <= to.degree(); ++k) result[at(k - 1)] = to.knot(function + k);
  return result;
}

constexpr double kLeastWeight = 1e-9;

kernels::Combination combination(const LineMatrix& m) {
  return {m.rows(), m.begin.data(), m.point.data(), m.value.data()};
}

// The same with as many entries in every row, which is quicker along a row: zeros are added.
LineMatrix padded(const LineMatrix& m) {
  std::size_t width = 0;
  for (int r = 0; r < m.rows(); ++r) width = std::max(width, m.begin[at(r) + 1] - m.begin[at(r)]);
  LineMatrix result;
  for (int r = 0; r < m.rows(); ++r) {
    for (std::size_t k = 0; k < width; ++k) {
      const std::size_t e = std::min(m.begin[at(r)] + k, m.begin[at(r) + 1] - 1);
      result.point.push_back(m.point[e]);
      result.value.push_back(m.begin[at(r)] + k == e ? m.value[e] : 0.0);
    }
    result.begin.push_back(result.point.size());
  }
  return result;
}

// All rows of new points, each row written once, in its place.
template <typename T>
Grid<T> rows_combined(const LineMatrix& m, const Grid<T>& from) {
  const auto columns = at(from.columns());
  constexpr std::size_t numbers = sizeof(T) / sizeof(double);
  std::vector<T> values, row(columns);
  values.reserve(at(m.rows()) * columns);
  for (int r = 0; r < m.rows(); ++r) {
    kernels::best().combine_rows(combination(m), r,
                                 reinterpret_cast<const double*>(from.values().data()),
                                 numbers * columns, reinterpret_cast<double*>(row.data()));
    values.insert(values.end(), row.begin(), row.end());
  }
  return Grid<T>(m.rows(), from.columns(), std::move(values));
}

Surface applied_u(const LineMatrix& m, const Surface& s, const KnotVector& to) {
  if (!s.rational()) return {to, s.v, rows_combined(m, s.points), {}};
  Grid<Vec3> weighted = s.points;
  for (std::size_t k = 0; k < weighted.values().size(); ++k)
    weighted.values()[k] *= s.weights.values()[k];
  return {to, s.v, rows_combined(m, weighted), rows_combined(m, s.weights)};
}

Surface applied_v(const LineMatrix& matrix, const Surface& s, const KnotVector& to) {
  constexpr std::size_t block = 4;  // lines at once, that stay in the nearest cache
  const auto rows = at(s.points.rows());
  const auto old = at(s.points.columns());
  const auto fresh = at(matrix.rows());
  const bool rational = s.rational();
  const LineMatrix m = padded(matrix);
  kernels::Combination c = combination(m);
  c.width = static_cast<int>(m.point.size()) / std::max(1, m.rows());
  std::vector<std::array<double, 4>> lines(block * old);
  std::vector<Vec3> points, some(block * fresh);
  std::vector<double> weights, some_weights(rational ? block * fresh : 0);
  points.reserve(rows * fresh);
  weights.reserve(rational ? rows * fresh : 0);
  for (std::size_t i = 0; i < rows; i += block) {
    const std::size_t count = std::min(block, rows - i);
    const Vec3* p = s.points.values().data() + i * old;
    const double* w = rational ? s.weights.values().data() + i * old : nullptr;
    for (std::size_t k = 0; k < count * old; ++k)
      if (rational)
        lines[k] = {p[k].x * w[k], p[k].y * w[k], p[k].z * w[k], w[k]};
      else
        lines[k] = {p[k].x, p[k].y, p[k].z, 1.0};
    kernels::best().combine_points(c, lines.data()->data(), count, old, &some.data()->x,
                                   rational ? some_weights.data() : nullptr);
    const auto made = static_cast<std::ptrdiff_t>(count * fresh);
    points.insert(points.end(), some.begin(), some.begin() + made);
    if (rational) weights.insert(weights.end(), some_weights.begin(), some_weights.begin() + made);
  }
  Surface result{s.u, to, Grid<Vec3>(s.points.rows(), m.rows(), std::move(points)), {}};
  if (rational) result.weights = Grid<double>(s.points.rows(), m.rows(), std::move(weights));
  return result;
}

}  // namespace

LineMatrix refinement(const KnotVector& from, const KnotVector& to) {
  const Sequence source(from);
  const Sequence target(to);
  const int p = from.degree;
  LineMatrix m = with_room(to.point_count(), p);
  Blossoms blossoms(source);
  int k = source.span(target.knot(target.function_of(0) + 1));
  for (int r = 0; r < to.point_count(); ++r) {
    const Arguments x = arguments_of(target, target.function_of(r));
    k = source.span_after(k, x[0]);
    Gathered row;
    gather(k, p, blossoms.at_arguments(k, x.data()), 1.0, row);
    add_row(m, source, row);
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
  LineMatrix m = with_room(to.point_count(), p + 1);
  Blossoms blossoms(source);
  int k = source.span(target.knot(target.function_of(0) + 1));
  for (int r = 0; r < to.point_count(); ++r) {
    const Arguments x = arguments_of(target, target.function_of(r));
    k = source.span_after(k, x[0]);
    Gathered row;
    // From the last argument to the first, since without the first the span is a later one.
    for (int last = p; last >= 0;) {
      int same = 1;  // leaving out any of equal arguments is the same
      while (last - same >= 0 && x[at(last - same)] == x[at(last)]) ++same;
      Arguments rest = x;
      for (int i = last; i < p; ++i) rest[at(i)] = x[at(i + 1)];
      const int span = source.span_after(k, rest[0]);
      gather(span, p, blossoms.at_arguments(span, rest.data()), static_cast<double>(same) / (p + 1),
             row);
      last -= same;
    }
    add_row(m, source, row);
  }
  return m;
}

LineMatrix end_moved(const KnotVector& from, double end) {
  assert(!from.periodic);
  const Sequence source(from);
  const int n = from.point_count();
  const int p = from.degree;
  KnotVector moved = from;
  for (int k = n; k <= n + p; ++k) moved.knots[at(k)] = end;
  const Sequence target(moved);
  const int k = source.span(from.last());
  LineMatrix m = with_room(n, p);
  Blossoms blossoms(source);
  for (int r = 0; r < n; ++r) {
    Gathered row;
    if (r < n - p) {
      row = {r, 1, {1.0}};
    } else {
      const Arguments x = arguments_of(target, r);
      gather(k, p, blossoms.at_arguments(k, x.data()), 1.0, row);
    }
    add_row(m, source, row);
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
