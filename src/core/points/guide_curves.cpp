#include "core/points/guide_curves.h"

#include <fmt/format.h>

#include <Eigen/SparseCholesky>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/quadrature.h"
#include "core/points/net.h"

namespace evenclay {

namespace {

std::size_t number(int n) {
  return static_cast<std::size_t>(n);
}

// Knots that split the widest spans evenly until there are `wanted` points.
std::vector<double> dividing(const KnotVector& k, int wanted) {
  const std::vector<double> at = breakpoints(k);
  std::vector<int> pieces(at.size() - 1, 1);
  for (int more = wanted - k.point_count(); more > 0; --more) {
    std::size_t widest = 0;
    const auto width = [&](std::size_t s) { return (at[s + 1] - at[s]) / pieces[s]; };
    for (std::size_t s = 1; s < pieces.size(); ++s)
      if (width(s) > width(widest) * (1.0 + 1e-9)) widest = s;
    ++pieces[widest];
  }
  std::vector<double> knots;
  for (std::size_t s = 0; s < pieces.size(); ++s)
    for (int n = 1; n < pieces[s]; ++n)
      knots.push_back(at[s] + (at[s + 1] - at[s]) * n / pieces[s]);
  return knots;
}

Surface refined(const Surface& s, const GuideOptions& o) {
  Surface r = s;
  for (const Direction d : {Direction::U, Direction::V}) {
    if (knots_of(r, d).degree < 3) r = raise_degree(r, d, 3);
    r = insert_knots(r, d, dividing(knots_of(r, d), d == Direction::U ? o.points_u : o.points_v));
  }
  if (r.u.point_count() * r.v.point_count() > 10'000)
    throw Error(
        say("A net of {} × {} points is too dense for guide curves; use at most 100 each way.",
            r.u.point_count(), r.v.point_count()));
  return r;
}

struct Term {
  int unknown;
  double value;
};

// The border that a parameter curve runs along from end to end.
std::optional<Border> whole_border(const Surface& s, const Curve& uv) {
  const auto along = [&](double Vec3::*fixed, double Vec3::*free, double at,
                         const KnotVector& across, const KnotVector& run) {
    double low = 1e300, high = -1e300;
    for (const Vec3& p : uv.points) {
      if (std::abs(p.*fixed - at) > 1e-9 * across.length()) return false;
      low = std::min(low, p.*free);
      high = std::max(high, p.*free);
    }
    return !across.periodic && high - low > (1.0 - 1e-9) * run.length();
  };
  if (along(&Vec3::x, &Vec3::y, s.u.first(), s.u, s.v)) return Border::UMin;
  if (along(&Vec3::x, &Vec3::y, s.u.last(), s.u, s.v)) return Border::UMax;
  if (along(&Vec3::y, &Vec3::x, s.v.first(), s.v, s.u)) return Border::VMin;
  if (along(&Vec3::y, &Vec3::x, s.v.last(), s.v, s.u)) return Border::VMax;
  return std::nullopt;
}

}  // namespace

struct GuidedFace::Made {
  Made(const Face& face, std::vector<GuideLine> all_lines, const GuideOptions& o,
       Progress& progress)
      : lines(std::move(all_lines)),
        surface(refined(*face.surface, o)),
        evaluator(surface),
        flat_u(flatten(surface.u)),
        flat_v(flatten(surface.v)),
        scale(mean_scale(surface)),
        area(scale.u * surface.u.length() * scale.v * surface.v.length()) {
    if (!(area > 0.0)) throw Error(say("The face has no area, so no guide can be laid on it."));
    number_unknowns(o);
    if (unknowns == 0)
      throw Error(
          say("The held edges leave no control point that could move. Choose a denser net, or let "
              "edges move."));
    add_energy(face, progress);
    for (const HeldEdge& e : o.edges) add_edge(e);
    for (std::size_t k = 0; k < lines.size(); ++k) add_guide(k);
    matrix.resize(unknowns, unknowns);
    matrix.setFromTriplets(entries.begin(), entries.end());
    entries.clear();
    entries.shrink_to_fit();
    progress.check();
    solver.compute(matrix);
    if (solver.info() != Eigen::Success)
      throw Error(
          say("The guides do not determine the face. Choose other places or another density."));
  }

