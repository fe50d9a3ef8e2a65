// Choosing a grid: degree, lightening, evening out, extending, common borders, the count plot.
#include <rapidcheck/catch.h>
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/grid/count_plot.h"
#include "core/grid/even_out.h"
#include "core/grid/extend.h"
#include "core/grid/lighten.h"
#include "core/grid/parametric_gap.h"
#include "core/grid/rebuild.h"
#include "core/grid/set_degree.h"
#include "core/nurbs/arc_length.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/projection.h"
#include "core/nurbs/refit.h"
#include "core/support.h"

using namespace evenclay;
using namespace evenclay::testing;
using Catch::Matchers::Contains;

namespace {

double worst(const Surface& a, const Surface& b) {
  double result = 0.0;
  for (const auto& [u, v] : places(a, 80))
    result = std::max(result, distance(evaluate(a, u, v), evaluate(b, u, v)));
  return result;
}

// A shell of 12 × 10 points with bumps, closed in u, with poles.
Surface shell_12_10() {
  Progress p;
  Surface s = rebuild(make_sphere({}, 52), {.points_u = 12, .points_v = 10}, p);
  for (int i = 0; i < 12; ++i)
    for (int j = 2; j < 8; ++j)
      s.points(i, j) = s.points(i, j) * (1.0 + 0.08 * std::sin(i * 1.7 + j * 2.3));
  return s;
}

// A gently curved open patch.
Surface patch(int nu, int nv, int degree = 3) {
  Surface s{
      uniform_knots(nu, degree, false), uniform_knots(nv, degree, false), Grid<Vec3>(nu, nv), {}};
  for (int i = 0; i < nu; ++i)
    for (int j = 0; j < nv; ++j) {
      const double x = 80.0 * i / (nu - 1);
      const double y = 60.0 * j / (nv - 1);
      s.points(i, j) = {x, y, 6.0 * std::sin(x / 17.0) * std::cos(y / 21.0)};
    }
  return s;
}

Deviation dense(const Surface& a, const Surface& b) {
  Progress p;
  return deviation(a, b, p, 14);
}

}  // namespace

TEST_CASE("raising the degree is exact and lowering it again comes back") {
  rc::prop("raise then lower", [] {
    const auto seed = *rc::gen::inRange<unsigned>(1, 1000000);
    const Surface s = random_surfaces(1, seed, 40).front().surface;
    RC_PRE(s.u.degree <= 5 && s.v.degree <= 5);
    Progress p;
    const Surface raised = set_degree(s, s.u.degree + 2, s.v.degree + 1, p);
    RC_ASSERT(worst(s, raised) <= 1e-12 * size(s));
  });
  Progress p;
  const Surface s = patch(9, 7);
  const Surface back = set_degree(set_degree(s, 5, 4, p), 3, 3, p);
  CHECK(back.u == s.u);
  CHECK(worst(s, back) <= 1e-10 * size(s));
  const Surface sphere = make_sphere({}, 20);
  const Surface sphere_back = set_degree(set_degree(sphere, 4, 3, p), 2, 2, p);
  CHECK(sphere_back.rational());
  CHECK(worst(sphere, sphere_back) <= 1e-10 * size(sphere));

  // Lowered to 1 the surface becomes its own chords: a quarter circle of radius r on one span
  // is off by the sagitta r (1 − cos 45°), found by hand.
  const Surface flat = set_degree(make_cylinder({}, 10, 5), 1, 1, p);
  CHECK(flat.u.degree == 1);
  CHECK(dense(make_cylinder({}, 10, 5), flat).max > 0.05 * 10 * (1 - std::sqrt(0.5)));
  CHECK_THROWS_WITH(set_degree(s, 0, 3, p), Contains("1 to 11"));
}

