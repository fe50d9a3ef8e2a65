// Meshes that no one here made (packages bunny and teapot of the npm registry, fetched by scripts/test-data, which
// computes their measures in Python): brought in, measured, carried as tiles, handed over; and large STL files.
#include <unistd.h>

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <nlohmann/json.hpp>
#include <numbers>
#include <numeric>
#include <random>
#include <sstream>

#include "core/base/error.h"
#include "core/check/measures.h"
#include "core/cut/thick_mesh.h"
#include "core/exchange/brought_file.h"
#include "core/exchange/export.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/operations/report.h"
#include "core/operations/watching.h"
#include "core/pattern/flow.h"
#include "core/scan/clip.h"
#include "core/scan/fit_scan.h"
#include "core/scan/mesh_convert.h"

using namespace evenclay;

namespace {

std::string text_of(const std::filesystem::path& file) {
  std::ostringstream all;
  all << std::ifstream(file, std::ios::binary).rdbuf();
  return all.str();
}

struct Known {
  TriangleMesh mesh;
  nlohmann::json measures;
};

// Nothing, said aloud, where the registry could not be reached.
std::optional<Known> known(const std::string& name) {
  const std::filesystem::path folder(EVENCLAY_TEST_DATA);
  const auto obj = folder / (name + ".obj");
  if (!std::filesystem::exists(obj)) {
    WARN(name + ".obj is not there: scripts/test-data could not fetch it");
    return std::nullopt;
  }
  Progress progress;
  const BroughtFile brought = read_file(name + ".obj", text_of(obj), 1, progress);
  REQUIRE(brought.parts.size() == 1);
  return Known{std::get<TriangleMesh>(*brought.parts[0].shape),
               nlohmann::json::parse(text_of(folder / (name + ".json")))};
}

struct Path {
  std::filesystem::path file;
  explicit Path(const char* name)
      : file(std::filesystem::temp_directory_path() / (std::to_string(::getpid()) + name)) {}
  ~Path() { std::filesystem::remove(file); }
};

}  // namespace

TEST_CASE("the bunny and the teapot of the registry have the measures that other code finds") {
  for (const char* name : {"bunny", "teapot"}) {
    const auto k = known(name);
    if (!k) continue;
    INFO(name);
    CHECK(k->mesh.triangles.size() == k->measures["triangles"].get<std::size_t>());
    // Files of this kind are read in single precision.
    CHECK(area(k->mesh) == Approx(k->measures["area"].get<double>()).epsilon(1e-5));
    CHECK(volume(k->mesh) == Approx(k->measures["volume"].get<double>()).epsilon(1e-5));
    const Box3 b = box(k->mesh);
    for (std::size_t c = 0; c < 3; ++c) {
      CHECK(b.min[c] == Approx(k->measures["min"][c].get<double>()).margin(1e-5));
      CHECK(b.max[c] == Approx(k->measures["max"][c].get<double>()).margin(1e-5));
    }
  }
}

TEST_CASE("a mesh from elsewhere goes out as STL and comes back with its measures") {
  for (const char* name : {"bunny", "teapot"}) {
    const auto k = known(name);
    if (!k) continue;
    Progress progress;
    const Path path("-registry.stl");
    export_shape(k->mesh, path.file, {.name = name}, progress);
    const BroughtFile back = read_file("back.stl", text_of(path.file), 1, progress);
    const auto& mesh = std::get<TriangleMesh>(*back.parts.at(0).shape);
    CHECK(area(mesh) == Approx(k->measures["area"].get<double>()).epsilon(1e-5));
    CHECK(volume(mesh) == Approx(k->measures["volume"].get<double>()).epsilon(1e-5));
  }
}

TEST_CASE("the bunny as a tile stands on a cylinder, once for each repeat") {
  const auto k = known("bunny");
  if (!k) return;
  Progress progress;
  // Its feet are at y = 0: turned upright, y is the height.
  PatternBase base;
  base.frame = {{-6, 0, 6}, {1, 0, 0}, {0, 0, -1}, {0, 1, 0}};
  base.length_x = base.length_y = 12;
  FlowOptions o;
  o.count_u = 7;
  o.count_v = 3;
  o.even = true;
  const double radius = 7 * 12 / (2 * std::numbers::pi);
  const TriangleMesh r =
      flow(over_base(k->mesh, base), chart_of(make_cylinder({}, radius, 36)), o, {}, progress);
  check(r);
  CHECK(r.points.size() == 21 * k->mesh.points.size());  // nothing reaches its tile's edge
  CHECK(check_edges(r).open == 21 * check_edges(k->mesh).open);
  // Heights stay: the ears are as far from the skin as from the floor.
  double highest = 0.0;
  for (const Vec3& p : r.points) highest = std::max(highest, std::hypot(p.x, p.y) - radius);
  CHECK(highest == Approx(9.654748).margin(1e-5));
}

