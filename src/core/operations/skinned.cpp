#include "core/operations/skinned.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

const ParameterInfo kNeighbours{
    "neighbours", "Goes on from",
    "Parts beside the border that the surface leaves tangent; where none lies it is free."};

double neighbour_reach(const Inputs& inputs) {
  return std::max(inputs.tolerance, 1e-3);
}

}  // namespace

void LoftOperation::suit(const Beginning& b) {
  sections = picked_curves(b, 2);
}

void LoftOperation::describe(ParameterVisitor& v) {
  v.parts({"sections", "Sections", "The curves that the surface runs through, in this order."},
          sections, {200, kCurves});
  v.toggle({"closed", "Closed", "After the last section comes the first again."}, closed);
  v.count({"degree", "Degree across", "1 runs straight from section to section."}, degree, {1, 5});
  static constexpr std::array<Choice, 3> ends{{{"free", "Free"},
                                               {"straight", "Straight off the section"},
                                               {"tangent", "Tangent to a part"}}};
  visit_choice(v, {"begin", "Leaves the first", "How the surface leaves the first section."}, begin,
               ends);
  if (begin != LoftEnd::Free)
    v.number({"begin_reach", "Reach there", "How far that direction is felt."}, begin_reach,
             {0.05, 10.0, "", 0.1, 2});
  visit_choice(v, {"end", "Meets the last", "How the surface comes to the last section."}, end,
               ends);
  if (end != LoftEnd::Free)
    v.number({"end_reach", "Reach there", "How far that direction is felt."}, end_reach,
             {0.05, 10.0, "", 0.1, 2});
  v.toggle(
      {"align", "Align starts",
       "Turns open sections round and moves the starts of closed ones so that they twist least."},
      align);
  v.data(
      {"starts", "Starts moved by",
       "For closed sections: percent of the length, one number for each section, as in 0, 12.5."},
      starts);
  if (begin == LoftEnd::Tangent || end == LoftEnd::Tangent)
    v.parts(kNeighbours, neighbours, {20, kBody});
}

std::string LoftOperation::summary() const {
  return counted(sections.size(), "section");
}

Outcome LoftOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const std::vector<Curve> all = gathered_curves(inputs, sections, "sections");
  LoftOptions o{.closed = closed,
                .alignment = {.turn = align},
                .degree = degree,
                .begin = begin,
                .end = end,
                .begin_reach = begin_reach,
                .end_reach = end_reach};
  for (const double percent : starts.values) o.alignment.starts.push_back(percent / 100.0);
  const auto bodies = gathered_bodies(inputs, neighbours);
  if ((begin == LoftEnd::Tangent || end == LoftEnd::Tangent) && bodies.empty())
    throw Error(
        say("No part to go on from is chosen yet. Add the part beside the end section in the "
            "settings."));
  o.onward = onward_from(bodies, neighbour_reach(inputs));
  Surface made = loft(all, o);
  std::vector<std::string> notes;
  for (const auto& [kind, last] : {std::pair{begin, false}, {end, true}}) {
    if (kind != LoftEnd::Tangent || closed) continue;
    const std::string_view which = last ? "last" : "first";
    if (const auto angle = end_angle(made, last, o.onward))
      notes.push_back(say("At the {} section it goes on from its neighbour within {:.2f}°{}.",
                          which, *angle,
                          *angle > 0.5 ? "; a section with more points, or one more "
                                         "section near it, brings it closer"
                                       : ""));
    else
      notes.push_back(
          say("None of the parts to go on from lies along the {} section, which is free.", which));
  }
  return outcome_of({std::move(made)}, inputs.step, std::move(notes));
}

void SweepOperation::suit(const Beginning& b) {
  if (is_curve(b, b.chosen)) profile = b.chosen;
  rails.clear();
  for (const PartRef& r : picked_curves(b, 2))
    if (r.part != b.chosen && rails.size() < 2) rails.push_back(r);
}

void SweepOperation::describe(ParameterVisitor& v) {
  v.part({"profile", "Profile", "The curve that is carried."}, profile);
  v.parts({"rails", "Rails", "One curve to follow, or two that the ends of the profile follow."},
          rails, {2, kCurves});
  static constexpr std::array<Choice, 2> twists{
      {{"least", "Turns with the rail, least twist"}, {"upright", "Stays upright"}}};
  if (rails.size() < 2) {
    visit_choice(v, {"twist", "Bearing", "How the profile is held along one rail."}, twist, twists);
    v.number(
        {"end_scale", "Size at the end", "Of the profile, in percent of its size at the start."},
        end_scale, {1.0, 1000.0, "%", 5.0, 1});
    v.number({"turn", "Turned by the end", "Degrees about the rail from start to end."}, turn,
             {-3600.0, 3600.0, "°", 15.0, 1});
  }
}