TEST_CASE("lighten finds the twelve by ten that a sixty by sixty carries") {
  Progress p;
  const Surface carried = shell_12_10();
  const Surface heavy = rebuild(carried, {.points_u = 60, .points_v = 60}, p);
  const Lightened light = lighten(heavy, {.tolerance = 0.01}, p);
  CHECK(light.surface.points.rows() <= 12);
  CHECK(light.surface.points.columns() <= 10);
  CHECK(dense(heavy, light.surface).max <= 0.01);

  // Lines at odd places: only a choice of the old lines gets back to 12 × 10 exactly.
  std::vector<double> ku, kv;
  for (int i = 0; i < 14; ++i) ku.push_back(std::fmod(0.013 + i * 0.6180339, 1.0));
  for (int i = 0; i < 12; ++i) kv.push_back(std::fmod(0.017 + i * 0.6180339, 1.0));
  Surface bent = carried;
  for (double& t : bent.u.knots) t = t * t * (1.5 - 0.5 * t);  // uneven knots
  const Surface odd = insert_knots(insert_knots(bent, Direction::U, ku), Direction::V, kv);
  const Lightened uneven = lighten(odd, {.tolerance = 0.001, .uneven_knots = true}, p);
  CHECK(uneven.surface.points.rows() <= 12);
  CHECK(uneven.surface.points.columns() <= 10);
  CHECK(dense(odd, uneven.surface).max <= 0.001);
}

TEST_CASE("a lightened shape never leaves its tolerance") {
  Progress p;
  for (const double tolerance : {1.0, 0.1, 0.02}) {
    std::vector<NamedSurface> all{{"sphere", make_sphere({}, 52)},
                                  {"patch", patch(30, 24)},
                                  {"torus", make_torus({}, 40, 12)},
                                  {"shell", shell_12_10()}};
    for (const auto& [name, s] : all) {
      INFO(name << " " << tolerance);
      const Lightened light = lighten(s, {.tolerance = tolerance}, p);
      CHECK(light.deviation.max <= tolerance);
      CHECK(dense(s, light.surface).max <= tolerance * 1.0001);
      CHECK(is_closed(light.surface, 1e-9) == is_closed(s, 1e-9));
    }
  }
  // Spacing by arc length describes a sphere with fewer points than the rational parameter does.
  const Lightened flow = lighten(make_sphere({}, 52), {.tolerance = 0.02}, p);
  const Lightened even = lighten(make_sphere({}, 52), {.tolerance = 0.02, .spacing_even = true}, p);
  CHECK(even.deviation.max <= 0.02);
  CHECK(even.surface.points.values().size() < flow.surface.points.values().size());
  // What the user guide says of the sphere of 52 mm within 0.01 mm.
  const Lightened said = lighten(make_sphere({}, 52), {.tolerance = 0.01, .spacing_even = true}, p);
  CHECK(said.surface.points.same_size(13, 9));
  CHECK(lighten(make_sphere({}, 52), {.tolerance = 0.01}, p).surface.points.same_size(28, 19));
  CHECK_THROWS_WITH(lighten(patch(5, 5), {.tolerance = 0.0}, p), Contains("greater than 0"));
  CHECK_THROWS_WITH(lighten(shell_12_10(), {.tolerance = 1e-9, .degree_u = 1, .most = 30}, p),
                    Contains("cannot be kept within"));
}

TEST_CASE("a lightened shape has the fewest control points of all even grids") {
  Progress p;
  struct Case {
    Surface surface;
    LightenOptions options;
  };
  const std::vector<Case> cases{
      {make_sphere({}, 52), {.tolerance = 0.5}},
      {make_sphere({}, 52), {.tolerance = 6.0, .degree_u = 1, .degree_v = 1}},
      {make_sphere({}, 52), {.tolerance = 1.0, .degree_u = 2, .degree_v = 5}},
      {patch(10, 8), {.tolerance = 0.1}},
      {patch(7, 6), {.tolerance = 0.1, .degree_u = 5, .degree_v = 2}}};
  for (const auto& [s, o] : cases) {
    const Lightened light = lighten(s, o, p);
    const int found = light.surface.points.rows() * light.surface.points.columns();
    INFO("found " << light.surface.points.rows() << " × " << light.surface.points.columns());
    CHECK(dense(s, light.surface).max <= o.tolerance * 1.0001);
    // Every pair with fewer points is off by more, measured in full.
    const int least_u = s.u.periodic ? std::max(3, o.degree_u + 1) : o.degree_u + 1;
    const int least_v = o.degree_v + 1;
    int tried = 0;
    for (int u = least_u; u * least_v < found; ++u)
      for (int v = least_v; u * v < found; ++v, ++tried) {
        INFO(u << " × " << v);
        const Surface r = refit(s, uniform_knots(u, o.degree_u, s.u.periodic),
                                uniform_knots(v, o.degree_v, false), {}, p);
        CHECK(deviation(s, r, p).max > o.tolerance);
      }
    CHECK(tried > 5);
  }
  // Known before: 8 × 9 holds within 0.5 mm, and of flat facets 16 × 17 within 1 mm.
  const Surface sphere = make_sphere({}, 52);
  CHECK(lighten(sphere, {.tolerance = 0.5}, p).surface.points.values().size() <= 72);
  CHECK(lighten(sphere, {.tolerance = 1.0, .degree_u = 1, .degree_v = 1}, p)
            .surface.points.values()
            .size() <= 16 * 17);
}

