#include "core/demo/skerry.h"

#include <cmath>
#include <functional>
#include <numbers>

#include "core/base/error.h"
#include "core/demo/finish.h"
#include "core/demo/skerry_parts.h"
#include "core/document/evaluator.h"
#include "core/operations/blend_parts.h"
#include "core/operations/border_surface.h"
#include "core/operations/cage.h"
#include "core/operations/circle.h"
#include "core/operations/combine_parts.h"
#include "core/operations/control_curve.h"
#include "core/operations/copies.h"
#include "core/operations/extend.h"
#include "core/operations/fit_steps.h"
#include "core/operations/flow_pattern.h"
#include "core/operations/form_picks.h"
#include "core/operations/lifted_points.h"
#include "core/operations/outlines.h"
#include "core/operations/plane.h"
#include "core/operations/rebuild.h"
#include "core/operations/rebuild_curve.h"
#include "core/operations/reference_picture.h"
#include "core/operations/scan_steps.h"
#include "core/operations/shaped_points.h"
#include "core/operations/skinned.h"
#include "core/operations/solid_steps.h"
#include "core/operations/sphere.h"
#include "core/operations/swept.h"
#include "core/operations/tiles.h"
#include "core/operations/trim_away.h"
#include "core/points/arrange.h"
#include "core/points/falloff.h"

