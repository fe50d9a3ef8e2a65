// The stand-in printer against closed formulas, and mended meshes.
#include <catch2/catch.hpp>
#include <cmath>
#include <numbers>
#include <random>

#include "core/base/error.h"
#include "core/check/walls.h"
#include "core/document/evaluator.h"
#include "core/mesh/repair.h"
#include "core/operations/catalogue.h"
#include "core/operations/print_check.h"
#include "core/stand_ins/printer.h"
#include "mesh_shapes.h"

using namespace evenclay;
using evenclay::testing::box_mesh;
using std::numbers::pi;

namespace {

// A body of revolution about z of (radius, height) pairs that begin and end on the axis, from below to above.
TriangleMesh turned_mesh(const std::vector<std::array<double, 2>>& profile, int around) {
  TriangleMesh m;
  const auto n = static_cast<std::uint32_t>(around);
  for (const auto& [r, z] : profile)
    for (std::uint32_t k = 0; k < n; ++k) {
      const double a = 2.0 * pi * k / around;
      m.points.push_back({r * std::cos(a), r * std::sin(a), z});
    }
  for (std::uint32_t row = 0; row + 1 < profile.size(); ++row)
    for (std::uint32_t k = 0; k < n; ++k) {
      const std::uint32_t a = row * n + k, b = row * n + (k + 1) % n, c = a + n, d = b + n;
      if (profile[row][0] > 0.0) m.triangles.push_back({a, b, d});
      if (profile[row + 1][0] > 0.0) m.triangles.push_back({a, d, c});
    }
  return repaired(m, 1e-9, *std::make_unique<Progress>()).mesh;
}

double layers_volume(const std::vector<Slice>& layers, double height) {
  double sum = 0.0;
  for (const Slice& s : layers) sum += s.area * height;
  return sum;
}

TriangleMesh turned_about_z(TriangleMesh m, double degrees) {
  const double c = std::cos(degrees * pi / 180), s = std::sin(degrees * pi / 180);
  for (Vec3& p : m.points) p = {c * p.x - s * p.y, s * p.x + c * p.y, p.z};
  return m;
}

}  // namespace

TEST_CASE("layers of a block have its area and outline, and add up to its volume") {
  Progress progress;
  const TriangleMesh block = laid(box_mesh({5, 6, 7}, {30, 20, 10}),
                                  lay_turned(box_mesh({5, 6, 7}, {30, 20, 10}), {}, {}));
  const std::vector<Slice> layers = slices(block, 0.2, progress);
  REQUIRE(layers.size() == 50);
  for (const Slice& s : layers) {
    CHECK(s.loops.size() == 1);
    CHECK(s.open == 0);
    CHECK(s.area == Approx(600.0));
    CHECK(s.length == Approx(100.0));
  }
  CHECK(layers_volume(layers, 0.2) == Approx(6000.0));
}

TEST_CASE("layers of a ball add up to 4/3 π r³, as B. Cavalieri has it") {
  Progress progress;
  std::vector<std::array<double, 2>> profile;
  for (int k = 0; k <= 200; ++k)
    profile.push_back({k == 0 || k == 200 ? 0.0 : 20.0 * std::sin(pi * k / 200),
                       20.0 - 20.0 * std::cos(pi * k / 200)});
  const TriangleMesh ball = turned_mesh(profile, 240);
  const std::vector<Slice> layers = slices(ball, 0.1, progress);
  CHECK(layers.size() == 400);
  CHECK(layers_volume(layers, 0.1) == Approx(4.0 / 3.0 * pi * 8000.0).epsilon(1e-3));
  // The widest outline is the equator.
  double longest = 0.0;
  for (const Slice& s : layers) longest = std::max(longest, s.length);
  CHECK(longest == Approx(2.0 * pi * 20.0).epsilon(1e-3));
}

TEST_CASE("the inside of a tube is left out of its layers") {
  Progress progress;
  const TriangleMesh tube = turned_mesh({{10, 0}, {20, 0}, {20, 30}, {10, 30}, {10, 0}}, 180);
  CHECK(check_edges(tube).watertight());
  for (const Slice& s : slices(tube, 0.5, progress)) {
    CHECK(s.loops.size() == 2);
    CHECK(s.area == Approx(pi * (400.0 - 100.0)).epsilon(1e-3));
    CHECK(s.length == Approx(2.0 * pi * 30.0).epsilon(1e-3));
  }
}

