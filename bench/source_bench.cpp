// Surfaces that follow their curves while one is dragged: the whole of the core's work for one move of the hand.
#include <benchmark/benchmark.h>
#include <GeomFill_BSplineCurves.hxx>
#include <GeomFill_FillingStyle.hxx>
#include <Geom_BSplineCurve.hxx>
#include <Geom_BSplineSurface.hxx>
#include <TColStd_Array1OfInteger.hxx>
#include <TColStd_Array1OfReal.hxx>
#include <TColgp_Array1OfPnt.hxx>
#include <cmath>

#include "core/source/border_surface.h"
#include "core/source/loft.h"

namespace {

using namespace evenclay;

// Eight points from one corner to another, bowed by the move of the hand.
Curve border(const Vec3& a, const Vec3& b, double bow) {
  std::vector<Vec3> points;
  for (int k = 0; k < 8; ++k) {
    const double t = k / 7.0;
    points.push_back(a * (1 - t) + b * t + Vec3{0, 0, bow * std::sin(3.14159265 * t)});
  }
  points.front() = a;
  points.back() = b;
  return make_curve(points, 3, false);
}

std::vector<Curve> borders(double bow) {
  const std::array<Vec3, 4> c{Vec3{0, 0, 0}, {60, 0, 2}, {60, 60, 5}, {0, 60, 0}};
  return {border(c[0], c[1], bow), border(c[1], c[2], 4), border(c[2], c[3], 6),
          border(c[3], c[0], 3)};
}

void border_surface(benchmark::State& state) {
  double bow = 5.0;
  Curve rib = make_curve(std::vector<Vec3>(7), 3, false);
  rib.points[3] = {0, 0, 4};
  const RibMoves ribs{{rib, rib, rib}, {rib, rib, rib}};
  for (auto _ : state) {
    const Surface s = with_ribs(pushed(coons(four_borders(borders(bow += 1e-3), 0.01)), 2.0), ribs);
    benchmark::DoNotOptimize(s.points.values().data());
  }
}
BENCHMARK(border_surface)->Name("FollowBorderSurface3x3Ribs")->Unit(benchmark::kMillisecond);

void loft_of_six(benchmark::State& state) {
  double bow = 5.0;
  for (auto _ : state) {
    bow += 1e-3;
    std::vector<Curve> sections;
    for (int k = 0; k < 6; ++k) {
      const double y = 12.0 * k;
      sections.push_back(border({0, y, 0}, {60, y, 0}, bow + k));
    }
    const Surface s = loft(sections, {});
    benchmark::DoNotOptimize(s.points.values().data());
  }
}
BENCHMARK(loft_of_six)->Name("FollowLoft6Sections")->Unit(benchmark::kMillisecond);

Handle(Geom_BSplineCurve) kernel_curve(const Curve& c) {
  TColgp_Array1OfPnt points(1, c.point_count());
  for (int k = 0; k < c.point_count(); ++k) {
    const Vec3& p = c.points[static_cast<std::size_t>(k)];
    points.SetValue(k + 1, gp_Pnt(p.x, p.y, p.z));
  }
  const std::vector<double> breaks = breakpoints(c.knots);
  const int n = static_cast<int>(breaks.size());
  TColStd_Array1OfReal knots(1, n);
  TColStd_Array1OfInteger times(1, n);
  for (int k = 0; k < n; ++k) {
    knots.SetValue(k + 1, breaks[static_cast<std::size_t>(k)]);
    times.SetValue(k + 1, k == 0 || k == n - 1 ? c.knots.degree + 1 : 1);
  }
  return new Geom_BSplineCurve(points, knots, times, c.knots.degree);
}

// The kernel's Coons filling of the same four curves; it has neither ribs nor push.
void kernel_filling(benchmark::State& state) {
  double bow = 5.0;
  for (auto _ : state) {
    const FourBorders b = four_borders(borders(bow += 1e-3), 0.01);
    GeomFill_BSplineCurves fill(kernel_curve(b.bottom), kernel_curve(b.right), kernel_curve(b.top),
                                kernel_curve(b.left), GeomFill_CoonsStyle);
    benchmark::DoNotOptimize(fill.Surface().get());
  }
}
BENCHMARK(kernel_filling)->Name("KernelCoonsFilling")->Unit(benchmark::kMillisecond);

}  // namespace
