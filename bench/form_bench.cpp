// The limit of subdivision forms beside OpenSubdiv (bfr, its surfaces kept) in the same run, one thread each unless said.
#include <benchmark/benchmark.h>
#include <opensubdiv/bfr/refinerSurfaceFactory.h>
#include <opensubdiv/far/topologyDescriptor.h>

#include <cmath>
#include <memory>

#include "core/display/form_plans.h"
#include "core/document/evaluator.h"
#include "core/operations/catalogue.h"
#include "core/operations/form_loops.h"
#include "core/operations/form_picks.h"
#include "core/operations/shaped_points.h"
#include "core/subdivision/limit_plan.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/sources.h"

using namespace evenclay;
namespace Far = OpenSubdiv::Far;
namespace Bfr = OpenSubdiv::Bfr;

namespace {

constexpr int kLevels = 5;  // 32 × 32 places a face

// A bent ball of n × n faces a side; with 12 there are 864 faces, eight points of which are special.
Form ball(int n) {
  Form form = make_ball_form({}, 50.0, n, 1);
  for (Vec3& p : form.points) p += Vec3{0.0, 0.0, 3.0 * std::sin(0.2 * p.x)};
  return linked(std::move(form));
}

struct Peer {
  std::unique_ptr<Far::TopologyRefiner> refiner;
  std::unique_ptr<Bfr::RefinerSurfaceFactory<>> factory;
  std::vector<Bfr::Surface<double>> surfaces;

  explicit Peer(const Form& form) {
    Far::TopologyDescriptor d;
    std::vector<int> counts, corners;
    for (const FormFace& f : form.faces) {
      counts.push_back(static_cast<int>(f.points.size()));
      for (const std::uint32_t p : f.points) corners.push_back(static_cast<int>(p));
    }
    d.numVertices = static_cast<int>(form.points.size());
    d.numFaces = static_cast<int>(counts.size());
    d.numVertsPerFace = counts.data();
    d.vertIndicesPerFace = corners.data();
    OpenSubdiv::Sdc::Options options;
    options.SetVtxBoundaryInterpolation(OpenSubdiv::Sdc::Options::VTX_BOUNDARY_EDGE_AND_CORNER);
    refiner.reset(Far::TopologyRefinerFactory<Far::TopologyDescriptor>::Create(
        d, Far::TopologyRefinerFactory<Far::TopologyDescriptor>::Options(
               OpenSubdiv::Sdc::SCHEME_CATMARK, options)));
    factory = std::make_unique<Bfr::RefinerSurfaceFactory<>>(*refiner);
    surfaces.resize(form.faces.size());
    for (int f = 0; f < d.numFaces; ++f)
      factory->InitVertexSurface(f, &surfaces[static_cast<std::size_t>(f)]);
  }