namespace evenclay {

namespace {

Surface surface_of(const Document& document, PartId part) {
  Progress progress;
  const Evaluation e = Evaluator().evaluate(document, progress, {part});
  return *std::get<Body>(*e.parts.at(part).shape).faces.front().surface;
}

std::shared_ptr<RebuildOperation> rebuild_to(int u, int v) {
  auto rebuild = std::make_shared<RebuildOperation>();
  rebuild->points_u = u;
  rebuild->points_v = v;
  return rebuild;
}

// The underside flattened at z = −34 mm.
std::shared_ptr<ShapedPointsOperation> shape_shell(const Surface& below) {
  constexpr double kFloor = -34.0;
  Shaping shaping = no_shaping(below);
  for (const PointIndex& p :
       points_where(below, [](const Vec3& point) { return point.z < kFloor; }))
    shaping.displacements(p.i, p.j).z = kFloor - below.points(p.i, p.j).z;
  auto operation = std::make_shared<ShapedPointsOperation>();
  operation->symmetry = SymmetryPlane::XZ;
  operation->point.nets = {shaping};
  return operation;
}

// The middle point 1.6 mm down with weight 2, the inner points beside it raised by 0.3 mm.
std::shared_ptr<ShapedPointsOperation> shape_tile(const Surface& below) {
  Shaping shaping = no_shaping(below);
  for (const auto& [i, j] : {std::pair{1, 2}, {3, 2}, {2, 1}, {2, 3}})
    shaping.displacements(i, j).z = 0.3;
  shaping.displacements(2, 2).z = -1.6;
  shaping = with_weight({shaping}, below, {{0, 2, 2}}, 2.0).front();
  auto operation = std::make_shared<ShapedPointsOperation>();
  operation->point.nets = {shaping};
  return operation;
}

// Every second point of the ring scaled to 0.9 about its centre: eighteen soft grips.
std::shared_ptr<ShapedPointsOperation> shape_knob(const Curve& below, const Vec3& centre) {
  const Nets nets(below);
  const Selection second = every_nth(row_through(nets, {}, 0), 0, 2, 0);
  const PointShares share = shares(nets, second, {});
  Frame about;
  about.origin = centre;
  auto operation = std::make_shared<ShapedPointsOperation>();
  operation->point.nets =
      with_moves({}, nets, scale(nets, share, about, {0.9, 0.9, 1.0}), share, {});
  return operation;
}

// The brow: one point lifted off the skin by `lift`, those beside it by five ninths of that.
Document with_brow(const Document& document, PartId shell) {
  auto lifted = std::make_shared<LiftedPointsOperation>();
  for (const int i : {0, 1, 9}) lifted->rows.rows.push_back({{0, i, 5}, 2, LiftWay::OffSkin});
  lifted->amounts.assign(3, 0.0);
  const Added brow = with_step(document, shell, lifted);
  Document d = brow.document;
  const std::array<const char*, 3> amounts{"lift", "lift * 5 / 9", "lift * 5 / 9"};
  for (std::size_t k = 0; k < amounts.size(); ++k)
    d = with_step_parameter(d, brow.step, "amount_" + std::to_string(k + 1), amounts[k]);
  return with_step_name(d, brow.step, "Brow");
}

// A box of 3 × 3 × 4 points around the shell, whose two middle layers are drawn in by `waist` percent.
Document with_waist(const Document& document, PartId shell) {
  constexpr double kHalf = 54.0;  // mm, of the cage across
  auto cage = std::make_shared<CageOperation>();
  cage->points_x = cage->points_y = 3;
  cage->points_z = 4;
  cage->centre = {0.0, 0.0, 9.5};
  cage->length_x = cage->length_y = 2.0 * kHalf;
  cage->length_z = 90.0;
  const Added box = with_part(document, "Waist cage", cage);
  auto lifted = std::make_shared<LiftedPointsOperation>();
  std::vector<const char*> inward;
  for (int k = 1; k <= 2; ++k)
    for (int i = 0; i < 3; ++i)
      for (int j = 0; j < 3; ++j)
        for (const LiftWay way : {LiftWay::X, LiftWay::Y}) {
          const int along = way == LiftWay::X ? i : j;
          if (along == 1) continue;
          lifted->rows.rows.push_back({{i, j, k, 0}, 3, way});
          inward.push_back(along == 0 ? "waist * 0.54" : "-waist * 0.54");
        }
  lifted->amounts.assign(lifted->rows.rows.size(), 0.0);
  Added drawn_in = with_step(box.document, box.part, lifted);
  Document d = drawn_in.document;
  for (std::size_t k = 0; k < inward.size(); ++k)
    d = with_step_parameter(d, drawn_in.step, "amount_" + std::to_string(k + 1), inward[k]);
  d = with_look(d, box.part, {0x6D6A66, false});
  auto in = std::make_shared<InCageOperation>();
  in->cage = box.part;
  return with_step(d, shell, in).document;
}

// The outline of the knob: a circle, rebuilt to 36 points, with grips.
Added with_knob_ring(const Document& document) {
  auto circle = std::make_shared<CircleOperation>();
  circle->radius = 11.0;
  circle->centre = {0.0, 0.0, 54.0};
  const Added knob = with_part(document, "Knob ring", circle);
  auto rebuild = std::make_shared<RebuildCurveOperation>();
  rebuild->points = 36;
  rebuild->spacing = Spacing::Even;
  Document d = with_step(knob.document, knob.part, rebuild).document;
  Progress progress;
  const Evaluation e = Evaluator().evaluate(d, progress, {knob.part});
  const Curve& below = std::get<CurveSet>(*e.parts.at(knob.part).shape).curves.front();
  d = with_step(d, knob.part, shape_knob(below, circle->centre)).document;
  NamedPoints grips{"grips", {}};
  for (int i = 0; i < 36; i += 2) grips.points.push_back({0, i, 0, 0});
  d = with_selection(d, knob.part, grips);
  return {with_look(d, knob.part, {0x6D6A66, true}), knob.part, knob.step};
}

// The knob's body: a profile turned about the axis while its foot stays on the ring.
Document with_knob(const Document& document) {
  const Added ring = with_knob_ring(document);
  auto profile = std::make_shared<ControlCurveOperation>();
  profile->points.places = {{0, 0, 62}, {5, 0, 62}, {9.5, 0, 61.8}, {10.9, 0, 60}, {11, 0, 54}};
  const Added drawn = with_part(ring.document, "Knob profile", profile);
  auto body = std::make_shared<RevolveAlongRailOperation>();
  body->profile = drawn.part;
  body->rail = ring.part;
  const Added knob = with_part(drawn.document, "Knob", body);
  Document d = with_look(knob.document, drawn.part, {0x6D6A66, false});
  return with_look(d, knob.part, {0x5C5956, true});
}

// An arc over three places with its mirror image.
Added with_arcs(const Document& document, const char* name, const Vec3& from, const Vec3& over,
                const Vec3& to, FlatPlane plane) {
  auto arc = std::make_shared<ArcOperation>();
  arc->from = from;
  arc->over = over;
  arc->to = to;
  const Added drawn = with_part(document, name, arc);
  auto mirror = std::make_shared<MirrorOperation>();
  mirror->plane = plane;
  Document d = with_step(drawn.document, drawn.part, mirror).document;
  return {with_look(d, drawn.part, {0x6D6A66, false}), drawn.part, drawn.step};
}

// Edges of a part whose middle lies there, as picks.
std::vector<Pick> body_edges_where(const Document& d, PartId part,
                                   const std::function<bool(const Vec3&)>& there) {
  Progress progress;
  const Evaluation e = Evaluator().evaluate(d, progress, {part});
  const Body body = edged(std::get<Body>(*e.parts.at(part).shape));
  std::vector<Pick> picks;
  for (std::size_t k = 0; k < body.edges.size(); ++k)
    if (const Pick pick = pick_of_body_edge(body, k); there(pick.near)) picks.push_back(pick);
  return picks;
}

// The foot under the flattened underside: four bowed borders, three ribs each way, pushed down by 2 mm.
Document with_foot(const Document& document) {
  constexpr double kFloor = -34.4;
  const Added front = with_arcs(document, "Foot front and back", {-20, -13, kFloor},
                                {0, -16, kFloor}, {20, -13, kFloor}, FlatPlane::XZ);
  const Added sides = with_arcs(front.document, "Foot sides", {20, -13, kFloor}, {24, 0, kFloor},
                                {20, 13, kFloor}, FlatPlane::YZ);
  auto surface = std::make_shared<BorderSurfaceOperation>();
  surface->border = {front.part, sides.part};
  surface->symmetry = SymmetryPlane::XZ;
  Added foot = with_part(sides.document, "Foot", surface);
  // Down is where the push goes, whichever way the borders were found to run round.
  const double down = normal(surface_of(foot.document, foot.part), 0.5, 0.5).z < 0.0 ? 2.0 : -2.0;
  Document d = with_step_parameter(foot.document, foot.step, "push", down > 0.0 ? "2" : "-2");
  d = with_step(d, foot.part, std::make_shared<ThickenOperation>()).document;
  auto round = std::make_shared<RoundEdgesOperation>();
  round->edges = body_edges_where(d, foot.part, [](const Vec3& p) {
    return p.z < kFloor - 1.9 && std::abs(p.z - kFloor + 2.0) < 0.4;
  });
  round->radius = 0.8;
  d = with_step(d, foot.part, round).document;
  return with_look(d, foot.part, {0xA9B4AC, true});
}

// A drawn picture of the side view, to model over: the outline of shell, knob and foot.
Document with_sketch(const Document& document) {
  static const std::string drawing =
      R"(<svg xmlns="http://www.w3.org/2000/svg" width="1200" height="1200" viewBox="0 0 1200 1200">
<g fill="none" stroke="#8C3A25" stroke-width="6" stroke-linecap="round">
<path d="M 340 940 C 120 860 40 640 110 470 C 190 270 360 130 510 96 L 690 96 C 850 130 1010 270 1090 470 C 1160 640 1080 860 860 940 Z"/>
<path d="M 490 96 L 500 0 Q 600 -14 700 0 L 710 96"/>
<path d="M 400 944 Q 600 984 800 944"/>
<path d="M 105 520 Q 600 470 1095 520 M 150 760 Q 600 720 1050 760" stroke-dasharray="14 12" stroke-width="3"/>
</g>
<g stroke="#B9A893" stroke-width="2"><path d="M 600 0 V 1200 M 0 600 H 1200"/></g>
</svg>)";
  auto picture = std::make_shared<ReferencePictureOperation>();
  picture->file = {"side-sketch.svg", std::make_shared<const std::string>(drawing)};
  picture->plane = FlatPlane::XZ;
  picture->centre = {0.0, 0.0, 1.0};
  picture->width = 118.0;
  picture->opacity = 100.0;
  picture->through = true;
  const Added sketch = with_part(document, "Side sketch", picture);
  return with_look(sketch.document, sketch.part, {0xC9A48C, false});
}

// The layers of the project; the case is hidden, since it would cover the speaker.
Document in_layers(Document d) {
  const std::vector<std::pair<const char*, std::vector<const char*>>> layers{
      {"Body",
       {"Shell", "Waist cage", "Grille", "Foot", "Foot front and back", "Foot sides", "Carry loop",
        "Clasp", "Badge"}},
      {"Pattern", {"Dimple tile"}},
      {"Controls",
       {"Knob", "Knob ring", "Knob profile", "Knob opening", "Knob seat", "Lid outline"}},
      {"Case", {"Case lid", "Case collar", "Case ribs", "Rib tile", "Case rim"}},
      {"Scan", {"Grip clay scan", "Grip"}}};
  for (const auto& [layer, parts] : layers) {
    d = with_layer(
        d, {layer, std::string_view(layer) != "Case" && std::string_view(layer) != "Scan", false});
    for (const char* part : parts)
      d = with_part_in_layer(d, find_part(d, std::string_view(part))->id, layer);
  }
  return d;
}

// The opening for the knob, cut at the top by a circle beneath it.
Document with_opening(const Document& document, PartId shell) {
  auto circle = std::make_shared<CircleOperation>();
  circle->radius = 15.0;
  circle->centre = {0.0, 0.0, 30.0};
  const Added opening = with_part(document, "Knob opening", circle);
  Document d = with_look(opening.document, opening.part, {0x6D6A66, false});
  auto cut = std::make_shared<TrimAwayOperation>();
  cut->curve = opening.part;
  cut->carried.way = Carry::Z;
  cut->reach = TrimReach::Forwards;
  return with_step(d, shell, cut).document;
}

// The seat that leads from the shell's opening up to the knob, whatever is done to either.
Document with_knob_seat(const Document& document, PartId shell) {
  auto blend = std::make_shared<BlendOperation>();
  blend->first = {shell, find_part(document, shell)->steps.back().id};
  blend->second = find_part(document, std::string_view("Knob"))->id;
  const Added seat = with_part(document, "Knob seat", blend);
  return with_look(seat.document, seat.part, {0x6D6A66, true});
}

// The battery lid split off the underside with a gap, and the whole skin thickened to a wall.
Document with_lid_and_wall(const Document& document, PartId shell) {
  auto outline = std::make_shared<RectangleOperation>();
  outline->length = 34.0;
  outline->width = 22.0;
  outline->corner = 5.0;
  outline->centre = {0.0, 0.0, -20.0};
  const Added lid = with_part(document, "Lid outline", outline);
  Document d = with_look(lid.document, lid.part, {0x6D6A66, false});
  auto split = std::make_shared<SplitOperation>();
  split->part = lid.part;
  split->carried.way = Carry::Z;
  split->reach = SplitReach::Backwards;
  split->gap = 0.6;
  const Added cut = with_step(d, shell, split);
  d = with_step_parameter(cut.document, cut.step, "gap", "gap");
  const Added wall = with_step(d, shell, std::make_shared<ThickenOperation>());
  return with_step_parameter(wall.document, wall.step, "thickness", "wall");
}

// A scan of a palm rest made by hand of clay, the region of it that is wanted, and the surface fitted to that.
Document with_grip(const Document& document) {
  const Vec3 at{0.0, 150.0, -34.0};
  auto scanner = std::make_shared<PracticeScannerOperation>();
  scanner->centre = at;
  scanner->seed = 7;
  const Added scan = with_part(document, "Grip clay scan", scanner);
  Document d = with_look(scan.document, scan.part, {0xA9A29A, false});
  auto clip = std::make_shared<ClipScanOperation>();
  clip->scan = scan.part;
  clip->border = 2.0;
  Lasso lasso;
  for (int k = 0; k < 48; ++k) {
    const double a = 2.0 * std::numbers::pi * k / 48.0;
    const auto stretched = [](double x) { return std::copysign(std::pow(std::abs(x), 0.7), x); };
    lasso.outline.push_back(
        {at.x - 2.0 + 36.0 * stretched(std::cos(a)), at.y + 25.0 * stretched(std::sin(a)), 0.0});
  }
  clip->regions.lassos = {lasso};
  const Added grip = with_part(d, "Grip", clip);
  d = with_look(grip.document, grip.part, {0xC9A48C, true});
  auto fit = std::make_shared<FitSurfaceOperation>();
  fit->off = FitOff::Z;
  d = with_step(d, grip.part, fit).document;
  auto extend = std::make_shared<ExtendOperation>();
  extend->all = 4.0;
  d = with_step(d, grip.part, extend).document;
  auto fair = std::make_shared<FairOperation>();
  fair->tolerance = 0.05;
  fair->shorter_than = 80.0;
  fair->holds.fill(EdgeRule::Free);
  d = with_step(d, grip.part, fair).document;
  return with_watch(d, grip.part, {PartRef(grip.part, grip.step), 0.5});
}

// What the shell's steps and the tile follow.
Document named_numbers() {
  Document d = with_number({}, "radius", "52");
  d = with_number_range(d, "radius", 40.0, 70.0);
  d = with_number(d, "waist", "6");
  d = with_number_range(d, "waist", 0.0, 12.0);
  d = with_number(d, "lift", "9");
  d = with_number_range(d, "lift", 0.0, 15.0);
  d = with_number(d, "wall", "2");
  d = with_number_range(d, "wall", 1.0, 4.0);
  d = with_number(d, "gap", "0.6");
  d = with_number_range(d, "gap", 0.2, 2.0);
  d = with_number(d, "tile", "8");
  return with_number_range(d, "tile", 5.0, 12.0);
}

}  // namespace

