#include "core/source/swept.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/source/compatible.h"

namespace evenclay {

namespace {

constexpr double kPi = std::numbers::pi;

// What turning a point about the axis needs: angle, stretch and weight of each row around.
struct Turned {
  KnotVector knots;
  std::vector<double> angles, weights;
};

Turned rows_around(double degrees) {
  Turned t;
  if (degrees == 360.0) {
    t.knots = make_circle({}, 1.0).knots;
    for (int k = 0; k < 8; ++k) {
      t.angles.push_back(k * 0.25 * kPi);
      t.weights.push_back(k % 2 == 0 ? 1.0 : 0.5 * std::numbers::sqrt2);
    }
    return t;
  }
  const int pieces = static_cast<int>(std::ceil(degrees / 90.0 - 1e-12));
  const double half = degrees / pieces * kPi / 360.0;
  t.knots = {2, false, {0.0}};
  for (int n = 0; n <= pieces; ++n)
    for (int c = 0; c < 2; ++c) t.knots.knots.push_back(static_cast<double>(n) / pieces);
  t.knots.knots.push_back(1.0);
  for (int k = 0; k <= 2 * pieces; ++k) {
    t.angles.push_back(half * k);
    t.weights.push_back(k % 2 == 0 ? 1.0 : std::cos(half));
  }
  return t;
}

// A profile that lies in one plane with the axis has all its points on one side of it.
void check_profile(const Curve& profile, const Frame& axis, double near) {
  Vec3 out;  // where the farthest point lies
  for (const Vec3& p : profile.points) {
    const Vec3 l = axis.to_local(p);
    if (std::hypot(l.x, l.y) > std::hypot(out.x, out.y)) out = {l.x, l.y, 0};
  }
  if (!(length(out) > near))
    throw Error(
        say("The profile lies on the axis; turning it makes no surface. Move it off the axis."));
  const Vec3 side = normalized(out);
  double beside = 0.0;
  for (const Vec3& p : profile.points) {
    const Vec3 l = axis.to_local(p);
    beside = std::max(beside, std::abs(l.y * side.x - l.x * side.y));
  }
  if (beside > 1e-6 * std::max(length(out), size(profile))) return;  // not flat with the axis
  const CurveEvaluator curve(profile);
  for (const double t : sample_places(profile.knots, 16)) {
    const Vec3 l = axis.to_local(curve.point(t));
    if (l.x * side.x + l.y * side.y < -1e-6 * length(out))
      throw Error(say(
          "The profile crosses the axis, so the surface would run through itself. Move the profile "
          "to one side, or the axis to its border."));
  }
}

}  // namespace

Surface extrude(const Curve& curve, const Vec3& from, const Vec3& to, int rows) {
  if (!(distance(from, to) > 0.0) || !is_finite(from) || !is_finite(to))
    throw Error(say("The extrusion has no length. Give it one."));
  const int count = curve.point_count();
  Surface s{curve.knots, uniform_knots(rows, 1, false), Grid<Vec3>(count, rows), {}};
  if (curve.rational()) s.weights = Grid<double>(count, rows);
  for (int i = 0; i < count; ++i)
    for (int j = 0; j < rows; ++j) {
      const double share = static_cast<double>(j) / (rows - 1);
      s.points(i, j) =
          curve.points[static_cast<std::size_t>(i)] + from * (1.0 - share) + to * share;
      if (curve.rational()) s.weights(i, j) = curve.weight(i);
    }
  return s;
}

Surface revolve(const Curve& profile, const Frame& axis, double degrees) {
  if (!(degrees > 0.0) || !(degrees <= 360.0))
    throw Error(say("The angle is {:g}°; it must be greater than 0 and at most 360.", degrees));
  Box3 reach;
  for (const Vec3& p : profile.points) reach.add(axis.to_local(p));
  reach.add(Vec3{});
  const double near = 1e-9 * std::max(reach.size(), 1e-9);
  check_profile(profile, axis, near);
  const Turned around = rows_around(degrees);
  const int rows = static_cast<int>(around.angles.size());
  const int count = profile.point_count();
  Surface s{around.knots, profile.knots, Grid<Vec3>(rows, count), Grid<double>(rows, count)};
  for (int j = 0; j < count; ++j) {
    Vec3 l = axis.to_local(profile.points[static_cast<std::size_t>(j)]);
    if (std::hypot(l.x, l.y) < near) l.x = l.y = 0.0;
    for (int i = 0; i < rows; ++i) {
      const auto k = static_cast<std::size_t>(i);
      const double w = around.weights[k];
      const double c = std::cos(around.angles[k]) / w;
      const double n = std::sin(around.angles[k]) / w;
      s.points(i, j) = axis.to_world({l.x * c - l.y * n, l.x * n + l.y * c, l.z});
      s.weights(i, j) = profile.weight(j) * w;
    }
  }
  return s;
}

Surface ruled(const Curve& a, const Curve& b) {
  const std::vector<Curve> both = made_compatible(std::array{a, b}, Alignment{});
  const Curve& first = both[0];
  const Curve& second = both[1];
  const int count = first.point_count();
  Surface s{first.knots, uniform_knots(2, 1, false), Grid<Vec3>(count, 2), {}};
  if (first.rational() || second.rational()) s.weights = Grid<double>(count, 2);
  double apart = 0.0;
  for (int i = 0; i < count; ++i) {
    const auto k = static_cast<std::size_t>(i);
    s.points(i, 0) = first.points[k];
    s.points(i, 1) = second.points[k];
    apart = std::max(apart, distance(first.points[k], second.points[k]));
    if (!s.weights.empty()) {
      s.weights(i, 0) = first.weight(i);
      s.weights(i, 1) = second.weight(i);
    }
  }
  if (!(apart > 1e-9 * std::max(size(a), size(b))))
    throw Error(say("Both curves are in the same place; there is nothing between them."));
  return s;
}

bool looks_inward(const Surface& s, const Vec3& inside) {
  double outward = 0.0;
  for (const double u : sample_places(s.u, 2))
    for (const double v : sample_places(s.v, 2)) {
      const SurfaceDerivatives d = derivatives(s, u, v, 1);
      outward += dot(cross(d.du(), d.dv()), d.p() - inside);
    }
  return outward < 0.0;
}

}  // namespace evenclay
