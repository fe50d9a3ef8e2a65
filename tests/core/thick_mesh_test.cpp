// Skins of triangles given a thickness, against volumes by formula.
#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <numbers>
#include <regex>

#include "core/base/error.h"
#include "core/cut/thick_mesh.h"
#include "core/document/evaluator.h"
#include "core/mesh/closest_point.h"
#include "core/operations/catalogue.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/solids.h"
#include "core/operations/tiles.h"
#include "mesh_shapes.h"

using namespace evenclay;
using evenclay::testing::box_mesh;

namespace {

ThickMesh thick(const TriangleMesh& skin, double thickness, ThickenSide side) {
  Progress progress;
  return thickened(skin, thickness, side, progress);
}

std::string refusal(const TriangleMesh& skin, double thickness, ThickenSide side) {
  try {
    (void)thick(skin, thickness, side);
  } catch (const Error& e) {
    return e.what();
  }
  return "";
}

// The thickness that a refusal names.
double room_in(const std::string& sentence) {
  std::smatch found;
  REQUIRE(std::regex_search(sentence, found, std::regex("thickness of ([0-9.]+) mm")));
  return std::stod(found[1]);
}

// The icosahedron of edge 2, twelve corners (0, ±1, ±φ) turned through the axes.
TriangleMesh icosahedron() {
  const double g = std::numbers::phi;
  TriangleMesh m;
  for (const double a : {-1.0, 1.0})
    for (const double b : {-g, g})
      for (const Vec3& p : {Vec3{0, a, b}, Vec3{a, b, 0}, Vec3{b, 0, a}}) m.points.push_back(p);
  for (std::uint32_t i = 0; i < 12; ++i)
    for (std::uint32_t j = i + 1; j < 12; ++j)
      for (std::uint32_t k = j + 1; k < 12; ++k) {
        const auto edge = [&](std::uint32_t p, std::uint32_t q) {
          return std::abs(distance(m.points[p], m.points[q]) - 2.0) < 1e-9;
        };
        if (!edge(i, j) || !edge(j, k) || !edge(i, k)) continue;
        const Vec3 out = cross(m.points[j] - m.points[i], m.points[k] - m.points[i]);
        if (dot(out, m.points[i]) > 0.0)
          m.triangles.push_back({i, j, k});
        else
          m.triangles.push_back({i, k, j});
      }
  return m;
}

// A ball of triangles about the origin with the ball's own normals.
TriangleMesh ball(double radius, int halvings) {
  TriangleMesh m = icosahedron();
  for (int h = 0; h < halvings; ++h) {
    std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> middles;
    const auto middle = [&](std::uint32_t a, std::uint32_t b) {
      const auto [at, fresh] =
          middles.try_emplace(std::minmax(a, b), static_cast<std::uint32_t>(m.points.size()));
      if (fresh) m.points.push_back((m.points[a] + m.points[b]) * 0.5);
      return at->second;
    };
    std::vector<std::array<std::uint32_t, 3>> finer;
    for (const auto& [a, b, c] : m.triangles) {
      const std::uint32_t ab = middle(a, b), bc = middle(b, c), ca = middle(c, a);
      for (const auto& t : {std::array{a, ab, ca}, std::array{ab, b, bc}, std::array{ca, bc, c},
                            std::array{ab, bc, ca}})
        finer.push_back(t);
    }
    m.triangles = std::move(finer);
  }
  for (Vec3& p : m.points) {
    m.normals.push_back(normalized(p));
    p = m.normals.back() * radius;
  }
  return m;
}

// Two squares of 10 mm, the room between them beyond the lower one's outside and the upper one's.
TriangleMesh facing_plates(double apart) {
  TriangleMesh m;
  for (const double z : {0.0, apart})
    for (int k = 0; k < 4; ++k) m.points.push_back({10.0 * (k & 1), 10.0 * (k >> 1), z});
  m.triangles = {{0, 1, 3}, {0, 3, 2}, {4, 7, 5}, {4, 6, 7}};
  return m;
}

}  // namespace

