#include "core/subdivision/dart.h"

#include <Eigen/Eigenvalues>
#include <cmath>
#include <numbers>

namespace evenclay {

namespace {

using Matrix = Eigen::MatrixXd;
using Vector = Eigen::VectorXd;

// Rows are the point, ends and opposite points after one subdivision.
Matrix subdivision(Eigen::Index n) {
  Matrix s = Matrix::Zero(2 * n + 1, 2 * n + 1);
  const auto end = [n](Eigen::Index k) { return 1 + (k % n + n) % n; };
  const auto opposite = [n](Eigen::Index k) { return 1 + n + (k % n + n) % n; };
  for (Eigen::Index k = 0; k < n; ++k)
    for (const Eigen::Index p : {Eigen::Index{0}, end(k), opposite(k), end(k + 1)})
      s(opposite(k), p) += 0.25;
  const auto count = static_cast<double>(n);
  s(0, 0) = (count - 2.0) / count;
  for (Eigen::Index k = 0; k < n; ++k) {
    s.row(0) += s.row(opposite(k)) / (count * count);
    s(0, end(k)) += 1.0 / (count * count);
    s(end(k), 0) += k == 0 ? 0.5 : 0.25;
    s(end(k), end(k)) += k == 0 ? 0.5 : 0.25;
    if (k > 0) s.row(end(k)) += 0.25 * (s.row(opposite(k)) + s.row(opposite(k - 1)));
  }
  return s;
}

// Onto what mirrors evenly (1) or oddly (−1) about the crease.
Matrix mirrored(Eigen::Index n, double sign) {
  const Eigen::Index size = 2 * n + 1;
  Matrix m(size, size);
  const auto image = [n](Eigen::Index k) {
    if (k == 0) return k;
    return k <= n ? 1 + (n - (k - 1)) % n : 1 + n + (n - 1 - (k - 1 - n));
  };
  for (Eigen::Index k = 0; k < size; ++k)
    for (Eigen::Index j = 0; j < size; ++j)
      m(k, j) = (k == j ? 0.5 : 0.0) + (image(k) == j ? 0.5 * sign : 0.0);
  return m;
}

// The eigenvector of the greatest eigenvalue below `below`.
Vector greatest(const Matrix& m, double below) {
  const Eigen::EigenSolver<Matrix> solver(m);
  Eigen::Index best = -1;
  double value = -1.0;
  for (Eigen::Index k = 0; k < m.rows(); ++k) {
    const std::complex<double> l = solver.eigenvalues()[k];
    if (std::abs(l.imag()) > 1e-9 || l.real() >= below || l.real() <= value) continue;
    value = l.real();
    best = k;
  }
  return solver.eigenvectors().col(best).real();
}

std::vector<double> numbers(const Vector& v) {
  return {v.data(), v.data() + v.size()};
}

}  // namespace

DartMasks dart_masks(std::size_t faces) {
  const auto n = static_cast<Eigen::Index>(faces);
  const Matrix left = subdivision(n).transpose();
  const Matrix even = left * mirrored(n, 1.0), odd = left * mirrored(n, -1.0);
  Vector place = greatest(even, 1.5);
  place /= place.sum();
  Vector x = greatest(even, 1.0 - 1e-9), y = greatest(odd, 1.0 - 1e-9);
  // Turned so that a flat ring, counter-clockwise, looks up: x along the crease, y to its left.
  double along = 0.0, across = 0.0;
  for (Eigen::Index k = 0; k < n; ++k) {
    const double turn = 2.0 * std::numbers::pi / static_cast<double>(n);
    const double at = turn * static_cast<double>(k);
    along += x[1 + k] * std::cos(at) + x[1 + n + k] * std::cos(at + 0.5 * turn);
    across += y[1 + k] * std::sin(at) + y[1 + n + k] * std::sin(at + 0.5 * turn);
  }
  if (along < 0.0) x = -x;
  if (across < 0.0) y = -y;
  return {numbers(place), numbers(x), numbers(y)};
}

}  // namespace evenclay
