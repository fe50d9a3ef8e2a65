// Choosing grids beside a library peer: knot operations, least squares; and what a preview costs.
#include <benchmark/benchmark.h>

#include <GeomAPI_PointsToBSplineSurface.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array2OfPnt.hxx>
#include <cmath>

#include "core/check/measures.h"
#include "core/display/display.h"
#include "core/grid/count_plot.h"
#include "core/grid/lighten.h"
#include "core/grid/rebuild.h"
#include "core/nurbs/conics.h"
#include "core/nurbs/fit.h"
#include "core/nurbs/knot_operations.h"
#include "core/nurbs/refit.h"
#include "core/operations/report.h"
#include "core/points/falloff.h"
#include "core/points/shaping.h"

using namespace evenclay;

namespace {

Surface wavy(int n) {
  Surface s = make_plane({}, 100, 100, n, n, 3, 3);
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < n; ++j)
      s.points(i, j).z = 6 * std::sin(12.0 * i / n) * std::cos(9.0 * j / n);
  return s;
}

Handle(Geom_BSplineSurface) kernel_of(const Surface& s) {
  const int n = s.points.rows();
  const int m = s.points.columns();
  TColgp_Array2OfPnt poles(1, n, 1, m);
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < m; ++j) {
      const Vec3& p = s.points(i, j);
      poles.SetValue(i + 1, j + 1, gp_Pnt(p.x, p.y, p.z));
    }
  const auto knots = [](const KnotVector& k, TColStd_Array1OfReal*& values,
                        TColStd_Array1OfInteger*& counts) {
    const std::vector<double> breaks = breakpoints(k);
    const int count = static_cast<int>(breaks.size());
    values = new TColStd_Array1OfReal(1, count);
    counts = new TColStd_Array1OfInteger(1, count);
    for (int i = 0; i < count; ++i) {
      values->SetValue(i + 1, breaks[static_cast<std::size_t>(i)]);
      counts->SetValue(i + 1, i == 0 || i == count - 1 ? k.degree + 1 : 1);
    }
  };
  TColStd_Array1OfReal *u = nullptr, *v = nullptr;
  TColStd_Array1OfInteger *cu = nullptr, *cv = nullptr;
  knots(s.u, u, cu);
  knots(s.v, v, cv);
  const Handle(Geom_BSplineSurface) result =
      new Geom_BSplineSurface(poles, *u, *v, *cu, *cv, s.u.degree, s.v.degree);
  delete u;
  delete v;
  delete cu;
  delete cv;
  return result;
}

std::vector<double> middles(const KnotVector& k) {
  const std::vector<double> b = breakpoints(k);
  std::vector<double> result;
  for (std::size_t i = 0; i + 1 < b.size(); ++i) result.push_back(0.5 * (b[i] + b[i + 1]));
  return result;
}

void InsertionOurs(benchmark::State& state) {
  const Surface s = wavy(100);
  for (auto _ : state)
    benchmark::DoNotOptimize(
        insert_halfway(insert_halfway(s, Direction::V), Direction::U).points.values().data());
}
void InsertionKernel(benchmark::State& state) {
  const Surface s = wavy(100);
  const std::vector<double> at = middles(s.u);
  TColStd_Array1OfReal knots(1, static_cast<int>(at.size()));
  TColStd_Array1OfInteger counts(1, static_cast<int>(at.size()));
  counts.Init(1);
  for (std::size_t k = 0; k < at.size(); ++k) knots.SetValue(static_cast<int>(k) + 1, at[k]);
  for (auto _ : state) {
    state.PauseTiming();
    const auto kernel = kernel_of(s);
    state.ResumeTiming();
    kernel->InsertUKnots(knots, counts, 1e-12);
    kernel->InsertVKnots(knots, counts, 1e-12);
    benchmark::DoNotOptimize(kernel->NbUPoles());
  }
}

void RaisingOurs(benchmark::State& state) {
  const Surface s = wavy(100);
  for (auto _ : state)
    benchmark::DoNotOptimize(
        raise_degree(raise_degree(s, Direction::V, 4), Direction::U, 4).points.values().data());
}
void RaisingKernel(benchmark::State& state) {
  const Surface s = wavy(100);
  for (auto _ : state) {
    state.PauseTiming();
    const auto kernel = kernel_of(s);
    state.ResumeTiming();
    kernel->IncreaseDegree(4, 4);
    benchmark::DoNotOptimize(kernel->NbUPoles());
  }
}

// A grid of samples fitted by 24 × 24 points: ours on 1000 × 1000, the kernel on 200 × 200.
void FitOurs(benchmark::State& state) {
  constexpr std::size_t n = 1000;
  const KnotVector k = uniform_knots(24, 3, false);
  GridFit g;
  for (std::size_t i = 0; i < n; ++i) {
    g.places_u.push_back(static_cast<double>(i) / (n - 1));
    g.weights_u.push_back(1.0 / n);
  }
  g.places_v = g.places_u;
  g.weights_v = g.weights_u;
  std::vector<double> values;
  for (const double u : g.places_u)
    for (const double v : g.places_v)
      values.insert(values.end(), {100 * u, 100 * v, 6 * std::sin(12 * u) * std::cos(9 * v)});
  Progress progress;
  for (auto _ : state) benchmark::DoNotOptimize(fit_grid(k, k, g, values, 3, progress).data());
  state.SetItemsProcessed(static_cast<int64_t>(state.iterations()) * n * n);
}
void FitKernel(benchmark::State& state) {
  constexpr int n = 200;
  TColgp_Array2OfPnt points(1, n, 1, n);
  for (int i = 0; i < n; ++i)
    for (int j = 0; j < n; ++j) {
      const double u = static_cast<double>(i) / (n - 1);
      const double v = static_cast<double>(j) / (n - 1);
      points.SetValue(i + 1, j + 1,
                      gp_Pnt(100 * u, 100 * v, 6 * std::sin(12 * u) * std::cos(9 * v)));
    }
  for (auto _ : state) {
    GeomAPI_PointsToBSplineSurface fit(points, 3, 3, GeomAbs_C2, 0.01);
    benchmark::DoNotOptimize(fit.IsDone());
  }
  state.SetItemsProcessed(static_cast<int64_t>(state.iterations()) * n * n);
}

