#include "core/nurbs/fit.h"

#include <Eigen/Dense>
#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {
std::size_t at(int i) {
  return static_cast<std::size_t>(i);
}
using Matrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>;
}  // namespace

struct LineFit::Impl {
  struct Row {
    std::array<int, kMaxDegree + 1> point{};
    std::array<double, kMaxDegree + 1> value{};
  };
  int degree = 0;
  int points = 0;
  std::vector<Row> rows;
  std::vector<double> weights;
  std::vector<int> free_index;  // of each point, −1 when fixed
  int free_count = 0;
  int passes = 2;  // of solve(): those after the first remove rounding
  Eigen::LLT<Eigen::MatrixXd> factor;

  // r = samples − A x
  Matrix residual(const double* samples, std::size_t width, const double* x) const {
    Matrix r(static_cast<Eigen::Index>(rows.size()), static_cast<Eigen::Index>(width));
    for (std::size_t s = 0; s < rows.size(); ++s) {
      double* out = r.data() + s * width;
      std::copy_n(samples + s * width, width, out);
      for (int k = 0; k <= degree; ++k) {
        const double value = rows[s].value[at(k)];
        const double* in = x + at(rows[s].point[at(k)]) * width;
        for (std::size_t c = 0; c < width; ++c) out[c] -= value * in[c];
      }
    }
    return r;
  }

  // Aᵀ W r, free rows only
  Matrix gathered(const Matrix& r) const {
    const auto width = static_cast<std::size_t>(r.cols());
    Matrix b = Matrix::Zero(free_count, r.cols());
    for (std::size_t s = 0; s < rows.size(); ++s)
      for (int k = 0; k <= degree; ++k) {
        const int f = free_index[at(rows[s].point[at(k)])];
        if (f < 0) continue;
        const double value = rows[s].value[at(k)] * weights[s];
        const double* in = r.data() + s * width;
        double* out = b.data() + at(f) * width;
        for (std::size_t c = 0; c < width; ++c) out[c] += value * in[c];
      }
    return b;
  }
};

LineFit::LineFit(const KnotVector& knots, std::span<const double> places,
                 std::span<const double> weights, std::vector<int> fixed)
    : impl_(std::make_unique<Impl>()) {
  const FlatKnots flat = flatten(knots);
  Impl& m = *impl_;
  m.degree = knots.degree;
  m.points = flat.points;
  m.weights.assign(weights.begin(), weights.end());
  m.free_index.assign(at(flat.points), 0);
  for (const int f : fixed) m.free_index[at(f)] = -1;
  for (int& f : m.free_index)
    if (f == 0) f = m.free_count++;
  for (const double w : places) {
    const double u = into_domain(knots, w);
    const int span = find_span(flat, u);
    Impl::Row row;
    const auto values = basis_values(flat, span, u);
    for (int k = 0; k <= knots.degree; ++k) {
      row.point[at(k)] = flat.point(span - knots.degree + k);
      row.value[at(k)] = values[at(k)];
    }
    m.rows.push_back(row);
  }
  if (m.free_count == 0) return;
  Eigen::MatrixXd normal = Eigen::MatrixXd::Zero(m.free_count, m.free_count);
  for (std::size_t s = 0; s < m.rows.size(); ++s)
    for (int a = 0; a <= m.degree; ++a)
      for (int b = 0; b <= m.degree; ++b) {
        const int fa = m.free_index[at(m.rows[s].point[at(a)])];
        const int fb = m.free_index[at(m.rows[s].point[at(b)])];
        if (fa >= 0 && fb >= 0)
          normal(fa, fb) += m.weights[s] * m.rows[s].value[at(a)] * m.rows[s].value[at(b)];
      }
  m.factor.compute(normal);
  if (m.factor.info() == Eigen::Success && m.factor.rcond() > 1e-14) return;
  // Of the many best fits the one nearest to nothing; the passes of solve() take its bias away where
  // the samples do determine a coefficient.
  m.passes = 8;
  normal.diagonal().array() += 1e-10 * normal.diagonal().maxCoeff();
  m.factor.compute(normal);
  if (m.factor.info() != Eigen::Success)
    throw Error(
        say("The samples do not determine all control points. Ask for fewer control points."));
}

LineFit::~LineFit() = default;
LineFit::LineFit(LineFit&&) noexcept = default;

void LineFit::solve(std::span<const double> samples, std::size_t width, std::span<double> x) const {
  const Impl& m = *impl_;
  if (m.free_count == 0) return;
  for (int i = 0; i < m.points; ++i)
    if (m.free_index[at(i)] >= 0)
      std::fill_n(x.begin() + static_cast<long>(at(i) * width), width, 0.0);
  for (int pass = 0; pass < m.passes; ++pass) {
    const Matrix correction =
        m.factor.solve(m.gathered(m.residual(samples.data(), width, x.data())));
    for (int i = 0; i < m.points; ++i) {
      const int f = m.free_index[at(i)];
      if (f < 0) continue;
      for (std::size_t c = 0; c < width; ++c)
        x[at(i) * width + c] += correction(f, static_cast<Eigen::Index>(c));
    }
  }
}

FitSamples fit_samples(const KnotVector& target, std::span<const double> old_breaks) {
  // With more unknowns than samples in a span there is no single best fit.
  const double per_span = std::max(6, target.degree + 3);
  const std::vector<double> breaks = breakpoints(target);
  std::vector<double> olds;
  for (const double b : old_breaks)
    if (b > target.first() && b < target.last()) olds.push_back(b);
  std::sort(olds.begin(), olds.end());
  FitSamples result;
  const auto add = [&](double from, double to, double span) {
    const double width = to - from;
    if (width < 1e-12 * target.length()) return;
    const int n = std::max(1, static_cast<int>(std::ceil(per_span * width / span - 1e-6)));
    for (int s = 0; s < n; ++s) {
      result.places.push_back(from + width * (s + 0.5) / n);
      result.weights.push_back(width / n / target.length());
    }
  };
  auto old = olds.begin();
  for (std::size_t k = 0; k + 1 < breaks.size(); ++k) {
    double from = breaks[k];
    const double span = breaks[k + 1] - breaks[k];
    for (; old != olds.end() && *old < breaks[k + 1]; ++old) {
      add(from, *old, span);
      from = std::max(from, *old);
    }
    add(from, breaks[k + 1], span);
  }
  if (!target.periodic) {
    result.places.insert(result.places.begin(), target.first());
    result.places.push_back(target.last());
    result.weights.insert(result.weights.begin(), result.weights.front());
    result.weights.push_back(result.weights.back());
  }
  return result;
}

}  // namespace evenclay