  void face(std::size_t f, const Form& form, TriangleMesh& out, std::vector<double>& patch) const {
    const Bfr::Surface<double>& s = surfaces[f];
    patch.resize(3 * static_cast<std::size_t>(s.GetNumPatchPoints()));
    s.PreparePatchPoints(&form.points[0].x, 3, patch.data(), 3);
    constexpr int n = 1 << kLevels;
    Vec3* places = &out.points[f * n * n];
    Vec3* normals = &out.normals[f * n * n];
    for (int i = 0; i < n; ++i)
      for (int j = 0; j < n; ++j) {
        const double uv[2] = {static_cast<double>(i) / n, static_cast<double>(j) / n};
        Vec3 du, dv;
        s.Evaluate(uv, patch.data(), 3, &places[i * n + j].x, &du.x, &dv.x);
        normals[i * n + j] = normalized(cross(du, dv));
      }
  }
  TriangleMesh room() const {
    TriangleMesh m;
    m.points.resize(surfaces.size() << (2 * kLevels));
    m.normals.resize(m.points.size());
    return m;
  }
};

void LimitAgainPeer(benchmark::State& state) {
  const Form form = ball(12);
  const Peer peer(form);
  TriangleMesh out = peer.room();
  std::vector<double> patch;
  for (auto _ : state) {
    for (std::size_t f = 0; f < form.faces.size(); ++f) peer.face(f, form, out, patch);
    benchmark::DoNotOptimize(out.points.data());
  }
}
BENCHMARK(LimitAgainPeer)->Unit(benchmark::kMillisecond);

// All cores on our side; the peer has one. Into a mesh that is there, as the peer does.
void LimitAgainOurs(benchmark::State& state) {
  const Form form = ball(12);
  Progress quiet;
  TriangleMesh mesh;
  const LimitPlan plan(form, kLevels, quiet, &mesh);
  for (auto _ : state) {
    plan.renew(form.points, mesh);
    benchmark::DoNotOptimize(mesh.points.data());
  }
}
BENCHMARK(LimitAgainOurs)->Unit(benchmark::kMillisecond)->UseRealTime();

void LimitFirstPeer(benchmark::State& state) {
  const Form form = ball(12);
  std::vector<double> patch;
  for (auto _ : state) {
    const Peer peer(form);
    TriangleMesh out = peer.room();
    for (std::size_t f = 0; f < form.faces.size(); ++f) peer.face(f, form, out, patch);
    benchmark::DoNotOptimize(out.points.data());
  }
}
BENCHMARK(LimitFirstPeer)->Unit(benchmark::kMillisecond);

void LimitFirstOurs(benchmark::State& state) {
  const Form form = ball(12);
  Progress quiet;
  TriangleMesh mesh;
  for (auto _ : state) {
    const LimitPlan plan(unlinked(form), kLevels, quiet, &mesh);
    benchmark::DoNotOptimize(mesh.points.data());
  }
}
BENCHMARK(LimitFirstOurs)->Unit(benchmark::kMillisecond)->UseRealTime();

void LimitOnePointPeer(benchmark::State& state) {
  Form form = ball(12);
  const Peer peer(form);
  TriangleMesh out = peer.room();
  std::vector<double> patch;
  // The faces that a regular point reaches: those around it and one ring more.
  std::vector<std::size_t> reached;
  const FormTopology& t = form.links->topology;
  const std::uint32_t p = form.faces[84].points[0];
  for (const std::uint32_t f : t.faces_of_point[p])
    for (const std::uint32_t q : form.faces[f].points)
      for (const std::uint32_t g : t.faces_of_point[q])
        if (std::find(reached.begin(), reached.end(), g) == reached.end()) reached.push_back(g);
  for (auto _ : state) {
    form.points[p].z += 0.01;
    for (const std::size_t f : reached) peer.face(f, form, out, patch);
    benchmark::DoNotOptimize(out.points.data());
  }
}
BENCHMARK(LimitOnePointPeer)->Unit(benchmark::kMicrosecond);

void LimitOnePointOurs(benchmark::State& state) {
  Form form = ball(12);
  Progress quiet;
  TriangleMesh out;
  const LimitPlan plan(form, kLevels, quiet, &out);
  const std::uint32_t p = form.faces[84].points[0];
  for (auto _ : state) {
    form.points[p].z += 0.01;
    plan.update(form.points, std::array{p}, out);
    benchmark::DoNotOptimize(out.points.data());
  }
}
BENCHMARK(LimitOnePointOurs)->Unit(benchmark::kMicrosecond);

// What a drag of one point of a form of 15 000 faces costs in the core: the step, and the coarse picture.
void DragOfLargeForm(benchmark::State& state) {
  const Form form = ball(50);
  FormPlans plans;
  DisplayQuality quality = kCoarse;
  quality.plans = &plans;
  Progress quiet;
  Shape below = form;
  ShapedPointsOperation step;
  Shapings shapings = step.offered(below).shapings;
  double z = 0.0;
  for (auto _ : state) {
    shapings[0].displacements(100, 0).z = z += 0.01;
    const OperationPtr moved = step.with_shapings(shapings);
    const Outcome o = moved->apply(below, {}, quiet);
    benchmark::DoNotOptimize(display_mesh(o.shape, quality, quiet).vertices.data());
  }
}
BENCHMARK(DragOfLargeForm)->Unit(benchmark::kMillisecond)->UseRealTime();

// A modelling session of 200 edits: every fourth crosses an edge by a loop, the others crease one, each picked by name in what
// the steps before have made.
Document session(PartId& part) {
  const Added box = with_part({}, "Form", make_operation("form_box"));
  part = box.part;
  Document d = box.document;
  Evaluator evaluator;
  Progress quiet;
  for (int k = 0; k < 200; ++k) {
    const ShapePtr shape = evaluator.evaluate(d, quiet, {part}).parts.at(part).shape;
    const Form& form = std::get<Form>(*shape);
    const auto& edges = links_of(form)->topology.edges;
    const FormEdge edge = edges[static_cast<std::size_t>(7 * k) % edges.size()].points;
    const Pick pick{PickKind::Edge, edge_tag(form, edge),
                    (form.points[edge[0]] + form.points[edge[1]]) * 0.5};
    if (k % 4 == 0 && form.faces.size() < 2000) {
      auto loop = std::make_shared<InsertLoopOperation>();
      loop->edges = {pick};
      d = with_step(d, part, loop).document;
    } else {
      auto crease = std::make_shared<CreaseOperation>();
      crease->edges = {pick};
      crease->sharpness = 0.5 * (k % 7);
      d = with_step(d, part, crease).document;
    }
  }
  return d;
}

void SessionReplayed(benchmark::State& state) {
  PartId part = 0;
  const Document d = session(part);
  Progress quiet;
  std::size_t faces = 0;
  for (auto _ : state) {
    Evaluator evaluator;  // nothing kept
    const ShapePtr shape = evaluator.evaluate(d, quiet, {part}).parts.at(part).shape;
    faces = std::get<Form>(*shape).faces.size();
  }
  state.counters["faces"] = static_cast<double>(faces);
}
BENCHMARK(SessionReplayed)->Unit(benchmark::kMillisecond);

// The step in the middle changed: what lies below is kept.
void SessionChanged(benchmark::State& state) {
  PartId part = 0;
  Document d = session(part);
  Evaluator evaluator;
  Progress quiet;
  evaluator.evaluate(d, quiet, {part});
  const StepId middle = find_part(d, part)->steps[100].id;
  int n = 0;
  for (auto _ : state) {
    auto crease = std::make_shared<CreaseOperation>(
        dynamic_cast<const CreaseOperation&>(*find_step(d, middle)->operation));
    crease->sharpness = 0.01 * (1 + n++ % 500);
    d = with_operation(d, middle, crease);
    benchmark::DoNotOptimize(evaluator.evaluate(d, quiet, {part}).parts.at(part).shape.get());
  }
}
BENCHMARK(SessionChanged)->Unit(benchmark::kMillisecond);

}  // namespace
