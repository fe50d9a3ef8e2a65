#include "core/subdivision/convert.h"

#include <fmt/format.h>

#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/subdivision/convert_body.h"
#include "core/subdivision/corner_patch.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostFaces = 20'000;
constexpr double kSmooth = 0.1;  // degrees between normals that count as one tangent plane
// How closely the knots of fitted surfaces gather, from one attempt to the next.
struct Grading {
  int halvings, parts;
};
constexpr std::array<Grading, 5> kGradings{{{3, 1}, {5, 1}, {6, 2}, {9, 2}, {12, 2}}};

bool all_quads_and_sharp(const Form& form) {
  for (const FormFace& f : form.faces)
    if (f.points.size() != 4) return false;
  for (const auto& [edge, s] : form.creases)
    if (s > 0.0 && s < kSharp) return false;
  return true;
}

bool one_special_corner_each(const Form& form) {
  const Walker walker(form);
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) {
    int special = 0;
    for (const std::uint32_t c : form.faces[f].points) special += walker.regular(f, c) ? 0 : 1;
    if (special > 1) return false;
  }
  return true;
}

Form prepared(Form form, Progress& progress) {
  for (int k = 0; k < 12; ++k) {
    if (form.faces.size() > kMostFaces)
      throw Error(
          say("The form has {} faces once its creases and special points are apart; at most {} "
              "can be converted. Use fewer faces.",
              form.faces.size(), kMostFaces));
    if (all_quads_and_sharp(form) && one_special_corner_each(form)) break;
    form = subdivided(form, progress);
  }
  return linked(std::move(form));
}

// --- rectangles of regular faces ------------------------------------------------------------------

// Cells in rows: at(i, j), i along u, j along v.
struct Block {
  int m = 1, n = 1;
  std::vector<Cell> cells;  // i + m · j
  const Cell& at(int i, int j) const { return cells[static_cast<std::size_t>(i + m * j)]; }
};

class Grower {
 public:
  explicit Grower(const Walker& w) : w_(w), taken_(w.form().faces.size(), false) {
    for (std::uint32_t f = 0; f < taken_.size(); ++f) regular_.push_back(w.regular(f));
  }

  std::vector<Block> blocks() {
    std::vector<Block> result;
    for (std::uint32_t f = 0; f < taken_.size(); ++f) {
      if (taken_[f] || !regular_[f]) continue;
      Block best = grown_from(f);
      // A better beginning may lie anywhere; a few are tried, spread over what is left.
      const std::uint32_t stride =
          std::max<std::uint32_t>(1, static_cast<std::uint32_t>(taken_.size()) / 40);
      for (std::uint32_t other = f + 1; other < taken_.size(); other += stride) {
        if (taken_[other] || !regular_[other]) continue;
        Block b = grown_from(other);
        if (b.cells.size() > best.cells.size()) best = std::move(b);
      }
      for (const Cell& c : best.cells) taken_[c.face] = true;
      const bool again = !taken_[f];
      result.push_back(std::move(best));
      if (again) --f;
    }
    return result;
  }
  bool regular(std::uint32_t f) const { return regular_[f]; }

 private:
  Block grown_from(std::uint32_t face) const {
    Block b{1, 1, {cell_at(w_.form(), face, w_.form().faces[face].points[0])}};
    std::set<std::uint32_t> inside{face};
    for (bool more = true; more;) {
      more = false;
      for (const Side side : {Side::Right, Side::Up, Side::Left, Side::Down})
        more = extend(b, inside, side) || more;
    }
    return b;
  }