TEST_CASE("a cone on its tip hangs over with its whole side, and is laid on its base") {
  Progress progress;
  // Radius 20, height 10: its side leans 63.4° from the upright.
  const TriangleMesh cone = turned_mesh({{0, 0}, {20, 0}, {0, 10}}, 360);
  const Lay stands = lay_turned(cone, {}, {});
  CHECK(stands.overhang == Approx(0.0).margin(1e-9));
  const Lay on_tip = lay_turned(cone, {180, 0, 0}, {});
  CHECK(on_tip.overhang == Approx(pi * 20.0 * std::hypot(20.0, 10.0)).epsilon(1e-3));
  // Between the side and the bed: the cylinder without the cone.
  CHECK(on_tip.supported == Approx(2.0 / 3.0 * pi * 400.0 * 10.0).epsilon(1e-3));
  // Below the angle nothing counts.
  CHECK(lay_turned(cone, {180, 0, 0}, {.overhang = 65.0}).overhang == 0.0);
  const TriangleMesh upside_down = laid(cone, on_tip);
  const Lay best = best_lay(upside_down, {}, progress);
  CHECK(best.overhang == Approx(0.0).margin(1e-9));
  CHECK(best.size.z == Approx(10.0));
  // The lowest place is a face as large as the base.
  double on_bed = 0.0;
  const TriangleMesh lying = laid(upside_down, best);
  for (const auto& t : lying.triangles) {
    bool flat = true;
    for (const auto v : t) flat = flat && lying.points[v].z < 1e-9;
    if (flat)
      on_bed += 0.5 * length(cross(lying.points[t[1]] - lying.points[t[0]],
                                   lying.points[t[2]] - lying.points[t[0]]));
  }
  CHECK(on_bed == Approx(pi * 400.0).epsilon(1e-3));
}

TEST_CASE("the best lay needs the smallest rectangle, and a bed that is too small is said") {
  Progress progress;
  const TriangleMesh block = turned_about_z(box_mesh({}, {100, 40, 10}), 33.0);
  const Lay best = best_lay(block, {}, progress);
  CHECK(best.size.x == Approx(100.0));
  CHECK(best.size.y == Approx(40.0));
  CHECK(best.size.z == Approx(10.0));
  CHECK(best.fits);
  CHECK(best_lay(block, {.bed = {50, 50, 50}}, progress).fits == false);
  // On a small bed it stands upright rather than not at all.
  const Lay upright = best_lay(block, {.bed = {50, 50, 120}}, progress);
  CHECK(upright.fits);
  CHECK(upright.size.z == Approx(100.0));
  CHECK_THROWS_AS(best_lay({}, {}, progress), Error);
}

TEST_CASE(
    "a block tips over when its middle is above its edge, and is not laid on its narrow side") {
  Progress progress;
  // Half its width against half its height.
  const TriangleMesh wall = box_mesh({7, 8, 9}, {60, 4, 40});
  CHECK(lay_turned(wall, {}, {}).tips_at == Approx(std::atan2(2.0, 20.0) * 180 / pi));
  CHECK(best_lay(wall, {}, progress).size.z == Approx(4.0));
  CHECK(best_lay(wall, {}, progress).tips_at == Approx(std::atan2(20.0, 2.0) * 180 / pi));
  // A cone's middle is a quarter of its height above its base.
  const TriangleMesh cone = turned_mesh({{0, 0}, {20, 0}, {0, 40}}, 360);
  CHECK(lay_turned(cone, {}, {}).tips_at == Approx(45 + 18.435).epsilon(1e-3));  // atan 20/10
  CHECK(lay_turned(cone, {180, 0, 0}, {}).tips_at < 1.0);
}