// Two-sided, about 1e5 samples in all.
void DeviationFull(benchmark::State& state) {
  Progress progress;
  const Surface a = wavy(24);
  const Surface b = rebuild(a, {.points_u = 20, .points_v = 20}, progress);
  for (auto _ : state) benchmark::DoNotOptimize(deviation(a, b, progress, 11).max);
}
// What a preview's gauges take of it.
void DeviationPreview(benchmark::State& state) {
  Progress progress;
  const Surface a = wavy(24);
  const Surface b = rebuild(a, {.points_u = 20, .points_v = 20}, progress);
  for (auto _ : state) benchmark::DoNotOptimize(deviation(a, b, progress, 3).max);
}

void RebuildHeavy(benchmark::State& state) {
  Progress progress;
  const Surface a = wavy(200);
  for (auto _ : state)
    benchmark::DoNotOptimize(
        rebuild(a, {.points_u = 40, .points_v = 40}, progress).points.values().data());
}
void LightenHeavy(benchmark::State& state) {
  Progress progress;
  const Surface heavy = rebuild(wavy(14), {.points_u = 60, .points_v = 60}, progress);
  for (auto _ : state)
    benchmark::DoNotOptimize(
        lighten(heavy, {.tolerance = 0.01}, progress).surface.points.values().data());
}
void PlotOfCounts(benchmark::State& state) {
  Progress progress;
  const Surface s = make_sphere({}, 52);
  for (auto _ : state)
    benchmark::DoNotOptimize(count_plot(s, {.points_u = 10, .points_v = 8}, progress).data());
}
// The core's share of one drag update of a 60 × 60 surface: the moved points, the display mesh, and the
// gauges' coarse values.
void drag_update(benchmark::State& state, const DisplayQuality& quality) {
  Progress progress;
  const Shape before = body_of({wavy(60)});
  const Surface& below = *std::get<Body>(before).faces.front().surface;
  const Nets nets(below);
  const PointShares share =
      shares(nets, {{0, 30, 30}}, {FalloffShape::Bell, FalloffShape::Bell, 5, 5, 1, 1});
  double mm = 0.0;
  for (auto _ : state) {
    mm += 0.01;
    const Shapings m =
        with_moves({}, nets, moves_of(nets, share, {MoveDirection::OffSkin, mm, {}}), share, {});
    const Shape now = body_of({with_shaping(below, m.front())});
    benchmark::DoNotOptimize(display_mesh(now, quality, progress).vertices.data());
    benchmark::DoNotOptimize(
        report(now, &before,
               {.per_span = preview_per_span(now), .area_and_volume = false, .quick = true},
               progress)
            .control_points);
  }
}
// With the coarse mesh that is drawn meanwhile, and with 250 000 triangles.
void DragUpdate(benchmark::State& state) {
  drag_update(state, kCoarse);
}
void DragUpdateFine(benchmark::State& state) {
  drag_update(state, {4e-4, 250000});
}
// The same without the gauges: what the picture waits for.
void DragPicture(benchmark::State& state) {
  Progress progress;
  const Surface below = wavy(60);
  const Nets nets(below);
  const PointShares share =
      shares(nets, {{0, 30, 30}}, {FalloffShape::Bell, FalloffShape::Bell, 5, 5, 1, 1});
  double mm = 0.0;
  for (auto _ : state) {
    mm += 0.01;
    const Shapings m =
        with_moves({}, nets, moves_of(nets, share, {MoveDirection::OffSkin, mm, {}}), share, {});
    const Shape now = body_of({with_shaping(below, m.front())});
    benchmark::DoNotOptimize(display_mesh(now, {4e-4, 250000}, progress).vertices.data());
  }
}
void CarriedShape(benchmark::State& state) {
  Progress progress;
  const Surface old = rebuild(make_sphere({}, 52), {.points_u = 10, .points_v = 8}, progress);
  const Surface now = rebuild(make_sphere({}, 52), {.points_u = 14, .points_v = 10}, progress);
  const Shaping m =
      moved(no_shaping(old), old, {{0, 1, 5}}, {MoveDirection::OffSkin, 6, {}}, {}, {0, 1, 5});
  for (auto _ : state) benchmark::DoNotOptimize(carry(m, now).shaping.displacements.rows());
}

BENCHMARK(InsertionOurs)->Unit(benchmark::kMicrosecond);
BENCHMARK(InsertionKernel)->Unit(benchmark::kMicrosecond);
BENCHMARK(RaisingOurs)->Unit(benchmark::kMicrosecond);
BENCHMARK(RaisingKernel)->Unit(benchmark::kMicrosecond);
BENCHMARK(FitOurs)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(FitKernel)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(DeviationFull)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(DeviationPreview)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(RebuildHeavy)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(LightenHeavy)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(PlotOfCounts)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(DragUpdateFine)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(DragUpdate)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(DragPicture)->Unit(benchmark::kMillisecond)->UseRealTime();
BENCHMARK(CarriedShape)->Unit(benchmark::kMicrosecond)->UseRealTime();

}  // namespace
