#include "core/operations/solid_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/cut/combine.h"
#include "core/cut/edge_edit.h"
#include "core/cut/openings.h"
#include "core/cut/thick_mesh.h"
#include "core/operations/curves.h"
#include "core/operations/joining.h"
#include "core/source/outlines.h"
#include "core/source/swept.h"

namespace evenclay {

namespace {

const NumberRange kThickness{0.01, 1000.0, "mm", 0.1, 3};

Outcome thick_mesh(const TriangleMesh& skin, double thickness, ThickenSide side,
                   Progress& progress) {
  ThickMesh t = thickened(skin, thickness, side, progress);
  std::vector<std::string> notes;
  if (t.walls > 0)
    notes.push_back(say("A closed mesh, with walls along {}.", counted(t.walls, "open edge")));
  notes.push_back(say("The second skin lies within {:.3f} mm of the thickness.", t.off));
  return {std::move(t.mesh), std::move(notes)};
}

std::string thickness_note(const Thickened& t, double tolerance) {
  if (t.by_kernel)
    return say(
        "Where faces meet at angles the second skin is mitred, and it ends in the planes of "
        "flat openings.");
  return say("Within {:.3f} mm of the thickness; the grid below stays as it is.",
             std::max(t.off, 0.5 * tolerance));
}

void describe_edges(ParameterVisitor& v, std::vector<Pick>& edges) {
  v.picks({"edges", "Edges", "The edges, clicked in the view."}, edges, kBodyEdges);
}

std::string edge_words(std::size_t n, double size) {
  return fmt::format("{}, {:g} mm", counted(n, "edge"), size);
}

Outcome cut_edges(const Shape& before, const Inputs& inputs, std::string_view label,
                  const std::vector<Pick>& picks, EdgeCutOptions o, Progress& progress) {
  const Body body = edged(faces_of(before, label));
  std::vector<std::string> notes;
  o.step = inputs.step;
  return {with_cut_edges(body, edges_picked(body, picks, notes), o, progress), std::move(notes)};
}

}  // namespace

void ThickenOperation::describe(ParameterVisitor& v) {
  v.number({"thickness", "Thickness", "Distance of the second skin."}, thickness, kThickness);
  static constexpr std::array<Choice, 3> sides{
      {{"inward", "Inward"}, {"outward", "Outward"}, {"both", "Half to each side"}}};
  visit_choice(v, {"side", "Goes", "Where the second skin lies."}, side, sides);
}

std::string ThickenOperation::summary() const {
  switch (side) {
    case ThickenSide::Inward:
      return say("{:g} mm inward", thickness);
    case ThickenSide::Outward:
      return say("{:g} mm outward", thickness);
    default:
      return say("{:g} mm both ways", thickness);
  }
}

Outcome ThickenOperation::apply(const Shape& before, const Inputs& inputs,
                                Progress& progress) const {
  if (const auto* skin = std::get_if<TriangleMesh>(&before))
    return thick_mesh(*skin, thickness, side, progress);
  Thickened t =
      thickened(faces_of(before, label()), thickness, side,
                offset_within(inputs.tolerance, progress), inputs.tolerance, inputs.step, progress);
  std::string note = thickness_note(t, inputs.tolerance);
  return {std::move(t.body), {std::move(note)}};
}

void ShellOperation::describe(ParameterVisitor& v) {
  v.picks({"faces", "Openings", "The faces that are taken away, clicked in the view."}, faces,
          kBodyFaces);
  v.number({"thickness", "Thickness", "Of the wall that stays, inward."}, thickness, kThickness);
}

std::string ShellOperation::summary() const {
  return say("{:g} mm, {} open", thickness, faces.size());
}

Outcome ShellOperation::apply(const Shape& before, const Inputs& inputs, Progress& progress) const {
  const Body& body = faces_of(before, label());
  std::vector<std::string> notes;
  const std::vector<std::size_t> open =
      faces.empty() ? std::vector<std::size_t>{} : faces_picked(body, faces, notes);
  Thickened t =
      shelled(body, open, thickness, offset_within(inputs.tolerance, progress),
              grow_within(inputs.tolerance, progress), inputs.tolerance, inputs.step, progress);
  notes.push_back(thickness_note(t, inputs.tolerance));
  if (t.rim_off > 0.0)
    notes.push_back(say(
        "The skin inside could not be brought into the plane of an opening: its rim stands square "
        "to the skin, up to {:.2f} mm off. Split by a plane just beneath makes it flat.",
        t.rim_off));
  if (open.empty()) notes.emplace_back(say("No face is open: the hollow is closed all round."));
  return {std::move(t.body), std::move(notes)};
}

void CloseSolidOperation::describe(ParameterVisitor& v) {
  v.parts({"others", "With", "Other parts whose faces belong to the solid."}, others, {100, kBody});
  v.toggle({"fill", "Fill openings", "Flat openings get flat faces, others a smooth one."}, fill);
  v.number({"tolerance", "Join within", "Edges nearer than this become one."}, tolerance,
           {1e-6, 10.0, "mm", 0.01, 4});
}

std::string CloseSolidOperation::summary() const {
  return others.empty() ? "" : say("with {} more", others.size());
}

Outcome CloseSolidOperation::apply(const Shape& before, const Inputs& inputs,
                                   Progress& progress) const {
  std::vector<Body> all{faces_of(before, label())};
  if (!others.empty())
    for (Body& b : other_bodies(inputs, others, label())) all.push_back(std::move(b));
  SewnBody made = sewn(put_together(all, inputs.step), tolerance, inputs.step, progress);
  std::vector<std::string> notes;
  Body body = facing_alike(std::move(made.body));
  if (fill) body = with_filled_openings(body, {}, inputs, 0.0, notes, progress);
  body = facing_outward(std::move(body), progress);
  const Topology t = topology(edged(body));
  if (!t.closed) {
    const std::vector<EdgeGap> gaps = edge_gaps(body, 20.0 * tolerance, progress);
    std::string more = say("Fill openings closes it, or join within a greater distance.");
    if (!gaps.empty())
      more =
          say("The widest gap between neighbours is {:.3f} mm; joining within {:.3f} mm "
              "would close it.",
              gaps.front().greatest, 1.05 * gaps.front().greatest);
    throw Error(say_of(t.open_edges.size(), "The part does not close: {} edge stays open. {}",
                       "The part does not close: {} edges stay open. {}", t.open_edges.size(),
                       more));
  }
  notes.push_back(say("A closed solid of {} faces; edges meet within {:.4f} mm.", body.faces.size(),
                      greatest_gap(body)));
  return {std::move(body), std::move(notes)};
}

void RoundEdgesOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  v.number({"radius", "Radius", "Of the round, at the beginning of the edges."}, radius,
           {0.001, 1000.0, "mm", 0.1, 3});
  v.toggle({"changing", "Changing", "Another radius at the end of the edges."}, changing);
  if (changing)
    v.number({"radius_end", "At the end", "Radius at the end of the edges."}, radius_end,
             {0.001, 1000.0, "mm", 0.1, 3});
}

