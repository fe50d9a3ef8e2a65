// The hot paths beside a library peer in the same run, both on one thread unless the name says
// otherwise. Report ratios of medians (scripts/bench does), never absolute times.
#include <benchmark/benchmark.h>

#include <Extrema_ExtPS.hxx>
#include <GeomAdaptor_Surface.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <cmath>
#include <random>

#include "core/base/memory.h"
#include "core/grid/rebuild.h"
#include "core/mesh/tessellate.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/projection.h"
#include "core/pattern/flow.h"

using namespace evenclay;

namespace {

// Bicubic 20 × 20 height field over [0, 1]², not rational.
const Surface& field() {
  static const Surface s = [] {
    Surface f = make_plane({}, 100, 100, 20, 20, 3, 3);
    for (int i = 0; i < 20; ++i)
      for (int j = 0; j < 20; ++j) f.points(i, j).z = 8 * std::sin(0.7 * i) * std::cos(0.5 * j);
    return f;
  }();
  return s;
}

Handle(Geom_BSplineSurface) kernel_field() {
  const Surface& s = field();
  TColgp_Array2OfPnt poles(1, 20, 1, 20);
  for (int i = 0; i < 20; ++i)
    for (int j = 0; j < 20; ++j) {
      const Vec3& p = s.points(i, j);
      poles.SetValue(i + 1, j + 1, gp_Pnt(p.x, p.y, p.z));
    }
  const std::vector<double> breaks = breakpoints(s.u);
  const int n = static_cast<int>(breaks.size());
  TColStd_Array1OfReal knots(1, n);
  TColStd_Array1OfInteger counts(1, n);
  for (int k = 0; k < n; ++k) {
    knots.SetValue(k + 1, breaks[static_cast<std::size_t>(k)]);
    counts.SetValue(k + 1, k == 0 || k == n - 1 ? 4 : 1);
  }
  return new Geom_BSplineSurface(poles, knots, knots, counts, counts, 3, 3);
}

const std::vector<Parameter>& scattered() {
  static const std::vector<Parameter> at = [] {
    std::mt19937 r(1);
    std::uniform_real_distribution<double> x(0, 1);
    std::vector<Parameter> result(1'000'000);
    for (Parameter& p : result) p = {x(r), x(r)};
    return result;
  }();
  return at;
}

void ScatteredOurs(benchmark::State& state) {
  const SurfaceEvaluator e(field());
  std::vector<PointTangents> out(scattered().size());
  for (auto _ : state) {
    e.tangents(scattered(), out);
    benchmark::DoNotOptimize(out.data());
  }
}
void ScatteredKernel(benchmark::State& state) {
  const auto s = kernel_field();
  std::vector<PointTangents> out(scattered().size());
  for (auto _ : state) {
    for (std::size_t k = 0; k < out.size(); ++k) {
      gp_Pnt p;
      gp_Vec u, v;
      s->D1(scattered()[k].u, scattered()[k].v, p, u, v);
      out[k] = {{p.X(), p.Y(), p.Z()}, {u.X(), u.Y(), u.Z()}, {v.X(), v.Y(), v.Z()}};
    }
    benchmark::DoNotOptimize(out.data());
  }
}

std::vector<double> thousand() {
  std::vector<double> t;
  for (int k = 0; k < 1000; ++k) t.push_back((k + 0.5) / 1000);
  return t;
}

template <typename T>
void GridOurs(benchmark::State& state) {
  // One row at a time keeps it on this thread: parallel loops start above one block.
  const SurfaceEvaluator e(field());
  const std::vector<double> t = thousand();
  GridSamples<T> out;
  Progress progress;
  for (auto _ : state) {
    for (std::size_t i = 0; i < t.size(); i += 8)
      e.grid(std::span(t).subspan(i, 8), t, out, progress);
    benchmark::DoNotOptimize(out.p[0].data());
  }
}
void GridKernel(benchmark::State& state) {
  const GeomAdaptor_Surface s(kernel_field());
  const std::vector<double> t = thousand();
  std::vector<PointTangents> out(8 * t.size());
  for (auto _ : state) {
    for (std::size_t i = 0; i < t.size(); ++i)
      for (std::size_t j = 0; j < t.size(); ++j) {
        gp_Pnt p;
        gp_Vec u, v;
        s.D1(t[i], t[j], p, u, v);
        out[(i % 8) * t.size() + j] = {
            {p.X(), p.Y(), p.Z()}, {u.X(), u.Y(), u.Z()}, {v.X(), v.Y(), v.Z()}};
      }
    benchmark::DoNotOptimize(out.data());
  }
}

std::vector<Vec3> questions(std::size_t n) {
  std::mt19937 r(2);
  std::uniform_real_distribution<double> x(0, 1);
  std::normal_distribution<double> off(0, 1);
  std::vector<Vec3> q;
  for (std::size_t k = 0; k < n; ++k)
    q.push_back(evaluate(field(), x(r), x(r)) + Vec3{off(r), off(r), off(r)});
  return q;
}

constexpr std::size_t kQuestions = 20000;

void ClosestOurs(benchmark::State& state) {
  const SurfaceProjector projector(field());
  const std::vector<Vec3> q = questions(kQuestions);
  for (auto _ : state)
    for (const Vec3& p : q) benchmark::DoNotOptimize(projector.closest(p).distance);
}
void ClosestKernel(benchmark::State& state) {
  const GeomAdaptor_Surface s(kernel_field());
  const std::vector<Vec3> q = questions(kQuestions);
  Extrema_ExtPS extrema;
  extrema.SetFlag(Extrema_ExtFlag_MIN);
  extrema.SetAlgo(Extrema_ExtAlgo_Tree);
  extrema.Initialize(s, 0, 1, 0, 1, 1e-9, 1e-9);
  for (auto _ : state)
    for (const Vec3& p : q) {
      extrema.Perform(gp_Pnt(p.x, p.y, p.z));
      benchmark::DoNotOptimize(extrema.NbExt());
    }
}

// A flat bumpy tile of 1e6 vertices mapped once over the field.
TriangleMesh million_tile() {
  Progress progress;
  Frame f;
  f.origin = {50, 50, 0};
  Surface s = make_plane(f, 100, 100, 5, 5, 3, 3);
  s.points(2, 2).z = 2;
  return tessellate(s, {.per_span_u = 500, .per_span_v = 500}, progress);
}

// The whole of flow(): repeat and weld, map, exact normals, triangles; on all cores.
void FlowOurs(benchmark::State& state) {
  static const TriangleMesh tile = million_tile();
  static const Surface sources = field();
  Progress progress;
  for (auto _ : state)
    benchmark::DoNotOptimize(
        flow(over_base(tile, base_of(tile)), chart_of(sources), {}, {}, progress).points.data());
  state.counters["vertices"] = static_cast<double>(tile.points.size());
}
// The plan kept, a point of the target moved: mapping with exact normals, on all cores.
void FlowPlanOurs(benchmark::State& state) {
  static const TriangleMesh tile = million_tile();
  Surface target = field();
  Progress progress;
  const FlowPlan plan(over_base(tile, base_of(tile)), chart_of(target), {}, progress);
  for (auto _ : state) {
    target.points(7, 9).z += 0.01;
    benchmark::DoNotOptimize(plan.onto(chart_of(target), {}, progress).points.data());
  }
}
// Position and first-order normal of the target at each vertex, one thread.
void FlowKernel(benchmark::State& state) {
  static const TriangleMesh tile = million_tile();
  const GeomAdaptor_Surface s(kernel_field());
  std::vector<Vec3> points(tile.points.size()), normals(tile.points.size());
  for (auto _ : state) {
    for (std::size_t k = 0; k < tile.points.size(); ++k) {
      gp_Pnt p;
      gp_Vec u, v;
      s.D1(tile.points[k].x / 100, tile.points[k].y / 100, p, u, v);
      const gp_Vec n = u.Crossed(v).Normalized();
      points[k] = Vec3{p.X(), p.Y(), p.Z()} + Vec3{n.X(), n.Y(), n.Z()} * tile.points[k].z;
      normals[k] = {n.X(), n.Y(), n.Z()};
    }
    benchmark::DoNotOptimize(points.data());
  }
}

void RebuildSphere(benchmark::State& state) {
  const Surface s = make_sphere({}, 52);
  Progress progress;
  for (auto _ : state)
    benchmark::DoNotOptimize(rebuild(s, {.points_u = 10, .points_v = 8}, progress).u.degree);
}

BENCHMARK(ScatteredOurs)->Unit(benchmark::kMillisecond);
BENCHMARK(ScatteredKernel)->Unit(benchmark::kMillisecond);
BENCHMARK(GridOurs<double>)->Name("GridOurs")->Unit(benchmark::kMillisecond);
BENCHMARK(GridOurs<float>)->Name("GridFloatOurs")->Unit(benchmark::kMillisecond);
BENCHMARK(GridKernel)->Unit(benchmark::kMillisecond);
BENCHMARK(ClosestOurs)->Unit(benchmark::kMillisecond);
BENCHMARK(ClosestKernel)->Unit(benchmark::kMillisecond)->Iterations(1);
BENCHMARK(FlowOurs)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(FlowPlanOurs)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(FlowKernel)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(RebuildSphere)->Unit(benchmark::kMicrosecond);

}  // namespace

int main(int argc, char** argv) {
  evenclay::keep_freed_memory();  // as in our programs; it serves the peers alike
  benchmark::Initialize(&argc, argv);
  if (benchmark::ReportUnrecognizedArguments(argc, argv)) return 1;
  benchmark::RunSpecifiedBenchmarks();
  return 0;
}
