// The steps of the Pattern stage: tiles of the shelf, diagonal tiles, paired edges, and what Flow pattern makes of
// them, as a STEP file too.
#include <unistd.h>
#include <BRepCheck_Analyzer.hxx>
#include <BRepGProp.hxx>
#include <GProp_GProps.hxx>
#include <STEPControl_Reader.hxx>
#include <catch2/catch.hpp>
#include <cmath>
#include <filesystem>
#include <fstream>
#include <numbers>

#include "core/base/error.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/exchange/export.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/tile_mesh.h"
#include "core/operations/tiles.h"
#include "core/pattern/pairing.h"

using namespace evenclay;
using Catch::Matchers::Contains;

namespace {

constexpr double kPi = std::numbers::pi;

// 5 × 5 points of degree 3 over 6 × 6 mm, smooth across its borders: only inner points are raised.
Shape quilt() {
  Frame middle;
  middle.origin = {3, 3, 0};
  Surface s = make_plane(middle, 6, 6, 5, 5, 3, 3);
  s.points(2, 2).z = 1.2;
  return body_of({s}, 1);
}

Outcome after(const Operation& operation, const Shape& before) {
  Progress progress;
  Inputs inputs;
  inputs.step = 9;
  return operation.apply(before, inputs, progress);
}

// The pattern of a tile on a target, each a part.
Outcome flowed(FlowPatternOperation flow, const Shape& tile, const Shape& target) {
  flow.tile = 1;
  flow.target = 2;
  Progress progress;
  Inputs inputs;
  inputs.step = 9;
  inputs.parts[{1}] = std::make_shared<const Shape>(tile);
  inputs.parts[{2}] = std::make_shared<const Shape>(target);
  return flow.apply(CurveSet{}, inputs, progress);
}

bool says(const Outcome& o, const std::string& words) {
  for (const std::string& n : o.notes)
    if (n.find(words) != std::string::npos) return true;
  return false;
}

}  // namespace