  // One more row or column on a side, when all of it is free.
  bool extend(Block& b, std::set<std::uint32_t>& inside, Side side) const {
    const bool column = side == Side::Right || side == Side::Left;
    std::vector<Cell> fresh;
    std::set<std::uint32_t> faces;
    for (int k = 0; k < (column ? b.n : b.m); ++k) {
      const Cell& from = side == Side::Right  ? b.at(b.m - 1, k)
                         : side == Side::Left ? b.at(0, k)
                         : side == Side::Up   ? b.at(k, b.n - 1)
                                              : b.at(k, 0);
      const auto next = w_.beyond(from, side);
      if (!next || taken_[next->face] || !regular_[next->face] || inside.contains(next->face) ||
          !faces.insert(next->face).second)
        return false;
      // Neighbours in the new row must be neighbours there too.
      if (!fresh.empty()) {
        const Cell& before = fresh.back();
        if (column ? before.points[3] != next->points[0] || before.points[2] != next->points[1]
                   : before.points[1] != next->points[0] || before.points[2] != next->points[3])
          return false;
        if (w_.sharp(column ? before.points[3] : before.points[1], before.points[2])) return false;
      }
      fresh.push_back(*next);
    }
    Block wider{b.m + (column ? 1 : 0), b.n + (column ? 0 : 1), {}};
    for (int j = 0; j < wider.n; ++j)
      for (int i = 0; i < wider.m; ++i) {
        const int oi = i - (side == Side::Left ? 1 : 0);
        const int oj = j - (side == Side::Down ? 1 : 0);
        const bool old = oi >= 0 && oi < b.m && oj >= 0 && oj < b.n;
        wider.cells.push_back(old ? b.at(oi, oj) : fresh[static_cast<std::size_t>(column ? j : i)]);
      }
    inside.insert(faces.begin(), faces.end());
    b = std::move(wider);
    return true;
  }

  const Walker& w_;
  std::vector<bool> taken_;
  std::vector<bool> regular_;
};

KnotVector clamped_cubic(const std::vector<double>& breaks) {
  KnotVector k{3, false, std::vector<double>(3, breaks.front())};
  k.knots.insert(k.knots.end(), breaks.begin(), breaks.end());
  k.knots.resize(k.knots.size() + 3, breaks.back());
  return k;
}

KnotVector whole_knots(int spans) {
  std::vector<double> breaks;
  for (int k = 0; k <= spans; ++k) breaks.push_back(k);
  return clamped_cubic(breaks);
}

// Uniform B-spline points p[0 … m + 2] over m spans as those of the clamped curve: blossoms f(0, 0, 0), f(0, 0, 1), the
// inner ones as they are, and the same at the other end.
std::vector<Vec3> clamped_ends(const std::vector<Vec3>& p) {
  const std::size_t last = p.size() - 1;
  std::vector<Vec3> q = p;
  q[0] = (p[0] + p[1] * 4.0 + p[2]) / 6.0;
  q[1] = (p[1] * 2.0 + p[2]) / 3.0;
  q[last] = (p[last] + p[last - 1] * 4.0 + p[last - 2]) / 6.0;
  q[last - 1] = (p[last - 1] * 2.0 + p[last - 2]) / 3.0;
  return q;
}

Surface surface_of(const Walker& w, const Block& b) {
  Grid<Vec3> net(b.m + 3, b.n + 3);
  for (int i = 0; i < b.m; ++i)
    for (int j = 0; j < b.n; ++j) {
      const PatchPoints p = patch_points(w, b.at(i, j));
      for (int k = 0; k < 4; ++k)
        for (int l = 0; l < 4; ++l)
          net(i + k, j + l) = p[static_cast<std::size_t>(k)][static_cast<std::size_t>(l)];
    }
  for (int i = 0; i < b.m + 3; ++i) {
    std::vector<Vec3> row;
    for (int j = 0; j < b.n + 3; ++j) row.push_back(net(i, j));
    row = clamped_ends(row);
    for (int j = 0; j < b.n + 3; ++j) net(i, j) = row[static_cast<std::size_t>(j)];
  }
  for (int j = 0; j < b.n + 3; ++j) {
    std::vector<Vec3> row;
    for (int i = 0; i < b.m + 3; ++i) row.push_back(net(i, j));
    row = clamped_ends(row);
    for (int i = 0; i < b.m + 3; ++i) net(i, j) = row[static_cast<std::size_t>(i)];
  }
  return {whole_knots(b.m), whole_knots(b.n), std::move(net), {}};
}

// --- faces at special points ------------------------------------------------------------------------

