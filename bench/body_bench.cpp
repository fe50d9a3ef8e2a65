// Trimmed tessellation beside the B-rep kernel's mesher, a split beside its splitter, in one run and on one thread each; and
// a blend that follows.
#include <benchmark/benchmark.h>
#include <BRepAlgoAPI_Splitter.hxx>
#include <BRepBuilderAPI_MakeEdge.hxx>
#include <BRepMesh_IncrementalMesh.hxx>
#include <BRepPrimAPI_MakePrism.hxx>
#include <BRepTools.hxx>
#include <BRep_Tool.hxx>
#include <Poly_Triangulation.hxx>
#include <TopExp_Explorer.hxx>
#include <TopTools_ListOfShape.hxx>
#include <TopoDS.hxx>
#include <gp_Circ.hxx>

#include <cmath>

#include "core/body/body_mesh.h"
#include "core/cut/blend.h"
#include "core/cut/edge_edit.h"
#include "core/cut/split.h"
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

// The sheet with its opening split by a circle of 42 mm around it, carried along z: what ours does besides the kernel's own
// splitter is to bring the pieces back under their names and to measure them.
void split_ours(benchmark::State& state) {
  Progress progress;
  Splitter by;
  by.curves = {make_circle({}, 42.0)};
  for (auto _ : state) benchmark::DoNotOptimize(split(sheet(), by, {.step = 3}, progress).pieces);
}
BENCHMARK(split_ours)->Name("SplitOurs")->Unit(benchmark::kMillisecond);

void split_kernels(benchmark::State& state) {
  const gp_Circ circle(gp_Ax2(gp_Pnt(0, 0, -20), gp_Dir(0, 0, 1)), 42.0);
  const TopoDS_Shape tool =
      BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeEdge(circle).Edge(), gp_Vec(0, 0, 40));
  for (auto _ : state) {
    TopTools_ListOfShape arguments, tools;
    arguments.Append(kernel::to_kernel(sheet()).all);
    tools.Append(tool);
    BRepAlgoAPI_Splitter splitter;
    splitter.SetArguments(arguments);
    splitter.SetTools(tools);
    splitter.Build();
    benchmark::DoNotOptimize(splitter.IsDone());
  }
}
BENCHMARK(split_kernels)->Name("SplitKernel")->Unit(benchmark::kMillisecond);

// A blend with curvature between two tubes of 10 and 16 mm, made anew as when a neighbour moves.
void blend_follows(benchmark::State& state) {
  Progress progress;
  const Body below = with_edges(body_of({make_cylinder({}, 10.0, 20.0)}, 8));
  Frame high;
  high.origin = {3, 0, 40};
  const Body above = with_edges(body_of({make_cylinder(high, 16.0, 20.0)}, 9));
  const ChainPair chains = nearest_chains(below, above, false);
  const EdgeChain a(below, chains.a), b(above, chains.b);
  for (auto _ : state)
    benchmark::DoNotOptimize(blended(a, below, b, above, {}, progress).surface.points.rows());
}
BENCHMARK(blend_follows)->Name("BlendFollows")->Unit(benchmark::kMillisecond);

}  // namespace
