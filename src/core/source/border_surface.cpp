#include "core/source/border_surface.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/angles.h"
#include "core/base/error.h"
#include "core/base/say.h"
#include "core/nurbs/fitted.h"
#include "core/nurbs/knot_operations.h"
#include "core/source/compatible.h"
#include "core/source/loft.h"

namespace evenclay {

namespace {

Vec3 begin_of(const Curve& c) {
  return evaluate(c, c.knots.first());
}
Vec3 end_of(const Curve& c) {
  return evaluate(c, c.knots.last());
}

std::string place_words(const Vec3& p) {
  return fmt::format("({:.2f}, {:.2f}, {:.2f})", p.x, p.y, p.z);
}

}  // namespace

std::vector<Curve> border_loop(std::span<const Curve> given, double tolerance) {
  if (given.empty()) throw Error(say("There is no border. Choose the curves that go round."));
  std::vector<Curve> left(given.begin(), given.end());
  std::vector<Curve> loop{left.front()};
  left.erase(left.begin());
  if (loop[0].knots.periodic) {
    if (!left.empty())
      throw Error(
          say("A closed curve is a border by itself. Take it out of the list, or the others."));
    return loop;
  }
  while (!left.empty()) {
    const Vec3 end = end_of(loop.back());
    double least = std::numeric_limits<double>::infinity();
    std::size_t next = 0;
    bool turned = false;
    for (std::size_t k = 0; k < left.size(); ++k) {
      if (left[k].knots.periodic)
        throw Error(
            say("A closed curve is a border by itself. Take it out of the list, or the others."));
      for (const bool back : {false, true}) {
        const double d = distance(end, back ? end_of(left[k]) : begin_of(left[k]));
        // Rounding must not turn a curve round.
        if (d < least - 1e-12 * (1.0 + size(left[k]))) {
          least = d;
          next = k;
          turned = back;
        }
      }
    }
    if (least > tolerance)
      throw Error(say(
          "The border is not closed: from {} the nearest end of another curve is {:.3g} mm away. "
          "Bring the ends together (snap to the end), or add the curve that is missing.",
          place_words(end), least));
    loop.push_back(turned ? reversed(left[next]) : left[next]);
    left.erase(left.begin() + static_cast<long>(next));
  }
  const double gap = distance(end_of(loop.back()), begin_of(loop.front()));
  if (gap > tolerance)
    throw Error(say(
        "The border is not closed: its last end at {} is {:.3g} mm from its beginning at {}. Bring "
        "the ends together (snap to the end), or add the curve that is missing.",
        place_words(end_of(loop.back())), gap, place_words(begin_of(loop.front()))));
  // Ends that meet are one place from here on.
  for (std::size_t k = 0; k < loop.size(); ++k) {
    Curve& a = loop[k];
    Curve& b = loop[(k + 1) % loop.size()];
    const Vec3 middle = (a.points.back() + b.points.front()) * 0.5;
    a.points.back() = b.points.front() = middle;
  }
  return loop;
}

FourBorders four_borders(std::span<const Curve> curves, double tolerance) {
  const std::vector<Curve> loop = border_loop(curves, tolerance);
  if (loop.size() != 4)
    throw Error(
        say("A border surface needs four curves, not {}. Use Fill for other counts, or join "
            "and split curves until there are four.",
            loop.size()));
  return {loop[0], loop[1], reversed(loop[2]), reversed(loop[3])};
}

namespace {

// Weights at both ends 1, which a common factor can only do when they are equal.
Curve with_unit_ends(Curve c) {
  if (!c.rational()) return c;
  const double w = c.weights.front();
  if (std::abs(c.weights.back() - w) > 1e-9 * w)
    throw Error(say("A border's weights differ between its ends. Rebuild that curve first."));
  for (double& x : c.weights) x /= w;
  return c;
}

Surface pair_surface(const Curve& a, const Curve& b) {  // linear between two borders that run alike
  Surface s{a.knots, uniform_knots(2, 1, false), Grid<Vec3>(a.point_count(), 2),
            Grid<double>(a.point_count(), 2)};
  for (int i = 0; i < a.point_count(); ++i) {
    const auto k = static_cast<std::size_t>(i);
    s.points(i, 0) = a.points[k];
    s.points(i, 1) = b.points[k];
    s.weights(i, 0) = a.weight(i);
    s.weights(i, 1) = b.weight(i);
  }
  return s;
}

Surface added(const Surface& surface, const Surface& moves) {
  auto [s, d] = on_common_knots(surface, moves);
  for (std::size_t k = 0; k < s.points.values().size(); ++k)
    s.points.values()[k] += d.points.values()[k];
  return s;
}

}  // namespace

Surface coons(const FourBorders& given) {
  const Alignment as_they_are{.turn = false};
  const std::vector<Curve> along = made_compatible(
      std::array{with_unit_ends(given.bottom), with_unit_ends(given.top)}, as_they_are);
  const std::vector<Curve> across = made_compatible(
      std::array{with_unit_ends(given.left), with_unit_ends(given.right)}, as_they_are);
  // The sum of both ruled surfaces less the bilinear one through the corners, on common knots, in
  // homogeneous form: there the sum of weighted points is linear.
  Surface a = pair_surface(along[0], along[1]);
  Surface b = transposed(pair_surface(across[0], across[1]));
  Surface corners{uniform_knots(2, 1, false), uniform_knots(2, 1, false), Grid<Vec3>(2, 2),
                  Grid<double>(2, 2, 1.0)};
  corners.points(0, 0) = along[0].points.front();
  corners.points(1, 0) = along[0].points.back();
  corners.points(0, 1) = along[1].points.front();
  corners.points(1, 1) = along[1].points.back();
  std::tie(a, b) = on_common_knots(a, b);
  corners = on_common_knots(corners, a).first;
  bool rational = false;
  for (std::size_t k = 0; k < a.points.values().size(); ++k) {
    const double wa = a.weights.values()[k];
    const double wb = b.weights.values()[k];
    const double w = wa + wb - 1.0;
    if (!(w > 1e-3))
      throw Error(say(
          "The weights of the borders are too far from 1 to be blended. Rebuild the round borders "
          "first."));
    const Vec3 sum =
        a.points.values()[k] * wa + b.points.values()[k] * wb - corners.points.values()[k];
    a.points.values()[k] = sum / w;
    a.weights.values()[k] = w;
    rational |= std::abs(w - 1.0) > 1e-14;
  }
  if (!rational) a.weights = {};
  check(a);
  return a;
}

namespace {

// Splines that are 1 at one of the inner places 1/(n+1) … and 0 at all others and at both ends.
struct Cardinal {
  KnotVector knots;
  std::vector<double> values;  // values[control * n + rib]
};

Cardinal cardinal(int ribs) {
  const int count = ribs + 2;
  const int degree = std::min(3, count - 1);
  std::vector<double> places;
  for (int k = 0; k < count; ++k) places.push_back(static_cast<double>(k) / (count - 1));
  Cardinal c{averaged_knots(places, degree), {}};
  std::vector<double> wanted(static_cast<std::size_t>(count) * static_cast<std::size_t>(ribs), 0.0);
  for (int k = 0; k < ribs; ++k) wanted[static_cast<std::size_t>((k + 1) * ribs + k)] = 1.0;
  c.values = interpolated(c.knots, places, wanted, static_cast<std::size_t>(ribs));
  return c;
}

// Σ blend_k(u) moves_k(v)
std::optional<Surface> moves_of(const std::vector<Curve>& ribs) {
  if (ribs.empty()) return std::nullopt;
  const std::vector<Curve> all = made_compatible(ribs, Alignment{.turn = false});
  const Cardinal c = cardinal(static_cast<int>(ribs.size()));
  const int nu = c.knots.point_count();
  const int nv = all[0].point_count();
  Surface d{c.knots, all[0].knots, Grid<Vec3>(nu, nv), {}};
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j)
      for (std::size_t k = 0; k < all.size(); ++k)
        d.points(i, j) += all[k].points[static_cast<std::size_t>(j)] *
                          c.values[static_cast<std::size_t>(i) * all.size() + k];
  return d;
}

}  // namespace