// Closer and closer towards 0, each stretch in `parts` spans.
KnotVector graded_knots(const Grading& g) {
  std::vector<double> breaks{0.0};
  double from = 0.0;
  for (int k = g.halvings; k >= 0; --k) {
    const double to = std::ldexp(1.0, -k);
    for (int p = 1; p <= g.parts; ++p) breaks.push_back(from + (to - from) * p / g.parts);
    from = to;
  }
  return clamped_cubic(breaks);
}

// Interpolation at the Greville places of both directions.
class Interpolator {
 public:
  explicit Interpolator(const KnotVector& knots)
      : knots_(knots), places_(greville_places(knots)), solver_(matrix(knots, places_)) {}

  template <typename Place>
  Surface fit(const Place& place) const {
    const auto n = static_cast<long>(places_.size());
    std::array<Eigen::MatrixXd, 3> values;
    for (auto& v : values) v = Eigen::MatrixXd(n, n);
    for (long i = 0; i < n; ++i)
      for (long j = 0; j < n; ++j) {
        const Vec3 p =
            place(places_[static_cast<std::size_t>(i)], places_[static_cast<std::size_t>(j)]);
        for (std::size_t c = 0; c < 3; ++c) values[c](i, j) = p[c];
      }
    Surface s{knots_, knots_, Grid<Vec3>(static_cast<int>(n), static_cast<int>(n)), {}};
    for (std::size_t c = 0; c < 3; ++c) {
      const Eigen::MatrixXd along = solver_.solve(values[c]);
      const Eigen::MatrixXd both = solver_.solve(along.transpose()).transpose();
      for (long i = 0; i < n; ++i)
        for (long j = 0; j < n; ++j)
          s.points(static_cast<int>(i), static_cast<int>(j))[c] = both(i, j);
    }
    return s;
  }

 private:
  static Eigen::MatrixXd matrix(const KnotVector& knots, const std::vector<double>& places) {
    const FlatKnots flat = flatten(knots);
    const auto n = static_cast<long>(places.size());
    Eigen::MatrixXd m = Eigen::MatrixXd::Zero(n, n);
    for (long i = 0; i < n; ++i) {
      const double t = places[static_cast<std::size_t>(i)];
      const int span = find_span(flat, t);
      const auto values = basis_values(flat, span, t);
      for (int k = 0; k <= knots.degree; ++k)
        m(i, flat.point(span - knots.degree + k)) = values[static_cast<std::size_t>(k)];
    }
    return m;
  }
  KnotVector knots_;
  std::vector<double> places_;
  Eigen::PartialPivLU<Eigen::MatrixXd> solver_;
};

// By which power of the radius a place is moved, so that the limit shrinks evenly towards the point.
double radius_power(const Walker::Sector& s) {
  if (s.sharp_edges > 0) return 0.0;
  const double c = std::cos(2.0 * std::numbers::pi / static_cast<double>(s.faces));
  const double lambda = (5.0 + c + std::sqrt((9.0 + c) * (1.0 + c))) / 16.0;
  return 1.0 / -std::log2(lambda) - 1.0;
}

// Of a face with its special point at the first corner, places by (s, t) as its surface has them.
struct SpecialFace {
  Cell cell;
  AroundPoint* around = nullptr;
  Tag tag = 0;
  double power = 0.0;

  PatchPlace at(double s, double t) const {
    const double r = std::sqrt(std::max(0.0, s * s + t * t - s * s * t * t));
    const double f = r > 0.0 ? std::pow(r, power) : 0.0;
    return around->at(tag, std::min(1.0, s * f), std::min(1.0, t * f));
  }
  Vec3 operator()(double s, double t) const { return at(s, t).p; }
};

// --- the pieces -------------------------------------------------------------------------------------

Piece piece_of(const Block& b, Surface surface, Tag tag) {
  Piece piece{std::move(surface), tag, std::vector<std::vector<BorderStretch>>(4)};
  const double m = b.m, n = b.n;
  for (int i = 0; i < b.m; ++i) {
    const Cell& low = b.at(i, 0);
    piece.sides[0].push_back({{low.points[0], low.points[1]}, 1.0 * i, 0, i + 1.0, 0});
    const Cell& high = b.at(b.m - 1 - i, b.n - 1);
    piece.sides[2].push_back({{high.points[2], high.points[3]}, m - i, n, m - i - 1, n});
  }
  for (int j = 0; j < b.n; ++j) {
    const Cell& right = b.at(b.m - 1, j);
    piece.sides[1].push_back({{right.points[1], right.points[2]}, m, 1.0 * j, m, j + 1.0});
    const Cell& left = b.at(0, b.n - 1 - j);
    piece.sides[3].push_back({{left.points[3], left.points[0]}, 0, n - j, 0, n - j - 1});
  }
  return piece;
}

