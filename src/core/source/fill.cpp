// Faces inside closed borders by least bending (border_surface.h).
#include <fmt/format.h>

#include <Eigen/Dense>
#include <Eigen/SparseCholesky>
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/quadrature.h"
#include "core/source/border_surface.h"
#include "core/source/compatible.h"

namespace evenclay {

namespace {

// What the surface has to do at a place of the unit square.
struct Demand {
  double u = 0.0, v = 0.0;
  Vec3 place;
  double share = 1.0;                     // of the border's length
  double across_u = 0.0, across_v = 0.0;  // direction into the area, in mm of the layout
  std::optional<Vec3> leaving;            // change of place for a mm that way
};

struct Layout {
  int nu, nv;
  double length_u, length_v;  // mm that the unit square's sides stand for
  std::vector<Demand> demands;
  std::function<bool(double, double)> inside;  // of the square
  Vec3 up;                                     // where puff goes
};

struct Row {
  std::vector<std::pair<int, double>> terms;
};

// Values of the tensor basis, derivative k in u and l in v, per mm.
Row basis_row(const KnotVector& ku, const KnotVector& kv, const Layout& at, double u, double v,
              std::size_t k, std::size_t l) {
  const FlatKnots fu = flatten(ku);
  const FlatKnots fv = flatten(kv);
  const int su = find_span(fu, u);
  const int sv = find_span(fv, v);
  const BasisDerivatives bu = basis_derivatives(fu, su, u, 2);
  const BasisDerivatives bv = basis_derivatives(fv, sv, v, 2);
  const double scale = std::pow(at.length_u, -static_cast<double>(k)) *
                       std::pow(at.length_v, -static_cast<double>(l));
  Row row;
  for (int a = 0; a <= ku.degree; ++a)
    for (int b = 0; b <= kv.degree; ++b)
      row.terms.emplace_back(
          (su - ku.degree + a) * at.nv + sv - kv.degree + b,
          bu[k][static_cast<std::size_t>(a)] * bv[l][static_cast<std::size_t>(b)] * scale);
  return row;
}

Row sum(const Row& a, double s, const Row& b, double t) {
  Row row;
  for (std::size_t k = 0; k < a.terms.size(); ++k)
    row.terms.emplace_back(a.terms[k].first, s * a.terms[k].second + t * b.terms[k].second);
  return row;
}

class LeastBending {
 public:
  LeastBending(const Layout& layout, Progress& progress)
      : at_(layout),
        u_(uniform_knots(layout.nu, 3, false)),
        v_(uniform_knots(layout.nv, 3, false)) {
    add_energy(progress);
    for (const Demand& d : at_.demands) add_demand(d);
    const int n = at_.nu * at_.nv;
    Eigen::SparseMatrix<double> m(n, n);
    m.setFromTriplets(entries_.begin(), entries_.end());
    solver_.compute(m);
    if (solver_.info() != Eigen::Success)
      throw Error(say("The border cannot be filled with these counts. Choose other counts."));
    matrix_ = m;
  }

  Surface surface() const { return made(solved(right_)); }

  // The highest place of the shape that an even load makes is raised by `mm`.
  Surface raised(const Surface& s, double mm) const {
    Eigen::MatrixXd load = Eigen::MatrixXd::Zero(at_.nu * at_.nv, 3);
    load.col(0) = load_;
    const Surface lift = made(solved(load));
    double highest = 0.0;
    constexpr int kPlaces = 60;
    for (int a = 0; a <= kPlaces; ++a)
      for (int b = 0; b <= kPlaces; ++b) {
        const double u = static_cast<double>(a) / kPlaces;
        const double v = static_cast<double>(b) / kPlaces;
        if (at_.inside(u, v)) highest = std::max(highest, evaluate(lift, u, v).x);
      }
    Surface result = s;
    if (highest > 0.0)
      for (std::size_t k = 0; k < result.points.values().size(); ++k)
        result.points.values()[k] += at_.up * (lift.points.values()[k].x * mm / highest);
    return result;
  }

