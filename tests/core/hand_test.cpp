// The hand: one set of edits for the window and for words, with symmetry, holds and falloff kept.
#include <catch2/catch.hpp>
#include <random>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/document/evaluator.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/operations/catalogue.h"
#include "core/operations/offers.h"
#include "core/operations/point_script.h"
#include "core/points/hand.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

Surface shell() {
  Progress p;
  return rebuild(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, p);
}

Hand hand_on(const Surface& s, SymmetryPlane symmetry = SymmetryPlane::None) {
  Hand h;
  h.below = Nets(s);
  h.shapings = no_shapings(h.below);
  h.shown = h.below;
  h.symmetry = symmetry;
  h.mirrors = find_mirrors(h.shown, symmetry, kMirrorTolerance).value();
  return h;
}

void take(Hand& h, const PointEdit& edit) {
  h.shapings = edited(h, edit);
  h.shown = with_shaping(h.below, h.shapings);
  h.mirrors = find_mirrors(h.shown, h.symmetry, kMirrorTolerance).value();
}

void pick(Hand& h, const Selection& points) {
  h.picked = with_united(h.shown, points);
  h.leader = *points.begin();
}

double worst_partner(const Hand& h) {
  double worst = 0.0;
  for (const MirrorMap& m : h.mirrors)
    for_each_point(h.shown, [&](PointIndex p) {
      worst = std::max(worst,
                       distance(mirrored(h.shown.point(p), m.plane), h.shown.point(m.partner(p))));
    });
  return worst;
}

// Distance of mirrored places from the nearest of a dense grid of places: no projection takes part.
double brute_mirror_gap(const Surface& s, int axis, int grid, int looked, unsigned seed) {
  std::vector<Vec3> cloud;
  for (int i = 0; i <= grid; ++i)
    for (int j = 0; j <= grid; ++j)
      cloud.push_back(evaluate(s, s.u.first() + s.u.length() * i / grid,
                               s.v.first() + s.v.length() * j / grid));
  std::mt19937 r(seed);
  double worst = 0.0;
  for (int k = 0; k < looked; ++k) {
    Vec3 q = cloud[r() % cloud.size()];
    q[static_cast<std::size_t>(axis)] *= -1.0;
    double nearest = 1e9;
    for (const Vec3& c : cloud) nearest = std::min(nearest, distance(c, q));
    worst = std::max(worst, nearest);
  }
  return worst;
}

// A document of one part: the shell and points to be shaped by words.
struct Words {
  Document document;
  PartId part = 0;
};
Words words_on_shell() {
  Progress p;
  Document d;
  Added added = with_part(d, "Shell", make_operation("sphere"));
  d = with_setting(added.document, "Shell/1.radius=52");
  d = with_step(d, added.part, make_operation("rebuild")).document;
  d = with_setting(d, "Shell/2.points_u=10");
  return {with_setting(d, "Shell/2.points_v=8"), added.part};
}

Surface shaped(const Words& w, const std::vector<std::string>& lines) {
  Progress p;
  const Document d = with_point_edits(w.document, w.part, lines, p);
  const Evaluation e = Evaluator().evaluate(d, p, {w.part});
  return *std::get<Body>(*e.parts.at(w.part).shape).faces.at(0).surface;
}

double farthest(const Surface& a, const Surface& b) {
  REQUIRE(a.points.same_size(b.points.rows(), b.points.columns()));
  double worst = 0.0;
  for (std::size_t k = 0; k < a.points.values().size(); ++k)
    worst = std::max(worst, distance(a.points.values()[k], b.points.values()[k]));
  return worst;
}

}  // namespace

TEST_CASE("after any moves and turns a symmetric form is its own mirror image") {
  Progress p;
  using enum SymmetryPlane;
  for (const SymmetryPlane planes : {YZ, XZ, XY, All}) {
    Hand h = hand_on(shell(), planes);
    std::mt19937 r(static_cast<unsigned>(planes));
    std::uniform_real_distribution<double> mm(-4, 4);
    for (int k = 0; k < 25; ++k) {
      INFO("planes " << int(planes) << " edit " << k);
      Selection picked;
      for (int n = 0; n < 3; ++n)
        picked.insert({0, static_cast<int>(r() % 10), static_cast<int>(r() % 8)});
      pick(h, picked);
      h.falloff.reach_along = static_cast<int>(r() % 3);
      h.falloff.reach_across = static_cast<int>(r() % 3);
      const auto any = [&] { return Vec3{mm(r), mm(r), mm(r)}; };
      if (k % 2 == 0)
        take(h, MovePoints{{static_cast<MoveDirection>(r() % 8), mm(r), any()}});
      else
        take(h, TurnPoints{any(), normalized(any()), 5.0 * mm(r)});
      REQUIRE(worst_partner(h) <= 1e-12 * 52);
    }
    const Surface form = with_shaping(shell(), h.shapings.front());
    for (const SymmetryPlane plane : planes_of(planes)) {
      const int axis = plane == YZ ? 0 : (plane == XZ ? 1 : 2);
      CHECK(brute_mirror_gap(form, axis, 120, 100, 7) <= 1e-9);  // the grid is its own image
      const MirrorGap gauge = mirror_gap(form, axis, p);
      INFO("gauge at " << gauge.at.x << " " << gauge.at.y << " " << gauge.at.z << " planes "
                       << int(planes) << " pole " << form.points(0, 0).z << " "
                       << form.points(0, 7).z);
      CHECK(gauge.max <= 1e-8);
    }
  }
}

