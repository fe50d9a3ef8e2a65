#include "core/operations/form_picks.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/subdivision/edit_parts.h"

namespace evenclay {

const Form& form_of(const Shape& shape, std::string_view label) {
  const auto* form = std::get_if<Form>(&shape);
  if (form == nullptr)
    throw Error(
        say("{} works on subdivision forms. Choose a form, or add Form from a part.", label));
  if (form->faces.empty())
    throw Error(
        say("{} has no form to work on. Mend or switch on the steps below it first.", label));
  return *form;
}

namespace {

// Places of things (0 … count) by name and by nearness.
template <typename TagAt, typename PlaceAt>
std::vector<std::size_t> found(const std::vector<Pick>& picks, PickKind kind, std::size_t count,
                               const TagAt& tag_at, const PlaceAt& place_at,
                               std::vector<std::string>& notes) {
  std::map<Tag, std::size_t> by_tag;
  for (std::size_t k = 0; k < count; ++k) by_tag[tag_at(k)] = k;
  std::vector<std::size_t> result;
  std::set<std::size_t> once;
  std::size_t gone = 0;
  for (const Pick& pick : picks) {
    if (pick.kind != kind) continue;
    std::size_t at = count;
    if (const auto named = by_tag.find(pick.tag); pick.tag != 0 && named != by_tag.end())
      at = named->second;
    if (pick.tag == 0) {
      double nearest = std::numeric_limits<double>::infinity();
      for (std::size_t k = 0; k < count; ++k)
        if (const double d = distance(place_at(k), pick.near); d < nearest) {
          nearest = d;
          at = k;
        }
    }
    if (at == count)
      ++gone;
    else if (once.insert(at).second)
      result.push_back(at);
  }
  if (gone > 0)
    notes.push_back(say_of(static_cast<std::size_t>(gone),
                           "{} of what was picked is no longer on the form and left out.",
                           "{} of what was picked are no longer on the form and left out.", gone));
  if (result.empty())
    throw Error(
        gone > 0 ? say("None of the picked {}s is on the form any more. Pick again.", name_of(kind))
                 : say("No {} is picked. Pick at least one in the view.", name_of(kind)));
  return result;
}

}  // namespace

std::vector<std::uint32_t> picked_faces(const Form& form, const std::vector<Pick>& picks,
                                        std::vector<std::string>& notes) {
  const auto all = found(
      picks, PickKind::Face, form.faces.size(), [&](std::size_t f) { return form.faces[f].tag; },
      [&](std::size_t f) { return middle_of(form, static_cast<std::uint32_t>(f)); }, notes);
  return {all.begin(), all.end()};
}

std::vector<FormEdge> picked_edges(const Form& form, const std::vector<Pick>& picks,
                                   std::vector<std::string>& notes) {
  const std::shared_ptr<const FormLinks> links = links_of(form);
  const auto& edges = links->topology.edges;
  std::vector<FormEdge> result;
  for (const std::size_t e : found(
           picks, PickKind::Edge, edges.size(),
           [&](std::size_t k) { return edge_tag(form, edges[k].points); },
           [&](std::size_t k) {
             return (form.points[edges[k].points[0]] + form.points[edges[k].points[1]]) * 0.5;
           },
           notes))
    result.push_back(edges[e].points);
  return result;
}

std::vector<std::uint32_t> picked_points(const Form& form, const std::vector<Pick>& picks,
                                         std::vector<std::string>& notes) {
  const auto all = found(
      picks, PickKind::Corner, form.points.size(),
      [&](std::size_t p) { return form.point_tags[p]; },
      [&](std::size_t p) { return form.points[p]; }, notes);
  return {all.begin(), all.end()};
}

Pick pick_of_face(const Form& form, std::uint32_t face) {
  return {PickKind::Face, form.faces[face].tag, middle_of(form, face)};
}

Pick pick_of_edge(const Form& form, const FormEdge& e) {
  return {PickKind::Edge, edge_tag(form, e), (form.points[e[0]] + form.points[e[1]]) * 0.5};
}

Pick pick_of_point(const Form& form, std::uint32_t p) {
  return {PickKind::Corner, form.point_tags[p], form.points[p]};
}

std::vector<Pick> picks_of(const std::vector<Pick>& all, PickKind kind) {
  std::vector<Pick> result;
  for (const Pick& p : all)
    if (p.kind == kind) result.push_back(p);
  return result;
}

OperationPtr with_picks(const Operation& operation, const std::vector<Pick>& picks) {
  class Take : public PartialVisitor {
   public:
    explicit Take(const std::vector<Pick>& p) : picks_(p) {}
    bool taken = false;
    void picks(const ParameterInfo&, std::vector<Pick>& value, const PickRange& range) override {
      for (const PickKind kind : range.kinds) {
        std::vector<Pick> fitting = picks_of(picks_, kind);
        if (fitting.empty() || fitting.size() > static_cast<std::size_t>(range.most)) continue;
        value = std::move(fitting);
        taken = true;
      }
    }

   private:
    const std::vector<Pick>& picks_;
  } take(picks);
  const std::shared_ptr<Operation> changed = operation.clone();
  changed->describe(take);
  return take.taken ? changed : nullptr;
}

std::vector<Pick> picks_in(const Operation& operation) {
  class Read : public PartialVisitor {
   public:
    std::vector<Pick> all;
    void picks(const ParameterInfo&, std::vector<Pick>& value, const PickRange&) override {
      all.insert(all.end(), value.begin(), value.end());
    }
  } read;
  operation.clone()->describe(read);
  return read.all;
}

namespace {

constexpr int kMostPicks = 20000;
const PickRange kPickedFaces{{PickKind::Face}, kMostPicks};
const PickRange kPickedEdges{{PickKind::Edge}, kMostPicks};
const PickRange kPickedPoints{{PickKind::Corner}, kMostPicks};

}  // namespace

void describe_faces(ParameterVisitor& v, std::vector<Pick>& faces) {
  v.picks({"faces", "Faces", "The faces picked in the view."}, faces, kPickedFaces);
}
void describe_edges(ParameterVisitor& v, std::vector<Pick>& edges) {
  v.picks({"edges", "Edges", "The edges picked in the view."}, edges, kPickedEdges);
}
void describe_points(ParameterVisitor& v, std::vector<Pick>& points) {
  v.picks({"points", "Points", "The points picked in the view, in their order."}, points,
          kPickedPoints);
}

Outcome outcome_of(Form form, std::vector<std::string> notes) {
  return {linked(std::move(form)), std::move(notes)};
}

}  // namespace evenclay
