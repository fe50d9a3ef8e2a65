#include "core/operations/form_loops.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/union_find.h"
#include "core/body/topology.h"
#include "core/operations/form_picks.h"
#include "core/subdivision/convert.h"
#include "core/subdivision/crossings.h"
#include "core/subdivision/edit_parts.h"
#include "core/subdivision/edits.h"
#include "core/subdivision/joining.h"
#include "core/subdivision/refine.h"
#include "core/subdivision/reshape.h"

namespace evenclay {

namespace {

constexpr NumberRange kPlaces{0.01, 0.99, "", 0.05, 3}, kSlides{-0.95, 0.95, "", 0.05, 3};

Vec3 middle_of(const Form& form, const FormEdge& edge) {
  return (form.points[edge[0]] + form.points[edge[1]]) * 0.5;
}

// From the end with the lesser name, so that shares along it mean the same whatever else changes.
FormEdge by_names(const Form& form, FormEdge e) {
  if (form.point_tags[e[0]] > form.point_tags[e[1]]) std::swap(e[0], e[1]);
  return e;
}

}  // namespace

void InsertLoopOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
}

void InsertLoopOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  v.number(
      {"place", "Place", "Share of the way along the picked edge at which the loop crosses it."},
      place, kPlaces);
  v.toggle({"both_sides", "Both sides", "A second loop as far from the other end."}, both_sides);
}

std::string InsertLoopOperation::summary() const {
  return say("{} at {:g}{}", counted(edges.size(), "loop"), place,
             both_sides ? ", both sides" : "");
}

Outcome InsertLoopOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  Form form = form_of(before, label());
  std::vector<Tag> names;
  std::vector<StepHandle> handles;
  for (const FormEdge& e : picked_edges(form, edges, notes)) {
    names.push_back(edge_tag(form, e));
    const FormEdge walk = by_names(form, e);
    const auto at = [&](double share) {
      return form.points[walk[0]] + (form.points[walk[1]] - form.points[walk[0]]) * share;
    };
    handles.push_back(
        {"place", {at(kPlaces.min), at(kPlaces.max)}, kPlaces.min, kPlaces.max, place});
  }
  for (const Tag name : names) {
    const std::map<Tag, FormEdge> now = edges_by_tag(form);
    const auto found = now.find(name);
    if (found == now.end()) continue;  // a loop of the same step has cut it already
    form = linked(with_loop(form, by_names(form, found->second), place, both_sides, in.step));
  }
  Outcome made = outcome_of(std::move(form), std::move(notes));
  made.handles = std::move(handles);
  return made;
}

void SlideLoopOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
}

void SlideLoopOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  v.number({"share", "Slide", "Share of the edges beside the loop; negative to the other side."},
           share, kSlides);
  v.toggle({"whole_loop", "Whole loops", "The loops of the picked edges, not these alone."},
           whole_loop);
}

std::string SlideLoopOperation::summary() const {
  return say("by {:g}", share);
}

Outcome SlideLoopOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  std::vector<FormEdge> run;
  for (const FormEdge& e : picked_edges(form, edges, notes)) {
    if (!whole_loop) {
      run.push_back(e);
      continue;
    }
    for (const FormEdge& more : loop_along(links_of(form)->topology, by_names(form, e)))
      run.push_back(form_edge(more[0], more[1]));
  }
  Form made = slid(form, run, share);
  made.links = form.links;
  Outcome all = outcome_of(std::move(made), std::move(notes));
  // Points move along straight edges on either side.
  const FormEdge shown = run.front();
  all.handles.push_back({"share",
                         {middle_of(slid(form, run, kSlides.min), shown), middle_of(form, shown),
                          middle_of(slid(form, run, kSlides.max), shown)},
                         kSlides.min,
                         kSlides.max,
                         share});
  return all;
}

void SubdivideOperation::suit(const Beginning& b) {
  faces = picks_of(b.picks, PickKind::Face);
  all = faces.empty();
}

void SubdivideOperation::describe(ParameterVisitor& v) {
  v.toggle({"all", "All faces", "Every face; the smooth shape stays as it is."}, all);
  if (!all) describe_faces(v, faces);
}

std::string SubdivideOperation::summary() const {
  return all ? say("all faces") : counted(faces.size(), "face");
}

Outcome SubdivideOperation::apply(const Shape& before, const Inputs& in, Progress& progress) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  Form made = all ? subdivided(form, progress)
                  : subdivided_faces(form, picked_faces(form, faces, notes), in.step);
  notes.push_back(say("{} became {}.", counted(form.faces.size(), "face"), made.faces.size()));
  return outcome_of(std::move(made), std::move(notes));
}

void CreaseOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
}

void CreaseOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  v.number({"sharpness", "Sharpness",
            "10 is sharp, less is rounded by as many subdivisions, 0 is smooth again."},
           sharpness, {0.0, kSharp, "", 0.5, 2});
}

std::string CreaseOperation::summary() const {
  return fmt::format("{}, {:g}", counted(edges.size(), "edge"), sharpness);
}

Outcome CreaseOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  Form made = with_creases(form, picked_edges(form, edges, notes), sharpness);
  made.links = form.links;
  return outcome_of(std::move(made), std::move(notes));
}

void BevelOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
  if (b.before) width = std::max(0.5, std::round(0.05 * rough_box(*b.before).size()));
}

void BevelOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  v.number({"width", "Width", "How far each side of the strip lies from the edge."}, width,
           {0.001, 10000.0, "mm", 0.5, 3});
  v.count({"segments", "Segments", "Into how many faces the strip is divided; more round it."},
          segments, {1, 20});
}

std::string BevelOperation::summary() const {
  return fmt::format("{}, {:g} mm, {}", counted(edges.size(), "edge"), width,
                     counted(static_cast<std::size_t>(segments), "segment"));
}

Outcome BevelOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  return outcome_of(bevelled(form, picked_edges(form, edges, notes), width, segments, in.step),
                    std::move(notes));
}

}  // namespace evenclay