  // Held borders keep their rows; what is one place moves as one.
  void number_unknowns(const GuideOptions& o) {
    const int nu = surface.points.rows(), nv = surface.points.columns();
    unknown_of.assign(number(nu * nv), 0);
    std::array<int, 4> rows{};
    for (const HeldEdge& e : o.edges)
      if (const auto b = whole_border(surface, e.uv); b && e.hold != GuideHold::Free)
        rows[static_cast<std::size_t>(*b)] =
            std::max(rows[static_cast<std::size_t>(*b)], static_cast<int>(e.hold));
    const auto held = [&](int i, int j) {
      return i < rows[0] || nu - 1 - i < rows[1] || j < rows[2] || nv - 1 - j < rows[3];
    };
    const Nets nets(surface);
    for (int i = 0; i < nu; ++i)
      for (int j = 0; j < nv; ++j)
        if (held(i, j)) {
          const auto set = nets.united_of.find({0, i, j});
          unknown_of[number(i * nv + j)] = -1;
          if (set != nets.united_of.end())
            for (const PointIndex& q : nets.united[set->second])
              unknown_of[number(q.i * nv + q.j)] = -1;
        }
    for (int i = 0; i < nu; ++i)
      for (int j = 0; j < nv; ++j) {
        int& mine = unknown_of[number(i * nv + j)];
        if (mine < 0) continue;
        const PointIndex first = nets.representative({0, i, j});
        const bool leads = first.i == i && first.j == j;
        mine = leads ? unknowns++ : unknown_of[number(first.i * nv + first.j)];
      }
  }

  int point(int function_u, int function_v) const {
    return flat_u.point(function_u) * surface.points.columns() + flat_v.point(function_v);
  }

  // The basis at a place: change of the surface as a sum over unknowns. On held edges, where the change is 0,
  // derivatives of rational surfaces are those of the sum over the weight.
  struct Basis {
    BasisDerivatives u, v;
    struct Function {
      int unknown;
      std::size_t a, b;
      double share;  // its weight over the sum of all
    };
    std::vector<Function> functions;
    Parameter scale;

    // Derivative k in u and l in v, per mm.
    double value(const Function& f, std::size_t k, std::size_t l) const {
      return f.share * u[k][f.a] * v[l][f.b] * std::pow(scale.u, -static_cast<double>(k)) *
             std::pow(scale.v, -static_cast<double>(l));
    }
    std::vector<Term> row(std::size_t k, std::size_t l) const {
      std::vector<Term> terms;
      for (const Function& f : functions) terms.push_back({f.unknown, value(f, k, l)});
      return terms;
    }
  };
  Basis basis(const Parameter& p) const {
    const double u = into_domain(surface.u, p.u), v = into_domain(surface.v, p.v);
    const int su = find_span(flat_u, u), sv = find_span(flat_v, v);
    Basis result{
        basis_derivatives(flat_u, su, u, 2), basis_derivatives(flat_v, sv, v, 2), {}, scale};
    double whole = 0.0;
    for (int a = 0; a <= surface.u.degree; ++a)
      for (int b = 0; b <= surface.v.degree; ++b) {
        const int at = point(su - surface.u.degree + a, sv - surface.v.degree + b);
        const double w = surface.weights.empty() ? 1.0 : surface.weights.values()[number(at)];
        whole += w * result.u[0][number(a)] * result.v[0][number(b)];
        if (const int x = unknown_of[number(at)]; x >= 0)
          result.functions.push_back({x, number(a), number(b), w});
      }
    for (Basis::Function& f : result.functions) f.share /= whole;
    return result;
  }

  void add_row(const std::vector<Term>& terms, double weight) {
    for (const Term& a : terms)
      for (const Term& b : terms)
        entries.emplace_back(a.unknown, b.unknown, weight * a.value * b.value);
  }

