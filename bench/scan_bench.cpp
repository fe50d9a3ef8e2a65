// Scans: fitting beside the B-rep kernel's approximation, clipping, deviation and first display of large scans.
#include <benchmark/benchmark.h>
#include <GeomAPI_PointsToBSplineSurface.hxx>
#include <TColgp_Array2OfPnt.hxx>

#include <cmath>
#include <random>

#include "core/check/measures.h"
#include "core/check/watch.h"
#include "core/display/display.h"
#include "core/nurbs/conics.h"
#include "core/scan/clip.h"
#include "core/scan/fit_scan.h"

namespace {

using namespace evenclay;

double hill(double x, double y) {
  return 12.0 * std::cos(x / 40.0) * std::cos(y / 30.0) +
         0.8 * std::sin(0.2 * x) * std::sin(0.15 * y);
}

std::vector<Vec3> scan_of(std::size_t count) {
  std::mt19937_64 random(3);
  std::uniform_real_distribution<double> share(-1.0, 1.0);
  std::normal_distribution<double> noise(0.0, 0.05);
  std::vector<Vec3> points;
  while (points.size() < count) {
    const double x = 50.0 * share(random), y = 40.0 * share(random);
    points.push_back({x, y, hill(x, y) + noise(random)});
  }
  return points;
}

// cells × cells × 2 triangles.
TriangleMesh plate(int cells) {
  TriangleMesh m;
  for (int i = 0; i <= cells; ++i)
    for (int j = 0; j <= cells; ++j) {
      const double x = -50.0 + 100.0 * i / cells, y = -40.0 + 80.0 * j / cells;
      m.points.push_back({x, y, hill(x, y)});
    }
  const auto at = [&](int i, int j) { return static_cast<std::uint32_t>(i * (cells + 1) + j); };
  for (int i = 0; i < cells; ++i)
    for (int j = 0; j < cells; ++j) {
      m.triangles.push_back({at(i, j), at(i + 1, j), at(i + 1, j + 1)});
      m.triangles.push_back({at(i, j), at(i + 1, j + 1), at(i, j + 1)});
    }
  return m;
}

// A million points on 24 × 24: corrections, stray points, a thin-plate share and all.
void fit_million(benchmark::State& state) {
  const std::vector<Vec3> points = scan_of(1'000'000);
  ScanFitPlan plan;
  plan.points_u = plan.points_v = 24;
  plan.leave_out_stray = state.range(0) != 0;
  Progress progress;
  for (auto _ : state) benchmark::DoNotOptimize(fit_scan(points, plan, progress).mean);
  state.SetItemsProcessed(static_cast<std::int64_t>(points.size()) * state.iterations());
}
BENCHMARK(fit_million)->Name("FitMillionOurs")->Arg(1)->Arg(0)->Unit(benchmark::kMillisecond);

// What a designer waits for while a number is changed on a scan of the usual size.
void fit_preview(benchmark::State& state) {
  const std::vector<Vec3> points = scan_of(60'000);
  ScanFitPlan plan;
  Progress progress;
  for (auto _ : state) benchmark::DoNotOptimize(fit_scan(points, plan, progress).mean);
  state.SetItemsProcessed(static_cast<std::int64_t>(points.size()) * state.iterations());
}
BENCHMARK(fit_preview)->Name("Fit60kOurs")->Unit(benchmark::kMillisecond);

// The kernel's approximation wants a grid of points; items are points.
void fit_kernel(benchmark::State& state) {
  const int n = 200;
  TColgp_Array2OfPnt grid(1, n, 1, n);
  for (int i = 1; i <= n; ++i)
    for (int j = 1; j <= n; ++j) {
      const double x = -50.0 + 100.0 * (i - 1) / (n - 1), y = -40.0 + 80.0 * (j - 1) / (n - 1);
      grid.SetValue(i, j, gp_Pnt(x, y, hill(x, y)));
    }
  for (auto _ : state) {
    const GeomAPI_PointsToBSplineSurface fit(grid, 3, 3, GeomAbs_C2, 1e-2);
    benchmark::DoNotOptimize(fit.IsDone());
  }
  state.SetItemsProcessed(static_cast<std::int64_t>(n) * n * state.iterations());
}
BENCHMARK(fit_kernel)->Name("FitKernel")->Unit(benchmark::kMillisecond);

void deviation_million(benchmark::State& state) {
  const std::vector<Vec3> points = scan_of(1'000'000);
  ScanFitPlan plan;
  Progress progress;
  const Body body = body_of({fit_scan(points, plan, progress).surface});
  for (auto _ : state) benchmark::DoNotOptimize(signed_distances(points, body, progress).front());
  state.SetItemsProcessed(static_cast<std::int64_t>(points.size()) * state.iterations());
}
BENCHMARK(deviation_million)->Name("DeviationMillion")->Unit(benchmark::kMillisecond);

// A drag's step with 60 000 points watched.
void watch_drag(benchmark::State& state) {
  const std::vector<Vec3> points = scan_of(60'000);
  ScanFitPlan plan;
  Progress progress;
  Surface s = fit_scan(points, plan, progress).surface;
  ScanWatch watch(points);
  (void)watch.measure(body_of({s}), false, progress);
  for (auto _ : state) {
    s.points(4, 3).z += 0.01;
    const std::vector<double>& off = watch.measure(body_of({s}), true, progress);
    benchmark::DoNotOptimize(watch_report(watch.points(), off, 0.5, 8.0).inside);
  }
}
BENCHMARK(watch_drag)->Name("WatchDrag60k")->Unit(benchmark::kMillisecond);

void clip_ten_million(benchmark::State& state) {
  const TriangleMesh scan = plate(2236);
  Lasso lasso;
  for (int k = 0; k < 200; ++k) {
    const double a = 2.0 * 3.141592653589793 * k / 200;
    lasso.outline.push_back({30.0 * std::cos(a), 25.0 * std::sin(a), 0.0});
  }
  Progress progress;
  for (auto _ : state)
    benchmark::DoNotOptimize(clipped(scan, {{lasso}}, progress).triangles.size());
  state.counters["triangles"] = static_cast<double>(scan.triangles.size());
}
BENCHMARK(clip_ten_million)->Name("ClipTenMillion")->Unit(benchmark::kMillisecond)->Iterations(2);

void show_ten_million(benchmark::State& state) {
  const TriangleMesh scan = plate(2236);
  Progress progress;
  for (auto _ : state) benchmark::DoNotOptimize(display_mesh(scan, {}, progress).indices.size());
}
BENCHMARK(show_ten_million)->Name("ShowTenMillion")->Unit(benchmark::kMillisecond)->Iterations(2);

}  // namespace
