// Sweeps along one and two rails, and revolving along a rail (loft.h).
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fitted.h"
#include "core/source/loft.h"

namespace evenclay {

namespace {

constexpr double kPi = std::numbers::pi;

// Where the profile stands at a place of the rail: an affine map of its own frame at the start.
struct Station {
  Frame frame;
  double scale = 1.0;
};

Vec3 carried(const Station& from, const Station& to, const Vec3& p) {
  return to.frame.to_world(from.frame.to_local(p) * (to.scale / from.scale));
}

Vec3 direction_at(const CurveEvaluator& rail, double t) {
  const CurveDerivatives d = rail.derivatives(t, 1);
  if (length(d.d1) > 0.0) return normalized(d.d1);
  // At a doubled point the direction is that from a little inside.
  const double step = 1e-6 * rail.curve().knots.length();
  const double inside = t - rail.curve().knots.first() < step ? t + step : t - step;
  const Vec3 way = rail.derivatives(inside, 1).d1;
  return length(way) > 0.0 ? normalized(way) : Vec3{};
}

Frame framed(const Vec3& origin, const Vec3& tangent, const Vec3& side) {
  Vec3 x = side - tangent * dot(side, tangent);
  if (!(length(x) > 1e-9))
    x = cross(tangent, std::abs(tangent.x) < 0.9 ? Vec3{1, 0, 0} : Vec3{0, 1, 0});
  x = normalized(x);
  return {origin, x, cross(tangent, x), tangent};
}

void turn(Frame& f, double degrees) {
  const double a = degrees * kPi / 180.0;
  const Vec3 x = f.x * std::cos(a) + f.y * std::sin(a);
  f.y = f.y * std::cos(a) - f.x * std::sin(a);
  f.x = x;
}

double share_of(const Curve& rail, double t) {
  return (t - rail.knots.first()) / rail.knots.length();
}

// Frames along one rail at increasing places.
std::vector<Station> stations(const Curve& rail, const std::vector<double>& places,
                              const SweepOptions& o) {
  const CurveEvaluator at(rail);
  std::vector<Station> result;
  Frame f;
  for (std::size_t k = 0; k < places.size(); ++k) {
    const Vec3 p = at.point(places[k]);
    const Vec3 tangent = direction_at(at, places[k]);
    if (!(length(tangent) > 0.0))
      throw Error(
          say("The rail has no direction at a place. Take out doubled points, or rebuild it."));
    if (k == 0 || o.twist == SweepTwist::Upright) {
      const Vec3 up{0, 0, 1};
      const Vec3 side = cross(up, tangent);
      f = framed(p, tangent, length(side) > 1e-6 ? side : (k == 0 ? Vec3{1, 0, 0} : f.x));
    } else {
      // Double reflection: first in the plane half-way between the places, then so that the tangents agree.
      const Vec3 v = p - f.origin;
      const double c = dot(v, v);
      Vec3 x = f.x;
      Vec3 z = f.z;
      if (c > 0.0) {
        x = x - v * (2.0 / c * dot(v, x));
        z = z - v * (2.0 / c * dot(v, z));
      }
      const Vec3 w = tangent - z;
      if (const double d = dot(w, w); d > 0.0) x = x - w * (2.0 / d * dot(w, x));
      f = framed(p, tangent, x);
    }
    Station s{f, 1.0 + (o.end_scale - 1.0) * share_of(rail, places[k])};
    result.push_back(s);
  }
  for (std::size_t k = 0; k < result.size(); ++k)
    turn(result[k].frame, o.turn * share_of(rail, places[k]));
  // A closed rail's frame comes back turned; the turn is spread over the whole way.
  if (rail.knots.periodic && o.twist == SweepTwist::Least) {
    std::vector<double> once = places;
    once.push_back(rail.knots.last());
    const Curve open = opened(rail, rail.knots.first());
    const std::vector<Station> round = stations(open, once, {o.twist, 1.0, 0.0});
    const Frame& a = round.front().frame;
    const Frame& b = round.back().frame;
    const double lag = std::atan2(dot(b.x, a.y), dot(b.x, a.x)) * 180.0 / kPi;
    for (std::size_t k = 0; k < result.size(); ++k)
      turn(result[k].frame, -lag * share_of(rail, places[k]));
  }
  return result;
}

// Frames between two rails: x towards the second rail, as long as they are apart.
std::vector<Station> stations(const Curve& rail, const Curve& second,
                              const std::vector<double>& places) {
  const CurveEvaluator a(rail);
  const CurveEvaluator b(second);
  std::vector<Station> result;
  for (const double t : places) {
    const Vec3 p = a.point(t);
    const Vec3 chord =
        b.point(second.knots.first() + share_of(rail, t) * second.knots.length()) - p;
    const double apart = length(chord);
    if (!(apart > 1e-9))
      throw Error(say(
          "The rails meet; the profile would have no size there. Shorten them before they meet."));
    Vec3 along = direction_at(a, t);
    const Vec3 x = chord / apart;
    along = along - x * dot(along, x);
    if (!(length(along) > 1e-9))
      throw Error(
          say("The rail runs straight towards the other one at a place. Choose other rails."));
    const Vec3 z = normalized(along);
    result.push_back({{p, x, cross(z, x), z}, apart});
  }
  return result;
}

using Stations = std::function<std::vector<Station>(const std::vector<double>&)>;

// All straight: two sections tell the whole.
std::vector<double> first_places(const Curve& rail) {
  std::vector<double> places = breakpoints(rail.knots);
  if (rail.knots.periodic) places.pop_back();
  std::vector<double> result;
  for (std::size_t k = 0; k < places.size(); ++k) {
    result.push_back(places[k]);
    const double next = k + 1 < places.size() ? places[k + 1] : rail.knots.last();
    if ((k + 1 < places.size() || rail.knots.periodic) && rail.knots.degree > 1)
      result.push_back(0.5 * (places[k] + next));
  }
  return result;
}

Surface laid(const Curve& profile, const std::vector<Station>& at, const std::vector<double>& t,
             bool closed) {
  std::vector<double> values;
  for (const Station& s : at)
    for (const Vec3& p : profile.points) {
      const Vec3 q = carried(at.front(), s, p);
      values.insert(values.end(), {q.x, q.y, q.z});
    }
  const auto n = static_cast<int>(t.size());
  KnotVector v{std::min(3, n - 1), closed, {}};
  if (closed) {
    v.knots = t;
    v.knots.push_back(1.0);
  } else {
    v = averaged_knots(t, v.degree);
  }
  const std::size_t width = 3 * profile.points.size();
  const std::vector<double> x = interpolated(v, t, values, width);
  const int count = profile.point_count();
  Surface s{profile.knots, v, Grid<Vec3>(count, n), {}};
  if (profile.rational()) s.weights = Grid<double>(count, n);
  for (int i = 0; i < count; ++i)
    for (int j = 0; j < n; ++j) {
      const double* q = &x[static_cast<std::size_t>(j) * width + 3 * static_cast<std::size_t>(i)];
      s.points(i, j) = {q[0], q[1], q[2]};
      if (profile.rational()) s.weights(i, j) = profile.weight(i);
    }
  return s;
}

// How far half-way sections are off, for the cell behind each section.
std::vector<double> misses(const Curve& profile, const Surface& s, const std::vector<double>& t,
                           const std::vector<double>& middles,
                           const std::vector<Station>& at_middles, const Station& start) {
  const CurveEvaluator p(profile);
  std::vector<double> result(t.size(), 0.0);
  for (std::size_t k = 0; k < middles.size(); ++k)
    for (const double u : sample_places(profile.knots, 3))
      result[k] = std::max(result[k], distance(evaluate(s, u, middles[k]),
                                               carried(start, at_middles[k], p.point(u))));
  return result;
}

Surface carried_along(const Curve& profile, const Curve& rail, const Stations& make,
                      double tolerance) {
  constexpr std::size_t kMost = 400;
  const bool closed = rail.knots.periodic;
  std::vector<double> places = first_places(rail);
  if (closed && places.size() < 5) {
    places.clear();
    for (int k = 0; k < 8; ++k) places.push_back(rail.knots.first() + rail.knots.length() * k / 8);
  }
  for (;;) {
    std::vector<double> t;
    for (const double p : places) t.push_back(share_of(rail, p));
    // One list of places, so that frames that depend on the way there agree.
    std::vector<double> all;
    for (std::size_t k = 0; k < places.size(); ++k) {
      all.push_back(places[k]);
      const bool last = k + 1 == places.size();
      if (last && !closed) break;
      all.push_back(0.5 * (places[k] + (last ? rail.knots.last() : places[k + 1])));
    }
    const std::vector<Station> found = make(all);
    std::vector<Station> at;
    std::vector<Station> middle;
    std::vector<double> middles;
    for (std::size_t k = 0; k < all.size(); ++k) {
      (k % 2 == 0 ? at : middle).push_back(found[k]);
      if (k % 2 == 1) middles.push_back(share_of(rail, all[k]));
    }
    Surface s = laid(profile, at, t, closed);
    const std::vector<double> off = misses(profile, s, t, middles, middle, at.front());
    const bool good = std::none_of(off.begin(), off.end(), [&](double d) { return d > tolerance; });
    if (good || places.size() >= kMost) {
      if (!good)
        throw Error(
            say("The profile cannot be carried along this rail within the tolerance; it turns too "
                "sharply. "
                "Round its corners, or rebuild it."));
      check(s);
      return s;
    }
    std::vector<double> more;
    for (std::size_t k = 0; k < places.size(); ++k) {
      more.push_back(places[k]);
      if (k < middles.size() && off[k] > tolerance) more.push_back(all[2 * k + 1]);
    }
    places = std::move(more);
  }
}

}  // namespace

std::vector<Frame> rail_frames(const Curve& rail, std::span<const double> places,
                               SweepTwist twist) {
  std::vector<Frame> result;
  for (const Station& s : stations(rail, {places.begin(), places.end()}, {twist, 1.0, 0.0}))
    result.push_back(s.frame);
  return result;
}

Surface sweep(const Curve& profile, const Curve& rail, const SweepOptions& options,
              double tolerance) {
  if (!(size(rail) > 0.0)) throw Error(say("The rail has no length. Choose another curve."));
  return carried_along(
      profile, rail,
      [&](const std::vector<double>& places) { return stations(rail, places, options); },
      tolerance);
}

Surface sweep(const Curve& profile, const Curve& rail, const Curve& second,
              const SweepOptions& options, double tolerance) {
  if (profile.knots.periodic)
    throw Error(say(
        "A closed profile has no ends to follow two rails. Use one rail, or open the profile."));
  if (rail.knots.periodic != second.knots.periodic)
    throw Error(say("One rail is closed and the other is not. Choose two of one kind."));
  const std::vector<Curve> both = made_compatible(std::array{rail, second}, Alignment{});
  // The end of the profile that is nearer to the first rail follows it.
  const Vec3 begins = evaluate(profile, profile.knots.first());
  const Vec3 ends = evaluate(profile, profile.knots.last());
  const CurveEvaluator a(both[0]);
  const CurveEvaluator b(both[1]);
  const auto reach = [](const CurveEvaluator& c, const Vec3& p) {
    return closest_place(c, p).distance;
  };
  const bool turned = reach(a, ends) + reach(b, begins) < reach(a, begins) + reach(b, ends);
  const Curve p = turned ? reversed(profile) : profile;
  const Vec3 first = turned ? ends : begins;
  const Vec3 last = turned ? begins : ends;
  if (!(distance(first, last) > 1e-9))
    throw Error(say("The ends of the profile are one place. Choose an open profile."));
  // The profile is laid between the rails' starts first.
  const Stations make = [&](const std::vector<double>& places) {
    return stations(both[0], both[1], places);
  };
  const Station start = make({both[0].knots.first()}).front();
  const Vec3 x = normalized(last - first);
  const Vec3 z = normalized(start.frame.z - x * dot(start.frame.z, x));
  const Station drawn{{first, x, cross(z, x), z}, distance(first, last)};
  Curve placed = p;
  for (Vec3& q : placed.points) q = carried(drawn, start, q);
  (void)options;
  return carried_along(placed, both[0], make, tolerance);
}

Surface revolve_along_rail(const Curve& profile, const Curve& rail, const Frame& axis) {
  const Vec3 a = axis.to_local(evaluate(profile, profile.knots.first()));
  const Vec3 b = axis.to_local(evaluate(profile, profile.knots.last()));
  const Vec3 end = std::hypot(a.x, a.y) > std::hypot(b.x, b.y) ? a : b;
  const double reach = std::hypot(end.x, end.y);
  const double near = 1e-6 * std::max(size(profile), reach);
  if (!(reach > near))
    throw Error(say(
        "The profile's end lies on the axis, so it cannot follow the rail. Move it to the rail."));
  const Vec3 side{end.x / reach, end.y / reach, 0.0};
  const int nu = rail.point_count();
  const int nv = profile.point_count();
  Surface s{rail.knots, profile.knots, Grid<Vec3>(nu, nv), {}};
  if (rail.rational() || profile.rational()) s.weights = Grid<double>(nu, nv);
  for (int j = 0; j < nv; ++j) {
    const Vec3 l = axis.to_local(profile.points[static_cast<std::size_t>(j)]);
    if (std::abs(l.x * side.y - l.y * side.x) > near)
      throw Error(
          say("The profile does not lie flat with the axis. Draw it in a plane through the axis."));
    double out = l.x * side.x + l.y * side.y;
    if (out < -near)
      throw Error(say(
          "The profile crosses the axis, so the surface would run through itself. Move the profile "
          "to one side."));
    if (out < near) out = 0.0;
    const double share = out / reach;
    for (int i = 0; i < nu; ++i) {
      const Vec3 r = axis.to_local(rail.points[static_cast<std::size_t>(i)]);
      s.points(i, j) = axis.to_world({r.x * share, r.y * share, l.z + (r.z - end.z) * share});
      if (!s.weights.empty()) s.weights(i, j) = rail.weight(i) * profile.weight(j);
    }
  }
  check(s);
  return s;
}

}  // namespace evenclay