TEST_CASE("a tolerance that no grid can keep is refused without a long search") {
  Progress p;
  const Surface heavy = rebuild(shell_12_10(), {.points_u = 60, .points_v = 60}, p);
  CHECK_THROWS_WITH(lighten(heavy, {.tolerance = 1e-9, .degree_u = 1, .degree_v = 1}, p),
                    Contains("cannot be kept within"));
}

TEST_CASE("high degrees with few points have a best fit") {
  Progress p;
  const Surface sphere = make_sphere({}, 52);
  for (const auto& [u, v, degree] :
       {std::array{12, 12, 11}, std::array{24, 12, 11}, std::array{10, 10, 9}}) {
    INFO(u << " × " << v << " degree " << degree);
    const Surface r =
        refit(sphere, uniform_knots(u, degree, true), uniform_knots(v, degree, false), {}, p);
    CHECK(dense(sphere, r).max < 0.5);
    // No worse than a cubic with as many points that was always found.
    CHECK(dense(sphere, r).max <
          dense(sphere, refit(sphere, uniform_knots(u, 3, true), uniform_knots(5, 3, false), {}, p))
              .max);
  }
  CHECK_NOTHROW(lighten(sphere, {.tolerance = 0.5, .degree_u = 9, .degree_v = 9}, p));
  // What lies in the new space comes back, also at degree 11 on a single span.
  const Surface raised = set_degree(patch(6, 5, 3), 11, 11, p);
  CHECK(worst(raised, refit(raised, raised.u, raised.v, {}, p)) <= 1e-10 * size(raised));
}

TEST_CASE("a rational surface is extended, without its weights where they cannot go on") {
  Progress p;
  std::mt19937 r(11);
  std::uniform_real_distribution<double> weight(0.2, 5.0);
  int plain = 0;
  for (int n = 0; n < 8; ++n) {
    Surface s = patch(7, 6);
    s.weights = Grid<double>(7, 6);
    for (double& w : s.weights.values()) w = weight(r);
    const Extended out = extend(s, {{0, 5.0, 0, 5.0}, 0.02}, p);
    plain += out.unweighted ? 1 : 0;
    INFO("form " << n << (out.unweighted ? " without weights" : " exact"));
    const SurfaceProjector longer(out.surface);
    for (const auto& [u, v] : places(s, 60))
      CHECK(longer.closest(evaluate(s, u, v)).distance <= (out.unweighted ? 0.02 : 1e-8));
    CHECK(deviation(out.surface, s, p).max > 3.0);  // it did grow
    Region added = whole(out.surface);
    added.u_begin = s.u.last();
    added.v_end = s.v.last();
    CHECK(ArcLengthMap(out.surface, Direction::U, added).mean_length() ==
          Approx(5.0).epsilon(0.05));
  }
  CHECK(plain >= 1);
  CHECK(plain < 8);
}

