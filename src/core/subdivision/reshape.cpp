#include "core/subdivision/reshape.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>
#include <optional>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/base/union_find.h"
#include "core/subdivision/edit_parts.h"
#include "core/subdivision/fan.h"

namespace evenclay {

namespace {

std::uint32_t number(std::size_t k) {
  return static_cast<std::uint32_t>(k);
}

std::size_t face_number(std::int32_t f) {
  return static_cast<std::size_t>(f);
}

std::uint32_t after(const std::vector<std::uint32_t>& face, std::uint32_t p) {
  const auto at = static_cast<std::size_t>(std::find(face.begin(), face.end(), p) - face.begin());
  return face[(at + 1) % face.size()];
}

std::uint32_t before(const std::vector<std::uint32_t>& face, std::uint32_t p) {
  const auto at = static_cast<std::size_t>(std::find(face.begin(), face.end(), p) - face.begin());
  return face[(at + face.size() - 1) % face.size()];
}

}  // namespace

Form subdivided_faces(const Form& form, std::span<const std::uint32_t> faces, int step) {
  check_picked(form, faces);
  const std::set<std::uint32_t> picked(faces.begin(), faces.end());
  Form made = unlinked(form);
  std::map<FormEdge, std::uint32_t> middle;
  for (const std::uint32_t f : picked) {
    const auto& p = form.faces[f].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const FormEdge e = form_edge(p[k], p[(k + 1) % p.size()]);
      if (!middle.try_emplace(e, number(made.points.size())).second) continue;
      made.points.push_back((form.points[e[0]] + form.points[e[1]]) * 0.5);
      made.point_tags.push_back(beside_edge(form, e[0], e[1], step, 20));
      if (const double s = form.crease(e[0], e[1]); s > 0.0) {
        made.creases.erase(e);
        for (const std::uint32_t end : e) made.creases[form_edge(end, middle.at(e))] = s;
      }
    }
  }
  std::vector<FormFace> all;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) {
    const auto& p = form.faces[f].points;
    const std::size_t n = p.size();
    if (!picked.contains(f)) {
      FormFace kept{form.faces[f].tag, {}};
      for (std::size_t k = 0; k < n; ++k) {
        kept.points.push_back(p[k]);
        if (const auto m = middle.find(form_edge(p[k], p[(k + 1) % n])); m != middle.end())
          kept.points.push_back(m->second);
      }
      all.push_back(std::move(kept));
      continue;
    }
    const std::uint32_t centre = number(made.points.size());
    made.points.push_back(middle_of(form, f));
    made.point_tags.push_back(make_tag(step, form.faces[f].tag, 21));
    for (std::size_t k = 0; k < n; ++k)
      all.push_back({make_tag(step, form.faces[f].tag, form.point_tags[p[k]]),
                     {p[k], middle.at(form_edge(p[k], p[(k + 1) % n])), centre,
                      middle.at(form_edge(p[(k + n - 1) % n], p[k]))}});
  }
  if (all.size() > 1'000'000)
    throw Error(say("More than a million faces would be made. Subdivide fewer."));
  made.faces = std::move(all);
  return linked(std::move(made));
}

namespace {

// The outline of faces that become one, walked as they walk it. Throws Error when there is more than one.
std::vector<std::uint32_t> outline(const Form& form, const std::vector<std::uint32_t>& faces,
                                   const std::set<FormEdge>& gone) {
  std::map<std::uint32_t, std::uint32_t> next;
  for (const std::uint32_t f : faces) {
    const auto& p = form.faces[f].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const std::uint32_t b = p[(k + 1) % p.size()];
      if (gone.contains(form_edge(p[k], b))) continue;
      if (!next.try_emplace(p[k], b).second)
        throw Error(
            say("Melted there, a face would meet itself in a point. Melt more edges, or fewer."));
    }
  }
  if (next.empty()) throw Error(say("Nothing would be left of the faces there. Melt fewer edges."));
  std::vector<std::uint32_t> loop;
  const std::uint32_t first = next.begin()->first;
  std::uint32_t p = first;
  do {
    loop.push_back(p);
    p = next.at(p);
  } while (p != first && loop.size() <= next.size());
  if (loop.size() != next.size())
    throw Error(say("Melted there, a face would have a hole. Melt more edges, or fewer."));
  return loop;
}

