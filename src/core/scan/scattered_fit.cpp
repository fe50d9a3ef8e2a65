#include "core/scan/scattered_fit.h"

#include <Eigen/LU>
#include <Eigen/Sparse>
#include <Eigen/SparseCholesky>

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/bins.h"
#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/nurbs/gram.h"

namespace evenclay {

namespace {

using Block = Eigen::MatrixXd;
using Triplets = std::vector<Eigen::Triplet<double>>;

// One direction with its spans that have length.
struct Line {
  FlatKnots flat;
  std::vector<double> breaks;
  std::vector<int> span;  // of each piece between breaks

  explicit Line(const KnotVector& k) : flat(flatten(k)), breaks(breakpoints(k)) {
    for (std::size_t c = 0; c + 1 < breaks.size(); ++c)
      span.push_back(find_span(flat, 0.5 * (breaks[c] + breaks[c + 1])));
  }
  std::size_t pieces() const { return span.size(); }
  std::size_t piece_of(double t) const {
    const auto above = std::upper_bound(breaks.begin() + 1, breaks.end() - 1, t);
    return static_cast<std::size_t>(above - breaks.begin()) - 1;
  }
  int point(std::size_t piece, int k) const { return flat.point(span[piece] - flat.degree + k); }
};

}  // namespace

namespace {

// Places of one cell that are summed up at once.
struct Task {
  std::size_t cu, cv, begin, end;
};

constexpr std::size_t kAtOnce = 8192;

// Places in the order of their cells, cut into tasks.
struct Sorted {
  std::vector<std::uint32_t> order;
  std::vector<Task> tasks;

  Sorted(const Line& u, const Line& v, std::span<const Parameter> at, Progress& progress) {
    const std::size_t cells = u.pieces() * v.pieces();
    std::vector<std::uint32_t> cell(at.size());
    parallel_blocks(at.size(), 16384, progress, [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k)
        cell[k] =
            static_cast<std::uint32_t>(u.piece_of(at[k].u) * v.pieces() + v.piece_of(at[k].v));
    });
    Bins bins = sorted_into_bins(
        at.size(), cells, [&](std::size_t k) { return cell[k]; }, progress);
    order = std::move(bins.order);
    const std::vector<std::size_t>& first = bins.first;
    for (std::size_t c = 0; c < cells; ++c)
      for (std::size_t k = first[c]; k < first[c + 1]; k += kAtOnce)
        tasks.push_back({c / v.pieces(), c % v.pieces(), k, std::min(k + kAtOnce, first[c + 1])});
  }
};

// Σ w uᵃ vᵇ and Σ w uᵃ vᵇ place, u and v running from −1 to 1 over the cell. With Pu, Pv known when compiled, the loops are
// unrolled.
struct Moments {
  int pu, pv;
  std::vector<double> left;                  // (2 pu + 1) × (2 pv + 1)
  std::array<std::vector<double>, 3> right;  // (pu + 1) × (pv + 1)

  Moments(int p, int q)
      : pu(p), pv(q), left(static_cast<std::size_t>((2 * p + 1) * (2 * q + 1)), 0.0) {
    right.fill(std::vector<double>(static_cast<std::size_t>((p + 1) * (q + 1)), 0.0));
  }

