#include "core/grid/fair.h"

#include <fmt/format.h>
#include <Eigen/Sparse>
#include <Eigen/SparseCholesky>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/check/comb.h"
#include "core/check/curve_measures.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/gram.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

namespace {

using Dense = Eigen::MatrixXd;

// Spans of what stays against the waves that go: longer ones miss the form, shorter ones take waves at borders for form.
constexpr double kSpanOfWave = 0.7;
using Sparse = Eigen::SparseMatrix<double>;

double length_of(const Surface& s, bool along_u) {
  double longest = 0.0;
  for (const double fixed : {0.1, 0.5, 0.9}) {
    double sum = 0.0;
    Vec3 last;
    for (int k = 0; k <= 64; ++k) {
      const double share = k / 64.0;
      const Vec3 p = evaluate(s, s.u.first() + (along_u ? share : fixed) * s.u.length(),
                              s.v.first() + (along_u ? fixed : share) * s.v.length());
      if (k > 0) sum += distance(p, last);
      last = p;
    }
    longest = std::max(longest, sum);
  }
  return std::max(longest, 1e-9);
}

void add_product(const Grid<double>& u, const Grid<double>& v, double factor,
                 std::vector<Eigen::Triplet<double>>& out) {
  for (int a = 0; a < u.rows(); ++a)
    for (int c = 0; c < u.columns(); ++c) {
      if (u(a, c) == 0.0) continue;
      for (int b = 0; b < v.rows(); ++b)
        for (int d = 0; d < v.columns(); ++d)
          if (v(b, d) != 0.0)
            out.emplace_back(a * v.rows() + b, c * v.columns() + d, factor * u(a, c) * v(b, d));
    }
}

Sparse from(const std::vector<Eigen::Triplet<double>>& triplets, Eigen::Index rows,
            Eigen::Index columns) {
  Sparse m(rows, columns);
  m.setFromTriplets(triplets.begin(), triplets.end());
  return m;
}

struct Energies {
  Sparse mass, wobble, at_places;
};

Grid<double> places_of(const KnotVector& k) {
  const FlatKnots flat = flatten(k);
  const std::vector<double> at = greville_places(k);
  Grid<double> m(static_cast<int>(at.size()), flat.points, 0.0);
  for (std::size_t r = 0; r < at.size(); ++r) {
    const double t = into_domain(k, at[r]);
    const int span = find_span(flat, t);
    const auto n = basis_values(flat, span, t);
    for (int i = 0; i <= k.degree; ++i)
      m(static_cast<int>(r), flat.point(span - k.degree + i)) += n[static_cast<std::size_t>(i)];
  }
  return m;
}

// Third derivatives, or second ones where the degree has no others.
Energies energies_of(const Surface& s, double wide, double high, int order) {
  const auto n = static_cast<Eigen::Index>(s.points.values().size());
  std::vector<Eigen::Triplet<double>> mass, wobble, at;
  std::vector<Grid<double>> u, v;
  for (int k = 0; k <= order; ++k) {
    u.push_back(gram(s.u, wide, k));
    v.push_back(gram(s.v, high, k));
  }
  add_product(u[0], v[0], 1.0, mass);
  double binomial = 1.0;
  for (int k = 0; k <= order; ++k) {
    add_product(u[static_cast<std::size_t>(order - k)], v[static_cast<std::size_t>(k)], binomial,
                wobble);
    binomial = binomial * (order - k) / (k + 1);
  }
  add_product(places_of(s.u), places_of(s.v), 1.0, at);
  return {from(mass, n, n), from(wobble, n, n), from(at, n, n)};
}

// Every n-th inner knot, so that spans are as long as is wanted; nothing when there are too few to leave any out.
std::optional<KnotVector> coarser(const KnotVector& k, double length, double wave) {
  const std::vector<double> breaks = breakpoints(k);
  const double each = length / static_cast<double>(breaks.size() - 1);
  const auto every = static_cast<std::size_t>(std::floor(kSpanOfWave * wave / each + 1e-9));
  if (every < 2 || breaks.size() < 3) return std::nullopt;
  KnotVector result = k;
  std::erase_if(result.knots, [&](double t) {
    if (t <= k.first() || t >= k.last()) return false;
    const auto place = static_cast<std::size_t>(std::lower_bound(breaks.begin(), breaks.end(), t) -
                                                breaks.begin());
    return place % every != 0 || breaks.size() - 1 - place < (every + 1) / 2;
  });
  // A closed direction needs enough points to be one.
  if (result.knots == k.knots || (k.periodic && result.point_count() < k.degree + 2))
    return std::nullopt;
  return result;
}

std::vector<double> left_out(const KnotVector& all, const KnotVector& few) {
  std::vector<double> missing;
  std::set_difference(all.knots.begin(), all.knots.end(), few.knots.begin(), few.knots.end(),
                      std::back_inserter(missing));
  return missing;
}

// By least squares direction after direction, with ends that are as free as the inside: a wave at a border must not be
// taken for form.
Surface free_fit(const Surface& s, const KnotVector& u, const KnotVector& v) {
  const FitSamples at_u = fit_samples(u, breakpoints(s.u)), at_v = fit_samples(v, breakpoints(s.v));
  Surface plain = s;
  plain.weights = {};
  const SurfaceEvaluator evaluator(plain);
  const std::size_t wide = at_v.places.size() * 3;
  std::vector<double> samples;
  for (const double a : at_u.places)
    for (const double b : at_v.places) {
      const Vec3 p = evaluator.point(a, b);
      for (std::size_t c = 0; c < 3; ++c) samples.push_back(p[c]);
    }
  const auto nu = static_cast<std::size_t>(u.point_count()),
             nv = static_cast<std::size_t>(v.point_count());
  std::vector<double> along(nu * wide);
  LineFit(u, at_u.places, at_u.weights, {}).solve(samples, wide, along);
  // The second direction runs first in its turn: rows of v, each with all of u beside each other.
  std::vector<double> turned(at_v.places.size() * nu * 3), both(nv * nu * 3);
  for (std::size_t i = 0; i < nu; ++i)
    for (std::size_t b = 0; b < at_v.places.size(); ++b)
      for (std::size_t c = 0; c < 3; ++c)
        turned[(b * nu + i) * 3 + c] = along[i * wide + b * 3 + c];
  LineFit(v, at_v.places, at_v.weights, {}).solve(turned, nu * 3, both);
  Surface t{u, v, Grid<Vec3>(u.point_count(), v.point_count()), {}};
  for (std::size_t i = 0; i < nu; ++i)
    for (std::size_t j = 0; j < nv; ++j)
      for (std::size_t c = 0; c < 3; ++c)
        t.points(static_cast<int>(i), static_cast<int>(j))[c] = both[(j * nu + i) * 3 + c];
  return t;
}

// What stays, on the surface's own grid.
Grid<Vec3> trend_of(const Surface& s, double wide, double high, double wave, Progress& progress) {
  const std::optional<KnotVector> u = coarser(s.u, wide, wave), v = coarser(s.v, high, wave);
  if (!u && !v) {
    const auto from_on = [](const KnotVector& k, double length) {
      return 2.0 / kSpanOfWave * length / static_cast<double>(breakpoints(k).size() - 1);
    };
    throw Error(
        say("The control points lie too far apart for waves shorter than {:g} mm. Fair "
            "waves shorter than {:.0f} mm or more, or rebuild "
            "with more points.",
            wave, std::ceil(std::min(from_on(s.u, wide), from_on(s.v, high)))));
  }
  Surface t = free_fit(s, u.value_or(s.u), v.value_or(s.v));
  progress.check();
  if (u) t = insert_knots(t, Direction::U, left_out(s.u, *u));
  if (v) t = insert_knots(t, Direction::V, left_out(s.v, *v));
  return t.points;
}

std::vector<char> held_of(const Surface& s, const FairPlan& plan) {
  const int rows = s.points.rows(), columns = s.points.columns();
  std::vector<char> held(s.points.values().size(), 0);
  if (!plan.held.empty()) held = plan.held;
  if (held.size() != s.points.values().size())
    throw Error(say("The points that are to stay are not those of this surface. Pick them again."));
  for (const Border border : kBorders) {
    const bool of_u = border == Border::UMin || border == Border::UMax;
    if (of_u ? s.u.periodic : s.v.periodic) continue;
    int keep = plan.rows_held[static_cast<std::size_t>(border)];
    if (is_pole(s, border, 1e-6)) keep = std::max(keep, 2);
    const int count = of_u ? rows : columns;
    for (int k = 0; k < std::min(keep, count); ++k) {
      const int line = border == Border::UMin || border == Border::VMin ? k : count - 1 - k;
      for (int m = 0; m < (of_u ? columns : rows); ++m)
        held[static_cast<std::size_t>(of_u ? line * columns + m : m * columns + line)] = 1;
    }
  }
  return held;
}

Dense to_matrix(const Grid<Vec3>& g) {
  Dense m(static_cast<Eigen::Index>(g.values().size()), 3);
  for (std::size_t k = 0; k < g.values().size(); ++k)
    for (std::size_t a = 0; a < 3; ++a)
      m(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(a)) = g.values()[k][a];
  return m;
}

void keep_within(Dense& z, double tolerance) {
  for (Eigen::Index r = 0; r < z.rows(); ++r) {
    const double size = z.row(r).norm();
    if (size > tolerance) z.row(r) *= tolerance / size;
  }
}

// ½ d·M·d + ½ λ (D + d)·K·(D + d), |A d| ≤ tolerance, over the points that may move.
Dense solved(const Energies& e, const Dense& off, double lambda, const std::vector<char>& held,
             double tolerance, bool& at_limit, Progress& progress) {
  std::vector<Eigen::Triplet<double>> pick;
  Eigen::Index open = 0;
  for (std::size_t k = 0; k < held.size(); ++k)
    if (held[k] == 0) pick.emplace_back(static_cast<Eigen::Index>(k), open++, 1.0);
  at_limit = false;
  if (open == 0) return Dense::Zero(off.rows(), 3);
  const Sparse free = from(pick, off.rows(), open);
  const Sparse h = free.transpose() * Sparse(e.mass + lambda * e.wobble) * free;
  const Sparse a = e.at_places * free;
  const Dense c = -lambda * (free.transpose() * (e.wobble * off));
  const Eigen::SimplicialLDLT<Sparse> alone(h);
  Dense d = alone.solve(c);
  const auto worst = [&] { return Dense(a * d).rowwise().norm().maxCoeff(); };
  if (worst() <= tolerance) return free * d;
  at_limit = true;
  const Sparse square = a.transpose() * a;
  const double rho = h.diagonal().sum() / square.diagonal().sum();
  const Eigen::SimplicialLDLT<Sparse> solver(Sparse(h + rho * square));
  Dense z = a * d, y = Dense::Zero(z.rows(), 3);
  keep_within(z, tolerance);
  for (int round = 0; round < 4000; ++round) {
    if (round % 50 == 0) progress.check();
    d = solver.solve(c + rho * (a.transpose() * (z - y)));
    const Dense there = 1.6 * (a * d) - 0.6 * z;
    Dense next = there + y;
    keep_within(next, tolerance);
    y += there - next;
    const double moved = (next - z).cwiseAbs().maxCoeff(),
                 apart = (Dense(a * d) - next).cwiseAbs().maxCoeff();
    z = next;
    if (std::max(moved, apart) < 1e-6 * tolerance) break;
  }
  return free * d;
}

int turns_of(const Surface& s) {
  int sum = 0;
  for (int k = 0; k < 8; ++k) {
    const double share = (k + 0.5) / 8.0;
    sum += static_cast<int>(
        comb(s, Direction::U, s.v.first() + share * s.v.length(), 12).inflections.size());
    sum += static_cast<int>(
        comb(s, Direction::V, s.u.first() + share * s.u.length(), 12).inflections.size());
  }
  return sum;
}

void measure_change(const Surface& a, const Surface& b, FairReport& r) {
  const SurfaceEvaluator ea(a), eb(b);
  double sum = 0.0;
  std::size_t n = 0;
  r.greatest = 0.0;
  for (const double u : sample_places(a.u, 6))
    for (const double v : sample_places(a.v, 6)) {
      const Vec3 p = eb.point(u, v);
      const double d = distance(ea.point(u, v), p);
      sum += d;
      ++n;
      if (d > r.greatest) {
        r.greatest = d;
        r.at = p;
      }
    }
  r.mean = sum / static_cast<double>(std::max<std::size_t>(n, 1));
}

double energy_of(const Sparse& wobble, const Dense& d, double area) {
  return (d.transpose() * (wobble * d)).trace() / area;
}

Surface moved(const Surface& s, const Dense& d, double share) {
  Surface out = s;
  for (std::size_t k = 0; k < out.points.values().size(); ++k)
    for (std::size_t a = 0; a < 3; ++a)
      out.points.values()[k][a] +=
          share * d(static_cast<Eigen::Index>(k), static_cast<Eigen::Index>(a));
  return out;
}

}  // namespace