TEST_CASE("neighbours lightened together keep their common border") {
  Progress p;
  const Surface whole_patch = patch(30, 24);
  const auto [left, right] = split(whole_patch, Direction::U, 0.4);
  const std::vector<Surface> both{left, reversed(right, Direction::V)};
  const auto group = linked_directions(both, 0.01);
  CHECK(group[0][1] == group[1][1]);  // v runs along the common border
  CHECK(group[0][0] != group[1][0]);
  const auto light = lighten_together(both, {.tolerance = 0.05}, 0.01, p);
  REQUIRE(light[0].surface.points.columns() == light[1].surface.points.columns());
  const Grid<Vec3>& a = light[0].surface.points;
  const Grid<Vec3>& b = light[1].surface.points;
  for (int j = 0; j < a.columns(); ++j)
    CHECK(distance(a(a.rows() - 1, j), b(0, a.columns() - 1 - j)) <= 1e-9);
}

TEST_CASE("rebuilt neighbours share their border, spaced by flow or by length") {
  Progress p;
  Surface s = patch(16, 12);
  for (double& t : s.v.knots) t = t * t * (1.5 - 0.5 * t);
  const auto [left, right] = split(s, Direction::U, 0.37);
  for (const bool even : {false, true}) {
    const RebuildOptions o{.points_u = 7, .points_v = 9, .even = even};
    const Surface a = rebuild(left, o, p);
    const Surface b = rebuild(right, o, p);
    for (int j = 0; j < 9; ++j) CHECK(distance(a.points(6, j), b.points(0, j)) <= 1e-9);
  }
}

TEST_CASE("evened out, a grid is evener and the shape within the tolerance") {
  Progress p;
  Surface s = patch(12, 9);
  // The same shape with a parameter that rushes through its middle.
  for (double& t : s.u.knots) t = t + 0.12 * std::sin(2.0 * std::numbers::pi * t);
  const EvenedOut r = even_out(s, {.tolerance = 0.02}, p);
  CHECK(r.within_tolerance);
  CHECK(r.after.u_percent > r.before.u_percent + 5.0);
  CHECK(r.after.u_percent > 95.0);
  CHECK(dense(s, r.surface).max <= 0.02 * 1.0001);
  CHECK(evenness(r.surface).u_percent == Approx(r.after.u_percent));

  const EvenedOut kept = even_out(s, {.tolerance = 1e-6, .add_points = false}, p);
  CHECK(kept.surface.points.rows() == 12);
  CHECK_FALSE(kept.within_tolerance);
  // One direction only leaves the other as it was.
  const EvenedOut only_v = even_out(s, {.along_u = false, .tolerance = 0.5}, p);
  CHECK(only_v.after.u_percent == Approx(only_v.before.u_percent).margin(3.0));
  CHECK_THROWS_WITH(even_out(s, {.along_u = false, .along_v = false}, p), Contains("at least one"));
}

TEST_CASE("an extended surface keeps its old region, its counts and its curvature") {
  Progress p;
  const Surface s = patch(9, 7);
  const Extended r = extend(s, {{2.0, 4.0, 3.0, 1.0}}, p);
  CHECK(r.surface.points.same_size(9, 7));
  CHECK(worst(s, r.surface) <= 1e-10 * size(s));
  CHECK(r.gap <= 1e-9);
  CHECK(r.angle <= 1e-4);
  CHECK(r.curvature_share <= 1e-3);
  // Each edge went out by its length: measured along iso-curves of the new part.
  Region added = whole(r.surface);
  added.u_begin = s.u.last();
  CHECK(ArcLengthMap(r.surface, Direction::U, added).mean_length() == Approx(4.0).epsilon(0.02));

  // A cylinder carried on stays the cylinder: closed formula, radius 20.
  const Extended longer = extend(make_cylinder({}, 20, 60), {{0, 0, 5, 7}}, p);
  CHECK(evaluate(longer.surface, 0.1, longer.surface.v.first()).z == Approx(-5.0).epsilon(1e-9));
  CHECK(evaluate(longer.surface, 0.1, longer.surface.v.last()).z == Approx(67.0).epsilon(1e-9));
  const Vec3 q = evaluate(longer.surface, 0.3, 1.05);
  CHECK(std::hypot(q.x, q.y) == Approx(20.0).epsilon(1e-12));
}

