#include "core/source/curve_work.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/fitted.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/line_matrix.h"
#include "core/source/compatible.h"
#include "core/source/loft.h"

namespace evenclay {

namespace {

Surface strip(const Curve& c) {
  return strip_of(c, {0, 0, 1.0 + size(c)});
}

void refuse_closed(const Curve& c, const char* what) {
  if (c.knots.periodic)
    throw Error(say("A closed curve has no end to {}. Open or split it first.", what));
}

}  // namespace

Curve curve_through(std::span<const Vec3> places, bool closed) {
  const std::size_t n = places.size();
  if (n < (closed ? 3U : 2U))
    throw Error(closed ? say("A closed curve goes through three places or more. Click more places.")
                       : say("A curve goes through two places or more. Click more places."));
  std::vector<double> t{0.0};
  const std::size_t steps = closed ? n : n - 1;
  for (std::size_t k = 0; k < steps; ++k) {
    const double chord = distance(places[k], places[(k + 1) % n]);
    if (!(chord > 1e-9))
      throw Error(say("Places {} and {} are one. Take one of them back.", k + 1, (k + 1) % n + 1));
    t.push_back(t.back() + chord);
  }
  const double whole = t.back();
  for (double& x : t) x /= whole;
  std::vector<double> values;
  for (const Vec3& p : places) values.insert(values.end(), {p.x, p.y, p.z});
  Curve c;
  if (closed) {
    c.knots = {n == 3 ? 1 : 3, true, t};
    // Through three places a cubic cannot be told from others by its knots alone: doubled half-way.
    if (n == 3) {
      std::vector<Vec3> more;
      for (std::size_t k = 0; k < 3; ++k) more.push_back(places[k]);
      Vec3 centre = (places[0] + places[1] + places[2]) / 3.0;
      std::vector<Vec3> six;
      for (std::size_t k = 0; k < 3; ++k) {
        six.push_back(more[k]);
        const Vec3 middle = (more[k] + more[(k + 1) % 3]) * 0.5;
        const double radius =
            0.5 * (distance(more[k], centre) + distance(more[(k + 1) % 3], centre));
        const Vec3 out = middle - centre;
        six.push_back(length(out) > 1e-9 ? centre + normalized(out) * radius : middle);
      }
      return curve_through(six, true);
    }
    t.pop_back();
  } else {
    const int degree = std::min<int>(3, static_cast<int>(n) - 1);
    c.knots = averaged_knots(t, degree);
  }
  const std::vector<double> x = interpolated(c.knots, t, values, 3);
  for (std::size_t k = 0; k < n; ++k) c.points.push_back({x[3 * k], x[3 * k + 1], x[3 * k + 2]});
  return c;
}

Curve extended(const Curve& curve, CurveEnd end, double mm, bool straight) {
  refuse_closed(curve, "extend");
  if (mm == 0.0) return curve;
  if (end == CurveEnd::Begin)
    return reversed(extended(reversed(curve), CurveEnd::End, mm, straight));
  const CurveEvaluator at(curve);
  const double last = curve.knots.last();
  if (mm > 0.0 && straight) {
    const CurveDerivatives d = at.derivatives(last, 1);
    if (!(length(d.d1) > 0.0))
      throw Error(say("The curve has no direction at this end. Take out doubled points there."));
    return chained(std::array{curve, line_curve(d.p, d.p + normalized(d.d1) * mm)});
  }
  if (mm > 0.0) {
    // The parameter at which the carried-on curve has gone far enough.
    const std::vector<double> spans = breakpoints(curve.knots);
    double step = spans.back() - spans[spans.size() - 2];
    const auto carried = [&](double to) {
      const LineMatrix m = end_moved(curve.knots, to);
      KnotVector k = curve.knots;
      for (auto it = k.knots.end() - curve.knots.degree - 1; it != k.knots.end(); ++it) *it = to;
      return first_row(applied(m, strip(curve), Direction::U, k));
    };
    const auto gone = [&](double to) {
      const CurveEvaluator e(carried(to));
      double sum = 0.0;
      Vec3 before = e.point(last);
      constexpr int kParts = 64;
      for (int k = 1; k <= kParts; ++k) {
        const Vec3 p = e.point(last + (to - last) * k / kParts);
        sum += distance(before, p);
        before = p;
      }
      return sum;
    };
    double far = last + step;
    for (int k = 0; k < 12 && gone(far) < mm; ++k) far += step *= 2.0;
    double near = last;
    for (int k = 0; k < 60; ++k) {
      const double middle = 0.5 * (near + far);
      (gone(middle) < mm ? near : far) = middle;
    }
    return carried(far);
  }
  // Shorter: the place so far before the end.
  constexpr int kCells = 4096;
  double left = -mm;
  double t = last;
  for (int k = kCells - 1; k >= 0; --k) {
    const double next = curve.knots.first() + curve.knots.length() * k / kCells;
    const double piece = distance(at.point(next), at.point(t));
    if (piece >= left) {
      t += (next - t) * (left / piece);
      left = 0.0;
      break;
    }
    left -= piece;
    t = next;
  }
  if (left > 0.0 || !(t > curve.knots.first()))
    throw Error(say("The curve is shorter than {:g} mm; nothing would be left.", -mm));
  return first_row(split(strip(curve), Direction::U, t).first);
}

std::vector<Curve> split(const Curve& curve, std::span<const double> places) {
  std::vector<double> at;
  const double near = 1e-9 * curve.knots.length();
  for (const double t : places)
    if (t > curve.knots.first() + near && t < curve.knots.last() - near) at.push_back(t);
  std::sort(at.begin(), at.end());
  at.erase(std::unique(at.begin(), at.end(), [&](double a, double b) { return b - a < near; }),
           at.end());
  Curve rest = curve;
  if (curve.knots.periodic) {
    if (at.empty()) return {curve};
    rest = opened(curve, at.front());
    const double begin = rest.knots.first();
    const double period = rest.knots.length();
    for (double& t : at)
      while (t < begin - near) t += period;
    at.erase(at.begin());
  }
  std::vector<Curve> result;
  for (const double t : at) {
    if (t <= rest.knots.first() + near || t >= rest.knots.last() - near) continue;
    auto [a, b] = split(strip(rest), Direction::U, t);
    result.push_back(first_row(a));
    rest = first_row(b);
  }
  result.push_back(rest);
  return result;
}

namespace {

Vec3 end_place(const Curve& c, bool last) {
  return evaluate(c, last ? c.knots.last() : c.knots.first());
}

bool smooth_joint(const Curve& a, const Curve& b) {
  const Vec3 x = derivatives(a, a.knots.last(), 1).d1;
  const Vec3 y = derivatives(b, b.knots.first(), 1).d1;
  return length(x) > 0.0 && length(y) > 0.0 && degrees_between(x, y) < 0.1;
}

}  // namespace

JoinedCurves joined(std::span<const Curve> curves, double tolerance) {
  JoinedCurves result;
  std::vector<Curve> open;
  for (const Curve& c : curves) (c.knots.periodic ? result.curves : open).push_back(c);
  while (!open.empty()) {
    std::vector<Curve> chain{open.front()};
    open.erase(open.begin());
    for (bool more = true; more && !open.empty();) {
      more = false;
      double least = std::numeric_limits<double>::infinity();
      std::size_t which = 0;
      bool at_end = true;
      bool turned = false;
      for (std::size_t k = 0; k < open.size(); ++k)
        for (const bool to_end : {true, false})
          for (const bool back : {false, true}) {
            const Vec3 mine =
                to_end ? end_place(chain.back(), true) : end_place(chain.front(), false);
            const double d = distance(mine, end_place(open[k], to_end ? back : !back));
            if (d < least - 1e-12) {
              least = d;
              which = k;
              at_end = to_end;
              turned = back;
            }
          }
      if (least > tolerance) {
        result.left_gap = result.left_gap == 0.0 ? least : std::min(result.left_gap, least);
        break;
      }
      const Curve next = turned ? reversed(open[which]) : open[which];
      open.erase(open.begin() + static_cast<long>(which));
      Curve& a = at_end ? chain.back() : chain.front();
      result.worst_gap = std::max(result.worst_gap, least);
      ++result.joints;
      if (!(at_end ? smooth_joint(a, next) : smooth_joint(next, a))) ++result.corners;
      chain.insert(at_end ? chain.end() : chain.begin(), next);
      more = true;
    }
    for (std::size_t k = 1; k < chain.size(); ++k) {
      const Vec3 middle = (chain[k - 1].points.back() + chain[k].points.front()) * 0.5;
      chain[k - 1].points.back() = chain[k].points.front() = middle;
    }
    Curve whole = chain.size() == 1 ? chain[0] : chained(chain);
    const double gap = distance(end_place(whole, false), end_place(whole, true));
    if (chain.size() > 1 && gap <= tolerance) {
      result.worst_gap = std::max(result.worst_gap, gap);
      ++result.joints;
      if (!smooth_joint(whole, whole)) ++result.corners;
      whole = first_row(closed(strip(whole), Direction::U, std::max(tolerance, gap)));
    }
    result.curves.push_back(whole);
  }
  return result;
}

Curve closed_curve(const Curve& curve, double tolerance) {
  if (curve.knots.periodic) return curve;
  const Vec3 a = end_place(curve, false);
  const Vec3 b = end_place(curve, true);
  Curve c = curve;
  if (distance(a, b) > tolerance) c = chained(std::array{curve, line_curve(b, a)});
  return first_row(closed(strip(c), Direction::U, tolerance));
}

Curve fitted_curve(const std::function<Vec3(double)>& place, double first, double last, int pieces,
                   double tolerance) {
  for (int n = std::max(1, pieces);; n *= 2) {
    KnotVector k = uniform_knots(n + 3, 3, false);
    for (double& t : k.knots) t = first + (last - first) * t;
    const FitSamples at = fit_samples(k, breakpoints(k));
    std::vector<double> samples;
    for (const double t : at.places) {
      const Vec3 p = place(t);
      samples.insert(samples.end(), {p.x, p.y, p.z});
    }
    const auto count = static_cast<std::size_t>(k.point_count());
    std::vector<double> x(3 * count);
    const Vec3 a = place(first);
    const Vec3 b = place(last);
    for (std::size_t c = 0; c < 3; ++c) {
      x[c] = a[c];
      x[3 * (count - 1) + c] = b[c];
    }
    LineFit(k, at.places, at.weights, {0, static_cast<int>(count) - 1}).solve(samples, 3, x);
    Curve c{k, {}, {}};
    for (std::size_t i = 0; i < count; ++i)
      c.points.push_back({x[3 * i], x[3 * i + 1], x[3 * i + 2]});
    const CurveEvaluator e(c);
    double worst = 0.0;
    for (int i = 0; i < 8 * n; ++i) {
      const double t = first + (last - first) * (i + 0.37) / (8 * n);
      worst = std::max(worst, distance(e.point(t), place(t)));
    }
    if (worst <= tolerance || n >= 512) return c;
  }
}

namespace {

// Joints at which the direction jumps.
std::vector<double> corner_places(const Curve& c) {
  std::vector<double> result;
  const double step = 1e-9 * c.knots.length();
  const CurveEvaluator e(c);
  for (const double t : breakpoints(c.knots)) {
    if (t <= c.knots.first() || t >= c.knots.last()) continue;
    const Vec3 a = e.derivatives(t - step, 1).d1;
    const Vec3 b = e.derivatives(t + step, 1).d1;
    if (radians_between(a, b) > 1e-4) result.push_back(t);
  }
  return result;
}

Curve offset_smooth(const Curve& c, const Vec3& n, double mm, double tolerance) {
  const CurveEvaluator e(c);
  for (const double t : sample_places(c.knots, 40)) {
    const CurveDerivatives d = e.derivatives(t, 2);
    const double speed = length(d.d1);
    if (!(speed > 0.0)) continue;
    // Curvature signed to the left of the direction, seen against the normal.
    const double k = dot(cross(d.d1, d.d2), n) / (speed * speed * speed);
    if (1.0 + mm * k < 1e-9)
      throw Error(
          say("The curve bends to a radius of {:.3g} mm on that side, less than the "
              "offset. Offset by less.",
              std::abs(1.0 / k)));
  }
  const auto place = [&](double t) {
    const CurveDerivatives d = e.derivatives(t, 1);
    const Vec3 way = length(d.d1) > 0.0 ? normalized(d.d1) : Vec3{};
    return d.p + cross(way, n) * mm;
  };
  return fitted_curve(place, c.knots.first(), c.knots.last(),
                      static_cast<int>(breakpoints(c.knots).size()) - 1, tolerance);
}

// Where two lines in the plane meet, each going on straight from an end of a piece.
Vec3 meeting(const Curve& a, const Curve& b, const Vec3& n) {
  const CurveDerivatives x = derivatives(a, a.knots.last(), 1);
  const CurveDerivatives y = derivatives(b, b.knots.first(), 1);
  const Vec3 u = normalized(x.d1);
  const Vec3 v = normalized(y.d1);
  const double sine = dot(cross(u, v), n);
  if (std::abs(sine) < 1e-3) return (x.p + y.p) * 0.5;
  return x.p + u * (dot(cross(y.p - x.p, v), n) / sine);
}

}  // namespace

Curve offset_in_plane(const Curve& curve, const Vec3& normal, double mm, double tolerance) {
  const Vec3 n = normalized(normal);
  const Vec3 origin = curve.points.front();
  for (const Vec3& p : curve.points)
    if (std::abs(dot(p - origin, n)) > tolerance)
      throw Error(say(
          "The curve does not lie flat in that plane. Choose the plane it lies in, or project it "
          "first."));
  if (mm == 0.0) return curve;
  const bool closed_one = curve.knots.periodic;
  std::vector<double> corners = corner_places(curve);
  Curve open = curve;
  if (closed_one) {
    // It is opened at a corner where it has one.
    open = opened(curve, corners.empty() ? curve.knots.first() : corners.front());
    corners = corner_places(open);
  }
  std::vector<Curve> pieces;
  for (const Curve& piece : split(open, corners))
    pieces.push_back(offset_smooth(piece, n, mm, 0.5 * tolerance));
  const bool round = closed_one || distance(end_place(open, false), end_place(open, true)) < 1e-9;
  const std::size_t joints = round ? pieces.size() : pieces.size() - 1;
  std::vector<Curve> all;
  std::vector<Vec3> begins(pieces.size());
  std::vector<Vec3> ends(pieces.size());
  for (std::size_t k = 0; k < pieces.size(); ++k) {
    begins[k] = end_place(pieces[k], false);
    ends[k] = end_place(pieces[k], true);
  }
  for (std::size_t k = 0; k < joints; ++k) {
    const std::size_t next = (k + 1) % pieces.size();
    const Vec3 m = meeting(pieces[k], pieces[next], n);
    const Vec3 along = derivatives(pieces[k], pieces[k].knots.last(), 1).d1;
    if (dot(m - ends[k], along) >= -1e-12) {
      ends[k] = begins[next] = m;  // a corner that opens: both run on to where they meet
      continue;
    }
    // A corner that closes: both are cut back to where they meet.
    const CurvePlace a = closest_place(CurveEvaluator(pieces[k]), m);
    const CurvePlace b = closest_place(CurveEvaluator(pieces[next]), m);
    const bool inside = a.distance < 0.1 * std::abs(mm) && b.distance < 0.1 * std::abs(mm);
    if (!inside || k == next)
      throw Error(say("A piece between two corners is too short for this offset. Offset by less."));
    pieces[k] = split(pieces[k], std::array{a.t}).front();
    pieces[next] = split(pieces[next], std::array{b.t}).back();
    ends[k] = begins[next] = m;
    pieces[k].points.back() = m;
    pieces[next].points.front() = m;
  }
  for (std::size_t k = 0; k < pieces.size(); ++k) {
    const Vec3 a = end_place(pieces[k], false);
    const Vec3 b = end_place(pieces[k], true);
    if (distance(begins[k], a) > 1e-9) all.push_back(line_curve(begins[k], a));
    all.push_back(pieces[k]);
    if (distance(b, ends[k]) > 1e-9) all.push_back(line_curve(b, ends[k]));
  }
  Curve result = all.size() == 1 ? all[0] : chained(all);
  if (round) result = first_row(closed(strip(result), Direction::U, std::max(tolerance, 1e-9)));
  return result;
}

Curve iso_curve(const Surface& surface, Direction constant, double at) {
  Surface s = constant == Direction::U ? transposed(surface) : surface;  // v is constant now
  if (s.v.periodic) return first_row(opened(s, Direction::V, into_domain(s.v, at)));
  const double t = into_domain(s.v, at);
  const double near = 1e-12 * s.v.length();
  if (t <= s.v.first() + near) return border_of(s, Border::VMin);
  if (t >= s.v.last() - near) return border_of(s, Border::VMax);
  return first_row(split(s, Direction::V, t).second);
}

namespace {

// Position, direction and curvature vector at an end, the direction leaving the curve.
struct Leaving {
  Vec3 p, direction, curvature;
};

Leaving leaving(const Curve& c, CurveEnd end) {
  refuse_closed(c, "blend from");
  const bool last = end == CurveEnd::End;
  const CurveDerivatives d = derivatives(c, last ? c.knots.last() : c.knots.first(), 2);
  const double speed = length(d.d1);
  if (!(speed > 0.0))
    throw Error(say("A curve has no direction at its end. Take out doubled points there."));
  const Vec3 t = d.d1 / speed;
  return {d.p, last ? t : t * -1.0, (d.d2 - t * dot(d.d2, t)) / (speed * speed)};
}

}  // namespace

Curve blend(const Curve& a, const BlendEnd& at_a, const Curve& b, const BlendEnd& at_b) {
  const Leaving x = leaving(a, at_a.end);
  const Leaving y = leaving(b, at_b.end);
  const double apart = distance(x.p, y.p);
  if (!(apart > 1e-9))
    throw Error(say("The ends are one place; there is nothing between them. Join the curves."));
  const auto rank = [](BlendContinuity c) { return static_cast<int>(c); };
  const int most = std::max(rank(at_a.continuity), rank(at_b.continuity));
  const int degree = most == 0 ? 1 : (most == 1 ? 3 : 5);
  Curve c{{degree, false, {}}, std::vector<Vec3>(static_cast<std::size_t>(degree) + 1), {}};
  c.knots.knots.assign(static_cast<std::size_t>(degree) + 1, 0.0);
  c.knots.knots.insert(c.knots.knots.end(), static_cast<std::size_t>(degree) + 1, 1.0);
  const auto place = [&](const Leaving& from, const BlendEnd& how, const Vec3& other, bool at_end) {
    const double leg = how.bulge * apart / degree;
    const auto put = [&](int k, const Vec3& p) {
      c.points[static_cast<std::size_t>(at_end ? degree - k : k)] = p;
    };
    const Vec3 straight = (other - from.p) / degree;
    put(0, from.p);
    const bool tangent = rank(how.continuity) >= 1;
    const Vec3 first = tangent ? from.p + from.direction * leg : from.p + straight;
    if (degree >= 3) put(1, first);
    if (degree < 5) return;
    // κ = (n − 1) / n · |b0 b1 × b1 b2| / |b0 b1|³ (Farin): b2 lies off the tangent by n leg² κ / (n − 1).
    Vec3 second = tangent ? from.p + from.direction * (2.0 * leg) : from.p + straight * 2.0;
    if (rank(how.continuity) == 2) second += from.curvature * (leg * leg * degree / (degree - 1.0));
    put(2, second);
  };
  place(x, at_a, y.p, false);
  place(y, at_b, x.p, true);
  return c;
}

}  // namespace evenclay
