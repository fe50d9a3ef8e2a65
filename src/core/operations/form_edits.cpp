#include "core/operations/form_edits.h"

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

constexpr int kMostPicks = 20000;
const PickRange kFaces{{PickKind::Face}, kMostPicks};
const PickRange kEdges{{PickKind::Edge}, kMostPicks};
const PickRange kPoints{{PickKind::Corner}, kMostPicks};

void describe_faces(ParameterVisitor& v, std::vector<Pick>& faces) {
  v.picks({"faces", "Faces", "The faces picked in the view."}, faces, kFaces);
}
void describe_edges(ParameterVisitor& v, std::vector<Pick>& edges) {
  v.picks({"edges", "Edges", "The edges picked in the view."}, edges, kEdges);
}
void describe_points(ParameterVisitor& v, std::vector<Pick>& points) {
  v.picks({"points", "Points", "The points picked in the view, in their order."}, points, kPoints);
}

// From the end with the lesser name, so that shares along it mean the same whatever else changes.
FormEdge by_names(const Form& form, FormEdge e) {
  if (form.point_tags[e[0]] > form.point_tags[e[1]]) std::swap(e[0], e[1]);
  return e;
}

Outcome outcome(Form form, std::vector<std::string> notes) {
  return {linked(std::move(form)), std::move(notes)};
}

// Faces that hang together by edges, in groups.
std::vector<std::vector<std::uint32_t>> groups_of(const Form& form,
                                                  const std::vector<std::uint32_t>& faces) {
  const std::set<std::uint32_t> picked(faces.begin(), faces.end());
  UnionFind sets(form.faces.size());
  const std::shared_ptr<const FormLinks> links = links_of(form);
  for (const FormTopology::Edge& e : links->topology.edges) {
    if (e.border()) continue;
    const auto a = static_cast<std::uint32_t>(e.faces[0]);
    const auto b = static_cast<std::uint32_t>(e.faces[1]);
    if (picked.contains(a) && picked.contains(b)) sets.join(a, b);
  }
  std::map<std::uint32_t, std::vector<std::uint32_t>> by_root;
  for (const std::uint32_t f : faces) by_root[sets.root(f)].push_back(f);
  std::vector<std::vector<std::uint32_t>> groups;
  for (auto& [root, group] : by_root) groups.push_back(std::move(group));
  return groups;
}

Vec3 mean_normal(const Form& form, const std::vector<std::uint32_t>& faces) {
  Vec3 sum;
  for (const std::uint32_t f : faces) sum += normal_of(form, f);
  return length(sum) > 1e-9 ? normalized(sum) : normal_of(form, faces.front());
}

void scale_about_middle(Form& form, const std::vector<std::uint32_t>& faces, double factor) {
  std::set<std::uint32_t> points;
  for (const std::uint32_t f : faces)
    points.insert(form.faces[f].points.begin(), form.faces[f].points.end());
  Vec3 middle;
  for (const std::uint32_t p : points) middle += form.points[p];
  middle = middle / static_cast<double>(points.size());
  for (const std::uint32_t p : points) form.points[p] = middle + (form.points[p] - middle) * factor;
}

}  // namespace

// --- extrude ------------------------------------------------------------------------------------