TEST_CASE("an array turned by 45° and cut to its square repeats without a gap") {
  DiagonalTileOperation diagonal;
  Progress progress;
  const Outcome made = after(diagonal, quilt());
  const Body& tile = std::get<Body>(made.shape);
  check(tile);
  // The square on the diagonal of a tile holds two of them: side 6 √2, area seen from above 72.
  const double side = 6 * std::numbers::sqrt2;
  Box3 box;
  for (const Face& f : tile.faces) box.add(tight_box(f, tile, progress));
  CHECK(box.max.x - box.min.x == Approx(side).margin(1e-6));
  CHECK(box.max.y - box.min.y == Approx(side).margin(1e-6));
  const double before = area(*std::get<Body>(quilt()).faces[0].surface);
  double sum = 0.0;
  for (const Face& f : tile.faces) sum += area(f, progress);
  CHECK(sum == Approx(2 * before).epsilon(1e-5));
  CHECK(topology(tile).shells.size() == 1);  // the pieces are joined
  const TriangleMesh m = tile_mesh(made.shape, 96, progress);
  const TilePairing p =
      pairing_of(m, {{box.min, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, side, side}, 1e-3);
  CHECK(p.edges);
  CHECK(p.gap < 1e-3);
  CHECK(p.angle < 0.1);
}

TEST_CASE("a diagonal tile closes on a torus, as mesh and as surfaces") {
  Progress progress;
  const Outcome tile = after(DiagonalTileOperation{}, quilt());
  const Shape torus = body_of({make_torus({}, 30, 10)}, 2);
  FlowPatternOperation flow;
  flow.count_u = 12;
  flow.count_v = 5;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  const Outcome mesh = flowed(flow, tile.shape, torus);
  const EdgeReport edges = check_edges(std::get<TriangleMesh>(mesh.shape));
  CHECK(edges.open == 0);
  CHECK(edges.tangled == 0);
  REQUIRE(mesh.pattern);
  CHECK(mesh.pattern->joints.angle < 0.1);
  flow.result = FlowResult::Surfaces;
  const Outcome surfaces = flowed(flow, tile.shape, torus);
  const Body& body = std::get<Body>(surfaces.shape);
  CHECK(says(surfaces, "closed"));
  CHECK(topology(body).closed);
}

TEST_CASE("a STEP file of a closed pattern of surfaces is a valid solid for the kernel") {
  FlowPatternOperation flow;
  flow.count_u = 8;
  flow.count_v = 3;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  flow.result = FlowResult::Surfaces;
  const Outcome made = flowed(flow, quilt(), body_of({make_torus({}, 30, 10)}, 2));
  const Body& body = std::get<Body>(made.shape);
  const auto path =
      std::filesystem::temp_directory_path() / ("pattern-" + std::to_string(::getpid()) + ".step");
  std::ofstream(path, std::ios::binary) << to_step(body, "Pattern");
  STEPControl_Reader reader;
  REQUIRE(reader.ReadFile(path.c_str()) == IFSelect_RetDone);
  reader.TransferRoots();
  std::filesystem::remove(path);
  const TopoDS_Shape shape = reader.OneShape();
  CHECK(shape.ShapeType() == TopAbs_SOLID);
  CHECK(BRepCheck_Analyzer(shape).IsValid());
  GProp_GProps there;
  BRepGProp::VolumeProperties(shape, there, 1e-6);
  Progress progress;
  double ours = 0.0;
  for (const Face& f : body.faces) ours += volume(f, progress);
  CHECK(there.Mass() == Approx(ours).epsilon(1e-5));
  // More than the torus beneath, since all cells stand outwards.
  CHECK(ours > 2 * kPi * kPi * 30 * 100);
}

TEST_CASE("only square tiles have a square that repeats when turned") {
  ShelfTileOperation oblong;
  oblong.sizes.length_y = 5;
  const Outcome tile = after(oblong, CurveSet{});
  CHECK_THROWS_WITH(after(DiagonalTileOperation{}, tile.shape), Contains("square tile"));
  DiagonalTileOperation twice;
  twice.across = twice.up = 2;
  CHECK_THROWS_WITH(after(twice, quilt()), Contains("common factor"));
}

TEST_CASE("a tile of triangles turns at any fitting angle") {
  Progress progress;
  const Surface s = *std::get<Body>(quilt()).faces[0].surface;
  const Shape mesh = tessellate(s, {.per_span_u = 6, .per_span_v = 6}, progress);
  DiagonalTileOperation diagonal;
  diagonal.across = 2;
  diagonal.up = 1;
  const Outcome made = after(diagonal, mesh);
  const auto& tile = std::get<TriangleMesh>(made.shape);
  check(tile);
  const double side = 6 * std::sqrt(5.0);  // five tiles
  const Box3 b = box(tile);
  CHECK(b.max.x - b.min.x == Approx(side).margin(1e-9));
  CHECK(area(tile) == Approx(5 * area(std::get<TriangleMesh>(mesh))).epsilon(1e-9));
  CHECK(check_edges(tile).tangled == 0);
  FlowPatternOperation flow;
  flow.count_u = 6;
  flow.count_v = 4;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  const Outcome on = flowed(flow, made.shape, body_of({make_torus({}, 30, 10)}, 2));
  CHECK(check_edges(std::get<TriangleMesh>(on.shape)).watertight());
}

TEST_CASE("paired edges have one height and one slope") {
  Frame middle;
  middle.origin = {4, 4, 0};
  Surface s = make_plane(middle, 8, 8, 6, 6, 3, 3);
  for (int j = 0; j < 6; ++j) {
    s.points(5, j).z = 0.4 + 0.1 * j;
    s.points(4, j).z = 0.9;
    s.points(j, 0).z += 0.2;
  }
  const Shape crooked = body_of({s}, 1);
  Progress progress;
  const PatternBase base{{}, 8, 8};
  const TriangleMesh raw = tile_mesh(crooked, 24, progress);
  CHECK(pairing_of(raw, base, 1e-3).gap > 0.2);
  const Outcome made = after(PairEdgesOperation{}, crooked);
  const TilePairing p = pairing_of(tile_mesh(made.shape, 24, progress), base, 1e-3);
  CHECK(p.gap < 1e-9);
  CHECK(p.angle < 1e-6);
  // Inner points stay.
  const Surface& after_it = *std::get<Body>(made.shape).faces[0].surface;
  for (int i = 2; i < 4; ++i)
    for (int j = 2; j < 4; ++j) CHECK(after_it.points(i, j) == s.points(i, j));
  PairEdgesOperation heights;
  heights.slopes = false;
  const TilePairing q =
      pairing_of(tile_mesh(after(heights, crooked).shape, 24, progress), base, 1e-3);
  CHECK(q.gap < 1e-9);
  CHECK(q.angle > 1);
}

TEST_CASE("a pattern tells its sizes, its stretch, its joints and its folds") {
  FlowPatternOperation flow;
  flow.sizing = FlowSizing::Size;
  flow.tile_u = flow.tile_v = 6;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  const Shape cylinder = body_of({make_cylinder({}, 20, 60)}, 2);
  const Outcome good = flowed(flow, quilt(), cylinder);
  CHECK(says(good, "21 × 10 tiles"));  // 2π 20 ÷ 6 = 20.9
  CHECK(says(good, "Tiles go over into each other"));
  CHECK_FALSE(says(good, "folds"));
  REQUIRE(good.pattern);
  CHECK(good.pattern->tile_u == Approx(40 * kPi / 21));
  CHECK(good.pattern->tile_v == Approx(6));
  // 6 mm became 5.984 along u.
  CHECK(good.pattern->stretch.worst < 0.5);
  flow.inward = true;
  flow.height = 100.0;  // 30 mm in the middle of a cell
  CHECK(says(flowed(flow, quilt(), cylinder), "folds"));
}

TEST_CASE("a pattern fades at a curve and by a picture") {
  FlowPatternOperation flow;
  flow.count_u = flow.count_v = 8;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  flow.fade_reach = 12;
  flow.fade_curve = 3;
  flow.tile = 1;
  flow.target = 2;
  Frame middle;
  middle.origin = {30, 30, 0};
  TriangleMesh high = tile_mesh(quilt(), 4, *std::make_unique<Progress>());
  for (Vec3& p : high.points) p.z = 1.0;
  high.normals.clear();
  Progress progress;
  Inputs inputs;
  inputs.parts[{1}] = std::make_shared<const Shape>(high);
  inputs.parts[{2}] =
      std::make_shared<const Shape>(body_of({make_plane(middle, 60, 60, 4, 4, 3, 3)}, 2));
  inputs.parts[{3}] =
      std::make_shared<const Shape>(CurveSet{{make_curve({{30, -5, 0}, {30, 65, 0}}, 1, false)}});
  const Outcome faded = flow.apply(CurveSet{}, inputs, progress);
  for (const Vec3& p : std::get<TriangleMesh>(faded.shape).points) {
    const double x = std::min(1.0, std::abs(p.x - 30) / 12);
    const double share = 6 * std::pow(x, 5) - 15 * std::pow(x, 4) + 10 * std::pow(x, 3);
    CHECK(p.z == Approx(share).margin(0.05));  // a field of 49 × 49 samples rounds it a little
  }
  inputs.parts[{3}] = inputs.parts[{2}];
  CHECK_THROWS_WITH(flow.apply(CurveSet{}, inputs, progress), Contains("fade at a curve"));
  flow.fade_curve = {};
  flow.fade_picture = 3;
  CHECK_THROWS_WITH(flow.apply(CurveSet{}, inputs, progress), Contains("follow a picture"));
}

TEST_CASE("flow pattern refuses faces and bases that cannot be with a sentence") {
  FlowPatternOperation flow;
  flow.faces.values = {3};
  CHECK_THROWS_WITH(flowed(flow, quilt(), body_of({make_cylinder({}, 20, 60)}, 2)),
                    Contains("faces 1 to 1"));
  flow.faces.values = {};
  CHECK_THROWS_WITH(flowed(flow, CurveSet{}, body_of({make_cylinder({}, 20, 60)}, 2)),
                    Contains("tile"));
  Frame f;
  const Shape needle = body_of({make_plane(f, 8, 1e-9, 4, 4, 3, 3)}, 1);
  CHECK_THROWS_AS(flowed(flow, needle, body_of({make_cylinder({}, 20, 60)}, 2)), Error);
  CHECK_THROWS_AS(flowed(flow, quilt(), needle), Error);
  const Shape point = body_of({make_plane(f, 1e-12, 1e-12, 4, 4, 3, 3)}, 1);
  CHECK_THROWS_AS(flowed(flow, quilt(), point), Error);
}