Surface faired(const Surface& s, const FairPlan& plan, Progress& progress, FairReport* report) {
  check(s);
  if (!(plan.tolerance > 0.0) || !std::isfinite(plan.tolerance))
    throw Error(say("Fair needs a tolerance above 0 mm."));
  if (!(plan.shorter_than > 0.0) || !std::isfinite(plan.shorter_than))
    throw Error(say("Fair needs a length of waves above 0 mm."));
  const int order = std::min(3, std::max(s.u.degree, s.v.degree));
  if (order < 2)
    throw Error(
        say("A surface of degree 1 has corners instead of wobbles. Set its degree to 2 or more "
            "first."));
  const double wide = length_of(s, true), high = length_of(s, false);
  const Grid<Vec3> trend = trend_of(s, wide, high, plan.shorter_than, progress);
  progress.report(0.3);
  const Energies e = energies_of(s, wide, high, order);
  const Dense off = to_matrix(s.points) - to_matrix(trend);
  const double lambda = std::pow(plan.shorter_than / (2.0 * std::numbers::pi), 2 * order);
  FairReport r;
  Dense d = solved(e, off, lambda, held_of(s, plan), plan.tolerance, r.at_limit, progress);
  progress.report(0.8);
  Surface result = moved(s, d, 1.0);
  measure_change(s, result, r);
  if (r.greatest > plan.tolerance) {
    d *= plan.tolerance / r.greatest * (1.0 - 1e-9);
    result = moved(s, d, 1.0);
    measure_change(s, result, r);
  }
  r.turns_before = turns_of(s);
  r.turns_after = turns_of(result);
  r.energy_before = energy_of(e.wobble, off, wide * high);
  r.energy_after = energy_of(e.wobble, off + d, wide * high);
  if (report != nullptr) *report = r;
  return result;
}

Curve faired(const Curve& curve, const FairPlan& plan, Progress& progress, FairReport* report) {
  check(curve);
  // A strip of one curve and the same beside it: across it there is nothing to fair.
  const Surface strip = strip_of(curve, {0, 0, std::max(arc_length(curve), 1e-9)});
  FairPlan both = plan;
  both.rows_held = {plan.rows_held[0], plan.rows_held[1], 0, 0};
  both.held.clear();
  for (const char h : plan.held) both.held.insert(both.held.end(), 2, h);
  FairReport r;
  const Surface out = faired(strip, both, progress, &r);
  Curve result = curve;
  for (int i = 0; i < curve.point_count(); ++i)
    result.points[static_cast<std::size_t>(i)] = out.points(i, 0);
  r.turns_before = static_cast<int>(comb(curve, 12).inflections.size());
  r.turns_after = static_cast<int>(comb(result, 12).inflections.size());
  if (report != nullptr) *report = r;
  return result;
}

}  // namespace evenclay
