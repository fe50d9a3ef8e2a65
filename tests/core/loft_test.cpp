// Surfaces through sections, along rails and between others: against closed forms and their own inputs.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/source/in_between.h"
#include "core/source/loft.h"
#include "core/source/outlines.h"
#include "core/source/swept.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

Frame at_height(double z) {
  Frame f;
  f.origin = {0, 0, z};
  return f;
}

// Greatest distance of places of the curve from the nearest place of the row, which may run otherwise.
double off_row(const Curve& c, const Curve& row) {
  const CurveEvaluator onto(row);
  double worst = 0.0;
  for (int k = 0; k <= 120; ++k)
    worst = std::max(
        worst,
        closest_place(onto, evaluate(c, c.knots.first() + c.knots.length() * k / 120)).distance);
  return worst;
}

Curve row_at(const Surface& s, double v) {
  if (v <= s.v.first()) return border_of(s, Border::VMin);
  if (v >= s.v.last()) return border_of(s, Border::VMax);
  return border_of(split(s, Direction::V, v).second, Border::VMin);
}

// Sections of different degree, direction and knots.
std::vector<Curve> unlike_sections() {
  return {make_curve({{-20, 0, 0}, {-8, 12, 0}, {9, 11, 0}, {20, 0, 0}}, 3, false),
          make_arc({18, 2, 10}, {0, 15, 11}, {-18, 2, 10}),
          make_curve({{-17, 1, 20}, {0, 17, 22}, {17, 1, 20}}, 1, false),
          make_curve({{-15, 0, 31}, {-9, 9, 30}, {0, 4, 29}, {8, 9, 30}, {12, 3, 30}, {15, 0, 31}},
                     4, false)};
}

}  // namespace

TEST_CASE("a loft meets every section, whatever their degree, direction and knots") {
  const std::vector<Curve> sections = unlike_sections();
  for (const int degree : {1, 2, 3}) {
    const Surface s = loft(sections, {.degree = degree});
    check(s);
    CHECK(s.v.degree == degree);
    CHECK(off_row(sections.front(), row_at(s, s.v.first())) < 1e-9);
    CHECK(off_row(sections.back(), row_at(s, s.v.last())) < 1e-9);
    // The sections between lie on rows too: the row is found by its height.
    for (const std::size_t k : {std::size_t{1}, std::size_t{2}}) {
      double least = 1e9;
      for (int n = 1; n < 2000; ++n) {
        const double v = n / 2000.0;
        least =
            std::min(least, distance(evaluate(s, 0.0, v),
                                     evaluate(sections[k], k == 1 ? sections[k].knots.last()
                                                                  : sections[k].knots.first())));
      }
      CHECK(least < 0.02);  // mm, the step of the search
    }
  }
}

TEST_CASE(
    "a loft through circles of a cone is the cone, and through those of a cylinder has its area") {
  // Straight generators: degree 1 and 3 agree with the ruled surface between the ends.
  std::vector<Curve> cone;
  for (const double z : {0.0, 7.0, 20.0}) cone.push_back(make_circle(at_height(z), 20.0 - 0.5 * z));
  const Surface s = loft(cone, {});
  CHECK(s.u.periodic);
  for (double u = 0.0; u < 1.0; u += 0.037)
    for (double v = 0.0; v <= 1.0; v += 0.05) {
      const Vec3 p = evaluate(s, u, v);
      CHECK(std::hypot(p.x, p.y) == Approx(20.0 - 0.5 * p.z).epsilon(1e-9));
    }
  const std::vector<Curve> two{make_circle({}, 8.0), make_circle(at_height(25), 8.0)};
  CHECK(area(loft(two, {})) == Approx(2 * kPi * 8 * 25).epsilon(1e-9));
}

