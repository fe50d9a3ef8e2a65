// Trimmed tessellation beside the B-rep kernel's mesher, in one run and on one thread each.
#include <benchmark/benchmark.h>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS.hxx>

#include <cmath>

#include "core/body/body_mesh.h"
#include "core/cut/trim.h"
#include "core/kernel/convert.h"
#include "core/nurbs/conics.h"

namespace {

using namespace evenclay;

// A wavy bicubic sheet of 20 × 20 points with an opening of 200 points.
const Body& sheet() {
  static const Body body = [] {
    Surface s = make_plane({}, 100, 100, 20, 20, 3, 3);
    for (int i = 0; i < 20; ++i)
      for (int j = 0; j < 20; ++j) s.points(i, j).z = 4.0 * std::sin(0.6 * i) * std::cos(0.5 * j);
    std::vector<Vec3> loop;
    for (int k = 0; k < 200; ++k) {
      const double a = 2.0 * 3.141592653589793 * k / 200;
      const double r = 28.0 + 4.0 * std::sin(5.0 * a);
      loop.push_back({r * std::cos(a), r * std::sin(a), 20.0});
    }
    const std::vector<Curve> curves{make_curve(loop, 3, true)};
    Progress progress;
    return trim(body_of({s}, 1), curves, {.step = 2}, progress).body;
  }();
  return body;
}

void ours(benchmark::State& state) {
  Progress progress;
  const double chord = 1e-3 * size(sheet());
  std::size_t triangles = 0;
  for (auto _ : state) {
    const BodyMesh mesh = tessellate(sheet(), {.chord = chord}, progress);
    triangles = mesh.faces[0].triangles.size();
    benchmark::DoNotOptimize(triangles);
  }
  state.counters["triangles"] = static_cast<double>(triangles);
}
BENCHMARK(ours)->Name("TrimmedMeshOurs")->Unit(benchmark::kMillisecond);

void kernels(benchmark::State& state) {
  const TopoDS_Shape shape = kernel::to_kernel(sheet()).all;
  const double chord = 1e-3 * size(sheet());
  int triangles = 0;
  for (auto _ : state) {
    BRepTools::Clean(shape);
    const BRepMesh_IncrementalMesh mesh(shape, chord, Standard_False, 20.0, Standard_False);
    triangles = 0;
    for (TopExp_Explorer e(shape, TopAbs_FACE); e.More(); e.Next()) {
      TopLoc_Location l;
      triangles += BRep_Tool::Triangulation(TopoDS::Face(e.Current()), l)->NbTriangles();
    }
    benchmark::DoNotOptimize(triangles);
  }
  state.counters["triangles"] = triangles;
}
BENCHMARK(kernels)->Name("TrimmedMeshKernel")->Unit(benchmark::kMillisecond);

}  // namespace
