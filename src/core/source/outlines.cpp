#include "core/source/outlines.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

namespace {

constexpr double kPi = std::numbers::pi;

void need_positive(double x, const char* what) {
  if (!(x > 0.0) || !(x < 1e7))
    throw Error(say("The {} is {} mm; it must be greater than 0.", what, x));
}

// Knots of `pieces` Bézier pieces of degree 2 or 3 over [0, 1], joined with multiplicity `times`.
KnotVector pieces_of(int degree, int pieces, int times) {
  KnotVector k{degree, false, {}};
  for (int n = 0; n <= pieces; ++n) {
    const int copies = n == 0 || n == pieces ? degree + 1 : times;
    for (int c = 0; c < copies; ++c) k.knots.push_back(static_cast<double>(n) / pieces);
  }
  return k;
}

}  // namespace

Curve make_arc(const Vec3& a, const Vec3& b, const Vec3& c) {
  const double reach = std::max({distance(a, b), distance(b, c), distance(a, c)});
  const Vec3 ab = b - a;
  const Vec3 ac = c - a;
  const Vec3 n = cross(ab, ac);
  if (!(reach > 0.0) || !(length(n) > 1e-9 * reach * reach) || distance(a, c) < 1e-9 * reach)
    throw Error(say("The three points of the arc lie on one line. Move the middle one aside."));
  const double nn = length_squared(n);
  const Vec3 to_centre =
      (cross(n, ab) * length_squared(ac) + cross(ac, n) * length_squared(ab)) / (2.0 * nn);
  Frame f;
  f.origin = a + to_centre;
  f.x = normalized(a - f.origin);
  f.z = normalized(n);
  f.y = cross(f.z, f.x);
  const double radius = length(to_centre);
  // Counter-clockwise about n, the way from a over b to c.
  const Vec3 end = f.to_local(c);
  double turn = std::atan2(end.y, end.x);
  if (turn <= 0.0) turn += 2.0 * kPi;
  const int pieces = std::max(1, static_cast<int>(std::ceil(turn / (0.5 * kPi) - 1e-12)));
  const double half = 0.5 * turn / pieces;
  Curve arc{pieces_of(2, pieces, 2), {}, {}};
  for (int k = 0; k <= 2 * pieces; ++k) {
    const double w = k % 2 == 0 ? 1.0 : std::cos(half);
    const double at = half * k;
    arc.points.push_back(f.to_world({radius / w * std::cos(at), radius / w * std::sin(at), 0.0}));
    arc.weights.push_back(w);
  }
  arc.points.front() = a;
  arc.points.back() = c;
  return arc;
}

Curve make_ellipse(const Frame& frame, double half_x, double half_y) {
  need_positive(half_x, "ellipse's first half axis");
  need_positive(half_y, "ellipse's second half axis");
  Curve c = make_circle({}, 1.0);
  for (Vec3& p : c.points) p = frame.to_world({half_x * p.x, half_y * p.y, 0.0});
  return c;
}

Curve make_rectangle(const Frame& frame, double length_x, double length_y, double corner) {
  need_positive(length_x, "rectangle's length");
  need_positive(length_y, "rectangle's width");
  const double x = 0.5 * length_x;
  const double y = 0.5 * length_y;
  if (!(corner >= 0.0) || corner >= std::min(x, y))
    throw Error(
        say("The corner radius of {:g} mm must be less than half a side of {:g} × {:g} mm. "
            "Make it smaller.",
            corner, length_x, length_y));
  const double signs[4][2] = {{1, 1}, {-1, 1}, {-1, -1}, {1, -1}};
  if (corner == 0.0) {
    std::vector<Vec3> points{frame.to_world({x, 0, 0})};
    for (const auto& s : signs) points.push_back(frame.to_world({s[0] * x, s[1] * y, 0}));
    return make_curve(std::move(points), 1, true);
  }
  // Lines of degree 2 and quarter circles in turn, each piece sharing its ends: periodic, every knot double.
  Curve c{{2, true, {}}, {}, {}};
  const auto point = [&](double px, double py, double w) {
    c.points.push_back(frame.to_world({px, py, 0}));
    c.weights.push_back(w);
  };
  const double root = 0.5 * std::numbers::sqrt2;
  const double lines[4][2][2] = {{{x, -(y - corner)}, {x, y - corner}},
                                 {{x - corner, y}, {-(x - corner), y}},
                                 {{-x, y - corner}, {-x, -(y - corner)}},
                                 {{-(x - corner), -y}, {x - corner, -y}}};
  for (int k = 0; k < 4; ++k) {
    const auto& l = lines[k];
    point(l[0][0], l[0][1], 1.0);
    point(0.5 * (l[0][0] + l[1][0]), 0.5 * (l[0][1] + l[1][1]), 1.0);
    point(l[1][0], l[1][1], 1.0);
    point(signs[k][0] * x, signs[k][1] * y, root);
  }
  // One period of knots: every one double, the end once, as in make_circle.
  for (int n = 0; n < 8; ++n)
    for (int twice = 0; twice < 2; ++twice) c.knots.knots.push_back(n / 8.0);
  c.knots.knots.push_back(1.0);
  return c;
}

Curve make_helix(const Frame& frame, double radius, double pitch, double turns) {
  need_positive(radius, "helix's radius");
  if (!(turns > 0.0) || turns > 200.0)
    throw Error(say("The helix has {:g} turns; it can have up to 200.", turns));
  if (!std::isfinite(pitch) || (pitch == 0.0 && turns > 1.0))
    throw Error(say("A helix that does not rise runs through itself. Give it a rise a turn."));
  const int pieces = std::max(1, static_cast<int>(std::ceil(16.0 * turns)));
  const double step = 2.0 * kPi * turns / pieces;
  const double handle = 4.0 / 3.0 * std::tan(step / 4.0);
  const double rise = pitch * turns / pieces;
  Curve c{pieces_of(3, pieces, 2), {}, {}};
  const auto at = [&](double angle, double along, double z) {
    const double x = radius * (std::cos(angle) - along * std::sin(angle));
    const double y = radius * (std::sin(angle) + along * std::cos(angle));
    return frame.to_world({x, y, z});
  };
  // With every inner knot double the junction of two pieces is the middle of its neighbours and no
  // control point of its own.
  c.points.push_back(at(0.0, 0.0, 0.0));
  for (int n = 0; n < pieces; ++n) {
    c.points.push_back(at(n * step, handle, (n + 1.0 / 3.0) * rise));
    c.points.push_back(at((n + 1) * step, -handle, (n + 2.0 / 3.0) * rise));
  }
  c.points.push_back(at(pieces * step, 0.0, pieces * rise));
  return c;
}

}  // namespace evenclay
