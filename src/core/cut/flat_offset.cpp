#include "core/cut/flat_offset.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/clamped.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"

namespace evenclay {

namespace {

constexpr int kPerRun = 64;
constexpr double kWithin = 2e-4;  // mm, of what is laid beside; finer only makes the kernel slow
constexpr double kCorner = 1e-4;  // sine of the angle from which a joint is a corner

Vec3 turned_left(const Vec3& d) {
  return {-d.y, d.x, 0.0};
}

double crossed(const Vec3& a, const Vec3& b) {
  return a.x * b.y - a.y * b.x;
}

// Where two lines meet, as the way along the first; nothing when they are parallel.
std::optional<double> meeting(const Vec3& p, const Vec3& d, const Vec3& q, const Vec3& e) {
  const double c = crossed(d, e);
  if (std::abs(c) < 1e-12) return std::nullopt;
  return crossed(q - p, e) / c;
}

}  // namespace

FlatDistance signed_distance(const std::vector<Parameter>& line, bool closed, const Parameter& at) {
  const std::size_t n = line.size();
  const std::size_t segments = closed ? n : n - 1;
  const auto vec = [](const Parameter& p) { return Vec3{p.u, p.v, 0.0}; };
  const Vec3 p = vec(at);
  FlatDistance best{1e300, false};
  const auto direction = [&](std::size_t k) {
    return normalized(vec(line[(k + 1) % n]) - vec(line[k % n]));
  };
  for (std::size_t k = 0; k < segments; ++k) {
    const Vec3 a = vec(line[k]), d = vec(line[(k + 1) % n]) - a;
    const double share = std::clamp(dot(p - a, d) / std::max(dot(d, d), 1e-300), 0.0, 1.0);
    const double away = distance(p, a + d * share);
    if (away >= best.distance) continue;
    Vec3 along = normalized(d);
    // At a corner the mean of both directions decides.
    if (share >= 1.0 && (closed || k + 1 < segments)) along += direction((k + 1) % n);
    if (share <= 0.0 && (closed || k > 0)) along += direction((k + n - 1) % n);
    best = {away, crossed(along, p - (a + d * share)) > 0.0};
  }
  return best;
}

FlatCurve::FlatCurve(const Curve& curve, const Frame& frame, double on) : flat_(curve), on_(on) {
  for (Vec3& p : flat_.points) {
    const Vec3 l = frame.to_local(p);
    p = {l.x, l.y, 0.0};
  }
  const double whole = size(flat_);
  if (whole < 1e-6 * (1.0 + size(curve)))
    throw Error(say(
        "Seen along the chosen direction the curve is a single point. Choose a direction across "
        "it."));
  const KnotVector& k = flat_.knots;
  closed_ =
      k.periodic || distance(evaluate(flat_, k.first()), evaluate(flat_, k.last())) < 1e-6 * whole;
  double from = k.first();
  for (const double t : breakpoints(k)) {
    if (t <= k.first() || t >= k.last()) continue;
    const Vec3 a = at(t, 0.0, true).d, b = at(t, 0.0, false).d;
    if (std::abs(crossed(a, b)) < kCorner && dot(a, b) > 0.0) continue;
    runs_.push_back({from, t});
    from = t;
  }
  runs_.push_back({from, k.last()});
  const std::vector<Parameter> line = polygon();
  counter_clockwise_ = closed_ && doubled_area(line) > 0.0;
  if (closed_ && std::abs(doubled_area(line)) < 1e-6 * whole * whole)
    throw Error(say(
        "Seen along the chosen direction the curve has no inside. Choose a direction across it."));
}

FlatCurve::At FlatCurve::at(double t, double left, bool from_below) const {
  const KnotVector& k = flat_.knots;
  const double inside =
      std::clamp(t + (from_below ? -1e-9 : 1e-9) * k.length(), k.first(), k.last());
  const CurveDerivatives d = derivatives(flat_, inside, 2);
  const double speed = length(d.d1);
  At result{evaluate(flat_, t), speed > 0.0 ? d.d1 * (1.0 / speed) : Vec3{1, 0, 0}, 0.0};
  if (speed > 0.0) result.bend = crossed(d.d1, d.d2) / (speed * speed * speed);
  result.p += turned_left(result.d) * left;
  return result;
}

std::vector<Parameter> FlatCurve::polygon() const {
  std::vector<Parameter> line;
  if (!closed_) {
    const At begin = at(flat_.knots.first(), 0.0, false);
    line.push_back({begin.p.x - begin.d.x * on_, begin.p.y - begin.d.y * on_});
  }
  for (const Run& run : runs_) {
    const int pieces = kPerRun * static_cast<int>(std::max<std::size_t>(
                                     1, breakpoints(flat_.knots).size() / runs_.size()));
    for (int n = 0; n < pieces; ++n) {
      const Vec3 p = evaluate(flat_, run.from + (run.to - run.from) * n / pieces);
      line.push_back({p.x, p.y});
    }
  }
  if (!closed_) {
    const At end = at(flat_.knots.last(), 0.0, true);
    line.push_back({end.p.x, end.p.y});
    line.push_back({end.p.x + end.d.x * on_, end.p.y + end.d.y * on_});
  }
  return line;
}

Curve FlatCurve::laid(double from, double to, double left) const {
  const double low = from + 1e-9 * (to - from), high = to - 1e-9 * (to - from);
  const auto function = [&](double t) {
    const CurveDerivatives d = derivatives(flat_, std::clamp(t, low, high), 2);
    const double speed = length(d.d1);
    CurveDerivatives c{};
    c.p = evaluate(flat_, t) + turned_left(d.d1) * (left / std::max(speed, 1e-300));
    const double bend = crossed(d.d1, d.d2) / std::max(speed * speed * speed, 1e-300);
    c.d1 = d.d1 * (1.0 - left * bend);
    return c;
  };
  std::vector<double> breaks{from};
  for (const double t : breakpoints(flat_.knots))
    if (t > low && t < high) breaks.push_back(t);
  breaks.push_back(to);
  return hermite_curve(function, breaks, kWithin);
}

// Exactly the curve between two parameters.
Curve FlatCurve::piece(double from, double to) const {
  Surface strip = clamped(strip_of(flat_, {0, 0, 1}));
  if (from > strip.u.first()) strip = split(strip, Direction::U, from).second;
  if (to < strip.u.last()) strip = split(strip, Direction::U, to).first;
  return first_row(strip);
}

// In a few pieces: the kernel is quicker with small faces than with one that goes round everything.
void FlatCurve::add_pieces(std::vector<Curve>& to, double begin, double end, double left) const {
  std::vector<double> inner;
  for (const double t : breakpoints(flat_.knots))
    if (t > begin + 1e-9 * (end - begin) && t < end - 1e-9 * (end - begin)) inner.push_back(t);
  constexpr std::size_t kMost = 16;
  const std::size_t every = inner.size() / kMost + 1;
  double from = begin;
  for (std::size_t k = every - 1; k < inner.size(); k += every) {
    to.push_back(left == 0.0 ? piece(from, inner[k]) : laid(from, inner[k], left));
    from = inner[k];
  }
  to.push_back(left == 0.0 ? piece(from, end) : laid(from, end, left));
}

std::vector<Curve> FlatCurve::beside(double left) const {
  for (const Run& run : runs_)
    for (int n = 0; n <= kPerRun && left != 0.0; ++n) {
      const double t = run.from + (run.to - run.from) * n / kPerRun;
      const double bend = at(t, 0.0, n == kPerRun).bend;
      if (bend * left >= 1.0)
        throw Error(say(
            "The curve bends with a radius of {:.2f} mm, which is less than the {:.2f} mm on that "
            "side. Make the gap narrower or the bend wider.",
            1.0 / std::abs(bend), std::abs(left)));
    }
  // Where each run begins and ends after its corners are mitred.
  std::vector<Run> runs = runs_;
  std::vector<std::optional<Vec3>> corner(runs.size());  // straight on to there behind run k
  const std::size_t corners = closed_ ? runs.size() : runs.size() - 1;
  for (std::size_t k = 0; k < corners && left != 0.0; ++k) {
    Run& a = runs[k];
    Run& b = runs[(k + 1) % runs.size()];
    const At end = at(runs_[k].to, left, true);
    const At begin = at(runs_[(k + 1) % runs.size()].from, left, false);
    if (distance(end.p, begin.p) < 1e-9) continue;  // a seam, no corner
    const auto way = meeting(end.p, end.d, begin.p, begin.d);
    if (!way)
      throw Error(say("The curve turns back on itself; a gap beside it has no corner there."));
    if (*way > 0.0) {  // on the outside of the corner
      corner[k] = end.p + end.d * *way;
      continue;
    }
    // On its inside both runs are cut where they cross: Newton's method from the tangents' crossing.
    double s = a.to + *way / length(derivatives(flat_, a.to - 1e-9, 1).d1);
    const auto other = meeting(begin.p, begin.d, end.p, end.d);
    double t = b.from + *other / length(derivatives(flat_, b.from + 1e-9, 1).d1);
    for (int n = 0; n < 40; ++n) {
      const At p = at(s, left, true), q = at(t, left, false);
      const Vec3 miss = q.p - p.p;
      if (length(miss) < 1e-10) break;
      const Vec3 ds = p.d * (length(derivatives(flat_, s, 1).d1) * (1.0 - left * p.bend));
      const Vec3 dt = q.d * (length(derivatives(flat_, t, 1).d1) * (1.0 - left * q.bend));
      const double det = -crossed(ds, dt);
      if (std::abs(det) < 1e-300) break;
      s += (-crossed(miss, dt)) / det;
      t += (-crossed(miss, ds)) / det;
      s = std::clamp(s, runs_[k].from, runs_[k].to);
      t = std::clamp(t, runs_[(k + 1) % runs.size()].from, runs_[(k + 1) % runs.size()].to);
    }
    if (distance(at(s, left, true).p, at(t, left, false).p) > 1e-6)
      throw Error(
          say("The gap is wider than a piece of the curve between two corners. Make it narrower."));
    a.to = s;
    b.from = t;
  }
  std::vector<Curve> result;
  if (!closed_) {
    const At begin = at(runs.front().from, left, false);
    result.push_back(line_curve(begin.p - begin.d * on_, begin.p));
  }
  for (std::size_t k = 0; k < runs.size(); ++k) {
    if (!(runs[k].to > runs[k].from))
      throw Error(
          say("The gap is wider than a piece of the curve between two corners. Make it narrower."));
    add_pieces(result, runs[k].from, runs[k].to, left);
    if (corner[k]) {
      const Run& next = runs[(k + 1) % runs.size()];
      result.push_back(line_curve(at(runs[k].to, left, true).p, *corner[k]));
      result.push_back(line_curve(*corner[k], at(next.from, left, false).p));
    }
  }
  if (!closed_) {
    const At end = at(runs.back().to, left, true);
    result.push_back(line_curve(end.p, end.p + end.d * on_));
  }
  return result;
}

}  // namespace evenclay
