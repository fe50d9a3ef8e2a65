#include "core/source/profile.h"

#include <fmt/format.h>

#include <Eigen/Dense>
#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fitted.h"
#include "core/nurbs/hermite.h"
#include "core/nurbs/knot_operations.h"
#include "core/source/compatible.h"
#include "core/source/outlines.h"

namespace evenclay {

Curve tangent_arc(const Vec3& from, const Vec3& direction, const Vec3& to) {
  const Vec3 chord = to - from;
  const double l = length(chord);
  const Vec3 c = chord / l;
  const Vec3 t = normalized(direction);
  const Vec3 side = t - c * dot(t, c);
  const double angle = std::atan2(length(side), dot(t, c));
  if (angle < 1e-7) return line_curve(from, to);
  if (angle > 3.141)
    throw Error(
        say("An arc cannot turn round on the spot. Move its end, or make this leg a line."));
  const Vec3 over = (from + to) * 0.5 + normalized(side) * (0.5 * l * std::tan(0.5 * angle));
  return make_arc(from, over, to);
}

namespace {

// The cubic through the places that begins along the direction; its speed at the start is that of the chords.
Curve spline_from(const std::vector<Vec3>& places, const Vec3& direction) {
  const std::size_t n = places.size();
  std::vector<double> t{0.0};
  for (std::size_t k = 1; k < n; ++k) t.push_back(t.back() + distance(places[k - 1], places[k]));
  const double whole = t.back();
  for (double& x : t) x /= whole;
  // n places and a direction: n + 1 points.
  const int degree = std::min<int>(3, static_cast<int>(n));
  std::vector<double> doubled{0.0};
  doubled.insert(doubled.end(), t.begin(), t.end());
  Curve c{averaged_knots(doubled, degree), {}, {}};
  const auto size = static_cast<Eigen::Index>(n + 1);
  Eigen::MatrixXd basis = Eigen::MatrixXd::Zero(size, size);
  Eigen::MatrixXd right(size, 3);
  const FlatKnots flat = flatten(c.knots);
  const auto row = [&](Eigen::Index r, double at, std::size_t order, const Vec3& value) {
    const int span = find_span(flat, at);
    const BasisDerivatives b = basis_derivatives(flat, span, at, 1);
    for (int k = 0; k <= degree; ++k)
      basis(r, span - degree + k) = b[order][static_cast<std::size_t>(k)];
    right.row(r) << value.x, value.y, value.z;
  };
  for (std::size_t k = 0; k < n; ++k) row(static_cast<Eigen::Index>(k), t[k], 0, places[k]);
  row(size - 1, 0.0, 1, normalized(direction) * whole);
  const Eigen::MatrixXd x = basis.partialPivLu().solve(right);
  for (Eigen::Index k = 0; k < size; ++k) c.points.push_back({x(k, 0), x(k, 1), x(k, 2)});
  return c;
}

Vec3 end_direction(const Curve& c) {
  return derivatives(c, c.knots.last(), 1).d1;
}

}  // namespace

Curve profile_curve(std::span<const ProfilePlace> given, bool closed) {
  const std::size_t n = given.size();
  if (n < (closed ? 3U : 2U))
    throw Error(closed ? say("A closed profile needs three places or more. Click more places.")
                       : say("A profile needs two places or more. Click more places."));
  std::vector<ProfilePlace> chain(given.begin(), given.end());
  if (closed) chain.push_back(chain.front());
  for (std::size_t k = 1; k < chain.size(); ++k)
    if (!(distance(chain[k - 1].place, chain[k].place) > 1e-9))
      throw Error(
          say("Places {} and {} of the profile are one. Move one, or take it back.", k, k % n + 1));
  Vec3 direction = chain[1].place - chain[0].place;
  // Where the closing leg is a line, the first leg goes on from it.
  if (closed && chain.back().leg == Leg::Line && chain[1].leg != Leg::Line)
    direction = chain.back().place - chain[n - 1].place;
  std::vector<Curve> legs;
  for (std::size_t k = 1; k < chain.size();) {
    const Vec3& from = chain[k - 1].place;
    std::size_t next = k + 1;
    if (chain[k].leg == Leg::Line) {
      legs.push_back(line_curve(from, chain[k].place));
    } else if (chain[k].leg == Leg::Arc) {
      legs.push_back(tangent_arc(from, direction, chain[k].place));
    } else {
      std::vector<Vec3> places{from};
      for (next = k; next < chain.size() && chain[next].leg == Leg::Curve; ++next)
        places.push_back(chain[next].place);
      legs.push_back(spline_from(places, direction));
    }
    direction = end_direction(legs.back());
    k = next;
  }
  Curve whole = legs.size() == 1 ? on_domain(legs[0], 0.0, 1.0) : chained(legs);
  if (!closed) return whole;
  const Surface strip = strip_of(whole, {0, 0, 1.0 + size(whole)});
  return first_row(evenclay::closed(strip, Direction::U, 1e-6));
}

}  // namespace evenclay