std::string SweepOperation::summary() const {
  return counted(rails.size(), "rail");
}

Outcome SweepOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const Curve carried = single_curve(inputs, profile, "profile");
  const std::vector<Curve> along = gathered_curves(inputs, rails, "rails");
  const SweepOptions o{twist, end_scale / 100.0, turn};
  const double tolerance = 0.1 * inputs.tolerance;
  Surface s = along.size() == 1 ? sweep(carried, along[0], o, tolerance)
                                : sweep(carried, along[0], along[1], o, tolerance);
  std::string note = say("{} points along the rail.", s.points.columns());
  return outcome_of({std::move(s)}, inputs.step, {std::move(note)});
}

void RevolveAlongRailOperation::suit(const Beginning& b) {
  if (is_curve(b, b.chosen)) profile = b.chosen;
  rail = other_curve(b);
}

void RevolveAlongRailOperation::describe(ParameterVisitor& v) {
  v.part({"profile", "Profile", "The curve that is turned; it lies flat with the axis."}, profile);
  v.part({"rail", "Rail", "The curve that the profile's outer end stays on."}, rail);
  static constexpr std::array<Choice, 3> axes{{{"x", "x"}, {"y", "y"}, {"z", "z"}}};
  v.choice({"axis", "Axis", "The direction of the axis."}, axis, axes);
  describe_place(v, centre, "Through", "centre");
}

std::string RevolveAlongRailOperation::summary() const {
  return say("about {}", std::array{"x", "y", "z"}[static_cast<std::size_t>(axis)]);
}

Outcome RevolveAlongRailOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const Frame f = axis == 2 ? Frame{centre}
                            : (axis == 0 ? Frame{centre, {0, 1, 0}, {0, 0, 1}, {1, 0, 0}}
                                         : Frame{centre, {0, 0, 1}, {1, 0, 0}, {0, 1, 0}});
  return outcome_of({revolve_along_rail(single_curve(inputs, profile, "profile"),
                                        single_curve(inputs, rail, "rail"), f)},
                    inputs.step);
}

void InBetweensOperation::suit(const Beginning& b) {
  first = b.chosen;
  for (const PartId p : b.picked)
    if (p != b.chosen && is_curve(b, p) == is_curve(b, b.chosen)) {
      second = p;
      return;
    }
  if (is_curve(b, b.chosen)) second = other_curve(b);
}

void InBetweensOperation::describe(ParameterVisitor& v) {
  v.part({"first", "From", "Where the in-betweens begin."}, first);
  v.part({"second", "To", "Where they end."}, second);
  v.count({"count", "Count", "How many lie between."}, count, {1, 200});
  static constexpr std::array<Choice, 4> eases{{{"even", "Even"},
                                                {"slow_start", "Closer at the start"},
                                                {"slow_end", "Closer at the end"},
                                                {"slow_both", "Closer at both ends"}}};
  visit_choice(v, {"ease", "Spread", "How they are spread between."}, ease, eases);
  v.toggle({"with_ends", "With the ends", "The first and the last are copies of the two parts."},
           with_ends);
  v.parts({"guides", "Guide curves", "One or two curves from one to the other that steer the way."},
          guides, {2, kCurves});
}

std::string InBetweensOperation::summary() const {
  return say("{} between", count);
}

namespace {

std::vector<double> shares_of(const InBetweensOperation& o) {
  std::vector<double> result;
  const int last = o.count + 1;
  for (int k = o.with_ends ? 0 : 1; k <= (o.with_ends ? last : last - 1); ++k)
    result.push_back(eased(o.ease, static_cast<double>(k) / last));
  return result;
}

}  // namespace

