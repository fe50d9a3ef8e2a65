// Least squares of scattered places, beside Eigen's dense decomposition of the same problem.
#include "core/scan/scattered_fit.h"

#include <Eigen/Dense>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

#include "core/base/error.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/surface.h"

using namespace evenclay;

namespace {

Progress progress;

Surface flat(int nu, int nv, int degree) {
  return make_plane({}, 30, 20, nu, nv, degree, degree);
}

struct Sample {
  std::vector<Parameter> at;
  std::vector<Vec3> places;
  std::vector<double> weights;
};

Sample random_sample(std::size_t count, unsigned seed) {
  std::mt19937 random(seed);
  std::uniform_real_distribution<double> x(0.0, 1.0);
  Sample s;
  for (std::size_t k = 0; k < count; ++k) {
    const double u = x(random), v = x(random);
    s.at.push_back({u, v});
    s.places.push_back(
        {30 * u + 0.1 * x(random), 20 * v, 3 * std::sin(5 * u) * v + 0.1 * x(random)});
    s.weights.push_back(0.2 + x(random));
  }
  return s;
}

// The rows of the dense problem: each basis function's value at each place.
Eigen::MatrixXd basis_at(const Surface& s, const std::vector<Parameter>& at) {
  const FlatKnots u = flatten(s.u), v = flatten(s.v);
  Eigen::MatrixXd m = Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(at.size()),
                                            s.points.rows() * s.points.columns());
  for (std::size_t k = 0; k < at.size(); ++k) {
    const int a = find_span(u, at[k].u), b = find_span(v, at[k].v);
    const auto nu = basis_values(u, a, at[k].u);
    const auto nv = basis_values(v, b, at[k].v);
    for (int i = 0; i <= u.degree; ++i)
      for (int j = 0; j <= v.degree; ++j)
        m(static_cast<Eigen::Index>(k),
          u.point(a - u.degree + i) * s.points.columns() + v.point(b - v.degree + j)) +=
            nu[static_cast<std::size_t>(i)] * nv[static_cast<std::size_t>(j)];
  }
  return m;
}

Eigen::MatrixXd matrix_of(const std::vector<Vec3>& p) {
  Eigen::MatrixXd m(static_cast<Eigen::Index>(p.size()), 3);
  for (std::size_t k = 0; k < p.size(); ++k)
    m.row(static_cast<Eigen::Index>(k)) = Eigen::RowVector3d(p[k].x, p[k].y, p[k].z);
  return m;
}

double worst(const Grid<Vec3>& points, const Eigen::MatrixXd& expected) {
  double off = 0.0;
  for (int i = 0; i < points.rows(); ++i)
    for (int j = 0; j < points.columns(); ++j) {
      const auto row = expected.row(i * points.columns() + j);
      off = std::max(off, distance(points(i, j), {row[0], row[1], row[2]}));
    }
  return off;
}

}  // namespace

TEST_CASE("the control points are those of a dense least-squares decomposition") {
  for (const int degree : {1, 2, 3, 5})
    for (const bool weighted : {false, true}) {
      INFO("degree " << degree << (weighted ? ", weighted" : ""));
      const Surface s = flat(9, 7, degree);
      const Sample sample = random_sample(2000, 5);
      ScatteredFit fit(s);
      fit.add(sample.at, sample.places, weighted ? sample.weights : std::vector<double>{},
              progress);
      const Grid<Vec3> points = fit.solve(s.points, {});
      Eigen::MatrixXd a = basis_at(s, sample.at);
      Eigen::MatrixXd b = matrix_of(sample.places);
      if (weighted)
        for (Eigen::Index k = 0; k < a.rows(); ++k) {
          const double w = std::sqrt(sample.weights[static_cast<std::size_t>(k)]);
          a.row(k) *= w;
          b.row(k) *= w;
        }
      const Eigen::MatrixXd x = a.colPivHouseholderQr().solve(b);
      CHECK(worst(points, x) < 1e-7);
    }
}

