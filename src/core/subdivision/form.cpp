#include "core/subdivision/form.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

#include "core/base/error.h"
#include "core/base/union_find.h"

namespace evenclay {

FormEdge form_edge(std::uint32_t a, std::uint32_t b) {
  return {std::min(a, b), std::max(a, b)};
}

double Form::crease(std::uint32_t a, std::uint32_t b) const {
  const auto found = creases.find(form_edge(a, b));
  return found == creases.end() ? 0.0 : found->second;
}

double size(const Form& form) {
  Box3 box;
  for (const Vec3& p : form.points) box.add(p);
  return box.size();
}

namespace {

[[noreturn]] void refuse(const std::string& sentence) {
  throw Error(sentence);
}

void check_points(const Form& form) {
  if (form.point_tags.size() != form.points.size())
    refuse("The form names only some of its points.");
  for (const Vec3& p : form.points)
    if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
      refuse("A point of the form is not a number.");
  std::set<Tag> names(form.point_tags.begin(), form.point_tags.end());
  if (names.size() != form.points.size() || names.contains(0))
    refuse("Two points of the form have one name, or none.");
}

void check_faces(const Form& form) {
  std::set<Tag> names;
  for (std::size_t f = 0; f < form.faces.size(); ++f) {
    const FormFace& face = form.faces[f];
    if (face.tag == 0 || !names.insert(face.tag).second)
      refuse("Two faces of the form have one name, or none.");
    if (face.points.size() < 3)
      refuse(fmt::format("Face {} of the form has fewer than three points.", f + 1));
    for (const std::uint32_t p : face.points)
      if (p >= form.points.size())
        refuse(fmt::format("Face {} of the form names a point that is not there.", f + 1));
    std::vector<std::uint32_t> sorted = face.points;
    std::sort(sorted.begin(), sorted.end());
    if (std::adjacent_find(sorted.begin(), sorted.end()) != sorted.end())
      refuse(fmt::format("Face {} of the form has a point twice.", f + 1));
  }
}

FormTopology edges_of(const Form& form) {
  FormTopology t;
  std::map<FormEdge, std::array<std::int32_t, 2>> found;
  std::set<std::pair<std::uint32_t, std::uint32_t>> walked;
  t.faces_of_point.resize(form.points.size());
  for (std::size_t f = 0; f < form.faces.size(); ++f) {
    const auto& p = form.faces[f].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const std::uint32_t a = p[k];
      const std::uint32_t b = p[(k + 1) % p.size()];
      t.faces_of_point[a].push_back(static_cast<std::uint32_t>(f));
      if (!walked.insert({a, b}).second)
        refuse(
            "Two faces of the form walk an edge the same way, or three meet at one. Turn a face "
            "over, or take one "
            "away.");
      auto& both = found.try_emplace(form_edge(a, b), std::array{-1, -1}).first->second;
      both[both[0] < 0 ? 0 : 1] = static_cast<std::int32_t>(f);
    }
  }
  t.edges_of_point.resize(form.points.size());
  for (const auto& [points, faces] : found) {
    const auto e = static_cast<std::uint32_t>(t.edges.size());
    t.number[points] = e;
    t.edges.push_back({points, faces});
    for (const std::uint32_t p : points) t.edges_of_point[p].push_back(e);
  }
  return t;
}

// The faces of a point hang together through its edges, so that going round it meets each once.
void check_fans(const Form& form, const FormTopology& t) {
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    const auto& faces = t.faces_of_point[p];
    if (faces.empty()) refuse("A point of the form has no face.");
    std::set<std::uint32_t> reached{faces.front()};
    for (bool more = true; more;) {
      more = false;
      for (const std::uint32_t e : t.edges_of_point[p]) {
        const auto& both = t.edges[e].faces;
        if (both[1] < 0) continue;
        const auto a = static_cast<std::uint32_t>(both[0]);
        const auto b = static_cast<std::uint32_t>(both[1]);
        if (reached.contains(a) != reached.contains(b)) {
          reached.insert(a);
          reached.insert(b);
          more = true;
        }
      }
    }
    if (reached.size() != faces.size())
      refuse(
          "Two parts of the form touch in a single point. Pull them apart, or join them along an "
          "edge.");
  }
}

std::size_t count_roots(UnionFind& sets, const std::vector<std::uint32_t>& of) {
  std::set<std::uint32_t> roots;
  for (const std::uint32_t k : of) roots.insert(sets.root(k));
  return roots.size();
}

void count_pieces(const Form& form, FormTopology& t) {
  UnionFind all(form.points.size());
  UnionFind borders(form.points.size());
  std::vector<std::uint32_t> points(form.points.size());
  std::iota(points.begin(), points.end(), 0U);
  std::vector<std::uint32_t> on_border;
  for (const FormTopology::Edge& e : t.edges) {
    all.join(e.points[0], e.points[1]);
    if (!e.border()) continue;
    borders.join(e.points[0], e.points[1]);
    on_border.push_back(e.points[0]);
  }
  t.shells = count_roots(all, points);
  t.borders = count_roots(borders, on_border);
  t.euler = static_cast<int>(form.points.size()) - static_cast<int>(t.edges.size()) +
            static_cast<int>(form.faces.size());
}

}  // namespace

FormTopology topology(const Form& form) {
  if (form.links) return form.links->topology;
  check_points(form);
  check_faces(form);
  FormTopology t = edges_of(form);
  check_fans(form, t);
  for (const auto& [edge, sharpness] : form.creases) {
    if (!t.number.contains(edge)) refuse("A crease of the form does not lie on an edge.");
    if (!(sharpness >= 0.0 && sharpness <= kSharp))
      refuse(fmt::format("A crease of {:.3g} cannot be; use 0 to {:.0f}.", sharpness, kSharp));
  }
  count_pieces(form, t);
  return t;
}

void check(const Form& form) {
  topology(unlinked(form));
}

std::shared_ptr<const FormLinks> links_of(const Form& form) {
  if (form.links) return form.links;
  return std::make_shared<const FormLinks>(FormLinks{form.point_tags, form.faces, topology(form)});
}

Form linked(Form form) {
  form.links = links_of(form);
  return form;
}

Form unlinked(const Form& form) {
  Form copy = form;
  copy.links.reset();
  return copy;
}

Tag edge_tag(const Form& form, const FormEdge& e) {
  const Tag a = form.point_tags[e[0]];
  const Tag b = form.point_tags[e[1]];
  return make_tag(0, std::min(a, b), std::max(a, b));
}

std::map<Tag, std::uint32_t> faces_by_tag(const Form& form) {
  std::map<Tag, std::uint32_t> result;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) result[form.faces[f].tag] = f;
  return result;
}

std::map<Tag, FormEdge> edges_by_tag(const Form& form) {
  std::map<Tag, FormEdge> result;
  for (const FormTopology::Edge& e : links_of(form)->topology.edges)
    result[edge_tag(form, e.points)] = e.points;
  return result;
}

}  // namespace evenclay