Document make_demo() {
  auto sphere = std::make_shared<SphereOperation>();
  sphere->radius = 52.0;
  const Added shell = with_part(named_numbers(), "Shell", sphere);
  Document d = with_step_parameter(shell.document, shell.step, "radius", "radius");
  d = with_step(d, shell.part, rebuild_to(10, 8)).document;
  d = with_step(d, shell.part, shape_shell(surface_of(d, shell.part))).document;
  d = with_brow(d, shell.part);
  d = with_waist(d, shell.part);

  auto plane = std::make_shared<PlaneOperation>();
  plane->length_x = 8.0;
  plane->length_y = 8.0;
  plane->centre = {72.0, 0.0, 0.6};  // its lowest point stays above the shell's skin
  const Added tile = with_part(d, "Dimple tile", plane);
  d = with_step_parameter(tile.document, tile.step, "length_x", "tile");
  d = with_step_parameter(d, tile.step, "length_y", "tile");
  d = with_step(d, tile.part, rebuild_to(5, 5)).document;
  d = with_step(d, tile.part, shape_tile(surface_of(d, tile.part))).document;
  d = with_step(d, tile.part, std::make_shared<PairEdgesOperation>()).document;

  auto flow = std::make_shared<FlowPatternOperation>();
  flow->tile = tile.part;
  // The band is read as it was before the cut, so that openings do not move the tiles.
  const StepId shaped = find_part(d, shell.part)->steps.back().id;
  flow->target = {shell.part, shaped};
  flow->sizing = FlowSizing::Size;
  flow->v_from = 0.36;
  flow->v_to = 0.74;
  flow->fade_v_from = flow->fade_v_to = 9.0;
  flow->spacing = FlowSpacing::Even;
  flow->divisions = 14;
  Added grille = with_part(d, "Grille", flow);
  d = with_step_parameter(grille.document, grille.step, "tile_u", "tile * 0.75");
  d = with_step_parameter(d, grille.step, "tile_v", "tile * 0.75");
  d = with_look(d, grille.part, {0x8FA3A6, true});
  d = with_look(d, tile.part, {0xB79A7B, true});
  d = with_opening(with_knob(d), shell.part);
  d = with_lid_and_wall(with_knob_seat(d, shell.part), shell.part);
  return with_finish(
      with_sketch(in_layers(with_grip(with_badge(with_carry_loop(with_case(with_foot(d))))))));
}

}  // namespace evenclay