TEST_CASE("starts of closed sections are laid where they twist least, and moved on by hand") {
  // The upper circle begins a third of a turn on and runs the other way.
  Frame turned = at_height(10);
  const double a = 2 * kPi / 3;
  turned.x = {std::cos(a), std::sin(a), 0};
  turned.y = {std::sin(a), -std::cos(a), 0};
  turned.z = {0, 0, -1};
  const std::vector<Curve> circles{make_circle({}, 10), make_circle(turned, 10)};
  const Surface straight = loft(circles, {});
  double worst = 0.0;
  for (double u = 0.0; u < 1.0; u += 0.05)
    worst = std::max(
        worst, distance(evaluate(straight, u, 0.0) + Vec3{0, 0, 10}, evaluate(straight, u, 1.0)));
  // The parameter of an exact circle is not its angle: between the knots they differ by up to 2.2° (from
  // tan θ/2 of the quarter arc, worked by hand), and the knots of both stand elsewhere.
  CHECK(worst < 10.0 * 2.2 * kPi / 180.0);
  CHECK(distance(evaluate(straight, 0.0, 0.0) + Vec3{0, 0, 10}, evaluate(straight, 0.0, 1.0)) <
        0.02);
  // Not aligned, the surface is drawn in at the waist.
  const Surface twisted = loft(circles, {.alignment = {.turn = false}});
  double waist = 10.0;
  for (double u = 0.0; u < 1.0; u += 0.02)
    waist = std::min(waist, std::hypot(evaluate(twisted, u, 0.5).x, evaluate(twisted, u, 0.5).y));
  CHECK(waist < 1.0);  // the ways round are opposite, so some lines cross the axis
  // By hand: a quarter of the way on, places stand a quarter turn apart.
  const Surface moved =
      loft(std::vector<Curve>{make_circle({}, 10), make_circle(at_height(10), 10)},
           {.alignment = {.turn = true, .starts = {0.0, 0.25}}});
  const Vec3 below = evaluate(moved, 0.0, 0.0);
  const Vec3 above = evaluate(moved, 0.0, 1.0);
  CHECK(below.x * above.x + below.y * above.y == Approx(0.0).margin(0.05));
}

TEST_CASE("a closed loft is a ring without a seam") {
  std::vector<Curve> sections;
  for (int k = 0; k < 8; ++k) {
    const double a = 2 * kPi * k / 8;
    Frame f;
    f.origin = {30 * std::cos(a), 30 * std::sin(a), 0};
    f.x = {std::cos(a), std::sin(a), 0};
    f.y = {0, 0, 1};
    f.z = cross(f.x, f.y);
    sections.push_back(make_circle(f, 6));
  }
  const Surface s = loft(sections, {.closed = true});
  CHECK(s.u.periodic);
  CHECK(s.v.periodic);
  CHECK(is_closed(s, 1e-9));
  // A cubic through 8 places of a circle of radius 30 leaves it by less than a third of a per cent (the
  // interpolation error h⁴ R / 384 with h = π/4 is 0.03 mm).
  CHECK(area(s) == Approx(4 * kPi * kPi * 30 * 6).epsilon(0.004));
  CHECK_THROWS_WITH(
      loft(std::vector<Curve>(sections.begin(), sections.begin() + 2), {.closed = true}),
      Contains("three sections"));
}