// Points of the set that only two edges are left of go too.
Form without_passing_points(Form form, const std::set<Tag>& candidates) {
  const FormTopology t = topology(form);
  std::set<std::uint32_t> gone;
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    if (!candidates.contains(form.point_tags[p]) || t.edges_of_point[p].size() != 2) continue;
    bool fits = true;
    for (const std::uint32_t f : t.faces_of_point[p])
      fits = fits && form.faces[f].points.size() > 3;
    if (fits) gone.insert(p);
  }
  for (const std::uint32_t p : gone) {
    const auto& edges = t.edges_of_point[p];
    const auto end = [&](std::size_t k) {
      const FormEdge& e = t.edges[edges[k]].points;
      return e[0] == p ? e[1] : e[0];
    };
    const double a = form.crease(p, end(0));
    const double b = form.crease(p, end(1));
    if (a > 0.0 && a == b && !gone.contains(end(0)) && !gone.contains(end(1)))
      form.creases[form_edge(end(0), end(1))] = a;
  }
  for (FormFace& face : form.faces) {
    std::vector<std::uint32_t> rest;
    for (const std::uint32_t p : face.points)
      if (!gone.contains(p)) rest.push_back(p);
    if (rest.size() >= 3) face.points = std::move(rest);
  }
  return linked(compacted(std::move(form)));
}

Form melted(const Form& form, const FormTopology& t, const std::set<FormEdge>& gone,
            const std::set<Tag>& candidates) {
  UnionFind groups(form.faces.size());
  for (const FormEdge& e : gone) {
    const FormTopology::Edge& edge = edge_at(t, e);
    if (edge.border()) throw Error(say("A border edge has one face only and cannot be melted."));
    groups.join(number(face_number(edge.faces[0])), number(face_number(edge.faces[1])));
  }
  std::map<std::uint32_t, std::vector<std::uint32_t>> together;
  for (std::uint32_t f = 0; f < form.faces.size(); ++f) together[groups.root(f)].push_back(f);
  Form made = unlinked(form);
  std::map<std::uint32_t, FormFace> by_first;
  for (const auto& [root, faces] : together) {
    const std::uint32_t first = faces.front();
    by_first[first] = faces.size() == 1
                          ? form.faces[first]
                          : FormFace{form.faces[first].tag, outline(form, faces, gone)};
  }
  made.faces.clear();
  for (auto& [first, face] : by_first) made.faces.push_back(std::move(face));
  return without_passing_points(compacted(std::move(made)), candidates);
}

}  // namespace

Form melted_edges(const Form& form, std::span<const FormEdge> edges, int step) {
  (void)step;  // nothing is made anew
  if (edges.empty()) throw Error(say("No edge is picked. Pick the edges to melt."));
  const FormTopology t = topology(form);
  std::set<FormEdge> gone;
  std::set<Tag> candidates;
  for (const FormEdge& e : edges) {
    gone.insert(edge_at(t, e).points);
    for (const std::uint32_t p : e) candidates.insert(form.point_tags[p]);
  }
  return melted(form, t, gone, candidates);
}

Form melted_points(const Form& form, std::span<const std::uint32_t> points, int step) {
  (void)step;
  if (points.empty()) throw Error(say("No point is picked. Pick the points to melt."));
  const FormTopology t = topology(form);
  std::set<FormEdge> gone;
  std::set<Tag> candidates;
  for (const std::uint32_t p : points) {
    if (p >= form.points.size()) throw Error(say("A picked point is no longer there. Pick again."));
    candidates.insert(form.point_tags[p]);
    if (t.edges_of_point[p].size() == 2) continue;  // only passed by two faces, or one
    for (const std::uint32_t e : t.edges_of_point[p]) {
      const FormTopology::Edge& edge = t.edges[e];
      if (edge.border()) continue;
      gone.insert(edge.points);
      const std::uint32_t end = edge.points[0] == p ? edge.points[1] : edge.points[0];
      candidates.insert(form.point_tags[end]);
    }
  }
  return melted(form, t, gone, candidates);
}