  template <int Pu, int Pv>
  void add(double u, double v, double w, const Vec3& place) {
    const int p = Pu > 0 ? Pu : pu, q = Pv > 0 ? Pv : pv;
    std::array<double, 2 * kMaxDegree + 1> powers;  // of v
    powers[0] = 1.0;
    for (int b = 1; b <= 2 * q; ++b)
      powers[static_cast<std::size_t>(b)] = powers[static_cast<std::size_t>(b - 1)] * v;
    double* m = left.data();
    double* x = right[0].data();
    double* y = right[1].data();
    double* z = right[2].data();
    for (int a = 0; a <= 2 * p; ++a, w *= u) {
      for (int b = 0; b <= 2 * q; ++b) m[b] += w * powers[static_cast<std::size_t>(b)];
      m += 2 * q + 1;
      if (a > p) continue;
      const double wx = w * place.x, wy = w * place.y, wz = w * place.z;
      for (int b = 0; b <= q; ++b) x[b] += wx * powers[static_cast<std::size_t>(b)];
      for (int b = 0; b <= q; ++b) y[b] += wy * powers[static_cast<std::size_t>(b)];
      for (int b = 0; b <= q; ++b) z[b] += wz * powers[static_cast<std::size_t>(b)];
      x += q + 1;
      y += q + 1;
      z += q + 1;
    }
  }
};

struct Stretch {
  double middle, half;
};

Stretch stretch_of(const Line& line, std::size_t piece) {
  return {0.5 * (line.breaks[piece + 1] + line.breaks[piece]),
          0.5 * (line.breaks[piece + 1] - line.breaks[piece])};
}

// The basis of a piece as polynomials of the local parameter: coefficients(k, a) of function k.
Block polynomials(const Line& line, std::size_t piece) {
  const int n = line.flat.degree + 1;
  const Stretch s = stretch_of(line, piece);
  Block powers(n, n), values(n, n);
  for (int r = 0; r < n; ++r) {
    const double t =
        std::cos(3.141592653589793 * (r + 0.5) / n);  // spread so that the system stays sound
    const auto basis = basis_values(line.flat, line.span[piece], s.middle + s.half * t);
    for (int a = 0; a < n; ++a) {
      powers(r, a) = std::pow(t, a);
      values(r, a) = basis[static_cast<std::size_t>(a)];
    }
  }
  return powers.partialPivLu().solve(values).transpose();
}

// What the functions of a cell make of its moments.
void blocks_of(const Moments& m, const Block& cu, const Block& cv, Block& left, Block& right) {
  const int nu = m.pu + 1, nv = m.pv + 1, across = 2 * m.pv + 1;
  left = Block::Zero(nu * nv, nu * nv);
  right = Block::Zero(nu * nv, 3);
  // First along v for each power of u, then along u.
  std::vector<Block> half(static_cast<std::size_t>(2 * m.pu + 1));
  for (int a = 0; a <= 2 * m.pu; ++a) {
    Block hankel(nv, nv);
    for (int b = 0; b < nv; ++b)
      for (int d = 0; d < nv; ++d)
        hankel(b, d) = m.left[static_cast<std::size_t>(a * across + b + d)];
    half[static_cast<std::size_t>(a)] = cv * hankel * cv.transpose();
  }
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nu; ++j)
      for (int a = 0; a < nu; ++a)
        for (int c = 0; c < nu; ++c)
          left.block(i * nv, j * nv, nv, nv) +=
              cu(i, a) * cu(j, c) * half[static_cast<std::size_t>(a + c)];
  for (int axis = 0; axis < 3; ++axis) {
    const Eigen::Map<const Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>>
        r(m.right[static_cast<std::size_t>(axis)].data(), nu, nv);
    const Block made = cu * r * cv.transpose();
    for (int i = 0; i < nu; ++i)
      for (int j = 0; j < nv; ++j) right(i * nv + j, axis) = made(i, j);
  }
}

}  // namespace

namespace {

struct Sums {
  std::vector<Block> left, right;
};

// Polynomial bases: powers are summed, and turned into functions once a task.
template <int Pu, int Pv>
void sum_moments(const Line& u, const Line& v, const Sorted& sorted, std::span<const Parameter> at,
                 std::span<const Vec3> places, std::span<const double> weights, Sums& sums,
                 Progress& progress) {
  parallel_blocks(sorted.tasks.size(), 1, progress, [&](std::size_t begin, std::size_t end) {
    for (std::size_t t = begin; t < end; ++t) {
      const Task& task = sorted.tasks[t];
      const Stretch su = stretch_of(u, task.cu), sv = stretch_of(v, task.cv);
      Moments m(u.flat.degree, v.flat.degree);
      for (std::size_t n = task.begin; n < task.end; ++n) {
        const std::uint32_t k = sorted.order[n];
        m.add<Pu, Pv>((at[k].u - su.middle) / su.half, (at[k].v - sv.middle) / sv.half,
                      weights.empty() ? 1.0 : weights[k], places[k]);
      }
      blocks_of(m, polynomials(u, task.cu), polynomials(v, task.cv), sums.left[t], sums.right[t]);
    }
  });
}

}  // namespace

