#include "core/subdivision/edit_parts.h"

#include <algorithm>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"

namespace evenclay {

void check_picked(const Form& form, std::span<const std::uint32_t> faces) {
  if (faces.empty()) throw Error(say("No face is picked. Pick at least one."));
  for (const std::uint32_t f : faces)
    if (f >= form.faces.size()) throw Error(say("A picked face is no longer there. Pick again."));
}

const FormTopology::Edge& edge_at(const FormTopology& t, const FormEdge& e) {
  const auto found = t.number.find(form_edge(e[0], e[1]));
  if (found == t.number.end()) throw Error(say("The picked edge is no longer there. Pick again."));
  return t.edges[found->second];
}

FormEdge as_walked(const Form& form, const FormTopology::Edge& border) {
  const auto& p = form.faces[static_cast<std::size_t>(border.faces[0])].points;
  const auto [a, b] = border.points;
  const auto at = static_cast<std::size_t>(std::find(p.begin(), p.end(), a) - p.begin());
  return p[(at + 1) % p.size()] == b ? FormEdge{a, b} : FormEdge{b, a};
}

std::int32_t other_face(const FormTopology::Edge& e, std::int32_t face) {
  return e.faces[0] == face ? e.faces[1] : e.faces[0];
}

// Without points that no face uses.
Form compacted(Form form) {
  std::vector<std::uint32_t> number(form.points.size(), 0xFFFFFFFF);
  Form made;
  for (const FormFace& f : form.faces)
    for (const std::uint32_t p : f.points) number[p] = 0;
  std::uint32_t next = 0;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    if (number[p] == 0xFFFFFFFF) continue;
    number[p] = next++;
    made.points.push_back(form.points[p]);
    made.point_tags.push_back(form.point_tags[p]);
  }
  std::set<FormEdge> edges;
  for (FormFace& f : form.faces) {
    for (std::uint32_t& p : f.points) p = number[p];
    for (std::size_t k = 0; k < f.points.size(); ++k)
      edges.insert(form_edge(f.points[k], f.points[(k + 1) % f.points.size()]));
  }
  for (const auto& [edge, s] : form.creases) {
    if (number[edge[0]] == 0xFFFFFFFF || number[edge[1]] == 0xFFFFFFFF) continue;
    const FormEdge now = form_edge(number[edge[0]], number[edge[1]]);
    if (edges.contains(now)) made.creases[now] = s;
  }
  made.faces = std::move(form.faces);
  return made;
}

// The points of a closed border in the sense in which its faces walk it.
std::vector<std::uint32_t> border_from(const Form& form, const FormTopology& t,
                                       const FormEdge& edge) {
  const FormTopology::Edge& e = edge_at(t, edge);
  if (!e.border()) throw Error(say("That edge is no border. Pick an edge that only one face has."));
  std::map<std::uint32_t, std::uint32_t> next;
  for (const FormFace& f : form.faces)
    for (std::size_t k = 0; k < f.points.size(); ++k) {
      const std::uint32_t a = f.points[k];
      const std::uint32_t b = f.points[(k + 1) % f.points.size()];
      if (t.edges[t.number.at(form_edge(a, b))].border()) next[a] = b;
    }
  std::vector<std::uint32_t> chain;
  for (std::uint32_t p = e.points[0];;) {
    chain.push_back(p);
    p = next.at(p);
    if (p == e.points[0]) return chain;
  }
}

Vec3 middle_of(const Form& form, std::uint32_t face) {
  Vec3 sum;
  for (const std::uint32_t p : form.faces[face].points) sum += form.points[p];
  return sum / static_cast<double>(form.faces[face].points.size());
}

Vec3 normal_of(const Form& form, std::uint32_t face) {
  const auto& p = form.faces[face].points;
  Vec3 sum;
  for (std::size_t k = 1; k + 1 < p.size(); ++k)
    sum += cross(form.points[p[k]] - form.points[p[0]], form.points[p[k + 1]] - form.points[p[0]]);
  return length(sum) > 0.0 ? normalized(sum) : Vec3{0, 0, 1};
}

Tag beside_edge(const Form& form, std::uint32_t a, std::uint32_t b, int step,
                std::uint64_t ordinal) {
  return make_tag(step, edge_tag(form, {a, b}), ordinal);
}

}  // namespace evenclay
