#include "core/operations/blend_parts.h"

#include <fmt/format.h>

#include <array>
#include <optional>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/cut/match.h"
#include "core/operations/common.h"
#include "core/operations/curves.h"
#include "core/operations/rows.h"

namespace evenclay {

namespace {

// Sections as numbers in threes: share, bulge at the first edges, bulge at the second.
class SectionsData : public NumbersData {
 public:
  explicit SectionsData(std::vector<BlendSection>& sections) : sections_(sections) {
    reach = 100.0;
    for (const BlendSection& s : sections)
      values.insert(values.end(), {s.share, s.bulge_a, s.bulge_b});
  }
  void from_json(const std::string& text) override {
    NumbersData::from_json(text);
    take();
  }
  void set(std::string_view address, std::string_view text) override {
    NumbersData::set(address, text);
    take();
  }

 private:
  void take() {
    if (values.size() % 3 != 0)
      throw Error(
          say("A section is three numbers: its place from 0 to 1, the bulge at the first edges and "
              "that at the second."));
    std::vector<BlendSection> made;
    for (std::size_t k = 0; k < values.size(); k += 3) {
      if (values[k] < 0.0 || values[k] > 1.0 || values[k + 1] < 0.05 || values[k + 2] < 0.05)
        throw Error(say("A section lies at a place from 0 to 1 and has bulges of 0.05 or more."));
      made.push_back({values[k], values[k + 1], values[k + 2]});
    }
    sections_ = std::move(made);
  }
  std::vector<BlendSection>& sections_;
};

JointBadge badge(const Continuity& c, const Vec3& at, int wanted, std::string name) {
  return {at, c.level, wanted, c.gap, c.angle, c.curvature, c.change, std::move(name)};
}

std::string joint_words(const JointBadge& j) {
  std::string words =
      say("{}: G{} wanted, {} (gap {:.4f} mm, angle {:.3f}°", j.name, j.wanted,
          j.level < 0 ? std::string("not met") : say("G{} holds", j.level), j.gap, j.angle);
  if (j.wanted >= 2) words += say(", curvature {:.1f} %", 100.0 * j.curvature);
  if (j.wanted >= 3) words += say(", its change {:.1f} %", 100.0 * j.change);
  return words + ")";
}

constexpr std::array<Choice, 4> kLevels{{{"g0", "G0, position"},
                                         {"g1", "G1, tangent"},
                                         {"g2", "G2, curvature"},
                                         {"g3", "G3, its change"}}};

}  // namespace

void BlendOperation::suit(const Beginning& b) {
  first = second = b.chosen;
  const std::vector<PartRef> others = other_picked_bodies(b);
  if (!others.empty()) second = others.front();
}

void BlendOperation::describe(ParameterVisitor& v) {
  const NumberRange bulge{0.05, 20.0, "", 0.1, 2};
  v.part({"first", "First part", "The part with the first chain of edges."}, first);
  v.picks({"first_edges", "Its edges", "Clicked in the view; none: the nearest open chain."},
          first_edges, kBodyEdges);
  v.choice({"first_continuity", "Continuity", "How the blend goes on there."}, at_first.continuity,
           kLevels);
  v.number({"first_bulge", "Bulge", "How far that side's direction is felt."}, at_first.bulge,
           bulge);
  v.part({"second", "Second part", "The part with the second chain; may be the same."}, second);
  v.picks({"second_edges", "Its edges", "Clicked in the view; none: the nearest open chain."},
          second_edges, kBodyEdges);
  v.choice({"second_continuity", "Continuity", "How the blend goes on there."},
           at_second.continuity, kLevels);
  v.number({"second_bulge", "Bulge", "How far that side's direction is felt."}, at_second.bulge,
           bulge);
  v.group("Match");
  v.toggle({"reversed", "Reverse", "The second edges are walked the other way."}, reversed);
  v.number({"seam", "Seam", "Moves the second seam on by a share of its length."}, seam,
           {-1.0, 1.0, "", 0.01, 3});
  SectionsData data(sections);
  v.data({"sections", "Sections", "Other bulges at places: place, first bulge, second bulge."},
         data);
}

std::string BlendOperation::summary() const {
  return say("G{} to G{}", at_first.continuity, at_second.continuity);
}

Outcome BlendOperation::apply(const Shape&, const Inputs& inputs, Progress& progress) const {
  if (first.empty() || second.empty())
    throw Error(say("Blend needs a part for each chain of edges. Choose them in the settings."));
  const bool same = first == second;
  const Body a = edged(faces_of(*inputs.parts.at(first), label()));
  const Body b = same ? a : edged(faces_of(*inputs.parts.at(second), label()));
  std::vector<std::string> notes;
  std::vector<std::size_t> edges_a, edges_b;
  if (!first_edges.empty()) edges_a = edges_picked(a, first_edges, notes);
  if (!second_edges.empty()) edges_b = edges_picked(b, second_edges, notes);
  if (edges_a.empty() || edges_b.empty()) {
    const ChainPair nearest = nearest_chains(a, b, same);
    if (nearest.a.empty())
      throw Error(say(
          "There are no two open chains of edges to blend between. Cut an opening, or click the "
          "edges."));
    if (edges_a.empty()) edges_a = nearest.a;
    if (edges_b.empty()) edges_b = nearest.b;
  }
  const EdgeChain chain_a(a, edges_a), chain_b(b, edges_b);
  BlendedSurface made =
      blended(chain_a, a, chain_b, b,
              {at_first, at_second, reversed, seam, sections, inputs.tolerance}, progress);
  Outcome outcome{body_of({std::move(made.surface)}, inputs.step), std::move(notes)};
  outcome.joints = {badge(made.at_a, made.worst_a, at_first.continuity, "First edges"),
                    badge(made.at_b, made.worst_b, at_second.continuity, "Second edges")};
  for (const JointBadge& j : outcome.joints) {
    outcome.notes.push_back(joint_words(j) + ".");
    if (j.level < j.wanted)
      outcome.notes.push_back(
          say("{} no longer keep G{}: the neighbour bends or moved too far there. Lower "
              "the bulge, ask for less, or move it back.",
              j.name, j.wanted));
  }
  outcome.notes.push_back(
      say("Matched lines are {:.1f} to {:.1f} mm long.", made.shortest, made.longest));
  outcome.marks = std::move(made.matched);
  if (!made.seams.empty())
    outcome.handles.push_back({"seam", std::move(made.seams), -0.5, 0.5, seam - std::round(seam)});
  return outcome;
}

namespace {

// A face and its border that an edge (of the edged body) is; nothing for edges of trimmed faces.
struct OnBorder {
  std::size_t face;
  Border border;
};
std::optional<OnBorder> border_of_edge(const Body& body, Tag edge) {
  for (std::size_t f = 0; f < body.faces.size(); ++f)
    for (const Border b : kBorders)
      if (!body.faces[f].trimmed() &&
          make_tag(0, body.faces[f].tag, static_cast<std::uint64_t>(b)) == edge)
        return OnBorder{f, b};
  return std::nullopt;
}

}  // namespace

void MatchOperation::suit(const Beginning& b) {
  for (const PartRef& part : other_picked_bodies(b)) other = part;
}

void MatchOperation::describe(ParameterVisitor& v) {
  v.picks({"edges", "Edge", "The border that moves, clicked in the view; none: the nearest."},
          edges, {{PickKind::Edge}, 1});
  v.part({"other", "To", "The part it is brought to, which stays."}, other);
  v.picks({"other_edges", "Its edges", "Clicked in the view; none: the nearest open chain."},
          other_edges, kBodyEdges);
  v.choice({"continuity", "Continuity", "What the joint keeps; each needs one more row of points."},
           continuity, kLevels);
  v.toggle({"ends_to_ends", "Ends to ends",
            "Equal shares of both lengths meet; else each place the nearest."},
           ends_to_ends);
  v.toggle({"reversed", "Reverse", "The other edges are walked the other way."}, reversed);
  v.toggle({"add_points", "Add points",
            "Grid lines are added along the edge until the continuity holds."},
           add_points);
}

Outcome MatchOperation::apply(const Shape& before, const Inputs& inputs, Progress& progress) const {
  const Body& body = faces_of(before, label());
  if (other.empty())
    throw Error(say("Match has no neighbour yet. Choose the part in its settings."));
  const Body own = edged(body);
  const Body neighbour = edged(faces_of(*inputs.parts.at(other), label()));
  std::vector<std::string> notes;
  const ChainPair nearest = nearest_chains(own, neighbour, false);
  std::vector<std::size_t> mine = nearest.a, theirs = nearest.b;
  if (!edges.empty()) mine = edges_picked(own, edges, notes);
  if (!other_edges.empty()) theirs = edges_picked(neighbour, other_edges, notes);
  if (mine.empty() || theirs.empty())
    throw Error(say("There is no open edge to match. Click an edge of each part."));
  const std::optional<OnBorder> on = border_of_edge(body, own.edges[mine.front()].tag);
  if (!on)
    throw Error(
        say("Match moves the natural border of a whole surface. This edge was cut; match below the "
            "cut, or extend the surface."));
  const EdgeChain chain(neighbour, theirs);
  const Matched made =
      matched(*body.faces[on->face].surface, on->border, chain, neighbour,
              {continuity, ends_to_ends, reversed, add_points, inputs.tolerance}, progress);
  Outcome outcome{with_surface(body, on->face, made.surface), std::move(notes)};
  outcome.joints = {badge(made.joint, made.worst, continuity, "Matched edge")};
  outcome.notes.push_back(joint_words(outcome.joints[0]) + ".");
  outcome.notes.push_back(say("{} rows moved, by {:.3f} mm at most{}.", made.rows, made.farthest,
                              made.added > 0 ? say("; {} grid lines added", made.added) : ""));
  if (made.joint.level < continuity)
    outcome.notes.push_back(
        say("G{} does not hold all along: the grid has too few points along the edge. "
            "Switch Add points on, or rebuild finer.",
            continuity));
  return outcome;
}

}  // namespace evenclay