Surface with_ribs(const Surface& surface, const RibMoves& moves) {
  Surface s = surface;
  if (const auto d = moves_of(moves.across_u)) s = added(s, *d);
  if (const auto d = moves_of(moves.across_v)) s = added(s, transposed(*d));
  return s;
}

Surface pushed(const Surface& surface, double mm) {
  if (mm == 0.0) return surface;
  const Vec3 n = normal(surface, surface.u.first() + 0.5 * surface.u.length(),
                        surface.v.first() + 0.5 * surface.v.length());
  // A cubic bump on quarters: 0 with its derivative at both ends, 1 in the middle.
  constexpr std::array<double, 7> kBump{0.0, 0.0, 0.5, 1.25, 0.5, 0.0, 0.0};
  const KnotVector k{3, false, {0, 0, 0, 0, 0.25, 0.5, 0.75, 1, 1, 1, 1}};
  Surface d{k, k, Grid<Vec3>(7, 7), {}};
  for (int i = 0; i < 7; ++i)
    for (int j = 0; j < 7; ++j)
      d.points(i, j) =
          n * (mm * kBump[static_cast<std::size_t>(i)] * kBump[static_cast<std::size_t>(j)]);
  return added(surface, d);
}

namespace {

// The surface turned so that the border runs along u at v = 0, and back.
Surface facing(Surface s, Border border) {
  if (border == Border::UMin || border == Border::UMax) s = transposed(s);
  if (border == Border::UMax || border == Border::VMax) s = reversed(s, Direction::V);
  return s;
}
Surface facing_back(Surface s, Border border) {
  if (border == Border::UMax || border == Border::VMax) s = reversed(s, Direction::V);
  if (border == Border::UMin || border == Border::UMax) s = transposed(s);
  return s;
}

// The cross derivative there ought to be at a place of the border v = 0.
std::optional<Vec3> wanted_cross(const Surface& s, double u, const Onward& onward) {
  const SurfaceDerivatives d = derivatives(s, u, s.v.first(), 1);
  if (!(length(d.du()) > 0.0)) return d.dv();  // a pole has no side
  const Vec3 along = normalized(d.du());
  const auto way = onward(d.p(), along);
  if (!way) return std::nullopt;
  const Vec3 shear = along * dot(d.dv(), along);
  return shear + *way * length(d.dv() - shear);
}

// Bends the surface at the border v = 0; nothing when there is no neighbour along all of it.
std::optional<Surface> bent(const Surface& s, const Onward& onward) {
  const std::vector<double> places = greville_places(s.u);
  std::vector<double> values;
  for (std::size_t k = 0; k < places.size(); ++k) {
    const auto wanted = wanted_cross(s, places[k], onward);
    if (!wanted) return std::nullopt;
    Vec3 change = *wanted - derivatives(s, places[k], s.v.first(), 1).dv();
    const bool corner = !s.u.periodic && (k == 0 || k + 1 == places.size());
    if (corner) change = {};
    values.insert(values.end(), {change.x, change.y, change.z});
  }
  const std::vector<double> x = interpolated(s.u, places, values, 3);
  // Times v (1 − v)²: nothing happens at the far border.
  Surface e{s.u, {3, false, {0, 0, 0, 0, 1, 1, 1, 1}}, Grid<Vec3>(s.points.rows(), 4), {}};
  for (int i = 0; i < s.points.rows(); ++i) {
    const auto k = 3 * static_cast<std::size_t>(i);
    e.points(i, 1) = Vec3{x[k], x[k + 1], x[k + 2]} * (s.v.length() / 3.0);
  }
  return added(s, e);
}

double worst_angle(const Surface& s, const Onward& onward) {
  double worst = 0.0;
  for (int k = 0; k < 100; ++k) {
    const double u = s.u.first() + s.u.length() * (k + 0.5) / 100.0;
    const SurfaceDerivatives d = derivatives(s, u, s.v.first(), 1);
    const auto way = onward(d.p(), normalized(d.du()));
    if (!way) continue;
    const Vec3 mine = cross(d.du(), d.dv());
    const Vec3 theirs = cross(d.du(), *way);
    worst = std::max(worst, degrees_between(mine, theirs));
  }
  return worst;
}

bool has_neighbour(const Surface& s, const Onward& onward) {
  for (const double u : greville_places(s.u)) {
    const SurfaceDerivatives d = derivatives(s, u, s.v.first(), 1);
    if (length(d.du()) > 0.0 && !onward(d.p(), normalized(d.du()))) return false;
  }
  return true;
}

}  // namespace