TEST_CASE("loft ends leave flat sections at a right angle, or go on from a neighbour") {
  const std::vector<Curve> sections{make_circle({}, 10), make_circle(at_height(12), 16),
                                    make_circle(at_height(20), 12)};
  const Surface s = loft(sections, {.begin = LoftEnd::Straight, .end = LoftEnd::Straight});
  for (double u = 0.0; u < 1.0; u += 0.07) {
    const Vec3 d = derivatives(s, u, 0.0, 1).dv();
    CHECK(std::hypot(d.x, d.y) < 1e-6 * length(d));
    CHECK(d.z > 0.0);
    const Vec3 e = derivatives(s, u, 1.0, 1).dv();
    CHECK(std::hypot(e.x, e.y) < 1e-6 * length(e));
  }
  // A neighbour that leads outward in the plane: the surface begins flat.
  LoftOptions o{.begin = LoftEnd::Tangent};
  o.onward = [](const Vec3& p, const Vec3&) -> std::optional<Vec3> {
    return normalized(Vec3{p.x, p.y, 0});
  };
  const Surface flange = loft(sections, o);
  for (double u = 0.0; u < 1.0; u += 0.07) {
    const Vec3 d = normalized(derivatives(flange, u, 0.0, 1).dv());
    CHECK(std::abs(d.z) < std::sin(0.1 * kPi / 180));
  }
  REQUIRE(end_angle(flange, false, o.onward));
  CHECK(*end_angle(flange, false, o.onward) < 0.1);
  // A cone from a circle of 10 to one of 16 mm, 12 mm higher, leaves the plane by atan(12 / 6), and comes in the same.
  const std::vector<Curve> cone{make_circle({}, 10), make_circle(at_height(12), 16)};
  const Surface straight = loft(cone, {.degree = 1});
  CHECK(*end_angle(straight, false, o.onward) == Approx(std::atan2(12.0, 6.0) * 180 / kPi));
  CHECK(*end_angle(straight, true, o.onward) == Approx(180.0 - std::atan2(12.0, 6.0) * 180 / kPi));
  CHECK_FALSE(end_angle(straight, false, {}));
  CHECK_FALSE(
      end_angle(straight, true, [](const Vec3&, const Vec3&) { return std::optional<Vec3>(); }));
}

TEST_CASE("lofts refuse what cannot be laid through") {
  const Curve c = make_circle({}, 5);
  CHECK_THROWS_WITH(loft(std::vector<Curve>{c}, {}), Contains("two sections"));
  CHECK_THROWS_WITH(loft(std::vector<Curve>{c, c}, {}), Contains("one place"));
}

TEST_CASE("a sweep along a straight rail is the extrusion, along a circle the torus") {
  const Curve profile = make_curve({{-5, 0, 0}, {-3, 6, 0}, {4, 5, 0}, {6, 0, 0}}, 3, false);
  const Surface straight = sweep(profile, make_curve({{0, 0, 0}, {0, 0, 30}}, 1, false), {}, 1e-3);
  CHECK(straight.points.columns() == 2);
  for (double u = 0.0; u <= 1.0; u += 0.1)
    for (double v = 0.0; v <= 1.0; v += 0.1)
      CHECK(distance(evaluate(straight, u, v), evaluate(profile, u) + Vec3{0, 0, 30 * v}) < 1e-9);
  Frame section;
  section.origin = {40, 0, 0};
  section.x = {1, 0, 0};
  section.y = {0, 0, 1};
  section.z = {0, -1, 0};
  const Surface ring = sweep(make_circle(section, 10), make_circle({}, 40), {}, 1e-3);
  CHECK(ring.v.periodic);
  for (double u = 0.0; u < 1.0; u += 0.09)
    for (double v = 0.0; v < 1.0; v += 0.031) {
      const Vec3 p = evaluate(ring, u, v);
      CHECK(std::hypot(std::hypot(p.x, p.y) - 40.0, p.z) == Approx(10.0).margin(2e-3));
    }
  // Twice as large at the end, and a quarter turn about the rail.
  const Surface grown = sweep(profile, make_curve({{0, 0, 0}, {0, 0, 30}}, 3 - 2, false),
                              {.end_scale = 2.0, .turn = 90.0}, 1e-2);
  const Vec3 end = evaluate(grown, 0.0, grown.v.last());
  CHECK(distance(end, Vec3{0, -10, 30}) < 1e-6);
}

TEST_CASE("least twist keeps a profile from turning about a helix more than upright does") {
  const Curve rail = make_helix({}, 20, 12, 2);
  const Curve profile = make_curve({{20, 0, -2}, {24, 0, 0}, {20, 0, 2}}, 1, false);
  for (const SweepTwist twist : {SweepTwist::Least, SweepTwist::Upright}) {
    const Surface s = sweep(profile, rail, {.twist = twist}, 5e-3);
    // Lengths of the profile stay the same all along: it is carried as a stiff whole.
    for (double v = 0.05; v < 1.0; v += 0.1)
      CHECK(distance(evaluate(s, 0.0, v), evaluate(s, 1.0, v)) == Approx(4.0).margin(0.02));
  }
  const Curve corner = make_curve({{0, 0, 0}, {20, 0, 0}, {20, 20, 0}}, 1, false);
  CHECK_THROWS_AS(sweep(make_curve({{0, -2, 0}, {0, 2, 1}}, 1, false), corner, {}, 1e-3), Error);
}

