#include "core/operations/flow_pattern.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>

#include "core/base/error.h"
#include "core/body/body_mesh.h"
#include "core/mesh/tessellate.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

constexpr NumberRange kShare{0.0, 1.0, "", 0.01, 4};

// Surfaces of a tile as one mesh with `divisions` parts a side of each span.
TriangleMesh tile_mesh(const Shape& shape, int divisions, Progress& progress) {
  if (const auto* mesh = std::get_if<TriangleMesh>(&shape)) return *mesh;
  if (std::holds_alternative<CurveSet>(shape))
    throw Error("The tile is a curve. Choose a part made of surfaces or a mesh as the tile.");
  TriangleMesh result;
  const Body& body = std::get<Body>(shape);
  if (is_trimmed(body)) {
    const double chord = size(body) / (4.0 * divisions * divisions);
    return welded(tessellate(body, {.chord = chord}, progress));
  }
  for (const Surface& s : surfaces_of(body)) {
    const auto parts = [&](const KnotVector& k) {
      const int spans = static_cast<int>(breakpoints(k).size()) - 1;
      return std::max(1, (divisions + spans - 1) / spans);
    };
    append(result, tessellate(s, {.per_span_u = parts(s.u), .per_span_v = parts(s.v)}, progress));
  }
  return result;
}

// Kept between evaluations where there is a memo.
template <typename T, typename Make>
std::shared_ptr<const T> kept(const Inputs& inputs, const ShapePtr& owner,
                              const std::string& detail, const Make& make) {
  if (inputs.memo == nullptr) return make();
  return inputs.memo->keep<T>(owner, make, detail);
}

}  // namespace

// The chosen part is the target; the flattest other part makes the tile.
void FlowPatternOperation::suit(const Beginning& b) {
  target = b.chosen;
  double flattest = std::numeric_limits<double>::infinity();
  for (const auto& [id, shape] : b.parts) {
    if (id == target || !shape || kind_of(*shape) == kCurves || is_empty(*shape)) continue;
    const Box3 box = rough_box(*shape);
    const Vec3 extent = box.max - box.min;
    const double slope = extent.z / std::max(1e-9, std::min(extent.x, extent.y));
    if (slope >= flattest) continue;
    flattest = slope;
    tile = id;
  }
}

void FlowPatternOperation::describe(ParameterVisitor& v) {
  v.part({"tile", "Tile", "The part that is repeated: surfaces or a mesh, lying flat in x–y."},
         tile);
  v.part({"target", "Target", "The part with the surface the pattern is put on."}, target);
  v.count({"count_u", "Repeats along u", "How many tiles along the target's u."}, count_u,
          {1, 500});
  v.count({"count_v", "Repeats along v", "How many tiles along the target's v."}, count_v,
          {1, 500});
  static constexpr std::array<Choice, 4> corners{
      {{"u0_v0", "u 0, v 0"}, {"u1_v0", "u 1, v 0"}, {"u1_v1", "u 1, v 1"}, {"u0_v1", "u 0, v 1"}}};
  visit_choice(v,
               {"corner", "Base corner on",
                "Corner of the target on which the base's origin lands; turns the tiles."},
               corner, corners);
  v.toggle({"flip_u", "Flip along u", "Mirrors each tile along u."}, flip_u);
  v.toggle({"flip_v", "Flip along v", "Mirrors each tile along v."}, flip_v);
  v.toggle({"inward", "Heights inward", "Heights point into the target instead of outward."},
           inward);
  v.number({"height", "Height factor", "Tile heights are multiplied by this."}, height,
           {0.0, 100.0, "× ", 0.1, 3});
  v.number({"u_from", "Band u from", "Begin of the band, as a share of the target's u."}, u_from,
           kShare);
  v.number({"u_to", "Band u to", "End of the band, as a share of the target's u."}, u_to, kShare);
  v.number({"v_from", "Band v from", "Begin of the band, as a share of the target's v."}, v_from,
           kShare);
  v.number({"v_to", "Band v to", "End of the band, as a share of the target's v."}, v_to, kShare);
  static constexpr std::array<Choice, 2> spacings{
      {{"parameter", "Along the grid's flow"}, {"even", "Evened out"}}};
  visit_choice(v,
               {"spacing", "Spacing",
                "Evened out spreads the tiles by mean arc length instead of the parameter."},
               spacing, spacings);
  v.count({"divisions", "Mesh divisions", "Parts of a tile's side in the mesh."}, divisions,
          {1, 200});
  v.number({"base_x", "Base length", "Length of one repeat in the tile; 0 takes the tile's own."},
           base_x, {0.0, 100000.0, "mm", 1.0, 3});
  v.number({"base_y", "Base width", "Width of one repeat in the tile; 0 takes the tile's own."},
           base_y, {0.0, 100000.0, "mm", 1.0, 3});
}

std::string FlowPatternOperation::summary() const {
  return fmt::format("{} × {} tiles", count_u, count_v);
}

Outcome FlowPatternOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  if (tile == 0) throw Error("Flow pattern has no tile yet. Choose a tile part in its settings.");
  if (target == 0)
    throw Error("Flow pattern has no target yet. Choose a target part in its settings.");
  if (tile == target)
    throw Error("The tile cannot be its own target. Choose another part as the target.");
  const Shape& tile_shape = *inputs.parts.at(tile);
  const Body& target_body = faces_of(*inputs.parts.at(target), "The target of the flow");
  if (is_empty(tile_shape)) throw Error("The tile is empty. Mend or switch on its steps first.");
  Outcome outcome;
  if (target_body.faces.size() > 1)
    outcome.notes.emplace_back(
        "The target has several surfaces; the first one carries the pattern.");
  const ShapePtr& tile_owner = inputs.parts.at(tile);
  const auto mesh = kept<TriangleMesh>(inputs, tile_owner, fmt::format("{}", divisions), [&] {
    return std::make_shared<const TriangleMesh>(tile_mesh(tile_shape, divisions, progress));
  });
  FlowOptions o;
  o.base = base_of(*mesh);
  if (base_x > 0.0) o.base.length_x = base_x;
  if (base_y > 0.0) o.base.length_y = base_y;
  o.count_u = count_u;
  o.count_v = count_v;
  o.corner = corner;
  o.flip_u = flip_u;
  o.flip_v = flip_v;
  o.inward = inward;
  o.height = height;
  o.u_from = u_from;
  o.u_to = u_to;
  o.v_from = v_from;
  o.v_to = v_to;
  o.even = spacing == FlowSpacing::Even;
  const Face& face = target_body.faces.front();
  const Surface& surface = *face.surface;
  o.made = whole_tiles(face, o);
  if (const auto left_out = std::count(o.made.begin(), o.made.end(), false); left_out > 0)
    outcome.notes.push_back(
        fmt::format("{} of {} tiles would reach over the border of the face and are left out.",
                    left_out, o.made.size()));
  // Only the target's points change while a hand shapes it: the plan stays.
  const auto plan =
      kept<FlowPlan>(inputs, tile_owner, fmt::format("{} {}", divisions, FlowPlan::key(surface, o)),
                     [&] { return std::make_shared<const FlowPlan>(*mesh, surface, o, progress); });
  outcome.shape = plan->onto(surface, progress);
  return outcome;
}

}  // namespace evenclay