TEST_CASE("the mirror gauge says how far a form is from its image") {
  Progress p;
  Hand h = hand_on(shell());
  pick(h, {{0, 2, 4}});
  take(h, MovePoints{{MoveDirection::OffSkin, 9.0, {}}});
  const Surface form = with_shaping(shell(), h.shapings.front());
  const double grid_step = 52.0 * 3.15 / 300;  // places of the dense grid are that far apart
  CHECK(mirror_gap(form, 0, p).max ==
        Approx(brute_mirror_gap(form, 0, 300, 4000, 3)).margin(grid_step));
}

TEST_CASE("pulled skin goes exactly there, with symmetry and with falloff") {
  for (const SymmetryPlane planes : {SymmetryPlane::None, SymmetryPlane::XZ, SymmetryPlane::All})
    for (const int reach : {0, 2}) {
      INFO(int(planes) << " " << reach);
      Hand h = hand_on(shell(), planes);
      h.falloff.reach_along = h.falloff.reach_across = reach;
      const SkinPlace place = skin_place(h.shown, 0, 0.13, 0.6);
      const Vec3 before = skin_point(h.shown, place);
      const Vec3 way{2.0, -1.0, 3.0};
      take(h, PullSkin{place, way});
      CHECK(distance(skin_point(h.shown, place), before + way) <= 1e-6);
      CHECK(worst_partner(h) <= 1e-12 * 52);
    }
}

TEST_CASE("words do just what the hand does") {
  const Words w = words_on_shell();
  const Surface below = shell();
  const auto by_hand = [&](Hand h, const std::vector<PointEdit>& edits) {
    for (const PointEdit& e : edits) take(h, e);
    return with_shaping(below, h.shapings.front());
  };
  Hand h = hand_on(below, SymmetryPlane::XZ);
  pick(h, {{0, 2, 4}});
  h.falloff = {FalloffShape::Dome, FalloffShape::Bell, 2, 1, 1.5, 1.5};
  const std::vector<std::string> begin{"symmetry xz", "falloff 2 1 dome bell strength 1.5",
                                       "pick [2,4]"};
  const auto said = [&](std::vector<std::string> lines) {
    lines.insert(lines.begin(), begin.begin(), begin.end());
    return shaped(w, lines);
  };
  const SkinPlace place = skin_place(h.shown, 0, 0.31, 0.55);
  const Vec3 mean = pivot_place(h.shown, h.picked, h.leader, h.symmetry, Pivot::Symmetry);
  Frame about;
  about.origin = mean;
  CHECK(farthest(said({"pull 0.31 0.55 by 1 2 3"}), by_hand(h, {PullSkin{place, {1, 2, 3}}})) == 0);
  CHECK(farthest(said({"scale 1.2 1 0.8 about symmetry"}),
                 by_hand(h, {ScalePoints{about, {1.2, 1, 0.8}}})) == 0);
  CHECK(farthest(said({"move off_skin 4", "smooth 0.3", "weight 2", "back"}),
                 by_hand(h, {MovePoints{{MoveDirection::OffSkin, 4, {}}}, SmoothPoints{0.3},
                             SetWeight{2}, BringBack{}})) == 0);
}

TEST_CASE("a side made to answer the other is the same by hand and by words") {
  const Words w = words_on_shell();
  Hand h = hand_on(shell());
  pick(h, {{0, 2, 4}});
  take(h, MovePoints{{MoveDirection::OffSkin, 6, {}}});
  take(h, MakeSymmetric{SymmetryPlane::XZ});
  const Surface by_hand = with_shaping(shell(), h.shapings.front());
  CHECK(farthest(shaped(w, {"pick [2,4]", "move off_skin 6", "symmetric"}), by_hand) == 0);
  CHECK(farthest(shaped(w, {"pick [2,4]", "move off_skin 6", "symmetric xz"}), by_hand) == 0);
  Progress p;
  CHECK(mirror_gap(by_hand, 1, p).max <= 1e-8);
}

TEST_CASE("an edit that cannot be says what to do and changes nothing") {
  Hand h = hand_on(shell());
  CHECK_THROWS_WITH(edited(h, MovePoints{}), Contains("Pick the points first"));
  CHECK_THROWS_WITH(edited(h, LevelToMean{}), Contains("Pick the points first"));
  CHECK_NOTHROW(edited(h, PullSkin{skin_place(h.shown, 0, 0.5, 0.5), {0, 0, 1}}));
  pick(h, {{0, 2, 4}});
  take(h, MovePoints{{MoveDirection::OffSkin, 6, {}}});
  h.symmetry = SymmetryPlane::XZ;  // asked for on points that are not symmetric any more
  h.mirrors.clear();
  CHECK_THROWS_WITH(edited(h, MovePoints{{MoveDirection::X, 1, {}}}),
                    Contains("make them symmetric first"));
  CHECK_NOTHROW(edited(h, MakeSymmetric{SymmetryPlane::XZ}));
  const Surface sheet = [] {
    Progress p;
    return rebuild(make_plane({}, 40, 30, 2, 2, 1, 1), {.points_u = 6, .points_v = 5}, p);
  }();
  Hand flat = hand_on(sheet);
  pick(flat, {{0, 0, 0}});
  take(flat, MovePoints{{MoveDirection::X, 30, {}}});
  CHECK_NOTHROW(edited(flat, MakeSymmetric{SymmetryPlane::XZ}));
}