MadeTangent made_tangent(const Surface& surface, const Onward& onward) {
  constexpr double kGood = 0.05;
  MadeTangent result{surface, 0.0, 0};
  std::vector<Border> borders;
  for (const Border b : kBorders)
    if (has_neighbour(facing(surface, b), onward)) borders.push_back(b);
  result.borders = static_cast<int>(borders.size());
  const auto worst_of = [&](const Surface& s) {
    double worst = 0.0;
    for (const Border b : borders) worst = std::max(worst, worst_angle(facing(s, b), onward));
    return worst;
  };
  Surface start = surface;
  if (!borders.empty())
    for (const Direction d : {Direction::U, Direction::V})
      start = raise_degree(start, d, std::max(3, knots_of(start, d).degree));
  for (int halvings = 0; !borders.empty() && halvings <= 4; ++halvings) {
    Surface s = halvings == 0 ? start : result.surface;
    if (halvings > 0)
      for (const Border b : borders) s = facing_back(insert_halfway(facing(s, b), Direction::U), b);
    // Near a corner the borders bend one another a little.
    for (int round = 0; round < 4; ++round)
      for (const Border b : borders)
        if (const auto made = bent(facing(s, b), onward)) s = facing_back(*made, b);
    const double worst = worst_of(s);
    const bool better = halvings == 0 || worst < 0.7 * result.worst_degrees;
    if (!better) break;
    result.surface = s;
    result.worst_degrees = worst;
    if (worst < kGood) break;
  }
  return result;
}

}  // namespace evenclay