 private:
  void add_row(const Row& row, double weight, const Vec3& value) {
    for (const auto& [i, a] : row.terms) {
      for (const auto& [j, b] : row.terms) entries_.emplace_back(i, j, weight * a * b);
      for (int c = 0; c < 3; ++c) right_(i, c) += weight * a * value[static_cast<std::size_t>(c)];
    }
  }
  void add_energy(Progress& progress) {
    right_ = Eigen::MatrixXd::Zero(at_.nu * at_.nv, 3);
    load_ = Eigen::VectorXd::Zero(at_.nu * at_.nv);
    const std::vector<double> us = breakpoints(u_);
    const std::vector<double> vs = breakpoints(v_);
    for (std::size_t a = 0; a + 1 < us.size(); ++a) {
      progress.check();
      for (std::size_t b = 0; b + 1 < vs.size(); ++b)
        add_cell({us[a], vs[b]}, us[a + 1] - us[a], vs[b + 1] - vs[b]);
    }
  }
  // Gauss points where a cell lies on one side of the border; where it is cut, many even places.
  void add_cell(const Parameter& from, double du, double dv) {
    constexpr int kEven = 10;
    int within = 0;
    for (int i = 0; i <= 4; ++i)
      for (int j = 0; j <= 4; ++j)
        within += at_.inside(from.u + du * i / 4, from.v + dv * j / 4) ? 1 : 0;
    const double area = du * dv * at_.length_u * at_.length_v;
    if (within == 0 || within == 25) {
      for (std::size_t i = 0; i < 4; ++i)
        for (std::size_t j = 0; j < 4; ++j)
          add_place(from.u + du * kGauss4OfUnit[i].place, from.v + dv * kGauss4OfUnit[j].place,
                    area * kGauss4OfUnit[i].weight * kGauss4OfUnit[j].weight, within > 0);
      return;
    }
    for (int i = 0; i < kEven; ++i)
      for (int j = 0; j < kEven; ++j) {
        const double u = from.u + du * (i + 0.5) / kEven;
        const double v = from.v + dv * (j + 0.5) / kEven;
        add_place(u, v, area / (kEven * kEven), at_.inside(u, v));
      }
  }
  // Outside the border bending hardly counts: it only keeps the net there in order.
  void add_place(double u, double v, double weight, bool in) {
    constexpr double kOutside = 1e-4;
    const double e = weight * (in ? 1.0 : kOutside);
    add_row(basis_row(u_, v_, at_, u, v, 2, 0), e, {});
    add_row(basis_row(u_, v_, at_, u, v, 1, 1), 2.0 * e, {});
    add_row(basis_row(u_, v_, at_, u, v, 0, 2), e, {});
    if (!in) return;
    for (const auto& [k, x] : basis_row(u_, v_, at_, u, v, 0, 0).terms) load_(k) += weight * x;
  }
  // Demands weigh so much more than bending that only what no spline of these counts can do is left.
  void add_demand(const Demand& d) {
    constexpr double kPlace = 1e8;
    constexpr double kDirection = 1e5;
    const double area = at_.length_u * at_.length_v;
    add_row(basis_row(u_, v_, at_, d.u, d.v, 0, 0), kPlace * d.share / area, d.place);
    if (!d.leaving) return;
    const Row across = sum(basis_row(u_, v_, at_, d.u, d.v, 1, 0), d.across_u,
                           basis_row(u_, v_, at_, d.u, d.v, 0, 1), d.across_v);
    add_row(across, kDirection * d.share, *d.leaving);
  }
  Eigen::MatrixXd solved(const Eigen::MatrixXd& right) const {
    Eigen::MatrixXd x = solver_.solve(right);
    for (int k = 0; k < 3; ++k) x += solver_.solve(right - matrix_ * x);
    return x;
  }
  Surface made(const Eigen::MatrixXd& x) const {
    Surface s{u_, v_, Grid<Vec3>(at_.nu, at_.nv), {}};
    for (int i = 0; i < at_.nu; ++i)
      for (int j = 0; j < at_.nv; ++j) {
        const int k = i * at_.nv + j;
        s.points(i, j) = {x(k, 0), x(k, 1), x(k, 2)};
      }
    check(s);
    return s;
  }