TEST_CASE("a shrunk surface is the inner part of the old one with the same counts") {
  Progress p;
  const Surface s = patch(9, 7);
  const Extended r = extend(s, {{0, -30.0, -5.0, 0}}, p);
  CHECK(r.surface.points.same_size(9, 7));
  CHECK(r.surface.u.last() < s.u.last() - 0.3);
  for (const auto& [u, v] : places(r.surface, 60))
    CHECK(distance(evaluate(r.surface, u, v), evaluate(s, u, v)) <= 1e-10 * size(s));
  // Grown again by the same lengths it covers about the old places.
  const Surface grown = extend(r.surface, {{0, 0, 5.0, 0}}, p).surface;
  CHECK(grown.v.first() == Approx(s.v.first()).margin(0.02));
}

TEST_CASE("edges that cannot be extended say why") {
  Progress p;
  const Surface sphere = make_sphere({}, 10);
  CHECK_THROWS_WITH(extend(sphere, {{1, 0, 0, 0}}, p), Contains("u is closed"));
  CHECK_THROWS_WITH(extend(sphere, {{0, 0, 0, 1}}, p), Contains("is a pole"));
  CHECK_NOTHROW(extend(sphere, {{0, 0, 0, -3}}, p));
  CHECK_THROWS_WITH(extend(patch(5, 5), {{0, -200, 0, 0}}, p), Contains("leaves nothing"));
  CHECK_THROWS_WITH(extend(patch(5, 5), {{std::nan(""), 0, 0, 0}}, p), Contains("not a number"));
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(extend(patch(5, 5), {{1, 0, 0, 0}}, cancelled), Cancelled);
}

TEST_CASE("the count plot holds the present choice and falls to the right") {
  Progress p;
  const auto plot = count_plot(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, p);
  REQUIRE(plot.size() >= 10);
  bool chosen = false;
  for (std::size_t k = 0; k < plot.size(); ++k) {
    if (k > 0) CHECK(plot[k].total() > plot[k - 1].total());
    CHECK(plot[k].mean <= plot[k].max);
    if (plot[k].points_u == 10 && plot[k].points_v == 8) {
      chosen = true;
      // Worked by hand: a place p of the rebuilt sphere is off by | |p| − 52 |, whatever is nearest.
      const Surface rebuilt = rebuild(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, p);
      double off = 0.0;
      for (int a = 0; a <= 300; ++a)
        for (int b = 0; b <= 300; ++b)
          off = std::max(off, std::abs(length(evaluate(rebuilt, a / 300.0, b / 300.0)) - 52.0));
      CHECK(plot[k].max == Approx(off).margin(0.01));
    }
  }
  CHECK(chosen);
  CHECK(plot.back().max < 0.05 * plot.front().max);
}

TEST_CASE("the quick judgement of a refit agrees with the deviation") {
  Progress p;
  const Surface s = patch(30, 24);
  for (const int n : {6, 9, 14, 20}) {
    const Surface r = rebuild(s, {.points_u = n, .points_v = n}, p);
    const double quick = ParametricGap(s).to(r);
    const double full = dense(s, r).max;
    CHECK(quick == Approx(full).epsilon(0.3).margin(1e-6));
  }
}

TEST_CASE("points near a pole find their foot whatever the rows beside it look like") {
  // The row beside the pole is pulled about, so that the pole is a wavy cone; a very thin span puts
  // places close to it.
  Progress p;
  Surface s = rebuild(make_sphere({}, 52), {.points_u = 12, .points_v = 10}, p);
  for (int i = 0; i < 12; ++i)
    for (int j = 1; j < 9; ++j)
      s.points(i, j) = s.points(i, j) * (1.0 + 0.15 * std::sin(i * 1.7 + j * 2.3));
  const Surface same = insert_knots(s, Direction::V, std::array<double, 2>{0.003, 0.997});
  CHECK(dense(s, same).max <= 1e-9);
}

TEST_CASE("a refit onto a grid closed in another direction is refused") {
  Progress p;
  const Surface s = patch(6, 6);
  CHECK_THROWS_WITH(refit(s, uniform_knots(6, 3, true), uniform_knots(6, 3, false), {}, p),
                    Contains("Open or close it first"));
}
