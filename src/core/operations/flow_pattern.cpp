#include "core/operations/flow_pattern.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <limits>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/operations/common.h"
#include "core/operations/height_rule.h"
#include "core/operations/tile_mesh.h"
#include "core/pattern/border_cut.h"
#include "core/pattern/exact.h"
#include "core/pattern/pairing.h"

namespace evenclay {

namespace {

constexpr NumberRange kShare{0.0, 1.0, "", 0.01, 4};
constexpr NumberRange kFade{0.0, 10000.0, "mm", 1.0, 2};

// Kept between evaluations where there is a memo.
template <typename T, typename Owner, typename Make>
std::shared_ptr<const T> kept(const Inputs& inputs, const std::shared_ptr<const Owner>& owner,
                              const std::string& detail, const Make& make) {
  if (inputs.memo == nullptr) return make();
  return inputs.memo->keep<T>(owner, make, detail);
}

struct Candidate {
  PartId id = 0;
  double size = 0.0;   // longest side of its box, mm
  double slope = 0.0;  // height by the shorter side of its plan
  bool body = false;
};

std::vector<Candidate> candidates(const Beginning& b) {
  std::vector<Candidate> found;
  for (const auto& [id, shape] : b.parts) {
    if (!shape || (kind_of(*shape) & (kBody | kMesh)) == 0 || is_empty(*shape)) continue;
    const Box3 box = rough_box(*shape);
    const Vec3 extent = box.max - box.min;
    found.push_back({id, std::max({extent.x, extent.y, extent.z}),
                     extent.z / std::max(1e-9, std::min(extent.x, extent.y)),
                     (kind_of(*shape) & kBody) != 0});
  }
  return found;
}

// The largest body, when the chosen part is flat and small beside all others: a tile, then.
std::optional<PartId> carrier_of(PartId chosen, const std::vector<Candidate>& all) {
  const auto own = std::ranges::find(all, chosen, &Candidate::id);
  if (own == all.end() || own->slope > 0.5) return std::nullopt;
  const Candidate* largest = nullptr;
  for (const Candidate& c : all) {
    if (c.id == chosen) continue;
    if (c.size < 2.0 * own->size) return std::nullopt;
    if (c.body && (largest == nullptr || c.size > largest->size)) largest = &c;
  }
  return largest == nullptr ? std::nullopt : std::optional(largest->id);
}

}  // namespace

// The chosen part is the target and the flattest other part makes the tile, unless the chosen one is a
// tile itself.
void FlowPatternOperation::suit(const Beginning& b) {
  const std::vector<Candidate> all = candidates(b);
  const std::optional<PartId> carrier = carrier_of(b.chosen, all);
  target = carrier.value_or(b.chosen);
  double flattest = std::numeric_limits<double>::infinity();
  for (const Candidate& c : all) {
    if (carrier ? c.id != b.chosen : c.id == b.chosen || c.slope >= flattest) continue;
    flattest = c.slope;
    tile = c.id;
  }
  const ShapePtr onto = carrier ? b.parts.at(*carrier) : b.before;
  const auto* body = onto ? std::get_if<Body>(onto.get()) : nullptr;
  // A flat or open face is covered whole; a closed one gets a band that leaves out its poles.
  if (body != nullptr && !body->faces.empty()) {
    const Chart chart = chart_of(body->faces.front());
    if (is_trimmed(*body)) border = FlowBorder::Cut;
    if (!chart.pole[2] && !chart.pole[3]) {
      v_from = 0.0;
      v_to = 1.0;
    }
  }
  sizing = FlowSizing::Size;
  if (const auto it = b.parts.find(tile.part); it != b.parts.end() && it->second) {
    const Box3 box = rough_box(*it->second);
    tile_u = std::clamp(box.max.x - box.min.x, 0.1, 1000.0);
    tile_v = std::clamp(box.max.y - box.min.y, 0.1, 1000.0);
  }
}

void FlowPatternOperation::describe(ParameterVisitor& v) {
  v.part({"tile", "Tile", "The part that is repeated: surfaces or a mesh, lying flat in x–y."},
         tile);
  v.part({"target", "Target", "The part with the surface the pattern is put on."}, target);
  static constexpr std::array<Choice, 2> sizings{
      {{"counts", "How many tiles"}, {"size", "How large a tile is"}}};
  visit_choice(v, {"sizing", "Given", "Counts, or the size from which the nearest counts follow."},
               sizing, sizings);
  if (sizing == FlowSizing::Counts) {
    v.count({"count_u", "Repeats along u", "How many tiles along the target's u."}, count_u,
            {1, 500});
    v.count({"count_v", "Repeats along v", "How many tiles along the target's v."}, count_v,
            {1, 500});
  } else {
    const NumberRange size{0.01, 10000.0, "mm", 0.5, 3};
    v.number({"tile_u", "Tile along u", "Wished length of a tile on the target."}, tile_u, size);
    v.number({"tile_v", "Tile along v", "Wished width of a tile on the target."}, tile_v, size);
  }
  v.number({"height", "Height factor", "Tile heights are multiplied by this."}, height,
           {0.0, 100.0, "× ", 0.1, 3});
  v.number({"offset", "Lifted by", "Moves the whole pattern off the target."}, offset,
           {-1000.0, 1000.0, "mm", 0.1, 3});
  describe_place(v);
  describe_fade(v);
  describe_result(v);
}

void FlowPatternOperation::describe_place(ParameterVisitor& v) {
  v.group("Place and direction");
  static constexpr std::array<Choice, 2> spacings{
      {{"parameter", "Along the grid's flow"}, {"even", "Evened out"}}};
  visit_choice(v,
               {"spacing", "Spacing",
                "Evened out spreads the tiles by mean arc length instead of the parameter."},
               spacing, spacings);
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
  v.number({"u_from", "Band u from", "Begin of the band, as a share of the target's u."}, u_from,
           kShare);
  v.number({"u_to", "Band u to", "End of the band, as a share of the target's u."}, u_to, kShare);
  v.number({"v_from", "Band v from", "Begin of the band, as a share of the target's v."}, v_from,
           kShare);
  v.number({"v_to", "Band v to", "End of the band, as a share of the target's v."}, v_to, kShare);
  static constexpr std::array<Choice, 2> borders{
      {{"whole", "Whole tiles only"}, {"cut", "Cut along it"}}};
  visit_choice(
      v,
      {"border", "At an opening",
       "Where the target has been cut: tiles over the border are left out, or cut along it."},
      border, borders);
  v.data({"faces", "Faces of the target",
          "Numbers of faces that border each other in rows and columns, such as 1, 2, 3; empty "
          "takes all that do."},
         faces);
}

void FlowPatternOperation::describe_fade(ParameterVisitor& v) {
  v.group("Fade of the height");
  v.number({"fade_u_from", "Fade at u begin", "Heights rise from 0 over this length."}, fade_u_from,
           kFade);
  v.number({"fade_u_to", "Fade at u end", "Heights rise from 0 over this length."}, fade_u_to,
           kFade);
  v.number({"fade_v_from", "Fade at v begin", "Heights rise from 0 over this length."}, fade_v_from,
           kFade);
  v.number({"fade_v_to", "Fade at v end", "Heights rise from 0 over this length."}, fade_v_to,
           kFade);
  v.part({"fade_curve", "Fade at curve", "Heights are 0 along the curves of this part."},
         fade_curve);
  if (!fade_curve.empty())
    v.number({"fade_reach", "Reach of the curve", "From here on the heights are whole."},
             fade_reach, {0.01, 10000.0, "mm", 1.0, 2});
  v.part({"fade_picture", "Heights by picture",
          "A reference picture laid over the band: white is whole height, black none."},
         fade_picture);
  if (!fade_picture.empty())
    v.toggle({"fade_dark", "Dark is high", "Black is whole height, white none."}, fade_dark);
}

void FlowPatternOperation::describe_result(ParameterVisitor& v) {
  v.group("Result and base");
  static constexpr std::array<Choice, 2> results{
      {{"mesh", "Mesh"}, {"surfaces", "Surfaces within the tolerance"}}};
  visit_choice(
      v,
      {"result", "Result",
       "A mesh of exact places, or surfaces refitted within the project's tolerance and joined."},
      result, results);
  if (result == FlowResult::Mesh)
    v.count({"divisions", "Mesh divisions", "Parts of a tile's side in the mesh."}, divisions,
            {1, 200});
  v.part({"base", "Base", "A surface the tile lies on; empty: the plane x–y."}, base);
  if (!base.empty()) return;
  constexpr NumberRange own{
      .min = 0.0, .max = 100000.0, .unit = "mm", .least_says = "the tile's own"};
  v.number({"base_x", "Base length", "Length of one repeat in the tile; 0 takes the tile's own."},
           base_x, own);
  v.number({"base_y", "Base width", "Width of one repeat in the tile; 0 takes the tile's own."},
           base_y, own);
}

std::string FlowPatternOperation::summary() const {
  if (sizing == FlowSizing::Size) return say("tiles of {:g} × {:g} mm", tile_u, tile_v);
  return say("{} × {} tiles", count_u, count_v);
}

OperationPtr FlowPatternOperation::with_frame(const PatternFrame& f) const {
  auto changed = std::make_shared<FlowPatternOperation>(*this);
  changed->corner = f.corner;
  changed->flip_u = f.flip_u;
  changed->flip_v = f.flip_v;
  changed->u_from = f.region.s_from;
  changed->u_to = f.region.s_to;
  changed->v_from = f.region.t_from;
  changed->v_to = f.region.t_to;
  return changed;
}

namespace {

void check_parts(const FlowPatternOperation& op, const Inputs& inputs) {
  if (op.tile.empty())
    throw Error(
        say("Flow pattern has no tile yet. Choose a tile part in its settings, or drop it and take "
            "a Tile from the shelf first."));
  if (op.target.empty())
    throw Error(say("Flow pattern has no target yet. Choose a target part in its settings."));
  if (op.tile == op.target)
    throw Error(say("The tile cannot be its own target. Choose another part as the target."));
  if (is_empty(*inputs.parts.at(op.tile)))
    throw Error(say("The tile is empty. Mend or switch on its steps first."));
}

// All faces that make a rectangle, else the first one.
Chart chosen_chart(const Body& body, const NumbersData& numbers, double tolerance,
                   std::vector<std::string>& notes) {
  std::vector<std::size_t> faces;
  for (const double n : numbers.values) {
    if (n < 1.0 || n > static_cast<double>(body.faces.size()) || n != std::floor(n))
      throw Error(say("The target has faces 1 to {}; {:g} is none of them.", body.faces.size(), n));
    faces.push_back(static_cast<std::size_t>(n) - 1);
  }
  if (!faces.empty()) return chart_of(body, faces, tolerance);
  if (body.faces.size() == 1) return chart_of(body.faces.front());
  for (std::size_t f = 0; f < body.faces.size() && f < 64; ++f) faces.push_back(f);
  try {
    return chart_of(body, faces, tolerance);
  } catch (const Error&) {
    notes.emplace_back(say(
        "The target has several faces that make no rectangle; the first one carries the pattern. "
        "Name others "
        "in the settings."));
    return chart_of(body.faces.front());
  }
}

FlowOptions options_of(const FlowPatternOperation& op, const Chart& chart) {
  FlowOptions o;
  o.count_u = op.count_u;
  o.count_v = op.count_v;
  o.corner = op.corner;
  o.flip_u = op.flip_u;
  o.flip_v = op.flip_v;
  o.inward = op.inward;
  o.region = {op.u_from, op.u_to, op.v_from, op.v_to};
  o.even = op.spacing == FlowSpacing::Even;
  if (op.sizing == FlowSizing::Size) fit_counts(o, chart, op.tile_u, op.tile_v);
  o.made = whole_tiles(chart, o);
  if (op.border == FlowBorder::Cut && op.result == FlowResult::Mesh && !o.made.empty())
    o.cut = flat_border(chart, o);
  return o;
}

// Places of the whole target, so that the hand finds shares by looking.
Grid<Vec3> places_of(const Chart& chart) {
  constexpr int kPlaces = 33;
  const ChartRegion all{};
  const Spread u(chart, Direction::U, all, false);
  const Spread v(chart, Direction::V, all, false);
  Grid<Vec3> places(kPlaces, kPlaces);
  for (int i = 0; i < kPlaces; ++i)
    for (int j = 0; j < kPlaces; ++j) {
      const auto a = u.at(static_cast<double>(i) / (kPlaces - 1));
      const auto b = v.at(static_cast<double>(j) / (kPlaces - 1));
      places(i, j) = evaluate(chart.surface(a.cell, b.cell), a.parameter, b.parameter);
    }
  return places;
}

// As shares of the one face's domain.
std::vector<double> ends_of_repeats(const Chart& chart, Direction d, const FlowOptions& o,
                                    int count) {
  const Spread spread(chart, d, o.region, o.even);
  const KnotVector& k = d == Direction::U ? chart.surface().u : chart.surface().v;
  std::vector<double> ends;
  for (int n = 0; n <= count; ++n)
    ends.push_back((spread.at(static_cast<double>(n) / count).parameter - k.first()) / k.length());
  return ends;
}

std::shared_ptr<PatternFacts> facts_of(const FlowPatternOperation& op, const Chart& chart,
                                       const FlowOptions& o, double length_x, double length_y) {
  auto facts = std::make_shared<PatternFacts>();
  facts->frame = {o.region, op.corner, op.flip_u, op.flip_v};
  facts->around_u = chart.around_s;
  facts->around_v = chart.around_t;
  facts->target = places_of(chart);
  facts->tile_u = length_along(chart, Direction::U, o.region) / o.count_u;
  facts->tile_v = length_along(chart, Direction::V, o.region) / o.count_v;
  if (!(facts->tile_u > 1e-6 && facts->tile_v > 1e-6))
    throw Error(say(
        "The target has hardly any length in one direction. Choose a surface, or a wider band, as "
        "target."));
  facts->on = op.target;
  if (!o.cut) facts->made = o.made;  // cut tiles cover the face up to its border
  if (chart.single()) {
    facts->face = chart.cells(0, 0).face.tag;
    facts->ends_u = ends_of_repeats(chart, Direction::U, o, o.count_u);
    facts->ends_v = ends_of_repeats(chart, Direction::V, o, o.count_v);
  }
  facts->stretch = stretch_of(chart, o, length_x, length_y);
  return facts;
}

PatternBase with_lengths(PatternBase base, double x, double y) {
  if (x > 0.0) base.length_x = x;
  if (y > 0.0) base.length_y = y;
  return base;
}

void say_size(const FlowOptions& o, const PatternFacts& f, std::vector<std::string>& notes) {
  notes.push_back(
      say("{} × {} tiles of about {:.2f} × {:.2f} mm.", o.count_u, o.count_v, f.tile_u, f.tile_v));
  const auto left_out = std::count(o.made.begin(), o.made.end(), false);
  if (o.cut)
    notes.push_back(say("Tiles are cut along the border of the face; {} of {} are whole.",
                        static_cast<long>(o.made.size()) - left_out, o.made.size()));
  else if (left_out > 0)
    notes.push_back(say("{} of {} tiles would reach over the border of the face and are left out.",
                        left_out, o.made.size()));
  notes.push_back(say("Stretched by {:.0f} % on average, {:.0f} % at the worst place.",
                      f.stretch.mean, f.stretch.worst));
}

void say_harm(const Chart& chart, const FlowOptions& o, double low, double high,
              std::vector<std::string>& notes) {
  const auto harm = harm_of(chart, o, low, high);
  if (!harm) return;
  notes.push_back(
      say("The pattern folds near ({:.1f}, {:.1f}, {:.1f}): it is {:.2f} mm high where the "
          "target's least radius is "
          "{:.2f} mm. Lower it, or leave that region out.",
          harm->at.x, harm->at.y, harm->at.z, harm->height, harm->radius));
}

void say_joints(const FlowJoints& j, std::vector<std::string>& notes) {
  if (j.places == 0) return;
  notes.push_back(j.angle <= 0.1 ? say("Tiles go over into each other within {:.3f}°.", j.angle)
                                 : say("Tiles meet with a crease of up to {:.1f}° (mean {:.1f}°).",
                                       j.angle, j.mean));
}

}  // namespace

Outcome FlowPatternOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  check_parts(*this, inputs);
  const Shape& tile_shape = *inputs.parts.at(tile);
  const Body& target_body = faces_of(*inputs.parts.at(target), "The target of the flow");
  Outcome outcome;
  const Chart chart = chosen_chart(target_body, faces, inputs.tolerance, outcome.notes);
  const FlowOptions o = options_of(*this, chart);
  const ShapePtr& tile_owner = inputs.parts.at(tile);
  const auto mesh = kept<TriangleMesh>(
      inputs, tile_owner, fmt::format("{} {} {}", divisions, base_x, base_y), [&] {
        const TriangleMesh raw = tile_mesh(tile_shape, divisions, progress);
        const PatternBase b = with_lengths(base_of(raw), base_x, base_y);
        return std::make_shared<const TriangleMesh>(paired(raw, b, near_of(b)));
      });
  const PatternBase flat = with_lengths(base_of(*mesh), base_x, base_y);
  const ShapePtr base_shape = base.empty() ? nullptr : inputs.parts.at(base);
  const auto based = kept<BasedTile>(
      inputs, mesh,
      fmt::format("{} {} {}", base_x, base_y, static_cast<const void*>(base_shape.get())), [&] {
        if (!base_shape) return std::make_shared<const BasedTile>(over_base(*mesh, flat));
        const Body& b = faces_of(*base_shape, "The base of the flow");
        // The base lives as long as what is known by its address.
        const auto held = std::make_shared<const std::pair<BasedTile, ShapePtr>>(
            over_base(*mesh, *b.faces.front().surface, progress), base_shape);
        return std::shared_ptr<const BasedTile>(held, &held->first);
      });
  if (based->beyond > 10.0 * inputs.tolerance)
    outcome.notes.push_back(
        say("The tile reaches {:.2f} mm beyond its base; what is outside is bent onto the border.",
            based->beyond));
  const auto facts = facts_of(*this, chart, o, based->length_x, based->length_y);
  say_size(o, *facts, outcome.notes);
  const HeightRule heights = height_rule(*this, inputs, chart, o);
  const auto [low, high] =
      std::minmax_element(based->vertices.begin(), based->vertices.end(),
                          [](const TileVertex& a, const TileVertex& b) { return a.z < b.z; });
  say_harm(chart, o, height * low->z + offset, height * high->z + offset, outcome.notes);
  // Only the target's points change while a hand shapes it: the plan stays.
  const auto plan = kept<FlowPlan>(inputs, based, FlowPlan::key(chart, o), [&] {
    return std::make_shared<const FlowPlan>(*based, chart, o, progress);
  });
  facts->joints = plan->joints(chart, heights);
  say_joints(facts->joints, outcome.notes);
  const auto corner_at = [&](double x, double y) {
    return flat.frame.to_world({x * flat.length_x, y * flat.length_y, 0.0});
  };
  facts->base = {corner_at(0, 0), corner_at(1, 0), corner_at(1, 1), corner_at(0, 1)};
  outcome.pattern = facts;
  if (result == FlowResult::Mesh) {
    outcome.shape = plan->onto(chart, heights, progress);
    return outcome;
  }
  if (base_shape)
    throw Error(
        say("Surfaces can only be made from a tile on a flat base. Leave the base empty, or take a "
            "mesh."));
  FlowedBody made = flow_surfaces(faces_of(tile_shape, "Flow pattern to surfaces"), flat, chart, o,
                                  heights, inputs.tolerance, inputs.step, progress);
  outcome.notes.push_back(say("{} surfaces within {:.4f} mm of the exact pattern; {}.",
                              made.body.faces.size(), made.deviation,
                              made.open == 0 ? "closed" : say("{} open borders", made.open)));
  outcome.shape = std::move(made.body);
  return outcome;
}

}  // namespace evenclay