struct ScatteredFit::Impl {
  Surface basis;
  Line u, v;
  int rows, columns;
  Triplets triplets;
  Eigen::MatrixXd right;

  explicit Impl(const Surface& s)
      : basis(s),
        u(s.u),
        v(s.v),
        rows(s.points.rows()),
        columns(s.points.columns()),
        right(Eigen::MatrixXd::Zero(rows * columns, 3)) {}
  int count() const { return rows * columns; }
  int functions() const { return (u.flat.degree + 1) * (v.flat.degree + 1); }
  int number(std::size_t cu, std::size_t cv, int k) const {
    const int across = v.flat.degree + 1;
    return u.point(cu, k / across) * columns + v.point(cv, k % across);
  }

  // The functions of a cell at the places, a row each.
  void fill(std::size_t cu, std::size_t cv, const Parameter& at, double* row, int stride) const {
    const auto nu = basis_values(u.flat, u.span[cu], at.u);
    const auto nv = basis_values(v.flat, v.span[cv], at.v);
    const int across = v.flat.degree + 1;
    double sum = 0.0;
    for (int k = 0; k < functions(); ++k) {
      double n =
          nu[static_cast<std::size_t>(k / across)] * nv[static_cast<std::size_t>(k % across)];
      if (basis.rational()) {
        const int p = number(cu, cv, k);
        n *= basis.weight(p / columns, p % columns);
      }
      row[k * stride] = n;
      sum += n;
    }
    if (basis.rational())
      for (int k = 0; k < functions(); ++k) row[k * stride] /= sum;
  }

  // Rational bases: the functions themselves, row by row.
  void sum_rows(const Sorted& sorted, std::span<const Parameter> at, std::span<const Vec3> places,
                std::span<const double> weights, Sums& sums, Progress& progress) const {
    parallel_blocks(sorted.tasks.size(), 1, progress, [&](std::size_t begin, std::size_t end) {
      constexpr std::size_t kRows = 256;
      Block n(kRows, functions()), p(kRows, 3);
      for (std::size_t t = begin; t < end; ++t) {
        const Task& task = sorted.tasks[t];
        sums.left[t] = Block::Zero(functions(), functions());
        sums.right[t] = Block::Zero(functions(), 3);
        for (std::size_t from = task.begin; from < task.end; from += kRows) {
          const auto count_here = static_cast<Eigen::Index>(std::min(kRows, task.end - from));
          for (Eigen::Index r = 0; r < count_here; ++r) {
            const std::uint32_t k = sorted.order[from + static_cast<std::size_t>(r)];
            fill(task.cu, task.cv, at[k], &n(r, 0), static_cast<int>(kRows));
            const double w = weights.empty() ? 1.0 : std::sqrt(weights[k]);
            n.row(r) *= w;
            for (std::size_t c = 0; c < 3; ++c)
              p(r, static_cast<Eigen::Index>(c)) = w * places[k][c];
          }
          sums.left[t].selfadjointView<Eigen::Lower>().rankUpdate(
              n.topRows(count_here).transpose());
          sums.right[t].noalias() += n.topRows(count_here).transpose() * p.topRows(count_here);
        }
      }
    });
  }
};

ScatteredFit::ScatteredFit(const Surface& basis) : impl_(std::make_unique<Impl>(basis)) {}
ScatteredFit::~ScatteredFit() = default;
ScatteredFit::ScatteredFit(ScatteredFit&&) noexcept = default;

