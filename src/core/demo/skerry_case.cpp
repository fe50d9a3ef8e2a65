#include "core/demo/skerry_parts.h"
#include "core/operations/circle.h"
#include "core/operations/copy_of_part.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/guide_curves.h"
#include "core/operations/skinned.h"
#include "core/operations/swept.h"
#include "core/operations/tiles.h"

namespace evenclay {

namespace {

// Diagonal ribs all round the collar of the case: a rib, turned by 45°, cut to its square, and flowed on.
Document with_case_ribs(const Document& document, PartId collar) {
  auto rib = std::make_shared<ShelfTileOperation>();
  rib->tile = ShelfTile::Rib;
  rib->sizes = {.length_x = 6.0, .length_y = 6.0, .height = 0.9, .width = 0.7, .points = 8};
  rib->corner = {96.0, 0.0, 0.0};
  const Added tile = with_part(document, "Rib tile", rib);
  Document d =
      with_step(tile.document, tile.part, std::make_shared<DiagonalTileOperation>()).document;
  auto flow = std::make_shared<FlowPatternOperation>();
  flow->tile = tile.part;
  flow->target = collar;
  flow->sizing = FlowSizing::Size;
  flow->tile_u = flow->tile_v = 8.0;
  flow->v_from = 0.0;
  flow->v_to = 1.0;
  flow->fade_v_from = flow->fade_v_to = 3.0;
  const Added ribs = with_part(d, "Case ribs", flow);
  d = with_look(ribs.document, tile.part, {0xB79A7B, false});
  return with_look(d, ribs.part, {0xA9B4AC, true});
}

// Three guide curves across the lid draw in a shallow hollow for the thumb; its edge stays tangent to the collar.
OperationPtr thumb_hollow() {
  GuideCurvesOperation guides;
  guides.places.places = {{0.32, {}}, {0.5, {}}, {0.68, {}}};
  guides.density_u = guides.density_v = 24;
  guides.points = 7;
  Shapings moved;
  for (const double depth : {1.2, 2.4, 1.2}) {
    Shaping s;
    s.u = uniform_knots(7, 3, false);
    s.displacements = Grid<Vec3>(7, 1);
    s.displacements(3, 0) = {0.0, 0.0, -depth};
    moved.push_back(std::move(s));
  }
  return guides.with_shapings(std::move(moved));
}

}  // namespace

Document with_case(const Document& document) {
  auto circle = std::make_shared<CircleOperation>();
  circle->radius = 72.0;
  circle->centre = {0.0, 0.0, 18.0};
  const Added rim = with_part(document, "Case rim", circle);
  auto copy = std::make_shared<CopyOfPartOperation>();
  copy->part = rim.part;
  const Added collar = with_part(rim.document, "Case collar", copy);
  auto extrude = std::make_shared<ExtrudeOperation>();
  extrude->length = -24.0;
  Document d = with_step(collar.document, collar.part, extrude).document;
  auto fill = std::make_shared<FillOperation>();
  fill->border = {rim.part};
  fill->neighbours = {collar.part};
  fill->reach = 1.5;
  fill->puff = 1.0;
  const Added lid = with_part(d, "Case lid", fill);
  d = with_look(lid.document, rim.part, {0x6D6A66, false});
  d = with_look(d, collar.part, {0xB9C0B4, true});
  d = with_step(d, lid.part, thumb_hollow()).document;
  return with_case_ribs(with_look(d, lid.part, {0xB9C0B4, true}), collar.part);
}

}  // namespace evenclay