TEST_CASE("a solid cube of plastic weighs its volume, and its thread has its length") {
  Progress progress;
  const std::vector<Slice> layers = slices(box_mesh({}, {10, 10, 10}), 0.2, progress);
  const PrintEstimate full = estimate(layers, 0.0, {.infill = 1.0});
  CHECK(full.material == Approx(1000.0));
  CHECK(full.grams == Approx(1.24));  // polylactide, 1.24 g/cm³: common practice
  CHECK(full.filament == Approx(1000.0 / (pi * 1.75 * 1.75 / 4.0) / 1000.0));
  // Hollow: two walls of 0.45 mm round each layer, eight full layers of fifty.
  const PrintEstimate hollow = estimate(layers, 0.0, {.line = 0.45, .walls = 2, .infill = 0.0});
  CHECK(hollow.material == Approx(8 * 100 * 0.2 + 42 * (2 * 40 * 0.45) * 0.2));
  CHECK(hollow.hours < full.hours);
  CHECK(estimate(layers, 500.0, {.infill = 1.0, .support = 0.2}).support == Approx(100.0));
}

TEST_CASE("too many layers are refused, open outlines are counted") {
  Progress progress;
  CHECK_THROWS_WITH(slices(box_mesh({}, {10, 10, 500}), 0.02, progress), Catch::Contains("layers"));
  TriangleMesh open = box_mesh({}, {10, 10, 10});
  open.triangles.resize(10);  // without the side at x = 10
  std::size_t count = 0;
  for (const Slice& s : slices(open, 1.0, progress)) count += s.open;
  CHECK(count == 10);
  CHECK(slices({}, 0.2, progress).empty());
}

TEST_CASE("walls have the thickness they were made with") {
  Progress progress;
  TriangleMesh hollow = box_mesh({}, {40, 40, 40});
  TriangleMesh inside = box_mesh({3, 3, 3}, {34, 34, 34});
  for (auto& t : inside.triangles) std::swap(t[1], t[2]);
  append(hollow, inside);
  double least = kNoWall;
  for (const double t : wall_thickness(hollow, RayScene(hollow), progress))
    least = std::min(least, t);
  CHECK(least == Approx(3.0).epsilon(1e-5));
}

TEST_CASE("a spoiled box is mended: welded, turned, closed, without what is too much") {
  Progress progress;
  const TriangleMesh good = box_mesh({1, 2, 3}, {30, 20, 10});
  std::mt19937 random(3);
  for (int trial = 0; trial < 20; ++trial) {
    TriangleMesh bad;  // each triangle by itself
    for (const auto& t : good.triangles) {
      const auto first = static_cast<std::uint32_t>(bad.points.size());
      for (const auto v : t) bad.points.push_back(good.points[v]);
      bad.triangles.push_back({first, first + 1, first + 2});
      if (random() % 2 == 0) std::swap(bad.triangles.back()[1], bad.triangles.back()[2]);
    }
    bad.triangles.push_back(bad.triangles.front());              // twice
    bad.triangles.erase(bad.triangles.begin() + random() % 12);  // an opening
    const Repaired r = repaired(bad, 1e-6, progress);
    CHECK(check_edges(r.mesh).watertight());
    CHECK(volume(r.mesh) == Approx(6000.0));
    CHECK(r.mended.any());
    CHECK(r.mended.left_open == 0);
    CHECK(r.mesh.points.size() == 8);
  }
  CHECK_FALSE(repaired(good, 1e-6, progress).mended.any());
}

TEST_CASE("openings are filled with the least area, also long and bent ones") {
  Progress progress;
  // A tube without its ends: each is a flat ring of 400 edges, filled from its middle; and one of 40.
  for (const int around : {40, 400}) {
    TriangleMesh tube;
    for (int row = 0; row < 2; ++row)
      for (int k = 0; k < around; ++k)
        tube.points.push_back({10.0 * std::cos(2 * pi * k / around),
                               10.0 * std::sin(2 * pi * k / around), 25.0 * row});
    const auto n = static_cast<std::uint32_t>(around);
    for (std::uint32_t k = 0; k < n; ++k) {
      tube.triangles.push_back({k, (k + 1) % n, n + (k + 1) % n});
      tube.triangles.push_back({k, n + (k + 1) % n, n + k});
    }
    const Repaired r = repaired(tube, 1e-6, progress);
    CHECK(r.mended.filled == 2);
    CHECK(check_edges(r.mesh).watertight());
    const double circle = 0.5 * around * 100.0 * std::sin(2 * pi / around);  // of the polygon
    CHECK(volume(r.mesh) == Approx(25.0 * circle));
    CHECK(area(r.mesh) == Approx(area(tube) + 2.0 * circle));
  }
}