void ScatteredFit::add(std::span<const Parameter> at, std::span<const Vec3> places,
                       std::span<const double> weights, Progress& progress) {
  Impl& m = *impl_;
  const Sorted sorted(m.u, m.v, at, progress);
  Sums sums{std::vector<Block>(sorted.tasks.size()), std::vector<Block>(sorted.tasks.size())};
  if (m.basis.rational())
    m.sum_rows(sorted, at, places, weights, sums, progress);
  else if (m.u.flat.degree == 3 && m.v.flat.degree == 3)
    sum_moments<3, 3>(m.u, m.v, sorted, at, places, weights, sums, progress);
  else
    sum_moments<0, 0>(m.u, m.v, sorted, at, places, weights, sums, progress);
  for (std::size_t t = 0; t < sorted.tasks.size(); ++t)
    for (int i = 0; i < m.functions(); ++i) {
      const int a = m.number(sorted.tasks[t].cu, sorted.tasks[t].cv, i);
      for (int j = 0; j <= i; ++j) {
        const int b = m.number(sorted.tasks[t].cu, sorted.tasks[t].cv, j);
        m.triplets.emplace_back(a, b, sums.left[t](i, j));
        if (i != j) m.triplets.emplace_back(b, a, sums.left[t](i, j));
      }
      m.right.row(a) += sums.right[t].row(i);
    }
}

void ScatteredFit::add_bending(double factor, double wide, double high, const Grid<Vec3>& rest) {
  Impl& m = *impl_;
  std::array<Grid<double>, 3> u, v;
  for (int k = 0; k < 3; ++k) {
    u[static_cast<std::size_t>(k)] = gram(m.basis.u, wide, k);
    v[static_cast<std::size_t>(k)] = gram(m.basis.v, high, k);
  }
  for (int a = 0; a < m.rows; ++a)
    for (int c = 0; c < m.rows; ++c) {
      if (u[0](a, c) == 0.0 && u[1](a, c) == 0.0 && u[2](a, c) == 0.0) continue;
      for (int b = 0; b < m.columns; ++b)
        for (int d = 0; d < m.columns; ++d) {
          const double e = factor * (u[2](a, c) * v[0](b, d) + 2.0 * u[1](a, c) * v[1](b, d) +
                                     u[0](a, c) * v[2](b, d));
          if (e == 0.0) continue;
          const int i = a * m.columns + b;
          m.triplets.emplace_back(i, c * m.columns + d, e);
          const Vec3& r = rest(c, d);
          m.right.row(i) += e * Eigen::RowVector3d(r.x, r.y, r.z);
        }
    }
}

Grid<Vec3> ScatteredFit::solve(const Grid<Vec3>& start, const std::vector<char>& held) const {
  const Impl& m = *impl_;
  std::vector<int> place(static_cast<std::size_t>(m.count()), -1);
  int open = 0;
  for (int k = 0; k < m.count(); ++k)
    if (held.empty() || held[static_cast<std::size_t>(k)] == 0)
      place[static_cast<std::size_t>(k)] = open++;
  Grid<Vec3> result = start;
  if (open == 0) return result;
  const auto at = [&](int k) { return start(k / m.columns, k % m.columns); };
  Triplets kept;
  Eigen::MatrixXd right = Eigen::MatrixXd::Zero(open, 3);
  for (int k = 0; k < m.count(); ++k)
    if (const int p = place[static_cast<std::size_t>(k)]; p >= 0) right.row(p) += m.right.row(k);
  for (const auto& t : m.triplets) {
    const int row = place[static_cast<std::size_t>(t.row())],
              column = place[static_cast<std::size_t>(t.col())];
    if (row < 0) continue;
    if (column >= 0) {
      kept.emplace_back(row, column, t.value());
    } else {
      const Vec3 fixed = at(t.col());
      right.row(row) -= t.value() * Eigen::RowVector3d(fixed.x, fixed.y, fixed.z);
    }
  }
  Eigen::SparseMatrix<double> left(open, open);
  left.setFromTriplets(kept.begin(), kept.end());
  const Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver(left);
  if (solver.info() != Eigen::Success || !(solver.vectorD().array() > 0.0).all())
    throw Error(
        say("The scan does not reach far enough to hold all control points. Take fewer of them, or "
            "more smoothing."));
  const Eigen::MatrixXd x = solver.solve(right);
  for (int k = 0; k < m.count(); ++k)
    if (const int p = place[static_cast<std::size_t>(k)]; p >= 0)
      result(k / m.columns, k % m.columns) = {x(p, 0), x(p, 1), x(p, 2)};
  return result;
}

}  // namespace evenclay
