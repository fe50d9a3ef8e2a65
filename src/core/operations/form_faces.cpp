#include "core/operations/form_faces.h"

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
  return outcome_of(std::move(form), std::move(notes));
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
  return outcome_of(pulled_out(form, picked_edges(form, edges, notes), by, in.step),
                    std::move(notes));
}

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
    Outcome o = outcome_of(std::move(made), std::move(notes));
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
  return outcome_of(stitched(form, picked_edges(form, edges, notes), in.step), std::move(notes));
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
  return outcome_of(std::move(form), std::move(notes));
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
  return outcome_of(without_faces(form, picked_faces(form, faces, notes)), std::move(notes));
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
    return outcome_of(std::move(form), std::move(notes));
  }
  std::size_t holes = 0;
  while (const auto e = first_border()) {
    form = filled(form, *e, in.step);
    ++holes;
  }
  if (holes == 0) throw Error(say("The form has no hole; it is closed already."));
  notes.push_back(say("{} closed.", counted(holes, "hole")));
  return outcome_of(std::move(form), std::move(notes));
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
  return outcome_of(with_face(form, picked_points(form, points, notes), in.step), std::move(notes));
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
  return outcome_of(std::move(form), std::move(notes));
}

}  // namespace evenclay
