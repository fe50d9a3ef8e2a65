#include "core/subdivision/form.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/union_find.h"

namespace evenclay {

FormEdge form_edge(std::uint32_t a, std::uint32_t b) {
  return {std::min(a, b), std::max(a, b)};
}

namespace {

std::size_t hash_of(const FormEdge& e) {
  const std::uint64_t both = (static_cast<std::uint64_t>(e[0]) << 32) | e[1];
  return static_cast<std::size_t>((both * 0x9E3779B97F4A7C15U) >> 20);
}

constexpr std::uint32_t kFree = 0xFFFFFFFF;

}  // namespace

EdgeNumbers::EdgeNumbers(std::vector<Entry> entries) : entries_(std::move(entries)) {
  std::size_t size = 8;
  while (size < 2 * entries_.size()) size *= 2;
  slots_.assign(size, kFree);
  for (std::uint32_t k = 0; k < entries_.size(); ++k) {
    std::size_t at = hash_of(entries_[k].first) & (size - 1);
    while (slots_[at] != kFree) at = (at + 1) & (size - 1);
    slots_[at] = k;
  }
}

const EdgeNumbers::Entry* EdgeNumbers::find(const FormEdge& edge) const {
  if (slots_.empty()) return nullptr;
  for (std::size_t at = hash_of(edge) & (slots_.size() - 1); slots_[at] != kFree;
       at = (at + 1) & (slots_.size() - 1))
    if (entries_[slots_[at]].first == edge) return &entries_[slots_[at]];
  return nullptr;
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

bool all_different(std::vector<Tag> names) {
  std::sort(names.begin(), names.end());
  return (names.empty() || names.front() != 0) &&
         std::adjacent_find(names.begin(), names.end()) == names.end();
}

void check_points(const Form& form) {
  if (form.point_tags.size() != form.points.size())
    refuse(say("The form names only some of its points."));
  for (const Vec3& p : form.points)
    if (!std::isfinite(p.x) || !std::isfinite(p.y) || !std::isfinite(p.z))
      refuse(say("A point of the form is not a number."));
  if (!all_different(form.point_tags))
    refuse(say("Two points of the form have one name, or none."));
}

void check_faces(const Form& form) {
  std::vector<Tag> names;
  for (const FormFace& face : form.faces) names.push_back(face.tag);
  if (!all_different(std::move(names)))
    refuse(say("Two faces of the form have one name, or none."));
  std::vector<std::size_t> seen(form.points.size(), 0);
  for (std::size_t f = 0; f < form.faces.size(); ++f) {
    const FormFace& face = form.faces[f];
    if (face.points.size() < 3)
      refuse(say("Face {} of the form has fewer than three points.", f + 1));
    for (const std::uint32_t p : face.points) {
      if (p >= form.points.size())
        refuse(say("Face {} of the form names a point that is not there.", f + 1));
      if (seen[p] == f + 1) refuse(say("Face {} of the form has a point twice.", f + 1));
      seen[p] = f + 1;
    }
  }
}

// A face walking an edge, as its lower and higher point.
struct HalfEdge {
  FormEdge points;
  bool rising;
  std::uint32_t face;
};

FormTopology edges_of(const Form& form) {
  FormTopology t;
  std::vector<HalfEdge> halves;
  t.faces_of_point.resize(form.points.size());
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) {
    const auto& p = form.faces[f].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const std::uint32_t b = p[(k + 1) % p.size()];
      t.faces_of_point[p[k]].push_back(f);
      halves.push_back({form_edge(p[k], b), p[k] < b, f});
    }
  }
  std::sort(halves.begin(), halves.end(), [](const HalfEdge& x, const HalfEdge& y) {
    return x.points != y.points ? x.points < y.points : x.face < y.face;
  });
  std::vector<EdgeNumbers::Entry> numbers;
  t.edges_of_point.resize(form.points.size());
  for (std::size_t k = 0; k < halves.size();) {
    std::size_t end = k + 1;
    while (end < halves.size() && halves[end].points == halves[k].points) ++end;
    if (end - k > 2 || (end - k == 2 && halves[k].rising == halves[k + 1].rising))
      refuse(
          say("Two faces of the form walk an edge the same way, or three meet at one. Turn a face "
              "over, or take one "
              "away."));
    const auto e = static_cast<std::uint32_t>(t.edges.size());
    t.edges.push_back({halves[k].points,
                       {static_cast<std::int32_t>(halves[k].face),
                        end - k == 2 ? static_cast<std::int32_t>(halves[k + 1].face) : -1}});
    for (const std::uint32_t p : halves[k].points) t.edges_of_point[p].push_back(e);
    numbers.emplace_back(halves[k].points, e);
    k = end;
  }
  t.number = EdgeNumbers(std::move(numbers));
  return t;
}

// The faces of a point hang together through its edges, so that going round it meets each once.
void check_fans(const Form& form, const FormTopology& t) {
  std::vector<std::uint32_t> group;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    const auto& faces = t.faces_of_point[p];
    if (faces.empty()) refuse(say("A point of the form has no face."));
    // Each inner edge at the point joins two faces; all must end as one group.
    group.resize(faces.size());
    std::iota(group.begin(), group.end(), 0U);
    std::size_t groups = faces.size();
    const auto place = [&](std::int32_t f) {
      return static_cast<std::size_t>(
          std::find(faces.begin(), faces.end(), static_cast<std::uint32_t>(f)) - faces.begin());
    };
    for (const std::uint32_t e : t.edges_of_point[p]) {
      const auto& both = t.edges[e].faces;
      if (both[1] < 0) continue;
      const std::uint32_t a = group[place(both[0])];
      const std::uint32_t b = group[place(both[1])];
      if (a == b) continue;
      --groups;
      std::replace(group.begin(), group.end(), b, a);
    }
    if (groups != 1)
      refuse(say(
          "Two parts of the form touch in a single point. Pull them apart, or join them along an "
          "edge."));
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
    if (!t.number.contains(edge)) refuse(say("A crease of the form does not lie on an edge."));
    if (!(sharpness >= 0.0 && sharpness <= kSharp))
      refuse(say("A crease of {:.3g} cannot be; use 0 to {:.0f}.", sharpness, kSharp));
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

Tag edge_tag(const std::vector<Tag>& point_tags, const FormEdge& e) {
  const Tag a = point_tags[e[0]];
  const Tag b = point_tags[e[1]];
  return make_tag(0, std::min(a, b), std::max(a, b));
}

Tag edge_tag(const Form& form, const FormEdge& e) {
  return edge_tag(form.point_tags, e);
}

std::map<Tag, std::uint32_t> faces_by_tag(const Form& form) {
  std::map<Tag, std::uint32_t> result;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) result[form.faces[f].tag] = f;
  return result;
}

std::map<Tag, FormEdge> edges_by_tag(const Form& form) {
  std::map<Tag, FormEdge> result;
  const std::shared_ptr<const FormLinks> links = links_of(form);
  for (const FormTopology::Edge& e : links->topology.edges)
    result[edge_tag(form, e.points)] = e.points;
  return result;
}

}  // namespace evenclay
