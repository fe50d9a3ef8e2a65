#include "app/tools/pick_target.h"

#include <optional>

#include "app/view/layers.h"
#include "core/body/region.h"
#include "core/nurbs/curve.h"
#include "core/nurbs/surface_evaluator.h"
#include "core/operations/body_picks.h"

namespace evenclay {

namespace {

std::vector<float> line_through(const std::vector<Vec3>& places) {
  std::vector<float> pieces;
  for (std::size_t k = 0; k + 1 < places.size(); ++k) add_piece(pieces, places[k], places[k + 1]);
  return pieces;
}

std::vector<float> edge_line(const Edge& edge) {
  const CurveEvaluator e(edge.curve);
  constexpr int kPieces = 32;
  std::vector<Vec3> places;
  for (int k = 0; k <= kPieces; ++k)
    places.push_back(e.point(e.curve().knots.first() + e.curve().knots.length() * k / kPieces));
  return line_through(places);
}

// Hatching of a face: lines of constant v inside its loops.
std::vector<float> face_lines(const Face& face) {
  const FaceRegion region(face);
  const SurfaceEvaluator e(*face.surface);
  std::vector<float> pieces;
  constexpr int kLines = 9, kPieces = 40;
  for (int n = 0; n < kLines; ++n) {
    const double v = region.v_low() + (region.v_high() - region.v_low()) * (n + 0.5) / kLines;
    std::optional<Vec3> last;
    for (int k = 0; k <= kPieces; ++k) {
      const double u = region.u_low() + (region.u_high() - region.u_low()) * k / kPieces;
      if (!region.contains(u, v)) {
        last.reset();
        continue;
      }
      const Vec3 p = e.point(u, v);
      if (last) add_piece(pieces, *last, p);
      last = p;
    }
  }
  return pieces;
}

}  // namespace

const std::vector<float>& PickTarget::hatching(std::size_t face) const {
  const auto [at, fresh] = faces_.try_emplace(face);
  if (fresh) at->second = face_lines(body.faces[face]);
  return at->second;
}

std::vector<float> PickTarget::outline(std::size_t face) const {
  std::vector<float> all;
  for (const Loop& loop : body.faces[face].loops)
    for (const EdgeUse& use : loop)
      all.insert(all.end(), edges[use.edge].begin(), edges[use.edge].end());
  return all;
}

std::shared_ptr<const PickTarget> PickTargets::of(const ShapePtr& shape) {
  for (const auto& t : kept_)
    if (t->shape == shape) return t;
  const auto* body = shape ? std::get_if<Body>(shape.get()) : nullptr;
  if (body == nullptr) return nullptr;
  auto made = std::make_shared<PickTarget>();
  made->shape = shape;
  made->body = edged(*body);
  made->topology = topology(made->body);
  for (const Edge& e : made->body.edges) made->edges.push_back(edge_line(e));
  constexpr std::size_t kKept = 3;
  if (kept_.size() >= kKept) kept_.erase(kept_.begin());
  kept_.push_back(made);
  return made;
}

}  // namespace evenclay