TEST_CASE("between two rails the ends of the profile stay on them") {
  const Curve a = make_curve({{0, 0, 0}, {20, -4, 3}, {40, -6, 0}}, 2, false);
  const Curve b = make_curve({{0, 20, 0}, {20, 26, 5}, {40, 18, 0}}, 2, false);
  const Curve profile = make_arc({0, 0, 0}, {0, 10, 8}, {0, 20, 0});
  const Surface s = sweep(profile, a, b, {}, 1e-3);
  CHECK(off_row(a, border_of(s, Border::UMin)) < 2e-3);
  CHECK(off_row(b, border_of(s, Border::UMax)) < 2e-3);
  CHECK(off_row(profile, border_of(s, Border::VMin)) < 1e-9);
  CHECK_THROWS_WITH(sweep(make_circle({}, 3), a, b, {}, 1e-3), Contains("no ends"));
  const Curve meets = make_curve({{0, 20, 0}, {40, -6, 0}}, 1, false);
  CHECK_THROWS_WITH(sweep(profile, a, meets, {}, 1e-3), Contains("meet"));
}

TEST_CASE("revolve along a round rail is the revolution, along any rail its end stays on it") {
  const Curve profile = make_curve({{0, 0, 12}, {8, 0, 12}, {12, 0, 8}, {12, 0, 0}}, 3, false);
  const Surface turned = revolve(profile, {}, 360.0);
  const Surface along = revolve_along_rail(profile, make_circle({}, 12), {});
  for (double u = 0.0; u < 1.0; u += 0.043)
    for (double v = 0.0; v <= 1.0; v += 0.1)
      CHECK(distance(evaluate(turned, u, v), evaluate(along, u, v)) < 1e-9);
  // A ring of 36 points, every second one drawn in to 0.9.
  std::vector<Vec3> ring;
  for (int k = 0; k < 36; ++k) {
    const double r = k % 2 == 0 ? 11.0 * 0.9 : 11.0;
    ring.push_back({r * std::cos(kPi * k / 18), r * std::sin(kPi * k / 18), 1.0});
  }
  const Curve rail = make_curve(ring, 3, true);
  const Surface knob = revolve_along_rail(profile, rail, {});
  CHECK(off_row(rail, border_of(knob, Border::VMax)) < 1e-9);
  CHECK(is_pole(knob, Border::VMin, 1e-9));
  CHECK_THROWS_WITH(revolve_along_rail(make_curve({{-3, 0, 0}, {6, 0, 4}}, 1, false), rail, {}),
                    Contains("crosses the axis"));
  CHECK_THROWS_WITH(revolve_along_rail(make_curve({{3, 4, 0}, {6, 0, 4}}, 1, false), rail, {}),
                    Contains("flat with the axis"));
}