Form slid(const Form& form, std::span<const FormEdge> edges, double share) {
  if (edges.empty()) throw Error(say("No edge is picked. Pick the edges of a loop."));
  if (!(std::abs(share) > 1e-9 && std::abs(share) <= 0.95))
    throw Error(
        say("A loop slides by a share from 0 to 0.95 of the edges beside it, not by none."));
  const FormTopology t = topology(form);
  std::map<std::uint32_t, std::vector<std::uint32_t>> ends;  // of each point along picked edges
  std::set<FormEdge> left_over;
  for (const FormEdge& e : edges)
    if (left_over.insert(edge_at(t, e).points).second) {
      ends[e[0]].push_back(e[1]);
      ends[e[1]].push_back(e[0]);
    }
  for (const auto& [p, others] : ends)
    if (others.size() > 2)
      throw Error(say("The picked edges branch. Pick a loop that runs on without a branch."));
  // The face that walks a → b lies on the left; −1: none.
  const auto face_left = [&](std::uint32_t a, std::uint32_t b) -> std::int32_t {
    for (const std::int32_t f : edge_at(t, {a, b}).faces)
      if (f >= 0 && after(form.faces[face_number(f)].points, a) == b) return f;
    return -1;
  };
  Form made = form;
  // Towards the point beside p on the side asked for, p lying on the way from a to b (one of them may be p itself).
  const auto move = [&](std::uint32_t a, std::uint32_t p, std::uint32_t b) {
    std::optional<std::uint32_t> beside;
    if (share > 0.0) {
      const std::int32_t f = p != b ? face_left(p, b) : face_left(a, p);
      if (f >= 0) {
        const auto& points = form.faces[face_number(f)].points;
        beside = p != b ? before(points, p) : after(points, p);
      }
    } else {
      const std::int32_t f = p != b ? face_left(b, p) : face_left(p, a);
      if (f >= 0) {
        const auto& points = form.faces[face_number(f)].points;
        beside = p != b ? after(points, p) : before(points, p);
      }
    }
    if (!beside || *beside == a || *beside == b)
      throw Error(say("A point of the loop has no edge beside it to slide along on that side."));
    made.points[p] = form.points[p] + (form.points[*beside] - form.points[p]) * std::abs(share);
  };
  const auto walk = [&](std::uint32_t from, std::uint32_t to) {
    std::vector<std::uint32_t> run{from, to};
    left_over.erase(form_edge(from, to));
    while (true) {
      std::optional<std::uint32_t> next;
      for (const std::uint32_t q : ends.at(run.back()))
        if (left_over.contains(form_edge(run.back(), q))) next = q;
      if (!next) break;
      left_over.erase(form_edge(run.back(), *next));
      run.push_back(*next);
    }
    const bool closed = run.front() == run.back();
    const std::size_t n = run.size() - (closed ? 1 : 0);
    for (std::size_t k = 0; k < n; ++k) {
      const std::uint32_t p = run[k];
      move(k > 0 ? run[k - 1] : (closed ? run[n - 1] : p), p, k + 1 < run.size() ? run[k + 1] : p);
    }
  };
  for (const auto& [p, others] : ends)  // open runs from their ends
    if (others.size() == 1 && left_over.contains(form_edge(p, others[0]))) walk(p, others[0]);
  while (!left_over.empty()) {
    const FormEdge e = *left_over.begin();
    walk(e[0], e[1]);
  }
  return made;
}

}  // namespace evenclay
