#include "core/source/loft.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fitted.h"

namespace evenclay {

std::vector<double> interpolated(const KnotVector& knots, std::span<const double> places,
                                 std::span<const double> values, std::size_t width) {
  const auto n = static_cast<Eigen::Index>(places.size());
  const FlatKnots flat = flatten(knots);
  Eigen::MatrixXd basis = Eigen::MatrixXd::Zero(n, n);
  for (Eigen::Index r = 0; r < n; ++r) {
    const double t = into_domain(knots, places[static_cast<std::size_t>(r)]);
    const int span = find_span(flat, t);
    const auto b = basis_values(flat, span, t);
    for (int k = 0; k <= knots.degree; ++k)
      basis(r, flat.point(span - knots.degree + k)) += b[static_cast<std::size_t>(k)];
  }
  const Eigen::Map<const Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor>>
      right(values.data(), n, static_cast<Eigen::Index>(width));
  const Eigen::PartialPivLU<Eigen::MatrixXd> lu(basis);
  Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::RowMajor> x = lu.solve(right);
  x += lu.solve(right - basis * x);
  if (!x.allFinite() || (basis * x - right).norm() > 1e-6 * std::max(1.0, right.norm()))
    throw Error(say(
        "No curve can be laid through these places. Move those that lie close together apart."));
  return {x.data(), x.data() + x.size()};
}

namespace {

// The mean of the chords between control points of one section and the next, as shares of the whole.
std::vector<double> section_parameters(const std::vector<Curve>& sections, bool closed) {
  const std::size_t n = sections.size();
  std::vector<double> steps(closed ? n : n - 1, 0.0);
  const std::size_t rows = sections[0].points.size();
  std::size_t counted = 0;
  for (std::size_t i = 0; i < rows; ++i) {
    std::vector<double> chords;
    double whole = 0.0;
    for (std::size_t k = 0; k < steps.size(); ++k) {
      chords.push_back(distance(sections[k].points[i], sections[(k + 1) % n].points[i]));
      whole += chords.back();
    }
    if (!(whole > 0.0)) continue;
    ++counted;
    for (std::size_t k = 0; k < steps.size(); ++k) steps[k] += chords[k] / whole;
  }
  std::vector<double> result{0.0};
  for (std::size_t k = 0; k < steps.size(); ++k) {
    if (counted == 0 || !(steps[k] / static_cast<double>(counted) > 1e-9))
      throw Error(say("Sections {} and {} lie in one place. Move one, or take it out of the list.",
                      k + 1, (k + 1) % n + 1));
    result.push_back(result.back() + steps[k] / static_cast<double>(counted));
  }
  for (double& t : result) t /= result.back();
  if (closed) result.pop_back();
  return result;
}

// Knots for interpolation at the parameters, by averaging (9.8); with `extra` places for end derivatives.
KnotVector knots_with_ends(const std::vector<double>& t, int degree, int extra_begin,
                           int extra_end) {
  std::vector<double> places(static_cast<std::size_t>(extra_begin), 0.0);
  places.insert(places.end(), t.begin(), t.end());
  places.insert(places.end(), static_cast<std::size_t>(extra_end), 1.0);
  std::sort(places.begin(), places.end());
  return averaged_knots(places, degree);
}

Vec3 plane_normal(const Curve& c) {
  Vec3 sum;
  for (std::size_t k = 0; k < c.points.size(); ++k)
    sum += cross(c.points[k] - c.points.front(),
                 c.points[(k + 1) % c.points.size()] - c.points.front());
  return length(sum) > 0.0 ? normalized(sum) : Vec3{};
}

// The direction in which the surface leaves an end section, for each of its control points: mm a unit of v.
std::vector<Vec3> end_directions(const Curve& section, const Curve& next, LoftEnd how, double reach,
                                 double spacing, const LoftOptions& options) {
  std::vector<Vec3> result;
  const std::vector<double> places = greville_places(section.knots);
  const CurveEvaluator here(section);
  const CurveEvaluator there(next);
  const Vec3 flat = plane_normal(section);
  for (const double t : places) {
    const CurveDerivatives d = here.derivatives(t, 1);
    const Vec3 onward = there.point(t) - d.p;
    Vec3 way = onward;
    if (how == LoftEnd::Straight) {
      way = dot(flat, onward) < 0.0 ? flat * -1.0 : flat;
      if (length(flat) == 0.0) way = onward;
    } else if (options.onward && length(d.d1) > 0.0) {
      way = options.onward(d.p, d.d1).value_or(onward);
    }
    result.push_back(length(way) > 0.0 ? normalized(way) * (reach * spacing) : Vec3{});
  }
  return result;
}

struct Directions {
  std::vector<Vec3> begin, end;  // control values along the section; empty when free
};

std::vector<Vec3> spline_through(const KnotVector& knots, const std::vector<Vec3>& values) {
  std::vector<double> flat;
  for (const Vec3& v : values) flat.insert(flat.end(), {v.x, v.y, v.z});
  const std::vector<double> x = interpolated(knots, greville_places(knots), flat, 3);
  std::vector<Vec3> result;
  for (std::size_t k = 0; k < values.size(); ++k)
    result.push_back({x[3 * k], x[3 * k + 1], x[3 * k + 2]});
  return result;
}

Directions directions_of(const std::vector<Curve>& sections, const LoftOptions& o) {
  Directions result;
  if (o.closed) return result;
  double spacing = 0.0;
  for (std::size_t k = 1; k < sections.size(); ++k)
    for (std::size_t i = 0; i < sections[k].points.size(); ++i)
      spacing += distance(sections[k].points[i], sections[k - 1].points[i]);
  spacing /= static_cast<double>(sections[0].points.size());  // mm over the whole of v
  const KnotVector& knots = sections[0].knots;
  if (o.begin != LoftEnd::Free)
    result.begin = spline_through(
        knots, end_directions(sections[0], sections[1], o.begin, o.begin_reach, spacing, o));
  if (o.end != LoftEnd::Free) {
    result.end =
        spline_through(knots, end_directions(sections.back(), sections[sections.size() - 2], o.end,
                                             o.end_reach, spacing, o));
    for (Vec3& d : result.end) d = d * -1.0;
  }
  return result;
}

using Row = std::array<double, 4>;  // homogeneous

// Control points across, for one control point along the sections.
struct Across {
  KnotVector knots;
  Eigen::PartialPivLU<Eigen::MatrixXd> lu;
  Eigen::Index extra_begin, rows;
};

Across prepared(const std::vector<double>& t, const LoftOptions& o, const Directions& d) {
  const auto n = static_cast<int>(t.size());
  Across a;
  a.extra_begin = d.begin.empty() ? 0 : 1;
  const int extra = static_cast<int>(a.extra_begin) + (d.end.empty() ? 0 : 1);
  a.rows = n + extra;
  const int degree = std::clamp(o.degree, 1, n + extra - 1);
  if (o.closed) {
    a.knots = {std::min(degree, n - 1), true, t};
    a.knots.knots.push_back(1.0);
  } else {
    a.knots = knots_with_ends(t, degree, static_cast<int>(a.extra_begin),
                              extra - static_cast<int>(a.extra_begin));
  }
  Eigen::MatrixXd basis = Eigen::MatrixXd::Zero(a.rows, a.rows);
  const FlatKnots flat = flatten(a.knots);
  const auto put = [&](Eigen::Index row, double at, std::size_t order) {
    const int span = find_span(flat, at);
    const BasisDerivatives b = basis_derivatives(flat, span, at, 1);
    for (int k = 0; k <= a.knots.degree; ++k)
      basis(row, flat.point(span - a.knots.degree + k)) += b[order][static_cast<std::size_t>(k)];
  };
  // An even count of sections under an even degree cannot be met at the knots themselves.
  for (int k = 0; k < n; ++k) put(k + a.extra_begin, t[static_cast<std::size_t>(k)], 0);
  if (a.extra_begin == 1) put(0, 0.0, 1);
  if (!d.end.empty()) put(a.rows - 1, 1.0, 1);
  a.lu.compute(basis);
  return a;
}

}  // namespace

Surface loft(std::span<const Curve> given, const LoftOptions& options) {
  if (given.size() < (options.closed ? 3U : 2U))
    throw Error(options.closed ? say("A closed loft needs three sections or more. Add sections.")
                               : say("A loft needs two sections or more. Add sections."));
  LoftOptions o = options;
  if (o.closed && o.degree % 2 == 0) ++o.degree;  // odd: sections stand at the knots
  if (o.closed) o.degree = std::min<int>(o.degree, given.size() == 3 ? 1 : 3);
  const std::vector<Curve> sections = made_compatible(given, o.alignment);
  const std::vector<double> t = section_parameters(sections, o.closed);
  const Directions d = directions_of(sections, o);
  const Across across = prepared(t, o, d);
  const bool rational =
      std::any_of(sections.begin(), sections.end(), [](const Curve& c) { return c.rational(); });
  const int count = sections[0].point_count();
  const auto rows = static_cast<int>(across.rows);
  Surface s{sections[0].knots, across.knots, Grid<Vec3>(count, rows), {}};
  if (rational) s.weights = Grid<double>(count, rows);
  Eigen::MatrixXd right(across.rows, 4);
  for (int i = 0; i < count; ++i) {
    const auto at = static_cast<std::size_t>(i);
    for (std::size_t k = 0; k < sections.size(); ++k) {
      const double w = sections[k].weight(i);
      const Vec3 p = sections[k].points[at] * w;
      right.row(static_cast<Eigen::Index>(k) + across.extra_begin) << p.x, p.y, p.z, w;
    }
    const auto derivative = [&](Eigen::Index row, const std::vector<Vec3>& way, double w) {
      const Vec3 p = way[at] * w;
      right.row(row) << p.x, p.y, p.z, 0.0;
    };
    if (!d.begin.empty()) derivative(0, d.begin, sections.front().weight(i));
    if (!d.end.empty()) derivative(across.rows - 1, d.end, sections.back().weight(i));
    Eigen::MatrixXd x = across.lu.solve(right);
    for (int j = 0; j < rows; ++j) {
      const double w = rational ? x(j, 3) : 1.0;
      if (!(w > 1e-6))
        throw Error(
            say("The weights of the sections differ too much to be laid through. Rebuild the round "
                "sections first."));
      s.points(i, j) = Vec3{x(j, 0), x(j, 1), x(j, 2)} / w;
      if (rational) s.weights(i, j) = w;
    }
  }
  check(s);
  return s;
}

std::optional<double> end_angle(const Surface& s, bool last, const Onward& onward) {
  if (!onward) return std::nullopt;
  constexpr int kPlaces = 100;
  std::optional<double> worst;
  const double v = last ? s.v.last() : s.v.first();
  for (int k = 0; k < kPlaces; ++k) {
    const double u = s.u.first() + s.u.length() * (k + 0.5) / kPlaces;
    const SurfaceDerivatives d = derivatives(s, u, v, 1);
    if (!(length(d.du()) > 0.0)) continue;
    const Vec3 along = normalized(d.du());
    const std::optional<Vec3> wanted = onward(d.p(), along);
    Vec3 way = (d.dv() - along * dot(d.dv(), along)) * (last ? -1.0 : 1.0);
    if (!wanted || !(length(way) > 0.0)) continue;
    worst = std::max(worst.value_or(0.0), degrees_between(way, *wanted));
  }
  return worst;
}

}  // namespace evenclay