  // Bending of the control points' change, cell by cell; outside the face it hardly counts. A little stretching
  // counts, too, so that what no guide reaches stays.
  void add_energy(const Face& face, Progress& progress) {
    const FaceRegion region(face);
    const std::vector<double> us = breakpoints(surface.u), vs = breakpoints(surface.v);
    for (std::size_t a = 0; a + 1 < us.size(); ++a) {
      progress.check();
      for (std::size_t b = 0; b + 1 < vs.size(); ++b) {
        constexpr int kPlaces = 4;
        int inside = 0;
        for (int i = 0; i < kPlaces && !region.whole(); ++i)
          for (int j = 0; j < kPlaces; ++j)
            inside += region.contains(us[a] + (us[a + 1] - us[a]) * (i + 0.5) / kPlaces,
                                      vs[b] + (vs[b + 1] - vs[b]) * (j + 0.5) / kPlaces)
                          ? 1
                          : 0;
        const double share =
            region.whole() ? 1.0
                           : std::max(1e-4, static_cast<double>(inside) / (kPlaces * kPlaces));
        add_cell({us[a], vs[b]}, us[a + 1] - us[a], vs[b + 1] - vs[b], share);
      }
    }
  }
  void add_cell(const Parameter& from, double du, double dv, double share) {
    constexpr double kStretch = 1e-6;
    const double cell = du * scale.u * dv * scale.v;
    Eigen::MatrixXd sum;
    std::vector<Term> order;
    for (std::size_t i = 0; i < 4; ++i)
      for (std::size_t j = 0; j < 4; ++j) {
        const Basis b =
            basis({from.u + du * kGauss4OfUnit[i].place, from.v + dv * kGauss4OfUnit[j].place});
        const double e = share * cell * kGauss4OfUnit[i].weight * kGauss4OfUnit[j].weight;
        if (b.functions.empty()) return;
        if (order.empty()) {
          order = b.row(0, 0);
          sum = Eigen::MatrixXd::Zero(static_cast<Eigen::Index>(order.size()),
                                      static_cast<Eigen::Index>(order.size()));
        }
        const auto add = [&](std::size_t k, std::size_t l, double weight) {
          const std::vector<Term> terms = b.row(k, l);
          Eigen::VectorXd x(sum.rows());
          for (std::size_t n = 0; n < terms.size(); ++n)
            x(static_cast<Eigen::Index>(n)) = terms[n].value;
          sum.noalias() += weight * x * x.transpose();
        };
        add(2, 0, e);
        add(1, 1, 2.0 * e);
        add(0, 2, e);
        add(1, 0, kStretch / area * e);
        add(0, 1, kStretch / area * e);
      }
    for (std::size_t n = 0; n < order.size(); ++n)
      for (std::size_t k = 0; k < order.size(); ++k)
        entries.emplace_back(order[n].unknown, order[k].unknown,
                             sum(static_cast<Eigen::Index>(n), static_cast<Eigen::Index>(k)));
  }

  // Of an edge or guide: four for each control point of the longer row.
  int places_along() const {
    return std::clamp(4 * std::max(surface.points.rows(), surface.points.columns()), 40, 400);
  }

  // Edges that are whole borders are held by their rows already.
  void add_edge(const HeldEdge& e) {
    if (e.hold == GuideHold::Free) return;
    const CurveEvaluator curve(e.uv);
    const int count = places_along();
    const bool rows = whole_border(surface, e.uv).has_value();
    for (int k = 0; k < count; ++k) {
      const Vec3 p = curve.point(e.uv.knots.first() + e.uv.knots.length() * (k + 0.5) / count);
      if (e.hold != GuideHold::Position) tangent_places.push_back({p.x, p.y});
      held_places.push_back({p.x, p.y});
      if (rows) continue;
      const Parameter at{p.x, p.y};
      constexpr double kHeld = 1e11, kHeldTangent = 1e9, kHeldBend = 1e7;
      const Basis b = basis(at);
      add_row(b.row(0, 0), kHeld / area / count);
      if (e.hold == GuideHold::Position) continue;
      add_row(b.row(1, 0), kHeldTangent / count);
      add_row(b.row(0, 1), kHeldTangent / count);
      if (e.hold == GuideHold::Tangent) continue;
      add_row(b.row(2, 0), kHeldBend * area / count);
      add_row(b.row(1, 1), kHeldBend * area / count);
      add_row(b.row(0, 2), kHeldBend * area / count);
    }
  }