TEST_CASE("in-betweens at 0 and 1 are the inputs, and guides steer the way") {
  const std::vector<Curve> s = unlike_sections();
  const Surface a = loft(std::span(s).first(2), {});
  Surface b = loft(std::span(s).last(2), {});
  for (const auto& [share, end] : {std::pair{0.0, a}, {1.0, b}}) {
    const Surface made = in_between(a, b, share);
    double worst = 0.0;
    for (double u = 0.0; u <= 1.0; u += 0.05)
      for (double v = 0.0; v <= 1.0; v += 0.05)
        worst = std::max(worst, distance(evaluate(made, u, v), evaluate(end, u, v)));
    CHECK(worst < 1e-12 * size(end));
  }
  // Half-way between circles of radius 10 and 20 lies one of radius 15.
  const Curve mid = in_between(make_circle({}, 10), make_circle(at_height(8), 20), 0.5);
  for (double t = 0.0; t < 1.0; t += 0.05) {
    const Vec3 p = evaluate(mid, t);
    CHECK(std::hypot(p.x, p.y) == Approx(15.0).epsilon(1e-9));
    CHECK(p.z == Approx(4.0));
  }
  const Surface low = ruled(make_curve({{0, 0, 0}, {10, 0, 0}}, 1, false),
                            make_curve({{0, 10, 0}, {10, 10, 0}}, 1, false));
  Surface high = low;
  for (Vec3& p : high.points.values()) p.z = 20.0;
  // A guide that bows out by 6 mm half-way moves what is half-way by 6 mm.
  const std::vector<Curve> one{make_arc({0, 0, 0}, {-6, 0, 10}, {0, 0, 20})};
  CHECK(distance(evaluate(in_between(low, high, 0.5, one), 1.0, 0.0), Vec3{4, 0, 10}) < 1e-9);
  const std::vector<Curve> two{one[0], make_curve({{10, 0, 0}, {10, 0, 20}}, 1, false)};
  const Surface held = in_between(low, high, 0.5, two);
  CHECK(distance(evaluate(held, 0.0, 0.0), Vec3{-6, 0, 10}) < 1e-9);
  CHECK(distance(evaluate(held, 1.0, 0.0), Vec3{10, 0, 10}) < 1e-9);
}

TEST_CASE("eases keep both ends and grow all the way") {
  for (const Ease e : {Ease::Even, Ease::SlowStart, Ease::SlowEnd, Ease::SlowBoth}) {
    CHECK(eased(e, 0.0) == 0.0);
    CHECK(eased(e, 1.0) == 1.0);
    for (int k = 1; k <= 50; ++k) CHECK(eased(e, k / 50.0) > eased(e, (k - 1) / 50.0));
  }
  CHECK(eased(Ease::SlowStart, 0.5) < 0.5);
  CHECK(eased(Ease::SlowEnd, 0.5) > 0.5);
}

TEST_CASE("offset surfaces of sphere, cylinder and plane lie at the distance all over") {
  Progress progress;
  const Surface sphere = make_sphere({}, 20.0);
  const Offset out = offset(sphere, 3.0, 5e-3, progress);
  CHECK_FALSE(out.folds);
  for (double u = 0.0; u < 1.0; u += 0.07)
    for (double v = 0.02; v < 1.0; v += 0.07)
      CHECK(length(evaluate(out.surface, out.surface.u.first() + u * out.surface.u.length(),
                            out.surface.v.first() + v * out.surface.v.length())) ==
            Approx(23.0).margin(6e-3));
  const Surface pipe = extrude(make_circle({}, 8.0), {}, {0, 0, 30});
  const Offset wider = offset(pipe, 2.0, 5e-3, progress);
  CHECK(std::hypot(evaluate(wider.surface, 0.3, 0.4).x, evaluate(wider.surface, 0.3, 0.4).y) ==
        Approx(10.0).margin(6e-3));
  // More than the radius inward: it says that it runs through itself.
  CHECK(offset(pipe, -9.0, 5e-3, progress).folds);
}

TEST_CASE("frames along a helix stay at right angles to it and turn least") {
  const Curve rail = make_helix({}, 20, 12, 2);
  std::vector<double> places;
  for (int k = 0; k <= 200; ++k)
    places.push_back(rail.knots.first() + rail.knots.length() * k / 200);
  const std::vector<Frame> frames = rail_frames(rail, places, SweepTwist::Least);
  // The turning about the tangent of frames with least twist is that of the binormal taken back: over a turn of a
  // helix the Frenet frame turns by 2π times slope over √(1 + slope²) against it (torsion times length).
  for (const Frame& f : frames) {
    CHECK(std::abs(dot(f.x, f.z)) < 1e-9);
    CHECK(length(f.x) == Approx(1.0));
  }
  double spin = 0.0;
  for (std::size_t k = 1; k < frames.size(); ++k) {
    // How far x turned about the mean tangent.
    const Vec3 t = normalized(frames[k].z + frames[k - 1].z);
    spin += std::abs(dot(cross(frames[k - 1].x, frames[k].x), t));
  }
  CHECK(spin < 1e-2);
}