TEST_CASE("a box of triangles gets walls of exactly the thickness, mitred at its edges") {
  const TriangleMesh box = box_mesh({1, 2, 3}, {20, 30, 40});
  const ThickMesh in = thick(box, 2.0, ThickenSide::Inward);
  CHECK(check_edges(in.mesh).watertight());
  CHECK(volume(in.mesh) == Approx(20.0 * 30 * 40 - 16.0 * 26 * 36).margin(1e-8));
  CHECK(in.off < 1e-12);
  CHECK(in.walls == 0);
  const ThickMesh out = thick(box, 2.0, ThickenSide::Outward);
  CHECK(volume(out.mesh) == Approx(24.0 * 34 * 44 - 20.0 * 30 * 40).margin(1e-8));
  const ThickMesh both = thick(box, 2.0, ThickenSide::BothSides);
  CHECK(volume(both.mesh) == Approx(22.0 * 32 * 42 - 18.0 * 28 * 38).margin(1e-8));
}

TEST_CASE("a box of triangles without its top gets a flat rim in the plane of the opening") {
  TriangleMesh open = box_mesh({0, 0, 0}, {20, 30, 40});
  open.triangles.erase(open.triangles.begin() + 2, open.triangles.begin() + 4);
  const ThickMesh in = thick(open, 2.0, ThickenSide::Inward);
  CHECK(check_edges(in.mesh).watertight());
  CHECK(in.walls == 4);
  CHECK(volume(in.mesh) == Approx(20.0 * 30 * 40 - 16.0 * 26 * 38).margin(1e-8));
  CHECK(box(in.mesh).max.z == Approx(40.0).margin(1e-12));
}

// Faces of an icosahedron of edge a lie φ² a / (2 √3) from its middle (H. S. M. Coxeter, Regular Polytopes; from memory).
TEST_CASE("an icosahedron's second skin is the icosahedron whose faces lie the thickness deeper") {
  const TriangleMesh solid = icosahedron();
  REQUIRE(solid.triangles.size() == 20);
  const double inradius = std::numbers::phi * std::numbers::phi / std::sqrt(3.0);
  const double t = 0.25;
  const ThickMesh in = thick(solid, t, ThickenSide::Inward);
  CHECK(volume(in.mesh) ==
        Approx(volume(solid) * (1.0 - std::pow(1.0 - t / inradius, 3))).margin(1e-12));
}

TEST_CASE("a ball's second skin is a ball, vertex by vertex, and neither runs through its middle") {
  const TriangleMesh skin = ball(20.0, 4);
  const ThickMesh in = thick(skin, 3.0, ThickenSide::Inward);
  CHECK(check_edges(in.mesh).watertight());
  REQUIRE(in.mesh.points.size() == 2 * skin.points.size());
  for (std::size_t p = 0; p < skin.points.size(); ++p) {
    CHECK(length(in.mesh.points[p]) == Approx(20.0).margin(1e-12));
    CHECK(length(in.mesh.points[p + skin.points.size()]) == Approx(17.0).margin(1e-12));
  }
  CHECK(volume(in.mesh) == Approx(volume(skin) * (1.0 - std::pow(17.0 / 20.0, 3))).margin(1e-8));
  CHECK(in.off < 0.02);  // the middles of its triangles lie a little deeper
  const double room = room_in(refusal(skin, 25.0, ThickenSide::Inward));
  CHECK(room < 20.0);
  CHECK(room > 19.9);
  CHECK_NOTHROW(thick(skin, room, ThickenSide::Inward));
}

TEST_CASE("skins that face each other share the room between them") {
  const TriangleMesh plates = facing_plates(3.0);
  const double room = room_in(refusal(plates, 1.6, ThickenSide::Outward));
  CHECK(room == Approx(1.5).margin(0.005));
  CHECK_NOTHROW(thick(plates, room, ThickenSide::Outward));
  const ThickMesh away = thick(plates, 5.0, ThickenSide::Inward);
  CHECK(check_edges(away.mesh).watertight());
  CHECK(volume(away.mesh) == Approx(2 * 10.0 * 10 * 5).margin(1e-9));
  // Half the thickness goes into the room.
  CHECK(room_in(refusal(plates, 4.0, ThickenSide::BothSides)) == Approx(3.0).margin(0.01));
}

