#include <cmath>
#include <functional>

#include "core/demo/skerry_parts.h"
#include "core/document/evaluator.h"
#include "core/operations/form_faces.h"
#include "core/operations/form_loops.h"
#include "core/operations/form_picks.h"
#include "core/operations/form_sources.h"
#include "core/operations/form_whole.h"

namespace evenclay {

namespace {

Form form_in(const Document& document, PartId part) {
  Progress progress;
  const Evaluation e = Evaluator().evaluate(document, progress, {part});
  return std::get<Form>(*e.parts.at(part).shape);
}

std::vector<Pick> faces_where(const Form& form, const std::function<bool(const Vec3&)>& there) {
  std::vector<Pick> picks;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f)
    if (const Pick p = pick_of_face(form, f); there(p.near)) picks.push_back(p);
  return picks;
}

std::vector<Pick> edges_where(const Form& form, const std::function<bool(const Vec3&)>& there) {
  std::vector<Pick> picks;
  const std::shared_ptr<const FormLinks> links = links_of(form);
  for (const FormTopology::Edge& e : links->topology.edges)
    if (const Pick p = pick_of_edge(form, e.points); there(p.near)) picks.push_back(p);
  return picks;
}

}  // namespace

Document with_carry_loop(Document d) {
  constexpr double kHeight = 12.0, kMiddle = -79.0, kRing = 16.0, kTube = 3.2;
  auto box = std::make_shared<FormBoxOperation>();
  box->size = {12.0, 11.0, 8.0};
  box->centre = {-51.0, 0.0, kHeight};
  box->faces_x = 1;
  const Added clasp = with_part(d, "Clasp", box);
  auto torus = std::make_shared<FormTorusOperation>();
  torus->ring = kRing;
  torus->tube = kTube;
  torus->centre = {kMiddle, 0.0, kHeight};
  torus->plane = FlatPlane::XZ;
  torus->around = 12;
  torus->across = 4;
  const Added loop = with_part(clasp.document, "Carry loop", torus);
  d = loop.document;
  auto insert =
      std::make_shared<InsertLoopOperation>();  // at the far end, where a finger goes through
  insert->edges = edges_where(form_in(d, loop.part), [](const Vec3& p) {
    return p.x < kMiddle - kRing && p.z > kHeight + 1.0;
  });
  insert->edges.resize(1);
  d = with_step(d, loop.part, insert).document;
  auto crease = std::make_shared<CreaseOperation>();
  crease->edges =
      edges_where(form_in(d, loop.part), [](const Vec3& p) { return std::abs(p.y) > kTube - 0.2; });
  crease->sharpness = 2.0;
  d = with_step(d, loop.part, crease).document;
  auto take = std::make_shared<TakeInFormOperation>();
  take->part = clasp.part;
  d = with_step(d, loop.part, take).document;
  auto bridge = std::make_shared<BridgeOperation>();
  bridge->faces = faces_where(form_in(d, loop.part), [](const Vec3& p) {
    const bool of_ring = p.x > kMiddle + kRing - 1.0 && p.x < kMiddle + kRing + kTube &&
                         std::abs(p.z - kHeight) < 6.0;
    return of_ring || std::abs(p.x + 57.0) < 0.1;
  });
  bridge->segments = 2;
  d = with_step(d, loop.part, bridge).document;
  d = with_look(d, loop.part, {0x5B4A3F, true});
  return with_look(d, clasp.part, {0x5B4A3F, false});
}

Document with_badge(Document d) {
  constexpr double kFront = 47.5, kHeight = -23.0;
  auto box = std::make_shared<FormBoxOperation>();
  box->size = {4.0, 24.0, 10.0};
  box->centre = {kFront, 0.0, kHeight};
  box->faces_x = 1;
  box->faces_y = 5;
  box->faces_z = 3;
  const Added badge = with_part(d, "Badge", box);
  d = badge.document;
  auto bridge = std::make_shared<BridgeOperation>();
  bridge->faces = faces_where(form_in(d, badge.part), [](const Vec3& p) {
    return std::abs(p.y) < 1.0 && std::abs(p.z - kHeight) < 1.0;
  });
  d = with_step(d, badge.part, bridge).document;
  auto crease = std::make_shared<CreaseOperation>();
  crease->edges = edges_where(form_in(d, badge.part), [](const Vec3& p) {
    return p.x < kFront - 1.9 && (std::abs(p.y) > 11.9 || std::abs(p.z - kHeight) > 4.9);
  });
  crease->sharpness = kSharp;
  d = with_step(d, badge.part, crease).document;
  d = with_step(d, badge.part, std::make_shared<FormToSurfacesOperation>()).document;
  return with_look(d, badge.part, {0xB98A5A, true});
}

}  // namespace evenclay
