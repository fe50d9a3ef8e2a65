// Patterns: growth with their vertices, a kept plan while the target moves, heights that fade, as surfaces; and the
// kernel's writer of STL files beside ours.
#include <benchmark/benchmark.h>
#include <Message_ProgressRange.hxx>
#include <OSD_Path.hxx>
#include <Poly_Triangulation.hxx>
#include <RWStl.hxx>
#include <cmath>
#include <filesystem>

#include "core/exchange/export.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/operations/flow_pattern.h"
#include "core/pattern/exact.h"

namespace {

using namespace evenclay;

Surface bumpy_tile() {
  Frame f;
  f.origin = {4, 4, 0};
  Surface s = make_plane(f, 8, 8, 5, 5, 3, 3);
  s.points(2, 2).z = -1.6;
  return s;
}

BasedTile tile_of(int parts) {
  Progress progress;
  const TriangleMesh mesh =
      tessellate(bumpy_tile(), {.per_span_u = parts, .per_span_v = parts}, progress);
  return over_base(mesh, base_of(mesh));
}

// A bicubic 20 × 20 sheet that is bent both ways.
Surface sheet() {
  Frame f;
  Surface s = make_plane(f, 200, 200, 20, 20, 3, 3);
  for (Vec3& p : s.points.values()) p.z = 8 * std::sin(0.03 * p.x) * std::cos(0.04 * p.y);
  return s;
}

FlowOptions tiles(int count) {
  FlowOptions o;
  o.count_u = o.count_v = count;
  o.even = true;
  return o;
}

// About the range's first number of vertices in tiles of 13 × 13, all work from the tile on.
void PatternFirst(benchmark::State& state) {
  const BasedTile tile = tile_of(6);
  const int count = static_cast<int>(std::sqrt(static_cast<double>(state.range(0)) / 144.0));
  const Chart chart = chart_of(sheet());
  Progress progress;
  std::size_t vertices = 0;
  for (auto _ : state) vertices = flow(tile, chart, tiles(count), {}, progress).points.size();
  state.counters["vertices"] = static_cast<double>(vertices);
  state.counters["per_second"] = benchmark::Counter(static_cast<double>(vertices),
                                                    benchmark::Counter::kIsIterationInvariantRate);
}

// The plan kept, a point of the target moved.
void PatternFollows(benchmark::State& state) {
  const BasedTile tile = tile_of(6);
  const int count = static_cast<int>(std::sqrt(static_cast<double>(state.range(0)) / 144.0));
  Surface target = sheet();
  Progress progress;
  const FlowPlan plan(tile, chart_of(target), tiles(count), progress);
  HeightRule heights;
  if (state.range(1) != 0) heights.fade_s_from = heights.fade_t_to = 0.3;
  for (auto _ : state) {
    target.points(7, 9).z += 0.01;
    benchmark::DoNotOptimize(plan.onto(chart_of(target), heights, progress).points.data());
  }
  state.counters["vertices"] = static_cast<double>(plan.vertex_count());
  state.counters["plan_bytes_per_vertex"] =
      static_cast<double>(plan.bytes()) / static_cast<double>(plan.vertex_count());
}

// The whole step as a hand that shapes the target waits for it: facts, stretch, folds, joints and the mesh, of 20 × 20
// tiles of 13 × 13 vertices, evened out and faded.
void PatternStep(benchmark::State& state) {
  FlowPatternOperation flow;
  flow.tile = 1;
  flow.target = 2;
  flow.sizing = FlowSizing::Size;
  flow.tile_u = flow.tile_v = 10.0;
  flow.v_from = 0.0;
  flow.v_to = 1.0;
  flow.fade_v_from = flow.fade_v_to = 20.0;
  Memo memo;
  Inputs inputs;
  inputs.memo = &memo;
  inputs.parts[{1}] = std::make_shared<const Shape>(body_of({bumpy_tile()}));
  Surface target = sheet();
  Progress progress;
  for (auto _ : state) {
    target.points(7, 9).z += 0.01;
    inputs.parts[{2}] = std::make_shared<const Shape>(body_of({target}));
    memo.next_evaluation();
    benchmark::DoNotOptimize(flow.apply(CurveSet{}, inputs, progress).notes.data());
  }
}

// A hundred tiles on a torus as one closed body of surfaces within 0.01 mm.
void PatternOfSurfaces(benchmark::State& state) {
  const Body tile = body_of({bumpy_tile()});
  const Chart chart = chart_of(make_torus({}, 40, 15));
  FlowOptions o = tiles(10);
  Progress progress;
  for (auto _ : state)
    benchmark::DoNotOptimize(
        flow_surfaces(tile, {{}, 8, 8}, chart, o, {}, 0.01, 1, progress).body.faces.data());
}

const TriangleMesh& million() {
  static const TriangleMesh mesh = [] {
    Progress progress;
    return tessellate(bumpy_tile(), {.per_span_u = 354, .per_span_v = 354}, progress);
  }();
  return mesh;
}

const std::filesystem::path& file() {
  // In memory where the system has such a folder: the disk is no part of what is compared.
  static const std::filesystem::path path =
      (std::filesystem::exists("/dev/shm") ? std::filesystem::path("/dev/shm")
                                           : std::filesystem::temp_directory_path()) /
      "evenclay-bench.stl";
  return path;
}

void StlOurs(benchmark::State& state) {
  const Shape shape = million();
  Progress progress;
  for (auto _ : state) export_shape(shape, file(), {}, progress);
  state.counters["triangles"] = static_cast<double>(million().triangles.size());
  std::filesystem::remove(file());
}
void StlKernel(benchmark::State& state) {
  const TriangleMesh& mesh = million();
  Handle(Poly_Triangulation) t = new Poly_Triangulation(
      static_cast<int>(mesh.points.size()), static_cast<int>(mesh.triangles.size()), false);
  for (std::size_t k = 0; k < mesh.points.size(); ++k)
    t->SetNode(static_cast<int>(k) + 1,
               gp_Pnt(mesh.points[k].x, mesh.points[k].y, mesh.points[k].z));
  for (std::size_t k = 0; k < mesh.triangles.size(); ++k) {
    const auto& c = mesh.triangles[k];
    t->SetTriangle(static_cast<int>(k) + 1,
                   Poly_Triangle(static_cast<int>(c[0]) + 1, static_cast<int>(c[1]) + 1,
                                 static_cast<int>(c[2]) + 1));
  }
  for (auto _ : state) RWStl::WriteBinary(t, OSD_Path(file().c_str()));
  std::filesystem::remove(file());
}

BENCHMARK(PatternFirst)
    ->Arg(100'000)
    ->Arg(1'000'000)
    ->Arg(10'000'000)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK(PatternFollows)
    ->Args({100'000, 0})
    ->Args({1'000'000, 0})
    ->Args({1'000'000, 1})
    ->Args({10'000'000, 0})
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK(PatternStep)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(PatternOfSurfaces)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(StlOurs)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(StlKernel)->Unit(benchmark::kMillisecond)->UseRealTime();

}  // namespace