// --- measures -----------------------------------------------------------------------------------------

// How well a surface stands for its face.
struct Fit {
  double off = 0.0;   // mm from the limit
  double bend = 0.0;  // degrees between its normals and those of the limit, along its borders
  Vec3 at;
};

Fit measured(const Surface& s, const SpecialFace& place) {
  Fit fit;
  const SurfaceEvaluator e(s);
  const std::vector<double> at = sample_places(s.u, 2);
  for (const double u : at)
    for (const double v : at) {
      const PatchPlace p = place.at(u, v);
      if (const double d = distance(e.point(u, v), p.p); d > fit.off) {
        fit.off = d;
        fit.at = p.p;
      }
      const bool border = u <= 0.0 || v <= 0.0 || u >= 1.0 || v >= 1.0;
      const Vec3 n = cross(p.du, p.dv);  // none at the point itself
      if (!border || !(length(n) > 1e-9 * length(p.du) * length(p.dv))) continue;
      const PointTangents t = e.tangents(u, v);
      fit.bend = std::max(fit.bend, degrees_between(n, cross(t.du, t.dv)));
    }
  return fit;
}

// The faces that are no B-splines, by the special point that each has.
std::map<std::uint32_t, std::vector<std::uint32_t>> special_faces(const Form& fine,
                                                                  const Walker& walker,
                                                                  const Grower& grower) {
  std::map<std::uint32_t, std::vector<std::uint32_t>> result;
  for (std::uint32_t f = 0; f < fine.faces.size(); ++f)
    if (!grower.regular(f))
      for (const std::uint32_t c : fine.faces[f].points)
        if (!walker.regular(f, c)) result[c].push_back(f);
  return result;
}

}  // namespace

ConvertedForm converted(const Form& form, double tolerance, int step, Progress& progress) {
  if (form.faces.empty()) throw Error(say("There is no form to convert yet."));
  const Form fine = prepared(form, progress);
  const Walker walker(fine);
  Grower grower(walker);
  std::vector<Piece> pieces;
  for (const Block& b : grower.blocks()) {
    progress.check();
    pieces.push_back(piece_of(b, surface_of(walker, b), fine.faces[b.cells.front().face].tag));
  }
  ConvertedForm result;
  result.exact = pieces.size();
  for (const auto& [point, faces] : special_faces(fine, walker, grower)) {
    AroundPoint around(fine, point);
    std::vector<Piece> fitted;
    for (const Grading& grading : kGradings) {
      const Interpolator interpolate(graded_knots(grading));
      fitted.clear();
      Fit worst;
      for (const std::uint32_t f : faces) {
        progress.check();
        const SpecialFace face{cell_at(fine, f, point), &around, fine.faces[f].tag,
                               radius_power(walker.sector(f, point))};
        fitted.push_back(piece_of({1, 1, {face.cell}}, interpolate.fit(face), face.tag));
        const Fit fit = measured(fitted.back().surface, face);
        if (fit.off > worst.off) worst = {fit.off, worst.bend, fit.at};
        worst.bend = std::max(worst.bend, fit.bend);
      }
      // Both sides of a joint may be off by half of what the joint may bend.
      const bool good = worst.off <= tolerance && worst.bend <= 0.5 * kSmooth;
      if (!good && &grading != &kGradings.back()) continue;
      if (worst.off > result.deviation) {
        result.deviation = worst.off;
        result.deviation_at = worst.at;
      }
      break;
    }
    result.fitted += fitted.size();
    for (Piece& p : fitted) pieces.push_back(std::move(p));
  }
  measure_joints(walker, pieces, result);
  result.body = assembled(walker, pieces, step);
  return result;
}

}  // namespace evenclay