void ExtrudeFacesOperation::suit(const Beginning& b) {
  faces = picks_of(b.picks, PickKind::Face);
  if (b.before) distance = std::max(1.0, std::round(0.15 * rough_box(*b.before).size()));
}
void ExtrudeFacesOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 4> ways{
      {{"normal", "Off the faces"}, {"x", "Along x"}, {"y", "Along y"}, {"z", "Along z"}}};
  describe_faces(v, faces);
  v.number({"distance", "Distance", "How far the faces are pulled out; negative pushes in."},
           distance, {-10000.0, 10000.0, "mm", 1.0, 3});
  visit_choice(v, {"way", "Direction", "Each group of faces along its own normal, or an axis."},
               way, ways);
  v.number({"scale", "Scale", "Size of the pulled faces about their middle; below 1 they taper."},
           scale, {0.01, 10.0, "", 0.05, 3});
  v.count({"rows", "Rows", "Into how many rows the walls are divided."}, rows, {1, 50});
}
std::string ExtrudeFacesOperation::summary() const {
  return say("{} by {:g} mm", counted(faces.size(), "face"), distance);
}
Outcome ExtrudeFacesOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  Form form = form_of(before, label());
  const std::vector<std::uint32_t> picked = picked_faces(form, faces, notes);
  if (distance == 0.0 && scale == 1.0)
    throw Error(say("Nothing would move: choose a distance or a scale other than 1."));
  static constexpr std::array<Vec3, 4> kWays{{{}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
  for (const auto& group : groups_of(form, picked)) {
    Vec3 direction = kWays[static_cast<std::size_t>(way)];
    if (way == PullWay::OwnNormal) direction = mean_normal(form, group);
    for (int k = 0; k < rows; ++k) {
      form = extruded(form, group, direction * (distance / rows), in.step).form;
      // Row by row towards the whole scale.
      const double done = 1.0 + (scale - 1.0) * k / rows;
      scale_about_middle(form, group, (1.0 + (scale - 1.0) * (k + 1) / rows) / done);
    }
  }
  return outcome(std::move(form), std::move(notes));
}

void PullEdgesOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
}
void PullEdgesOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  describe_place(v, by, "By", "by");
}
std::string PullEdgesOperation::summary() const {
  return say("{} by {:g} mm", counted(edges.size(), "edge"), length(by));
}
Outcome PullEdgesOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  if (!(length(by) > 0.0))
    throw Error(say("Nothing would move: choose how far the edges are pulled."));
  return outcome(pulled_out(form, picked_edges(form, edges, notes), by, in.step), std::move(notes));
}

// --- loops --------------------------------------------------------------------------------------

namespace {
constexpr NumberRange kPlaces{0.01, 0.99, "", 0.05, 3}, kSlides{-0.95, 0.95, "", 0.05, 3};

Vec3 middle_of(const Form& form, const FormEdge& edge) {
  return (form.points[edge[0]] + form.points[edge[1]]) * 0.5;
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
  Outcome made = outcome(std::move(form), std::move(notes));
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
  Outcome all = outcome(std::move(made), std::move(notes));
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

// --- dividing -----------------------------------------------------------------------------------

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
  return outcome(std::move(made), std::move(notes));
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
  return outcome(std::move(made), std::move(notes));
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
  return outcome(bevelled(form, picked_edges(form, edges, notes), width, segments, in.step),
                 std::move(notes));
}

// --- joining ------------------------------------------------------------------------------------

void BridgeOperation::suit(const Beginning& b) {
  faces = picks_of(b.picks, PickKind::Face);
  if (faces.empty()) edges = picks_of(b.picks, PickKind::Edge);
}
void BridgeOperation::describe(ParameterVisitor& v) {
  describe_faces(v, faces);
  describe_edges(v, edges);
  v.count({"twist", "Twist", "By how many points the second rim is turned on."}, twist,
          {-200, 200});
  v.count({"segments", "Rows", "How many rows of faces the bridge has."}, segments, {1, 50});
  v.number({"crease", "Crease of the rims", "0 smooth, 10 sharp."}, crease,
           {0.0, kSharp, "", 1.0, 2});
}
std::string BridgeOperation::summary() const {
  return fmt::format("{}{}", counted(static_cast<std::size_t>(segments), "row"),
                     twist != 0 ? say(", turned by {}", twist) : "");
}
Outcome BridgeOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  const BridgeOptions options{twist, segments, crease};
  std::vector<std::array<Vec3, 2>> marks;
  const auto marked = [&](Form made) {
    Outcome o = outcome(std::move(made), std::move(notes));
    o.marks = std::move(marks);
    return o;
  };
  if (!faces.empty())
    return marked(bridged_faces(form, picked_faces(form, faces, notes), options, in.step, &marks));
  if (edges.empty())
    throw Error(say("Pick two groups of faces, or one edge of each of two borders."));
  const std::vector<FormEdge> picked = picked_edges(form, edges, notes);
  if (picked.size() != 2)
    throw Error(
        say("{} edges are picked; a bridge needs one edge of each of two borders.", picked.size()));
  return marked(bridged(form, picked[0], picked[1], options, in.step, &marks));
}

void StitchOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
}
void StitchOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
}
std::string StitchOperation::summary() const {
  return say("two runs of edges");
}
Outcome StitchOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  return outcome(stitched(form, picked_edges(form, edges, notes), in.step), std::move(notes));
}

void MeltOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
  if (edges.empty()) points = picks_of(b.picks, PickKind::Corner);
}
void MeltOperation::describe(ParameterVisitor& v) {
  describe_edges(v, edges);
  describe_points(v, points);
}
std::string MeltOperation::summary() const {
  return edges.empty() ? counted(points.size(), "point") : counted(edges.size(), "edge");
}
Outcome MeltOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  Form form = form_of(before, label());
  if (edges.empty() && points.empty()) throw Error(say("Pick the edges or points to melt first."));
  if (!edges.empty()) form = melted_edges(form, picked_edges(form, edges, notes), in.step);
  if (!points.empty()) form = melted_points(form, picked_points(form, points, notes), in.step);
  return outcome(std::move(form), std::move(notes));
}

void DeleteFacesOperation::suit(const Beginning& b) {
  faces = picks_of(b.picks, PickKind::Face);
}
void DeleteFacesOperation::describe(ParameterVisitor& v) {
  describe_faces(v, faces);
}
std::string DeleteFacesOperation::summary() const {
  return counted(faces.size(), "face");
}
Outcome DeleteFacesOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  return outcome(without_faces(form, picked_faces(form, faces, notes)), std::move(notes));
}

void FillHoleOperation::suit(const Beginning& b) {
  edges = picks_of(b.picks, PickKind::Edge);
  all = edges.empty();
}
void FillHoleOperation::describe(ParameterVisitor& v) {
  v.toggle({"all", "All holes", "Every border of the form is closed."}, all);
  if (!all) describe_edges(v, edges);
}
std::string FillHoleOperation::summary() const {
  return all ? say("all holes") : counted(edges.size(), "hole");
}
Outcome FillHoleOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  Form form = form_of(before, label());
  const auto first_border = [&]() -> std::optional<FormEdge> {
    const std::shared_ptr<const FormLinks> links = links_of(form);
    for (const FormTopology::Edge& e : links->topology.edges)
      if (e.border()) return e.points;
    return std::nullopt;
  };
  if (!all) {
    std::vector<FormEdge> picked = picked_edges(form, edges, notes);
    for (const FormEdge& e : picked) {
      if (!edge_at(links_of(form)->topology, e).border() && &e != &picked.front()) continue;
      form = filled(form, e, in.step);  // points stay where they are, so edges keep their places
    }
    return outcome(std::move(form), std::move(notes));
  }
  std::size_t holes = 0;
  while (const auto e = first_border()) {
    form = filled(form, *e, in.step);
    ++holes;
  }
  if (holes == 0) throw Error(say("The form has no hole; it is closed already."));
  notes.push_back(say("{} closed.", counted(holes, "hole")));
  return outcome(std::move(form), std::move(notes));
}

void AddFaceOperation::suit(const Beginning& b) {
  points = picks_of(b.picks, PickKind::Corner);
}
void AddFaceOperation::describe(ParameterVisitor& v) {
  describe_points(v, points);
}
std::string AddFaceOperation::summary() const {
  return say("between {}", counted(points.size(), "point"));
}
Outcome AddFaceOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  std::vector<std::string> notes;
  const Form& form = form_of(before, label());
  return outcome(with_face(form, picked_points(form, points, notes), in.step), std::move(notes));
}

// --- whole forms --------------------------------------------------------------------------------