// J. Steiner's formula for the volume beside a skin, 1840: A t ± M t² + … (A area, M integral of the mean curvature); in the
// sum of both sides M drops out.
TEST_CASE("thin walls on both sides of the bunny have the volume of Steiner's formula") {
  const auto k = known("bunny");
  if (!k) return;
  Progress progress;
  const double t = 0.02;
  double both = 0.0;
  for (const ThickenSide side : {ThickenSide::Inward, ThickenSide::Outward}) {
    const ThickMesh wall = thickened(k->mesh, t, side, progress);
    CHECK(check_edges(wall.mesh).watertight());
    both += volume(wall.mesh);
  }
  CHECK(both == Approx(2.0 * k->measures["area"].get<double>() * t).margin(0.02));
}

TEST_CASE("an STL file is written piece by piece as it would be in one go") {
  Progress progress;
  const TriangleMesh ball =
      tessellate(make_sphere({}, 10), {.per_span_u = 128, .per_span_v = 128}, progress);
  REQUIRE(ball.triangles.size() > 120'000);  // more than two pieces
  const Path path("-pieces.stl");
  export_shape(ball, path.file, {.name = "Ball"}, progress);
  CHECK(text_of(path.file) == to_stl(ball, "Ball"));
  CHECK(progress.share() == Approx(1.0));
}

TEST_CASE("an STL export that is cancelled leaves the file that was there, and nothing beside it") {
  Progress progress;
  const TriangleMesh ball =
      tessellate(make_sphere({}, 10), {.per_span_u = 64, .per_span_v = 64}, progress);
  const auto folder =
      std::filesystem::temp_directory_path() / ("cancelled-" + std::to_string(::getpid()));
  std::filesystem::create_directories(folder);
  std::ofstream(folder / "a.stl") << "before";
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(export_shape(ball, folder / "a.stl", {}, cancelled), Cancelled);
  CHECK(text_of(folder / "a.stl") == "before");
  CHECK(std::distance(std::filesystem::directory_iterator(folder), {}) == 1);
  std::filesystem::remove_all(folder);
}

TEST_CASE(
    "a region of the bunny is clipped, fitted and measured, whatever the order of its triangles") {
  const auto k = known("bunny");
  if (!k) return;
  Progress progress;
  TriangleMesh bunny = k->mesh;
  const Box3 b = box(bunny);
  const double size = b.size();
  for (Vec3& p : bunny.points) p = (p - b.centre()) * (150.0 / size);  // as large as a hand
  // Its flank: what looks along one axis about the middle, seen from there.
  Lasso lasso;
  lasso.view = {{}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}};
  for (int n = 0; n < 60; ++n) {
    const double a = 2.0 * std::numbers::pi * n / 60.0;
    lasso.outline.push_back({-5.0 + 26.0 * std::cos(a), -18.0 + 20.0 * std::sin(a), 0.0});
  }
  lasso.visible_only = true;
  const TriangleMesh region = clipped(bunny, {{lasso}, 0.0, 0.05}, progress);
  REQUIRE(region.points.size() > 100);
  for (const Vec3& p : region.points)
    CHECK(std::hypot((p.x + 5.0) / 26.0, (p.y + 18.0) / 20.0) < 1.01);
  ScanFitPlan plan;
  plan.frame = frame_facing(region.points, {0, 0, 1}, {1, 0, 0});
  plan.points_u = 10;
  plan.points_v = 9;
  const ScanFit fit = fit_scan(region.points, plan, progress);
  CHECK(fit.percentile95 < 1.0);
  // What the fit says of itself is what the closest points of its surface say.
  const WatchReport watched_by = watched(body_of({fit.surface}), region, 1.0, progress);
  if (fit.strays == 0) CHECK(watched_by.max == Approx(fit.max).margin(1e-3));
  CHECK(watched_by.mean <= fit.mean + 0.05);
  TriangleMesh shuffled = region;
  std::mt19937 random(5);
  std::vector<std::uint32_t> order(region.points.size());
  std::iota(order.begin(), order.end(), 0U);
  std::shuffle(order.begin(), order.end(), random);
  for (std::size_t n = 0; n < order.size(); ++n) shuffled.points[order[n]] = region.points[n];
  const ScanFit again = fit_scan(shuffled.points, plan, progress);
  CHECK(again.mean == Approx(fit.mean).margin(1e-9));
  CHECK(distance(evaluate(again.surface, 0.3, 0.6), evaluate(fit.surface, 0.3, 0.6)) < 1e-7);
}

TEST_CASE("the bunny converted to surfaces lies near its triangles and has about their area") {
  const auto k = known("bunny");
  if (!k) return;
  Progress progress;
  TriangleMesh bunny = k->mesh;
  const double size = box(bunny).size();
  for (Vec3& p : bunny.points) p = p * (150.0 / size);
  const MeshConverted c =
      converted(bunny, {10, 10, 60.0 * std::numbers::pi / 180.0, 0.0005, 3}, progress);
  check(c.body);
  double skin = 0.0;
  for (const Face& f : c.body.faces) skin += area(f, progress);
  const double known_area = k->measures["area"].get<double>() * std::pow(150.0 / size, 2);
  CHECK(c.body.faces.size() < 60);
  CHECK(std::abs(skin - known_area) < 600.0);
  CHECK(c.mean < 0.1);
}