  const Layout& at_;
  KnotVector u_, v_;
  std::vector<Eigen::Triplet<double>> entries_;
  Eigen::MatrixXd right_;
  Eigen::VectorXd load_;
  Eigen::SimplicialLDLT<Eigen::SparseMatrix<double>> solver_;
  Eigen::SparseMatrix<double> matrix_;
};

// Places along a curve with its directions.
struct Walk {
  std::vector<double> t;
  std::vector<CurveDerivatives> at;
};

Walk walked(const Curve& c, int per_span) {
  Walk w;
  const CurveEvaluator e(c);
  for (const double t : sample_places(c.knots, per_span)) {
    w.t.push_back(t);
    w.at.push_back(e.derivatives(t, 1));
  }
  return w;
}

int per_span_of(const Curve& c, int wanted) {
  const auto spans = static_cast<int>(breakpoints(c.knots).size()) - 1;
  return std::clamp(wanted / std::max(1, spans), 3, 60);
}

// The plane through the border's places that they leave least.
Frame mean_frame(const std::vector<Vec3>& places) {
  Vec3 centre;
  for (const Vec3& p : places) centre += p;
  centre = centre / static_cast<double>(places.size());
  Eigen::Matrix3d m = Eigen::Matrix3d::Zero();
  Vec3 round;  // Newell's sum: which side the border goes round counter-clockwise
  for (std::size_t k = 0; k < places.size(); ++k) {
    const Vec3 d = places[k] - centre;
    const Eigen::Vector3d e(d.x, d.y, d.z);
    m += e * e.transpose();
    round += cross(d, places[(k + 1) % places.size()] - centre);
  }
  const Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d> axes(m);
  const auto axis = [&](int k) {
    return Vec3{axes.eigenvectors()(0, k), axes.eigenvectors()(1, k), axes.eigenvectors()(2, k)};
  };
  Frame f{centre, axis(2), {}, axis(0)};
  if (dot(f.z, round) < 0.0) f.z = f.z * -1.0;
  f.y = cross(f.z, f.x);
  return f;
}

bool crosses(const Vec3& a, const Vec3& b, const Vec3& c, const Vec3& d) {
  const auto side = [](const Vec3& p, const Vec3& q, const Vec3& r) {
    return (q.x - p.x) * (r.y - p.y) - (q.y - p.y) * (r.x - p.x);
  };
  return side(a, b, c) * side(a, b, d) < 0.0 && side(c, d, a) * side(c, d, b) < 0.0;
}

void refuse_overlap(const std::vector<Parameter>& polygon) {
  const std::size_t n = polygon.size();
  const auto p = [&](std::size_t k) { return Vec3{polygon[k % n].u, polygon[k % n].v, 0.0}; };
  for (std::size_t a = 0; a < n; ++a)
    for (std::size_t b = a + 2; b < n; ++b)
      if (!(a == 0 && b + 1 == n) && crosses(p(a), p(a + 1), p(b), p(b + 1)))
        throw Error(say(
            "The border crosses itself, seen square to its mean plane. Mend the curves, or fill it "
            "in "
            "several pieces."));
}

double angle_between(const Vec3& a, const Vec3& b) {
  return std::atan2(length(cross(a, b)), std::abs(dot(a, b))) * 180.0 / std::numbers::pi;
}

// How the finished surface keeps what was demanded.
void measure(const Surface& s, const std::vector<Demand>& demands, const std::vector<Vec3>& along,
             Filled& result) {
  for (std::size_t k = 0; k < demands.size(); ++k) {
    const Demand& d = demands[k];
    const SurfaceDerivatives at = derivatives(s, d.u, d.v, 1);
    result.gap = std::max(result.gap, distance(at.p(), d.place));
    if (!d.leaving) continue;
    result.tangent = true;
    result.worst_degrees = std::max(
        result.worst_degrees, angle_between(cross(at.du(), at.dv()), cross(along[k], *d.leaving)));
  }
}

double length_of(const Walk& w) {
  double sum = 0.0;
  for (std::size_t k = 1; k < w.at.size(); ++k) sum += distance(w.at[k - 1].p, w.at[k].p);
  return sum;
}

// Four borders: the square's sides are the borders themselves.
Filled fill_four(std::span<const Curve> loop, const FillOptions& o, int step, Progress& progress) {
  const FourBorders b = four_borders(loop, 1e-6 * (1.0 + size(loop[0])));
  const Surface patch =
      reparameterised(reparameterised(coons(b), Direction::U, 0.0, 1.0), Direction::V, 0.0, 1.0);
  Layout at{o.points_u, o.points_v, 1.0, 1.0, {}, [](double, double) { return true; }, {}};
  const std::array<const Curve*, 4> sides{&b.bottom, &b.top, &b.left, &b.right};
  std::array<Walk, 4> walks;
  for (std::size_t k = 0; k < 4; ++k)
    walks[k] = walked(on_domain(*sides[k], 0.0, 1.0), per_span_of(*sides[k], 100));
  at.length_u = 0.5 * (length_of(walks[0]) + length_of(walks[1]));
  at.length_v = 0.5 * (length_of(walks[2]) + length_of(walks[3]));
  at.up = normal(patch, 0.5, 0.5);
  std::vector<Vec3> along;
  for (std::size_t side = 0; side < 4; ++side)
    for (std::size_t k = 0; k < walks[side].t.size(); ++k) {
      Demand d;
      const double t = walks[side].t[k];
      const bool far = side % 2 == 1;
      (side < 2 ? d.u : d.v) = t;
      (side < 2 ? d.v : d.u) = far ? 1.0 : 0.0;
      (side < 2 ? d.across_v : d.across_u) = far ? -1.0 : 1.0;
      d.place = walks[side].at[k].p;
      d.share = 1.0 / static_cast<double>(walks[side].t.size());
      const Vec3 run = walks[side].at[k].d1;
      along.push_back(run);
      const bool corner = k == 0 || k + 1 == walks[side].t.size();
      if (o.onward && length(run) > 0.0 && !corner)
        if (const auto way = o.onward(d.place, normalized(run))) {
          // As steep as the blend of the borders crosses this one, turned into the neighbour's plane.
          const SurfaceDerivatives p = derivatives(patch, d.u, d.v, 1);
          const Vec3 cross_way =
              (side < 2 ? p.dv() / at.length_v : p.du() / at.length_u) * (far ? -1.0 : 1.0);
          const Vec3 shear = normalized(run) * dot(cross_way, normalized(run));
          d.leaving = shear + *way * (length(cross_way - shear) * o.reach);
        }
      at.demands.push_back(d);
    }
  const LeastBending bending(at, progress);
  Surface s = bending.surface();
  if (o.puff != 0.0) s = bending.raised(s, o.puff);
  Filled result{body_of({s}, step), 0.0, 0.0, false};
  measure(s, at.demands, along, result);
  return result;
}

Filled fill_trimmed(std::span<const Curve> loop, const FillOptions& o, int step,
                    Progress& progress) {
  std::vector<Curve> open;
  for (const Curve& c : loop) open.push_back(opened(c, c.knots.first()));
  std::vector<Walk> walks;
  std::vector<Vec3> places;
  double whole = 0.0;
  for (const Curve& c : open) {
    walks.push_back(walked(c, per_span_of(c, 160)));
    whole += length_of(walks.back());
    for (const CurveDerivatives& d : walks.back().at) places.push_back(d.p);
    places.pop_back();
  }
  const Frame f = mean_frame(places);
  Box3 flat;
  for (const Vec3& p : places) flat.add(f.to_local(p));
  const double margin = 0.03 * flat.size();
  const Vec3 corner = flat.min - Vec3{margin, margin, 0.0};
  Layout at{o.points_u,
            o.points_v,
            flat.max.x - flat.min.x + 2.0 * margin,
            flat.max.y - flat.min.y + 2.0 * margin,
            {},
            {},
            f.z};
  if (!(at.length_v > 1e-3 * at.length_u))
    throw Error(say("The border lies on a line; there is no area in it. Choose other curves."));
  const auto in_square = [&](const Vec3& p) {
    const Vec3 l = f.to_local(p) - corner;
    return Parameter{l.x / at.length_u, l.y / at.length_v};
  };
  std::vector<Parameter> polygon;
  for (const Vec3& p : places) polygon.push_back(in_square(p));
  refuse_overlap(polygon);
  at.inside = [&](double u, double v) { return winds_round(polygon, {u, v}); };
  std::vector<Vec3> along;
  for (const Walk& w : walks)
    for (std::size_t k = 0; k + 1 < w.at.size(); ++k) {
      Demand d;
      d.place = w.at[k].p;
      const Parameter p = in_square(d.place);
      d.u = p.u;
      d.v = p.v;
      d.share = length_of(w) / whole / static_cast<double>(w.at.size() - 1);
      const Vec3 run = w.at[k].d1;
      along.push_back(run);
      // The border goes round counter-clockwise, so the area is to its left.
      const Vec3 left = normalized(Vec3{-dot(run, f.y), dot(run, f.x), 0.0});
      d.across_u = left.x;
      d.across_v = left.y;
      // A corner belongs to two edges.
      const bool inner = k > 0 || loop.size() == 1;
      if (o.onward && inner && length(run) > 0.0)
        if (const auto way = o.onward(d.place, normalized(run))) d.leaving = *way * o.reach;
      at.demands.push_back(d);
    }
  const LeastBending bending(at, progress);
  Surface s = bending.surface();
  if (o.puff != 0.0) s = bending.raised(s, o.puff);
  Filled result{body_of({s}, step), 0.0, 0.0, false};
  measure(s, at.demands, along, result);
  Face& face = result.body.faces.front();
  Loop border;
  for (std::size_t k = 0; k < open.size(); ++k) {
    Curve uv = open[k];
    for (Vec3& p : uv.points) {
      const Parameter q = in_square(p);
      p = {q.u, q.v, 0.0};
    }
    border.push_back({static_cast<std::uint32_t>(k), true, uv});
    result.body.edges.push_back({make_tag(step, face.tag, k), open[k], 0.0});
  }
  face.loops = {border};
  refresh_gaps(result.body);
  check(result.body);
  return result;
}

}  // namespace

Filled fill(std::span<const Curve> loop, const FillOptions& o, int step, Progress& progress) {
  if (loop.empty())
    throw Error(say("There is no border to fill. Choose the curves that go round."));
  return loop.size() == 4 ? fill_four(loop, o, step, progress)
                          : fill_trimmed(loop, o, step, progress);
}

}  // namespace evenclay