void ThickenFormOperation::describe(ParameterVisitor& v) {
  v.number({"thickness", "Thickness", "Distance between both skins."}, thickness,
           {0.001, 10000.0, "mm", 0.5, 3});
  v.toggle({"inward", "Inward", "The second skin lies inside; off puts it outside."}, inward);
  v.number({"crease", "Crease of the rims", "0 smooth, 10 sharp."}, crease,
           {0.0, kSharp, "", 1.0, 2});
}
std::string ThickenFormOperation::summary() const {
  return inward ? say("{:g} mm inward", thickness) : say("{:g} mm outward", thickness);
}
Outcome ThickenFormOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  return outcome(
      thickened(form_of(before, label()), inward ? thickness : -thickness, crease, in.step), {});
}

void FormToSurfacesOperation::describe(ParameterVisitor& v) {
  v.number(
      {"within", "Within", "Greatest distance from the smooth form; 0 is the project's tolerance."},
      within, {0.0, 10.0, "mm", 0.01, 4});
}
std::string FormToSurfacesOperation::summary() const {
  return say("joined body");
}
Outcome FormToSurfacesOperation::apply(const Shape& before, const Inputs& in,
                                       Progress& progress) const {
  ConvertedForm made =
      converted(form_of(before, label()), within > 0.0 ? within : in.tolerance, in.step, progress);
  std::vector<std::string> notes;
  notes.push_back(say("{} exact and {} at special points, {}.", counted(made.exact, "surface"),
                      made.fitted, bounds_volume(made.body, 1e-3) ? "a closed body" : "open"));
  if (made.fitted > 0)
    notes.push_back(say("Within {:.2g} mm of the smooth form; joints bend by {:.2g}° at most.",
                        made.deviation, made.angle));
  const auto crossed = crossings(form_of(before, label()), 60'000, progress);
  if (!crossed.empty())
    notes.push_back(
        say("The form runs through itself in {}, the longest near {:.1f}, {:.1f}, {:.1f}; "
            "so does the body. Mend it below "
            "(Check, Next crossing).",
            counted(crossed.size(), "place"), crossed.front().at.x, crossed.front().at.y,
            crossed.front().at.z));
  if (made.angle > 0.1)
    notes.push_back(
        say("The worst joint lies near {:.1f}, {:.1f}, {:.1f}. Fewer faces around one "
            "point there make it smoother.",
            made.angle_at.x, made.angle_at.y, made.angle_at.z));
  return {std::move(made.body), std::move(notes)};
}

void PullInCrossingsOperation::describe(ParameterVisitor& v) {
  v.number({"share", "Share", "Of the way to the mean of the neighbours, each time."}, share,
           {0.05, 1.0, "", 0.05, 2});
  v.count({"passes", "Times", "How often at most."}, passes, {1, 200});
}
std::string PullInCrossingsOperation::summary() const {
  return say("at most {} times", passes);
}
Outcome PullInCrossingsOperation::apply(const Shape& before, const Inputs&,
                                        Progress& progress) const {
  constexpr std::size_t kTriangles = 60'000;
  const Form& form = form_of(before, label());
  const std::size_t were = crossings(form, kTriangles, progress).size();
  Form made = crossings_pulled_in(form, share, passes, progress);
  const std::size_t left = crossings(made, kTriangles, progress).size();
  std::string said = were == 0 ? say("Nothing crosses; the form stays as it is.")
                     : left == 0
                         ? say("{} gone.", counted(were, "crossing"))
                         : say("{} of {} left. Move the faces apart by hand there, or melt a loop.",
                               left, counted(were, "crossing"));
  return outcome(std::move(made), {std::move(said)});
}

// The other form that was picked, or the only other one there is.
void TakeInFormOperation::suit(const Beginning& b) {
  const auto is_other_form = [&](PartId id) {
    const auto found = b.parts.find(id);
    return id != b.chosen && found != b.parts.end() && found->second &&
           std::holds_alternative<Form>(*found->second);
  };
  std::vector<PartId> forms;
  for (const PartId id : b.picked)
    if (is_other_form(id)) forms.push_back(id);
  if (forms.empty())
    for (const auto& [id, shape] : b.parts)
      if (is_other_form(id)) forms.push_back(id);
  if (forms.size() == 1) part = forms.front();
}
void TakeInFormOperation::describe(ParameterVisitor& v) {
  v.part({"part", "Form", "The other form; it stays a part of its own and is followed."}, part);
}
std::string TakeInFormOperation::summary() const {
  return say("another form");
}
Outcome TakeInFormOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  Form form = form_of(before, label());
  const auto found = in.parts.find(part);
  if (found == in.parts.end()) throw Error(say("Choose the form that is to be taken in."));
  const auto* other = std::get_if<Form>(found->second.get());
  if (other == nullptr)
    throw Error(say("The part to be taken in is no subdivision form. Choose a form."));
  Form named = unlinked(*other);  // with names of its own: both may come from one part
  for (Tag& tag : named.point_tags) tag = make_tag(in.step, tag, 1);
  for (FormFace& f : named.faces) f.tag = make_tag(in.step, f.tag, 1);
  append(form, named);
  return outcome(std::move(form), {});
}