Outcome InBetweensOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  if (first.empty() || second.empty())
    throw Error(say("In-betweens need two parts. Choose the second one in the settings."));
  const Shape& a = *inputs.parts.at(first);
  const Shape& b = *inputs.parts.at(second);
  const std::vector<Curve> steer =
      guides.empty() ? std::vector<Curve>{} : gathered_curves(inputs, guides, "guide curves");
  const auto* curve_a = std::get_if<CurveSet>(&a);
  const auto* curve_b = std::get_if<CurveSet>(&b);
  if (curve_a != nullptr && curve_b != nullptr) {
    if (curve_a->curves.size() != curve_b->curves.size())
      throw Error(
          say("The two parts have different counts of curves. Choose parts of one curve each."));
    CurveSet made;
    for (const double share : shares_of(*this))
      for (std::size_t k = 0; k < curve_a->curves.size(); ++k)
        made.curves.push_back(in_between(curve_a->curves[k], curve_b->curves[k], share, steer));
    return {std::move(made), {}};
  }
  const Body& body_a = faces_of(a, label());
  const Body& body_b = faces_of(b, label());
  if (body_a.faces.size() != body_b.faces.size())
    throw Error(
        say("The two parts have different counts of surfaces. Choose parts of one surface each."));
  std::vector<Surface> made;
  bool trimmed = false;
  for (const double share : shares_of(*this))
    for (std::size_t k = 0; k < body_a.faces.size(); ++k) {
      progress.check();
      trimmed |= body_a.faces[k].trimmed() || body_b.faces[k].trimmed();
      made.push_back(in_between(*body_a.faces[k].surface, *body_b.faces[k].surface, share, steer));
    }
  Outcome outcome = outcome_of(std::move(made), inputs.step);
  if (trimmed)
    outcome.notes.emplace_back(say("The whole surfaces were taken; their trims are left out."));
  return outcome;
}

void FillOperation::suit(const Beginning& b) {
  border = picked_curves(b);
  // What a single closed curve was made into is most likely what the fill closes.
  for (const PartId p : b.picked)
    if (is_body(b, p)) neighbours.emplace_back(p);
}

void FillOperation::describe(ParameterVisitor& v) {
  v.parts({"border", "Border", "The curves that go round, in any order."}, border, {60, kCurves});
  v.count({"points_u", "Points along u", "Control points of the face."}, points_u, {5, 100});
  v.count({"points_v", "Points along v", "Control points of the face."}, points_v, {5, 100});
  v.number({"puff", "Puff", "How far the middle is raised; below 0 it sinks."}, puff,
           {-10000.0, 10000.0, "mm", 1.0, 3});
  v.parts(kNeighbours, neighbours, {20, kBody});
  if (!neighbours.empty())
    v.number({"reach", "Reach", "How far the direction of the neighbours is felt; more is fuller."},
             reach, {0.05, 5.0, "", 0.1, 2});
}

std::string FillOperation::summary() const {
  return fmt::format("{} × {}{}", points_u, points_v,
                     puff != 0.0 ? say(", puff {:g} mm", puff) : "");
}

Outcome FillOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  const std::vector<Curve> loop =
      border_loop(gathered_curves(inputs, border, "border"), inputs.tolerance);
  FillOptions o{
      .points_u = points_u, .points_v = points_v, .puff = puff, .onward = {}, .reach = reach};
  o.onward = onward_from(gathered_bodies(inputs, neighbours), neighbour_reach(inputs));
  Filled filled = fill(loop, o, inputs.step, progress);
  std::vector<std::string> notes;
  notes.push_back(filled.gap < 0.0005 ? say("It meets the border.")
                                      : say("It is at most {:.3f} mm off the border.", filled.gap));
  if (filled.gap > inputs.tolerance) notes.back() += say(" More points bring it closer.");
  if (filled.tangent)
    notes.push_back(say("It leaves its neighbours within {:.2f}°.", filled.worst_degrees));
  else if (!neighbours.empty())
    notes.emplace_back(say("None of the parts to go on from lies along the border."));
  return {std::move(filled.body), std::move(notes)};
}

void OffsetSurfaceOperation::describe(ParameterVisitor& v) {
  v.number({"distance", "Distance", "Along the outside of the surface; below 0 inward."}, distance,
           {-10000.0, 10000.0, "mm", 0.5, 3});
}

std::string OffsetSurfaceOperation::summary() const {
  return fmt::format("{:g} mm", distance);
}

Outcome OffsetSurfaceOperation::apply(const Shape& before, const Inputs& inputs,
                                      Progress& progress) const {
  const Body& body = faces_of(before, label());
  if (distance == 0.0) return {before, {}};
  std::vector<Surface> made;
  double worst = 0.0;
  bool folds = false;
  for (const Face& f : body.faces) {
    Offset o =
        offset(*f.surface, f.flipped ? -distance : distance, 0.5 * inputs.tolerance, progress);
    worst = std::max(worst, o.worst);
    folds |= o.folds;
    made.push_back(std::move(o.surface));
  }
  Outcome outcome{with_surfaces(body, std::move(made), NewParameters::Scaled),
                  {say("Within {:.4f} mm of the distance.", worst)}};
  if (folds)
    outcome.notes.emplace_back(say(
        "The surface bends more sharply than the distance in places, so the offset runs through "
        "itself there."));
  return outcome;
}

}  // namespace evenclay