namespace {

struct Checked {
  PartResult result;
  std::string notes;
};

Checked checked(const Document& d,
                const std::vector<std::pair<std::string, std::string>>& settings) {
  Added a = with_part(d, "Print check", make_operation("print_check"));
  for (const auto& [name, value] : settings)
    a.document = with_step_parameter(a.document, a.step, name, value);
  Progress progress;
  Checked c{Evaluator().evaluate(a.document, progress, {a.part}).parts.at(a.part), {}};
  for (const std::string& n : c.result.steps.front().notes) c.notes += n + "\n";
  return c;
}

}  // namespace

TEST_CASE("print check lays a part on the bed and says what holds") {
  auto sphere = make_operation("sphere");
  Document d = with_part({}, "Ball", sphere).document;
  d = with_setting(d, "Ball/1.radius=30");
  const std::string part = std::to_string(d.parts.front().id);
  const Checked ball = checked(d, {{"of", part}, {"infill", "100"}});
  REQUIRE_FALSE(ball.result.failed);
  const auto& mesh = std::get<TriangleMesh>(*ball.result.shape);
  CHECK(box(mesh).min.z == Approx(0.0).margin(1e-9));
  CHECK(box(mesh).max.z == Approx(60.0).epsilon(1e-3));
  CHECK_THAT(ball.notes, Catch::Contains("Fits: 60.0 × 60.0 × 60.0 mm"));
  CHECK_THAT(ball.notes, Catch::Contains("The triangles are watertight."));
  CHECK_THAT(ball.notes, Catch::Contains("300 layers"));
  // Below 45° lies the cap of height r (1 − √½): its area is 2 π r h (Archimedes).
  const double cap = 2.0 * pi * 30.0 * 30.0 * (1.0 - std::sqrt(0.5));
  const auto at = ball.notes.find(" mm² lean over");
  REQUIRE(at != std::string::npos);
  const auto begin = ball.notes.rfind('\n', at) + 1;
  CHECK(std::stod(ball.notes.substr(begin, at - begin)) == Approx(cap).epsilon(0.02));
  CHECK(ball.result.steps.front().marks.size() == 12);  // the edges of the bed's space

  const Checked layers = checked(d, {{"of", part}, {"show", "layers"}, {"shown", "100"}});
  // 300 bands of 0.2 mm around circles of radius √(r² − (z − r)²): their area is that of the ball's zones laid upright,
  // ∫ 2 π √(r² − (z − r)²) dz = π² r².
  const auto& stack = std::get<TriangleMesh>(*layers.result.shape);
  CHECK(area(stack) == Approx(pi * pi * 900.0).epsilon(0.01));
  CHECK(box(stack).max.z == Approx(60.0).epsilon(1e-3));
  const Checked one = checked(d, {{"of", part}, {"show", "one_layer"}, {"shown", "50"}});
  const auto& band = std::get<TriangleMesh>(*one.result.shape);
  CHECK(box(band).max.z - box(band).min.z == Approx(0.2));
  CHECK(box(band).max.x == Approx(30.0).epsilon(1e-3));
  const Checked large = checked(d, {{"of", part}, {"bed", "own"}, {"bed_width", "50"}});
  CHECK_THAT(large.notes,
             Catch::Contains("Does not fit") && Catch::Contains("too large by 10.0 mm"));
}

TEST_CASE("an open part is not mended silently") {
  const Document d = with_part({}, "Sheet", make_operation("plane")).document;
  const std::string part = std::to_string(d.parts.front().id);
  const Checked open = checked(d, {{"of", part}, {"lay", "stands"}});
  CHECK_THAT(open.notes, Catch::Contains("Not watertight") && Catch::Contains("Repaired copy"));
  const Checked none = checked(d, {});
  CHECK(none.result.failed);
  CHECK_THAT(none.result.steps.front().message, Catch::Contains("Choose one"));
}