std::string RoundEdgesOperation::summary() const {
  return edge_words(edges.size(), radius);
}

Outcome RoundEdgesOperation::apply(const Shape& before, const Inputs& inputs,
                                   Progress& progress) const {
  return cut_edges(before, inputs, label(), edges,
                   {EdgeCut::Round, radius, changing ? radius_end : radius, 0}, progress);
}

void ChamferEdgesOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  v.number({"distance", "Distance", "From the edge, on both faces."}, distance,
           {0.001, 1000.0, "mm", 0.1, 3});
}

std::string ChamferEdgesOperation::summary() const {
  return edge_words(edges.size(), distance);
}

Outcome ChamferEdgesOperation::apply(const Shape& before, const Inputs& inputs,
                                     Progress& progress) const {
  return cut_edges(before, inputs, label(), edges, {EdgeCut::Chamfer, distance, distance, 0},
                   progress);
}

void HoleOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 3> shapes{
      {{"round", "Round"}, {"slot", "Slot"}, {"curve", "A closed curve"}}};
  visit_choice(v, {"shape", "Shape", "Of the hole."}, shape, shapes);
  if (shape == HoleShape::Curve) {
    v.part({"curve", "Curve", "A part with a flat closed curve; the hole begins there."}, curve);
  } else {
    describe_face_place(v, on);
    v.number({"diameter", "Diameter", "Across the hole."}, diameter, {0.01, 10000.0, "mm", 0.5, 3});
    if (shape == HoleShape::Slot) {
      v.number({"length", "Length", "Of the slot, ends included."}, length,
               {0.02, 10000.0, "mm", 0.5, 3});
      v.number({"turn", "Turned", "Of the slot about its own axis."}, turn,
               {-180.0, 180.0, "°", 5.0, 2});
    }
    static constexpr std::array<Choice, 4> ways{
        {{"skin", "Into the skin"}, {"x", "Along x"}, {"y", "Along y"}, {"z", "Along z"}}};
    visit_choice(v, {"way", "Direction", "Along which the hole goes."}, way, ways);
  }
  v.toggle({"through", "Through", "Through the whole part."}, through);
  if (!through)
    v.number({"depth", "Depth", "From where it begins."}, depth, {0.01, 10000.0, "mm", 0.5, 3});
}