void FlattenFacesOperation::suit(const Beginning& b) {
  faces = picks_of(b.picks, PickKind::Face);
}
void FlattenFacesOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 4> planes{
      {{"mean", "Their mean plane"}, {"x", "Across x"}, {"y", "Across y"}, {"z", "Across z"}}};
  describe_faces(v, faces);
  visit_choice(v, {"onto", "Onto", "The plane that the faces are brought into."}, onto, planes);
}
std::string FlattenFacesOperation::summary() const {
  return counted(faces.size(), "face");
}
Outcome FlattenFacesOperation::apply(const Shape& before, const Inputs&, Progress&) const {
  std::vector<std::string> notes;
  Form form = form_of(before, label());
  for (const auto& group : groups_of(form, picked_faces(form, faces, notes))) {
    static constexpr std::array<Vec3, 4> kNormals{{{}, {1, 0, 0}, {0, 1, 0}, {0, 0, 1}}};
    const Vec3 n =
        onto == Onto::Mean ? mean_normal(form, group) : kNormals[static_cast<std::size_t>(onto)];
    std::set<std::uint32_t> points;
    for (const std::uint32_t f : group)
      points.insert(form.faces[f].points.begin(), form.faces[f].points.end());
    double height = 0.0;
    for (const std::uint32_t p : points)
      height += dot(form.points[p], n) / static_cast<double>(points.size());
    for (const std::uint32_t p : points) form.points[p] += n * (height - dot(form.points[p], n));
  }
  return outcome(std::move(form), std::move(notes));
}

void MirrorFormOperation::describe(ParameterVisitor& v) {
  static constexpr std::array<Choice, 3> planes{{{"xy", "x–y, top and bottom"},
                                                 {"xz", "x–z, front and back"},
                                                 {"yz", "y–z, left and right"}}};
  visit_choice(v, {"plane", "Plane", "The world plane the mirror is parallel to."}, plane, planes);
  v.number({"place", "Place", "Where the mirror stands along its normal."}, place,
           {-100000.0, 100000.0, "mm", 1.0, 3});
  v.toggle({"join", "Join", "Border points that lie on the mirror become one; off keeps it open."},
           join);
  if (join)
    v.number({"near", "Joined within", "How far from the mirror border points are put onto it."},
             near, {0.0, 1000.0, "mm", 0.01, 4});
}
std::string MirrorFormOperation::summary() const {
  static constexpr const char* names[] = {"x–y", "x–z", "y–z"};
  return say("in {}{}", names[static_cast<std::size_t>(plane)], join ? ", joined" : "");
}
Outcome MirrorFormOperation::apply(const Shape& before, const Inputs& in, Progress&) const {
  static constexpr Vec3 normals[] = {{0, 0, 1}, {0, 1, 0}, {1, 0, 0}};
  const Vec3 n = normals[static_cast<std::size_t>(plane)];
  const Form& form = form_of(before, label());
  Form made = mirrored_form(form, n * place, n, near, join, in.step);
  std::vector<std::string> notes;
  const std::size_t joined = 2 * form.points.size() - made.points.size();
  if (join)
    notes.push_back(joined > 0
                        ? say("{} joined on the mirror.", counted(joined, "point"))
                        : say("No border point lies on the mirror; both halves stay apart."));
  return outcome(std::move(made), std::move(notes));
}

}  // namespace evenclay