TEST_CASE("where a corner turns in there is room for what the shortest triangle leaves") {
  // Floor and wall of fine strips: on the inside the first strip, 1 mm wide, is used up at 1 mm.
  TriangleMesh angle;
  for (const double along : {0.0, 10.0})
    for (const Vec3& p : {Vec3{0, 0, 8}, Vec3{0, 0, 0}, Vec3{1, 0, 0}, Vec3{9, 0, 0}})
      angle.points.push_back(p + Vec3{0, along, 0});
  for (std::uint32_t k = 0; k < 3; ++k) {
    angle.triangles.push_back({k, k + 1, k + 5});
    angle.triangles.push_back({k, k + 5, k + 4});
  }
  CHECK(room_in(refusal(angle, 1.2, ThickenSide::Outward)) == Approx(1.0).margin(0.002));
  // Outside the corner there is room for all; the mitred corner is part of the volume.
  const ThickMesh in = thick(angle, 2.0, ThickenSide::Inward);
  CHECK(volume(in.mesh) == Approx(10.0 * (8.0 * 2 + 9.0 * 2 + 2.0 * 2)).margin(1e-9));
}

TEST_CASE("meshes that have no two sides are refused with what to do") {
  TriangleMesh fin = box_mesh({0, 0, 0}, {1, 1, 1});
  fin.points.push_back({0, 0, -1});
  fin.triangles.push_back({0, 1, 8});
  CHECK(refusal(fin, 0.1, ThickenSide::Outward).find("tangled") != std::string::npos);
  TriangleMesh bow;
  bow.points = {{0, 0, 0}, {1, 0, 0}, {0, 1, 0}, {-1, 0, 0}, {0, -1, 0}};
  bow.triangles = {{0, 1, 2}, {0, 3, 4}};
  CHECK(refusal(bow, 0.1, ThickenSide::Outward).find("touches itself") != std::string::npos);
  CHECK(refusal({}, 0.1, ThickenSide::Outward).find("no triangles") != std::string::npos);
  const TriangleMesh box = box_mesh({0, 0, 0}, {1, 1, 1});
  CHECK(refusal(box, 0.0, ThickenSide::Outward).find("thickness of 0") != std::string::npos);
  CHECK(refusal(box, std::nan(""), ThickenSide::Outward).find("thickness of 0") !=
        std::string::npos);
  TriangleMesh wild = box;
  wild.points[3].x = std::nan("");
  CHECK_FALSE(refusal(wild, 0.1, ThickenSide::Outward).empty());
  Progress cancelled;
  cancelled.cancel();
  CHECK_THROWS_AS(thickened(ball(5.0, 3), 0.1, ThickenSide::Inward, cancelled), Cancelled);
}

// Smooth dimples keep their distance along the skin's own normals: the nearest place of the other skin is the one that
// the vertex came from, a little nearer only where triangles are coarse.
TEST_CASE("a pattern of dimples on a cylinder becomes a watertight mesh of an even wall") {
  Progress progress;
  Inputs inputs;
  inputs.step = 9;
  inputs.parts[{1}] =
      std::make_shared<const Shape>(ShelfTileOperation().apply(CurveSet{}, inputs, progress).shape);
  CylinderOperation cylinder;
  cylinder.radius = 20.0;
  cylinder.height = 50.0;
  inputs.parts[{2}] =
      std::make_shared<const Shape>(cylinder.apply(CurveSet{}, inputs, progress).shape);
  FlowPatternOperation flow;
  flow.tile = 1;
  flow.target = 2;
  flow.count_u = 16;
  flow.count_v = 6;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  const Outcome pattern = flow.apply(CurveSet{}, inputs, progress);
  const auto& skin = std::get<TriangleMesh>(pattern.shape);
  const auto operation = make_operation("thicken");
  const Outcome thin =
      with_parameter(*operation, "thickness", "0.5")->apply(pattern.shape, inputs, progress);
  const auto& wall = std::get<TriangleMesh>(thin.shape);
  CHECK(check_edges(wall).watertight());
  CHECK(wall.points.size() == 2 * skin.points.size());
  // A thin wall's volume is its middle skin's area times the thickness, here within a percent of the bend.
  const double area_there = area(skin);
  CHECK(volume(wall) > 0.0);
  CHECK(volume(wall) == Approx(area_there * 0.5).margin(0.05 * area_there * 0.5));
  const MeshProjector outer(skin);
  double least = 1.0, most = 0.0;
  for (std::size_t p = skin.points.size(); p < wall.points.size(); ++p) {
    const double d = outer.closest(wall.points[p]).distance;
    least = std::min(least, d);
    most = std::max(most, d);
  }
  CHECK(least > 0.47);
  CHECK(most < 0.5 + 1e-9);
}