  void add_guide(std::size_t k) {
    constexpr double kFollow = 1e9;
    const int count = places_along();
    for (int n = 0; n < count; ++n) {
      const double t = lines[k].closed ? static_cast<double>(n) / count : (n + 0.5) / count;
      Wanted w{k, t, basis(lines[k].at(t)).row(0, 0), kFollow / area / count};
      add_row(w.terms, w.weight);
      wanted.push_back(std::move(w));
    }
  }

  struct Wanted {
    std::size_t guide;
    double t;
    std::vector<Term> terms;
    double weight;
  };

  std::vector<GuideLine> lines;
  Surface surface;
  SurfaceEvaluator evaluator;
  FlatKnots flat_u, flat_v;
  Parameter scale;
  double area;
  std::vector<int> unknown_of;  ///< of each control point; −1: it stays
  int unknowns = 0;
  std::vector<Wanted> wanted;
  std::vector<Parameter> held_places, tangent_places;
  std::vector<Eigen::Triplet<double>> entries;
  Eigen::SparseMatrix<double> matrix;
  Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver;
};

GuidedFace::GuidedFace(const Face& face, std::vector<GuideLine> lines, const GuideOptions& o,
                       Progress& progress)
    : made_(std::make_unique<const Made>(face, std::move(lines), o, progress)) {}
GuidedFace::GuidedFace(GuidedFace&&) noexcept = default;
GuidedFace::~GuidedFace() = default;

const Surface& GuidedFace::below() const {
  return made_->surface;
}

const std::vector<GuideLine>& GuidedFace::lines() const {
  return made_->lines;
}

Guided GuidedFace::moved(std::span<const Curve> moves) const {
  const Made& m = *made_;
  if (moves.size() != m.lines.size())
    throw Error(say("{} curves of moves for {} guide curves.", moves.size(), m.lines.size()));
  std::vector<CurveEvaluator> ways;
  for (const Curve& c : moves) ways.emplace_back(c);
  const auto way = [&](std::size_t guide, double t) { return ways[guide].point(t); };
  Eigen::MatrixXd right = Eigen::MatrixXd::Zero(m.unknowns, 3);
  for (const Made::Wanted& w : m.wanted) {
    const Vec3 d = way(w.guide, w.t);
    for (const Term& t : w.terms)
      for (int c = 0; c < 3; ++c) right(t.unknown, c) += w.weight * t.value * d[number(c)];
  }
  Eigen::MatrixXd x = m.solver.solve(right);
  for (int k = 0; k < 3; ++k) x += m.solver.solve(right - m.matrix * x);

  Guided result{m.surface, 0.0, {}, 0.0, 0.0};
  for (std::size_t p = 0; p < m.unknown_of.size(); ++p)
    if (const int u = m.unknown_of[p]; u >= 0)
      result.surface.points.values()[p] += Vec3{x(u, 0), x(u, 1), x(u, 2)};
  const SurfaceEvaluator after(result.surface);
  for (std::size_t g = 0; g < m.lines.size(); ++g)
    for (int k = 0; k <= 100; ++k) {
      const double t = k / 100.0;
      const Parameter p = m.lines[g].at(t);
      const Vec3 wanted = m.evaluator.point(p.u, p.v) + way(g, t);
      const double off = distance(after.point(p.u, p.v), wanted);
      if (off > result.miss) {
        result.miss = off;
        result.miss_at = wanted;
      }
    }
  for (const Parameter& p : m.held_places)
    result.drift =
        std::max(result.drift, distance(m.evaluator.point(p.u, p.v), after.point(p.u, p.v)));
  for (const Parameter& p : m.tangent_places) {
    const PointTangents a = m.evaluator.tangents(p.u, p.v), b = after.tangents(p.u, p.v);
    const Vec3 n = cross(a.du, a.dv), q = cross(b.du, b.dv);
    if (length(n) > 0.0 && length(q) > 0.0)
      result.degrees = std::max(
          result.degrees, std::atan2(length(cross(n, q)), dot(n, q)) * 180.0 / std::numbers::pi);
  }
  return result;
}

}  // namespace evenclay