std::string HoleOperation::summary() const {
  if (shape == HoleShape::Curve) return through ? "curve, through" : "curve";
  return fmt::format("{:g} mm{}", diameter,
                     through ? say(", through") : say(" × {:g} mm deep", depth));
}

namespace {

// From where to where a part reaches along a direction, counted from a place, mm, with a little more on both sides: walls
// that are left behind are no longer than that.
std::array<double, 2> reach_along(const Box3& box, const Vec3& place, const Vec3& direction) {
  std::array<double, 2> reach{1e300, -1e300};
  for (int corner = 0; corner < 8; ++corner) {
    const Vec3 p{(corner & 1) != 0 ? box.max.x : box.min.x,
                 (corner & 2) != 0 ? box.max.y : box.min.y,
                 (corner & 4) != 0 ? box.max.z : box.min.z};
    const double t = dot(p - place, direction);
    reach = {std::min(reach[0], t), std::max(reach[1], t)};
  }
  const double more = 0.05 * box.size() + 1.0;
  return {reach[0] - more, reach[1] + more};
}

}  // namespace

// The solid that is taken out: the outline from a little before its beginning to the depth, or through all.
Outcome HoleOperation::apply(const Shape& before, const Inputs& inputs, Progress& progress) const {
  const Body& body = faces_of(before, label());
  std::vector<std::string> notes;
  Curve outline;
  Vec3 into;
  double lead = 0.0;  // how far before its beginning it starts
  if (shape == HoleShape::Curve) {
    outline = single_curve(inputs, curve, "closed curve");
    if (!outline.knots.periodic &&
        evenclay::distance(outline.points.front(), outline.points.back()) > 1e-6)
      throw Error(say("The curve of the hole is open. Close it, or choose another one."));
    into = normalized(across(outline));
    // Towards the part.
    if (dot(rough_box(before).centre() - outline.points.front(), into) < 0.0) into = -into;
  } else {
    const FacePlace at = located(body, on);
    if (!at.note.empty()) notes.push_back(at.note);
    const Face& face = body.faces[at.face];
    const Surface& s = *face.surface;
    const double u = s.u.first() + at.u * s.u.length(), v = s.v.first() + at.v * s.v.length();
    const Vec3 p = evaluate(s, u, v);
    const Vec3 out = normal(s, u, v) * (face.flipped ? -1.0 : 1.0);
    into = way == Way::X   ? Vec3{1, 0, 0}
           : way == Way::Y ? Vec3{0, 1, 0}
           : way == Way::Z ? Vec3{0, 0, 1}
                           : -out;
    if (dot(into, out) > 0.0) into = -into;
    Frame f;
    f.origin = p;
    f.z = into;
    const Vec3 beside = std::abs(into.x) < 0.9 ? Vec3{1, 0, 0} : Vec3{0, 1, 0};
    f.x = normalized(beside - into * dot(beside, into));
    f.y = cross(f.z, f.x);
    const double a = turn * std::numbers::pi / 180.0;
    const Vec3 x = f.x * std::cos(a) + f.y * std::sin(a);
    f.y = cross(f.z, x);
    f.x = x;
    if (shape == HoleShape::Slot) {
      if (!(length > diameter))
        throw Error(
            say("A slot must be longer than it is wide. Make it longer, or take a round hole."));
      outline = make_rectangle(f, length, diameter, 0.4999999 * diameter);
    } else {
      outline = make_circle(f, 0.5 * diameter);
    }
    lead = through ? 0.0 : diameter;  // above a curved skin
  }
  const auto [begin, end] = reach_along(rough_box(before), outline.points.front(), into);
  const double to = through ? std::max(end, 1.0) : depth;
  const double from = through && shape != HoleShape::Curve      ? std::min(begin, 0.0)
                      : shape == HoleShape::Curve && begin < to ? std::max(begin, 0.0)
                                                                : -lead;
  Curve low = outline, high = outline;
  for (Vec3& p : low.points) p += into * from;
  for (Vec3& p : high.points) p += into * to;
  Body tool = capped(edged(body_of({ruled(low, high)}, inputs.step)), 1e-6, inputs.step).body;
  tool = facing_outward(std::move(tool), progress);
  Combined made =
      combined(body, std::vector{tool}, Combine::Subtract, inputs.tolerance, inputs.step, progress);
  if (made.body.faces.size() == body.faces.size() &&
      made.body.edges.size() == edged(body).edges.size())
    throw Error(say("The hole misses the part. Click a place on it, or make the hole deeper."));
  return {std::move(made.body), std::move(notes)};
}

}  // namespace evenclay
