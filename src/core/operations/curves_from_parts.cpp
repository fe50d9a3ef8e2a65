#include "core/operations/curves_from_parts.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/topology.h"
#include "core/operations/common.h"

namespace evenclay {

namespace {

const Body& body_of_part(const Inputs& inputs, const PartRef& part, std::string_view label) {
  if (part.empty()) throw Error(say("No part is chosen yet. Choose one in the settings."));
  return faces_of(*inputs.parts.at(part), label);
}

const ParameterInfo kPart{"part", "Part",
                          "The part that the curves are taken from; they follow it."};

}  // namespace

void SectionCurveOperation::suit(const Beginning& b) {
  part = b.chosen;
  if (b.before) through = rough_box(*b.before).centre();
}

void SectionCurveOperation::describe(ParameterVisitor& v) {
  v.part(kPart, part);
  static constexpr std::array<Choice, 3> axes{
      {{"x", "Across x"}, {"y", "Across y"}, {"z", "Across z"}}};
  v.choice({"normal", "Plane", "Which way the plane cuts."}, normal, axes);
  describe_place(v, through, "Through", "through");
  v.count({"count", "Count", "Sections, one behind the other."}, count, {1, 100});
  if (count > 1)
    v.number({"spacing", "Spacing", "From one plane to the next."}, spacing,
             {-10000.0, 10000.0, "mm", 1.0, 3});
}

std::string SectionCurveOperation::summary() const {
  return say("{} across {}", count, std::array{"x", "y", "z"}[static_cast<std::size_t>(normal)]);
}

Outcome SectionCurveOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  const Body& body = body_of_part(inputs, part, label());
  Vec3 n;
  n[static_cast<std::size_t>(normal)] = 1.0;
  CurveSet result;
  int missed = 0;
  for (int k = 0; k < count; ++k) {
    progress.check();
    try {
      for (Curve& c :
           section_curves(body, through + n * (spacing * k), n, 0.1 * inputs.tolerance, progress))
        result.curves.push_back(std::move(c));
    } catch (const Error&) {
      if (count == 1) throw;
      ++missed;
    }
  }
  if (result.curves.empty()) throw Error(say("None of the planes meets the part. Move them."));
  std::vector<std::string> notes{result.curves.size() == 1
                                     ? say("One curve was found.")
                                     : say("{} curves were found.", result.curves.size())};
  if (missed > 0) notes.push_back(say("Of the planes {} pass beside the part.", missed));
  return {std::move(result), std::move(notes)};
}

void IsoCurveOperation::suit(const Beginning& b) {
  part = b.chosen;
}

void IsoCurveOperation::describe(ParameterVisitor& v) {
  v.part(kPart, part);
  v.count({"face", "Surface", "Number of the surface in the part."}, face, {1, 100000});
  static constexpr std::array<Choice, 2> ways{{{"u", "Along u"}, {"v", "Along v"}}};
  int way = along_v ? 1 : 0;
  v.choice({"along", "Run", "The direction in which the curves run."}, way, ways);
  along_v = way == 1;
  v.count({"count", "Count", "1: at the place below; more: evenly spread."}, count, {1, 200});
  if (count == 1)
    v.number({"at", "Place", "Share of the surface's domain, 0 to 1."}, at,
             {0.0, 1.0, "", 0.05, 4});
}

std::string IsoCurveOperation::summary() const {
  return say("{} along {}", count, along_v ? "v" : "u");
}

Outcome IsoCurveOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const Body& body = body_of_part(inputs, part, label());
  if (face > static_cast<int>(body.faces.size()))
    throw Error(say("There is no surface {}; the part has {}.", face, body.faces.size()));
  const Face& f = body.faces[static_cast<std::size_t>(face - 1)];
  const Surface& s = *f.surface;
  const KnotVector& across_knots = along_v ? s.u : s.v;
  CurveSet result;
  for (int k = 0; k < count; ++k) {
    const int steps = across_knots.periodic ? count : std::max(1, count - 1);
    const double share = count == 1 ? at : static_cast<double>(k) / steps;
    Curve c = iso_curve(s, along_v ? Direction::U : Direction::V,
                        across_knots.first() + share * across_knots.length());
    if (size(c) > 1e-9 * size(s)) result.curves.push_back(std::move(c));  // not at a pole
  }
  if (result.curves.empty())
    throw Error(say("The iso-curve is a pole there, a single point. Choose another place."));
  Outcome outcome{std::move(result), {}};
  if (f.trimmed())
    outcome.notes.emplace_back(say("The whole surface was taken; its trims are left out."));
  return outcome;
}

void EdgeCurveOperation::suit(const Beginning& b) {
  part = b.chosen;
}

void EdgeCurveOperation::describe(ParameterVisitor& v) {
  v.part(kPart, part);
  v.count({"number", "Edge", "Number of the edge; 0 takes all, joined where they meet."}, number,
          {.min = 0, .max = 100000, .least_says = "all"});
}

std::string EdgeCurveOperation::summary() const {
  return number == 0 ? std::string("all") : say("edge {}", number);
}

Outcome EdgeCurveOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  const std::vector<Curve> all = edge_curves(body_of_part(inputs, part, label()));
  if (all.empty()) throw Error(say("The part is closed; it has no edges or open borders."));
  if (number > static_cast<int>(all.size()))
    throw Error(say("There is no edge {}; the part has {}.", number, all.size()));
  if (number > 0) return {CurveSet{{all[static_cast<std::size_t>(number - 1)]}}, {}};
  CurveSet result{joined(all, inputs.tolerance).curves};
  std::string note = say("Edges: {}, joined into chains: {}.", all.size(), result.curves.size());
  return {std::move(result), {std::move(note)}};
}

void BlendCurveOperation::suit(const Beginning& b) {
  if (is_curve(b, b.chosen)) first = b.chosen;
  second = other_curve(b);
}

void BlendCurveOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 2> ends{{{"begin", "Its beginning"}, {"end", "Its end"}}};
  static constexpr std::array<Choice, 3> kinds{
      {{"position", "Position"}, {"tangent", "Tangent"}, {"curvature", "Curvature"}}};
  const NumberRange bulge{0.05, 10.0, "", 0.1, 2};
  v.part({"first", "From the curve of", "Where the blend begins."}, first);
  visit_choice(v, {"first_end", "From", "Which end of that curve."}, at_first.end, ends);
  visit_choice(v, {"first_continuity", "Continuity", "How the blend goes on from there."},
               at_first.continuity, kinds);
  v.number({"first_bulge", "Bulge", "How far the end's direction is felt."}, at_first.bulge, bulge);
  v.part({"second", "To the curve of", "Where the blend ends."}, second);
  visit_choice(v, {"second_end", "To", "Which end of that curve."}, at_second.end, ends);
  visit_choice(v, {"second_continuity", "Continuity", "How the blend arrives there."},
               at_second.continuity, kinds);
  v.number({"second_bulge", "Bulge", "How far the end's direction is felt."}, at_second.bulge,
           bulge);
}

std::string BlendCurveOperation::summary() const {
  static constexpr std::array<const char*, 3> words{"position", "tangent", "curvature"};
  return say("{} to {}", words[static_cast<std::size_t>(at_first.continuity)],
             words[static_cast<std::size_t>(at_second.continuity)]);
}

Outcome BlendCurveOperation::apply(const Shape&, const Inputs& inputs, Progress&) const {
  return {CurveSet{{blend(single_curve(inputs, first, "first curve"), at_first,
                          single_curve(inputs, second, "second curve"), at_second)}},
          {}};
}

}  // namespace evenclay