TEST_CASE("places on a surface of the same knots give that surface back, in any order") {
  Surface s = flat(8, 6, 3);
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 6; ++j) s.points(i, j).z = std::sin(1.3 * i + 0.7 * j);
  Sample sample = random_sample(1500, 8);
  for (std::size_t k = 0; k < sample.at.size(); ++k)
    sample.places[k] = evaluate(s, sample.at[k].u, sample.at[k].v);
  ScatteredFit fit(s);
  fit.add(sample.at, sample.places, {}, progress);
  const Grid<Vec3> points = fit.solve(flat(8, 6, 3).points, {});
  double off = 0.0;
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 6; ++j) off = std::max(off, distance(points(i, j), s.points(i, j)));
  CHECK(off < 1e-8);
  // In two halves, the second one first.
  ScatteredFit again(s);
  const std::span<const Parameter> at(sample.at);
  const std::span<const Vec3> places(sample.places);
  again.add(at.subspan(700), places.subspan(700), {}, progress);
  again.add(at.first(700), places.first(700), {}, progress);
  const Grid<Vec3> same = again.solve(flat(8, 6, 3).points, {});
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 6; ++j) CHECK(distance(points(i, j), same(i, j)) < 1e-9);
}

TEST_CASE("held control points stay to the bit, and the others are the best beside them") {
  const Surface s = flat(7, 6, 3);
  const Sample sample = random_sample(1200, 21);
  ScatteredFit fit(s);
  fit.add(sample.at, sample.places, {}, progress);
  std::vector<char> held(42, 0);
  for (const std::size_t k : {0U, 5U, 17U, 41U}) held[k] = 1;
  const Grid<Vec3> points = fit.solve(s.points, held);
  const Eigen::MatrixXd a = basis_at(s, sample.at);
  Eigen::MatrixXd b = matrix_of(sample.places);
  std::vector<Eigen::Index> open;
  for (Eigen::Index k = 0; k < 42; ++k) {
    if (held[static_cast<std::size_t>(k)] == 0) {
      open.push_back(k);
      continue;
    }
    const Vec3 p = s.points.values()[static_cast<std::size_t>(k)];
    b -= a.col(k) * Eigen::RowVector3d(p.x, p.y, p.z);
    CHECK(points.values()[static_cast<std::size_t>(k)] == p);
  }
  Eigen::MatrixXd free(a.rows(), static_cast<Eigen::Index>(open.size()));
  for (std::size_t k = 0; k < open.size(); ++k)
    free.col(static_cast<Eigen::Index>(k)) = a.col(open[k]);
  const Eigen::MatrixXd x = free.colPivHouseholderQr().solve(b);
  for (std::size_t k = 0; k < open.size(); ++k) {
    const auto row = x.row(static_cast<Eigen::Index>(k));
    CHECK(distance(points.values()[static_cast<std::size_t>(open[k])], {row[0], row[1], row[2]}) <
          1e-7);
  }
}

TEST_CASE("bending alone leaves planes, whatever their slope, and draws to them when it is great") {
  const Surface s = flat(8, 7, 3);
  Sample sample = random_sample(900, 4);
  ScatteredFit fit(s);
  fit.add(sample.at, sample.places, {}, progress);
  fit.add_bending(1e9, 30, 20, s.points);
  const Grid<Vec3> points = fit.solve(s.points, {});
  // What is left is the best plane through the places as a map of (u, v), by Eigen.
  Eigen::MatrixXd a(static_cast<Eigen::Index>(sample.at.size()), 3);
  for (std::size_t k = 0; k < sample.at.size(); ++k)
    a.row(static_cast<Eigen::Index>(k)) = Eigen::RowVector3d(1, sample.at[k].u, sample.at[k].v);
  const Eigen::MatrixXd plane = a.colPivHouseholderQr().solve(matrix_of(sample.places));
  const std::vector<double> gu = greville_places(s.u), gv = greville_places(s.v);
  for (int i = 0; i < 8; ++i)
    for (int j = 0; j < 7; ++j) {
      const Eigen::RowVector3d p = plane.row(0) + plane.row(1) * gu[static_cast<std::size_t>(i)] +
                                   plane.row(2) * gv[static_cast<std::size_t>(j)];
      CHECK(distance(points(i, j), {p[0], p[1], p[2]}) < 1e-4);
    }
}

TEST_CASE("places that leave control points open are refused") {
  const Surface s = flat(9, 9, 3);
  Sample sample = random_sample(400, 3);
  for (Parameter& p : sample.at) p.u *= 0.4;  // nothing on the far side
  ScatteredFit fit(s);
  fit.add(sample.at, sample.places, {}, progress);
  CHECK_THROWS_AS(fit.solve(s.points, {}), Error);
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(fit.add(sample.at, sample.places, {}, cancelled), Cancelled);
}
