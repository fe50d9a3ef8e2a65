#include "core/operations/joining.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/body/region.h"
#include "core/body/topology.h"
#include "core/check/measures.h"
#include "core/cut/edge_edit.h"
#include "core/cut/openings.h"
#include "core/operations/common.h"
#include "core/source/border_surface.h"
#include "core/source/compatible.h"

namespace evenclay {

Body facing_alike(Body body) {
  Body turned = edged(body);
  const Topology t = topology(turned);
  std::vector<int> seen(body.faces.size(), 0);
  std::vector<std::vector<std::array<std::uint32_t, 2>>> beside(body.faces.size());  // face, edge
  for (const std::uint32_t e : t.joined_edges) {
    if (t.uses[e].size() != 2) continue;
    const std::uint32_t a = t.uses[e][0].face, b = t.uses[e][1].face;
    beside[a].push_back({b, e});
    beside[b].push_back({a, e});
  }
  for (std::size_t start = 0; start < body.faces.size(); ++start) {
    if (seen[start]++ > 0) continue;
    std::vector<std::size_t> todo{start};
    while (!todo.empty()) {
      const std::size_t f = todo.back();
      todo.pop_back();
      for (const auto& [other, e] : beside[f]) {
        if (seen[other]++ > 0) continue;
        if (walks_forward(turned, t.uses[e][0]) == walks_forward(turned, t.uses[e][1])) {
          turned.faces[other].flipped = !turned.faces[other].flipped;
          body.faces[other].flipped = !body.faces[other].flipped;
        }
        todo.push_back(other);
      }
    }
  }
  return body;
}

Body facing_outward(Body body, Progress& progress) {
  const Topology t = topology(edged(body));
  if (t.shells.size() != 1 || !t.closed)
    return body;  // hollows cannot be told from lumps by their sign alone
  double sum = 0.0;
  for (const Face& f : body.faces) sum += volume(f, progress);
  if (sum < 0.0)
    for (Face& f : body.faces) f.flipped = !f.flipped;
  return body;
}

Body with_filled_openings(const Body& given, const std::vector<std::size_t>& edges,
                          const Inputs& inputs, double puff, std::vector<std::string>& notes,
                          Progress& progress) {
  Body body = edged(given);
  const std::vector<Opening> all = openings(body);
  std::vector<const Opening*> wanted;
  for (const Opening& o : all) {
    const bool picked = std::any_of(edges.begin(), edges.end(), [&](std::size_t e) {
      return opening_of(all, static_cast<std::uint32_t>(e)) == &o;
    });
    if (edges.empty() || picked) wanted.push_back(&o);
  }
  if (wanted.empty() && !edges.empty())
    throw Error(say("The picked edges are on no opening. Click an open edge."));
  if (edges.empty() && puff == 0.0) {
    Capped flat = capped(body, inputs.tolerance, inputs.step);
    if (!flat.added.empty())
      notes.push_back(say_of(flat.added.size(), "{} flat opening was filled.",
                             "{} flat openings were filled.", flat.added.size()));
    body = std::move(flat.body);
    if (flat.left.empty()) return body;
    std::vector<std::size_t> rest;
    for (const Opening& o : flat.left) rest.push_back(o.edges.front());
    return with_filled_openings(body, rest, inputs, puff, notes, progress);
  }
  for (const Opening* o : wanted) {
    progress.check();
    Tag name = 0;
    for (const std::uint32_t e : o->edges) name += body.edges[e].tag;
    const std::size_t f = add_flat_face(body, std::span(o, 1), make_tag(inputs.step, name, 601));
    if (o->flat(inputs.tolerance) && puff == 0.0) continue;
    std::vector<Curve> ring;
    for (std::size_t n = 0; n < o->edges.size(); ++n) {
      const Curve& c = body.edges[o->edges[n]].curve;
      ring.push_back(o->ahead[n] ? c : reversed(c));
    }
    // Raised to the outside, whichever way the ring runs.
    const bool against = loops_turned(body.faces[f])[0] != body.faces[f].flipped;
    const double sense = against ? -1.0 : 1.0;
    const Filled filled =
        fill(ring, {.points_u = 10, .points_v = 10, .puff = sense * puff}, inputs.step, progress);
    body = with_surface(body, f, *filled.body.faces.front().surface, NewParameters::Searched);
    double gap = 0.0;
    for (const std::uint32_t e : o->edges) gap = std::max(gap, body.edges[e].gap);
    notes.push_back(
        say("An opening of {:.1f} mm round was filled within {:.3f} mm.", o->length, gap));
  }
  refresh_gaps(body);
  return facing_alike(std::move(body));
}

void JoinPartsOperation::describe(ParameterVisitor& v) {
  v.parts({"others", "With", "Other parts; without any, the faces of this part are joined."},
          others, {100, kBody});
  v.number({"tolerance", "Join within", "Edges farther apart than this are not joined."}, tolerance,
           {1e-6, 10.0, "mm", 0.01, 4});
}

std::string JoinPartsOperation::summary() const {
  return say("within {:g} mm", tolerance);
}

Outcome JoinPartsOperation::apply(const Shape& before, const Inputs& inputs,
                                  Progress& progress) const {
  std::vector<Body> all{faces_of(before, label())};
  if (!others.empty())
    for (Body& b : other_bodies(inputs, others, label())) all.push_back(std::move(b));
  const Body put = put_together(all, inputs.step);
  const double reach = std::max(20.0 * tolerance, 0.05 * size(put));
  const std::vector<EdgeGap> gaps = edge_gaps(put, reach, progress);
  SewnBody made = sewn(put, tolerance, inputs.step, progress);
  const std::size_t open_before = topology(edged(put)).open_edges.size();
  std::vector<std::string> notes;
  std::vector<std::array<Vec3, 2>> marks;
  for (const EdgeGap& g : gaps) {
    marks.push_back({g.at, g.to});
    if (g.greatest > 1e-6) marks.insert(marks.end(), g.lines.begin(), g.lines.end());
  }
  std::size_t beyond = 0;
  for (const EdgeGap& g : gaps) beyond += g.greatest > tolerance ? 1 : 0;
  if (made.open == open_before) {
    if (gaps.empty())
      throw Error(say(
          "No open edge lies near another one; there is nothing to join. Move the parts together, "
          "or pick others."));
    throw Error(
        say("Nothing was joined: the gap is {:.3f} mm wide at ({:.1f}, {:.1f}, {:.1f}), "
            "more than {:g} mm. Refresh edges, "
            "or match the surfaces; joining within {:.3f} mm would close it.",
            gaps.front().greatest, gaps.front().at.x, gaps.front().at.y, gaps.front().at.z,
            tolerance, 1.05 * gaps.front().greatest));
  }
  notes.push_back(
      say("{} edges joined, greatest gap {:.4f} mm.", open_before - made.open, made.gap));
  if (beyond > 0)
    notes.push_back(say_of(
        static_cast<std::size_t>(beyond),
        "{} edge was not joined: up to {:.3f} mm apart at ({:.1f}, {:.1f}, {:.1f}).",
        "{} edges were not joined: up to {:.3f} mm apart at ({:.1f}, {:.1f}, {:.1f}).", beyond,
        gaps.front().greatest, gaps.front().at.x, gaps.front().at.y, gaps.front().at.z));
  Body body = facing_alike(std::move(made.body));
  notes.emplace_back(made.open == 0 ? say("The part is closed.")
                                    : say_of(made.open, "{} open edge is left.",
                                             "{} open edges are left.", made.open));
  Outcome outcome{facing_outward(std::move(body), progress), std::move(notes)};
  outcome.marks = std::move(marks);
  return outcome;
}

void TakeApartOperation::describe(ParameterVisitor& v) {
  v.picks({"faces", "Faces", "Those that come off; without any all."}, faces, kBodyFaces);
}

std::string TakeApartOperation::summary() const {
  return faces.empty() ? "all" : say("{} picked", faces.size());
}

Outcome TakeApartOperation::apply(const Shape& before, const Inputs& inputs, Progress&) const {
  const Body& body = faces_of(before, label());
  std::vector<std::string> notes;
  const std::vector<std::size_t> picked =
      faces.empty() ? std::vector<std::size_t>{} : faces_picked(body, faces, notes);
  notes.push_back(say("{} faces share no edge with others now.",
                      picked.empty() ? body.faces.size() : picked.size()));
  return {taken_apart(body, picked, inputs.step), std::move(notes)};
}

void FillOpeningsOperation::describe(ParameterVisitor& v) {
  v.picks({"edges", "Edges", "One edge of each opening; without any all openings."}, edges,
          kBodyEdges);
  v.number({"puff", "Puff", "How far the middle is raised."}, puff,
           {-1000.0, 1000.0, "mm", 0.5, 3});
}

std::string FillOpeningsOperation::summary() const {
  return edges.empty() ? "all" : say("{} picked", edges.size());
}

Outcome FillOpeningsOperation::apply(const Shape& before, const Inputs& inputs,
                                     Progress& progress) const {
  const Body body = edged(faces_of(before, label()));
  if (topology(body).open_edges.empty())
    throw Error(say("The part has no opening. Switch this step off, or open the part below it."));
  std::vector<std::string> notes;
  const std::vector<std::size_t> picked =
      edges.empty() ? std::vector<std::size_t>{} : edges_picked(body, edges, notes);
  Body made = with_filled_openings(body, picked, inputs, puff, notes, progress);
  if (topology(made).closed) notes.emplace_back(say("The part is closed."));
  return {std::move(made), std::move(notes)};
}

void SplitEdgeOperation::describe(ParameterVisitor& v) {
  v.picks({"edges", "Edges", "The edges, clicked in the view."}, edges, kBodyEdges);
  v.toggle({"at_place", "At a place", "Instead of equal pieces."}, at_place);
  if (at_place)
    v.number({"share", "Place", "Share of the edge."}, share, {0.001, 0.999, "", 0.05, 4});
  else
    v.count({"pieces", "Pieces", "How many equal pieces each edge becomes."}, pieces, {2, 100});
}

std::string SplitEdgeOperation::summary() const {
  return at_place ? say("at {:g}", share) : say("{} pieces", pieces);
}

OperationPtr SplitEdgeOperation::with_edge_place(const Pick& edge, double at) const {
  auto changed = std::make_shared<SplitEdgeOperation>(*this);
  changed->edges = {edge};
  changed->share = std::clamp(std::round(at * 1e4) / 1e4, 0.001, 0.999);
  return changed;
}

Outcome SplitEdgeOperation::apply(const Shape& before, const Inputs& inputs,
                                  Progress& progress) const {
  Body body = edged(faces_of(before, label()));
  std::vector<std::string> notes;
  for (const std::size_t e : edges_picked(body, edges, notes)) {
    progress.check();
    std::vector<double> shares{share};
    if (!at_place) {
      shares.clear();
      for (int k = 1; k < pieces; ++k) shares.push_back(static_cast<double>(k) / pieces);
    }
    body = with_split_edge(body, e, shares, inputs.step);
  }
  return {std::move(body), std::move(notes)};
}

void MergeEdgesOperation::describe(ParameterVisitor& v) {
  v.picks({"edges", "Edges", "Those that may be merged; without any all."}, edges, kBodyEdges);
  v.number({"degrees", "Up to", "Corners sharper than this stay."}, degrees,
           {0.001, 30.0, "°", 0.1, 3});
}

std::string MergeEdgesOperation::summary() const {
  return edges.empty() ? "all" : say("{} picked", edges.size());
}

Outcome MergeEdgesOperation::apply(const Shape& before, const Inputs&, Progress& progress) const {
  const Body body = edged(faces_of(before, label()));
  std::vector<std::string> notes;
  const std::vector<std::size_t> picked =
      edges.empty() ? std::vector<std::size_t>{} : edges_picked(body, edges, notes);
  MergedEdges made = with_merged_edges(body, picked, degrees, progress);
  if (made.merged == 0)
    throw Error(made.refused > 0
                    ? say("The edges meet at a corner of {:.2f}° at ({:.1f}, {:.1f}, {:.1f}), so "
                          "they are not merged. "
                          "Allow more, or leave them.",
                          made.worst_refused, made.refused_at.x, made.refused_at.y,
                          made.refused_at.z)
                    : say("No two edges follow each other between the same faces; there is nothing "
                          "to merge."));
  notes.push_back(say_of(static_cast<std::size_t>(made.merged), "{} edge was merged.",
                         "{} edges were merged.", made.merged));
  return {std::move(made.body), std::move(notes)};
}

void RefreshEdgesOperation::describe(ParameterVisitor& v) {
  v.number({"reach", "Within", "Edges nearer than this to their face's own border go there."},
           reach, {0.0, 1000.0, "mm", 0.1, 3});
}

std::string RefreshEdgesOperation::summary() const {
  return say("within {:g} mm", reach);
}

Outcome RefreshEdgesOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  RefreshedEdges made = with_refreshed_edges(faces_of(before, label()), reach);
  return {std::move(made.body),
          {say_of(static_cast<std::size_t>(made.borders),
                  "{} face went to its own border; greatest gap {:.4f} before, {:.4f} mm now.",
                  "{} faces went to their own border; greatest gap {:.4f} before, {:.4f} mm now.",
                  made.borders, made.worst_before, made.worst_after)}};
}

}  // namespace evenclay
