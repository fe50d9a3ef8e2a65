#include "core/scan/scattered_fit.h"

#include <Eigen/Sparse>
#include <Eigen/SparseCholesky>

#include <algorithm>
#include <numeric>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/nurbs/quadrature.h"

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

// ∫ N_i^(a) N_j^(a) over the domain of a direction, by points.
Block gram(const Line& line, int points, int order) {
  Block g = Block::Zero(points, points);
  for (std::size_t c = 0; c < line.pieces(); ++c) {
    const double half = 0.5 * (line.breaks[c + 1] - line.breaks[c]);
    const double middle = 0.5 * (line.breaks[c + 1] + line.breaks[c]);
    for (const GaussPoint& q : kGauss8) {
      const BasisDerivatives d =
          basis_derivatives(line.flat, line.span[c], middle + half * q.place, order);
      const auto& n = d[static_cast<std::size_t>(order)];
      for (int i = 0; i <= line.flat.degree; ++i)
        for (int j = 0; j <= line.flat.degree; ++j)
          g(line.point(c, i), line.point(c, j)) +=
              half * q.weight * n[static_cast<std::size_t>(i)] * n[static_cast<std::size_t>(j)];
    }
  }
  return g;
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
};

ScatteredFit::ScatteredFit(const Surface& basis) : impl_(std::make_unique<Impl>(basis)) {}
ScatteredFit::~ScatteredFit() = default;
ScatteredFit::ScatteredFit(ScatteredFit&&) noexcept = default;

namespace {

// Places of one cell that are summed up at once.
struct Task {
  std::size_t cu, cv, begin, end;
};

}  // namespace

void ScatteredFit::add(std::span<const Parameter> at, std::span<const Vec3> places,
                       std::span<const double> weights, Progress& progress) {
  Impl& m = *impl_;
  const std::size_t cells = m.u.pieces() * m.v.pieces();
  std::vector<std::uint32_t> cell(at.size()), order(at.size());
  std::vector<std::size_t> first(cells + 1, 0);
  for (std::size_t k = 0; k < at.size(); ++k) {
    cell[k] =
        static_cast<std::uint32_t>(m.u.piece_of(at[k].u) * m.v.pieces() + m.v.piece_of(at[k].v));
    ++first[cell[k] + 1];
  }
  std::partial_sum(first.begin(), first.end(), first.begin());
  {
    std::vector<std::size_t> next(first.begin(), first.end() - 1);
    for (std::size_t k = 0; k < at.size(); ++k)
      order[next[cell[k]]++] = static_cast<std::uint32_t>(k);
  }
  constexpr std::size_t kMost = 8192;
  std::vector<Task> tasks;
  for (std::size_t c = 0; c < cells; ++c)
    for (std::size_t k = first[c]; k < first[c + 1]; k += kMost)
      tasks.push_back({c / m.v.pieces(), c % m.v.pieces(), k, std::min(k + kMost, first[c + 1])});
  const int functions = m.functions();
  std::vector<Block> left(tasks.size()), right(tasks.size());
  parallel_blocks(tasks.size(), 1, progress, [&](std::size_t begin, std::size_t end) {
    constexpr std::size_t kRows = 256;
    Eigen::MatrixXd n(kRows, functions), p(kRows, 3);
    for (std::size_t t = begin; t < end; ++t) {
      const Task& task = tasks[t];
      left[t] = Block::Zero(functions, functions);
      right[t] = Block::Zero(functions, 3);
      for (std::size_t from = task.begin; from < task.end; from += kRows) {
        const auto rows = static_cast<Eigen::Index>(std::min(kRows, task.end - from));
        for (Eigen::Index r = 0; r < rows; ++r) {
          const std::uint32_t k = order[from + static_cast<std::size_t>(r)];
          m.fill(task.cu, task.cv, at[k], &n(r, 0), static_cast<int>(kRows));
          const double w = weights.empty() ? 1.0 : std::sqrt(weights[k]);
          n.row(r) *= w;
          for (std::size_t a = 0; a < 3; ++a) p(r, static_cast<Eigen::Index>(a)) = w * places[k][a];
        }
        left[t].selfadjointView<Eigen::Lower>().rankUpdate(n.topRows(rows).transpose());
        right[t].noalias() += n.topRows(rows).transpose() * p.topRows(rows);
      }
    }
  });
  for (std::size_t t = 0; t < tasks.size(); ++t)
    for (int i = 0; i < functions; ++i) {
      const int a = m.number(tasks[t].cu, tasks[t].cv, i);
      for (int j = 0; j <= i; ++j) {
        const int b = m.number(tasks[t].cu, tasks[t].cv, j);
        m.triplets.emplace_back(a, b, left[t](i, j));
        if (i != j) m.triplets.emplace_back(b, a, left[t](i, j));
      }
      m.right.row(a) += right[t].row(i);
    }
}

void ScatteredFit::add_bending(double factor, double wide, double high, const Grid<Vec3>& rest) {
  Impl& m = *impl_;
  const double ru = m.basis.u.length() / wide, rv = m.basis.v.length() / high;
  const auto scaled = [](Block g, double rate, int order) {
    return Block(g * std::pow(rate, 2 * order - 1));  // derivatives and length by mm
  };
  const Block u0 = scaled(gram(m.u, m.rows, 0), ru, 0), u1 = scaled(gram(m.u, m.rows, 1), ru, 1),
              u2 = scaled(gram(m.u, m.rows, 2), ru, 2);
  const Block v0 = scaled(gram(m.v, m.columns, 0), rv, 0),
              v1 = scaled(gram(m.v, m.columns, 1), rv, 1),
              v2 = scaled(gram(m.v, m.columns, 2), rv, 2);
  for (int a = 0; a < m.rows; ++a)
    for (int c = 0; c < m.rows; ++c) {
      if (u0(a, c) == 0.0 && u2(a, c) == 0.0 && u1(a, c) == 0.0) continue;
      for (int b = 0; b < m.columns; ++b)
        for (int d = 0; d < m.columns; ++d) {
          const double e =
              factor * (u2(a, c) * v0(b, d) + 2.0 * u1(a, c) * v1(b, d) + u0(a, c) * v2(b, d));
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
        "The scan does not reach far enough to hold all control points. Take fewer of them, or "
        "more smoothing.");
  const Eigen::MatrixXd x = solver.solve(right);
  for (int k = 0; k < m.count(); ++k)
    if (const int p = place[static_cast<std::size_t>(k)]; p >= 0)
      result(k / m.columns, k % m.columns) = {x(p, 0), x(p, 1), x(p, 2)};
  return result;
}

}  // namespace evenclay
