#include "core/subdivision/edits.h"

#include "core/base/say.h"
#include "core/subdivision/edit_parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <optional>
#include <set>

#include "core/base/error.h"

namespace evenclay {

void append(Form& a, const Form& b) {
  a.links.reset();
  const auto offset = static_cast<std::uint32_t>(a.points.size());
  a.points.insert(a.points.end(), b.points.begin(), b.points.end());
  a.point_tags.insert(a.point_tags.end(), b.point_tags.begin(), b.point_tags.end());
  for (FormFace f : b.faces) {
    for (std::uint32_t& p : f.points) p += offset;
    a.faces.push_back(std::move(f));
  }
  for (const auto& [edge, s] : b.creases) a.creases[{edge[0] + offset, edge[1] + offset}] = s;
}

Edited extruded(const Form& form, std::span<const std::uint32_t> faces, const Vec3& by, int step) {
  check_picked(form, faces);
  const FormTopology t = topology(form);
  const std::set<std::uint32_t> picked(faces.begin(), faces.end());
  Edited edited{unlinked(form), {}};
  Form& made = edited.form;
  // Points of the rim are doubled, one for each group of picked faces that meets there; those inside just move.
  std::map<std::uint32_t, std::vector<std::uint32_t>> picked_at;
  for (const std::uint32_t f : picked)
    for (const std::uint32_t p : form.faces[f].points) picked_at[p].push_back(f);
  std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t>
      upper;  // of a point in a picked face
  std::map<FormEdge, double> raised;
  for (const auto& [p, around] : picked_at) {
    if (around.size() == t.faces_of_point[p].size()) {
      bool inner = true;
      for (const std::uint32_t e : t.edges_of_point[p]) inner = inner && !t.edges[e].border();
      if (inner) {
        made.points[p] += by;
        for (const std::uint32_t f : around) upper[{p, f}] = p;
        continue;
      }
    }
    // Groups of picked faces around the point that hang together through edges of it.
    std::set<std::uint32_t> left(around.begin(), around.end());
    while (!left.empty()) {
      std::set<std::uint32_t> reached{*left.begin()};
      for (bool more = true; more;) {
        more = false;
        for (const std::uint32_t e : t.edges_of_point[p]) {
          const auto& both = t.edges[e].faces;
          if (both[1] < 0) continue;
          const auto a = static_cast<std::uint32_t>(both[0]);
          const auto b = static_cast<std::uint32_t>(both[1]);
          if (!picked.contains(a) || !picked.contains(b) ||
              reached.contains(a) == reached.contains(b))
            continue;
          reached.insert({a, b});
          more = true;
        }
      }
      const auto fresh = static_cast<std::uint32_t>(made.points.size());
      made.points.push_back(form.points[p] + by);
      Tag least = form.faces[*reached.begin()].tag;  // names the group
      for (const std::uint32_t f : reached) least = std::min(least, form.faces[f].tag);
      made.point_tags.push_back(make_tag(step, form.point_tags[p], least));
      for (const std::uint32_t f : reached) {
        upper[{p, f}] = fresh;
        left.erase(f);
      }
    }
  }
  std::vector<FormFace> walls;
  for (const std::uint32_t f : picked) {
    const auto& p = form.faces[f].points;
    for (std::size_t k = 0; k < p.size(); ++k) {
      const std::uint32_t a = p[k];
      const std::uint32_t b = p[(k + 1) % p.size()];
      const auto& e = t.edges[t.number.at(form_edge(a, b))];
      const auto other = e.faces[0] == static_cast<std::int32_t>(f) ? e.faces[1] : e.faces[0];
      const std::uint32_t ua = upper.at({a, f});
      const std::uint32_t ub = upper.at({b, f});
      const double sharpness = form.crease(a, b);
      if (other >= 0 && picked.contains(static_cast<std::uint32_t>(other))) {
        if (sharpness > 0.0 && (ua != a || ub != b)) {
          made.creases.erase(form_edge(a, b));
          raised[form_edge(ua, ub)] = sharpness;
        }
        continue;
      }
      walls.push_back({beside_edge(form, a, b, step, 1000), {a, b, ub, ua}});
    }
  }
  for (const std::uint32_t f : picked)
    for (std::uint32_t& p : made.faces[f].points) p = upper.at({p, f});
  made.faces.insert(made.faces.end(), walls.begin(), walls.end());
  for (const auto& [edge, s] : raised) made.creases[edge] = s;
  edited.faces.assign(picked.begin(), picked.end());
  check(made);
  return edited;
}

Form without_faces(const Form& form, std::span<const std::uint32_t> faces) {
  check_picked(form, faces);
  const std::set<std::uint32_t> gone(faces.begin(), faces.end());
  if (gone.size() == form.faces.size())
    throw Error(say("All faces are picked; nothing would be left. Remove the part instead."));
  Form rest = unlinked(form);
  rest.faces.clear();
  for (std::uint32_t f = 0; f < form.faces.size(); ++f)
    if (!gone.contains(f)) rest.faces.push_back(form.faces[f]);
  rest = compacted(std::move(rest));
  check(rest);
  return rest;
}

namespace {

// The edge of a quadrangle opposite to one of its own, walked the same way across; nothing in other polygons.
std::optional<FormEdge> opposite(const FormFace& face, const FormEdge& walked) {
  if (face.points.size() != 4) return std::nullopt;
  for (std::size_t k = 0; k < 4; ++k) {
    const std::uint32_t a = face.points[k];
    const std::uint32_t b = face.points[(k + 1) % 4];
    const std::uint32_t c = face.points[(k + 2) % 4];
    const std::uint32_t d = face.points[(k + 3) % 4];
    if (walked == FormEdge{a, b}) return FormEdge{d, c};
    if (walked == FormEdge{b, a}) return FormEdge{c, d};
  }
  return std::nullopt;
}

}  // namespace

EdgeRing ring_across(const Form& form, const FormTopology& t, const FormEdge& edge) {
  const FormTopology::Edge& start = edge_at(t, edge);
  EdgeRing ring;
  ring.edges.push_back(edge);
  const auto walk = [&](std::int32_t face, bool forwards) {
    FormEdge at = edge;
    while (face >= 0) {
      const auto next = opposite(form.faces[static_cast<std::size_t>(face)], at);
      if (!next) return;
      if (form_edge((*next)[0], (*next)[1]) == form_edge(edge[0], edge[1])) {
        ring.closed = true;
        ring.faces.push_back(static_cast<std::uint32_t>(face));
        return;
      }
      if (forwards) {
        ring.edges.push_back(*next);
        ring.faces.push_back(static_cast<std::uint32_t>(face));
      } else {
        ring.edges.insert(ring.edges.begin(), *next);
        ring.faces.insert(ring.faces.begin(), static_cast<std::uint32_t>(face));
      }
      if (ring.edges.size() > form.faces.size() + 1)
        throw Error(say("The row of edges crosses itself; a loop cannot be put across it."));
      face = other_face(edge_at(t, *next), face);
      at = *next;
    }
  };
  walk(start.faces[0], true);
  if (!ring.closed) walk(start.faces[1], false);
  return ring;
}

std::vector<FormEdge> loop_along(const FormTopology& t, const FormEdge& edge) {
  edge_at(t, edge);
  std::vector<FormEdge> loop{edge};
  // The edge that goes straight on at a point of four: the one that shares no face with this one.
  const auto onward = [&](const FormEdge& walked) -> std::optional<FormEdge> {
    const std::uint32_t p = walked[1];
    const FormTopology::Edge& now = edge_at(t, walked);
    const std::size_t wanted = now.border() ? 3 : 4;
    if (!now.border() && t.edges_of_point[p].size() != wanted) return std::nullopt;
    for (const std::uint32_t e : t.edges_of_point[p]) {
      const FormTopology::Edge& next = t.edges[e];
      if (next.points == now.points) continue;
      const bool shares =
          (next.faces[0] >= 0 &&
           (next.faces[0] == now.faces[0] || next.faces[0] == now.faces[1])) ||
          (next.faces[1] >= 0 && (next.faces[1] == now.faces[0] || next.faces[1] == now.faces[1]));
      if (now.border() ? next.border() : !shares)
        return FormEdge{p, next.points[0] == p ? next.points[1] : next.points[0]};
    }
    return std::nullopt;
  };
  for (FormEdge at = edge; loop.size() <= t.edges.size();) {
    const auto next = onward(at);
    if (!next) break;
    if (form_edge((*next)[0], (*next)[1]) == form_edge(edge[0], edge[1])) return loop;  // closed
    loop.push_back(*next);
    at = *next;
  }
  for (FormEdge at{edge[1], edge[0]}; loop.size() <= t.edges.size();) {
    const auto next = onward(at);
    if (!next) break;
    loop.insert(loop.begin(), FormEdge{(*next)[1], (*next)[0]});
    at = *next;
  }
  return loop;
}

Form with_loop(const Form& form, const FormEdge& edge, double share, bool both_sides, int step) {
  if (!(share > 0.0 && share < 1.0))
    throw Error(
        say("A loop lies between the ends of the edges it crosses; use a share between 0 and 1."));
  if (both_sides && std::abs(share - 0.5) < 1e-9)
    throw Error(say("In the middle both loops would be one. Use another share, or one loop."));
  const FormTopology t = topology(form);
  const EdgeRing ring = ring_across(form, t, edge);
  if (ring.faces.empty())
    throw Error(say("No quadrangle lies beside that edge; a loop cannot be put across it."));
  const std::set<std::uint32_t> once(ring.faces.begin(), ring.faces.end());
  if (once.size() != ring.faces.size())
    throw Error(say("The row of faces crosses itself; a loop cannot be put across it."));
  std::vector<double> shares{share};
  if (both_sides) shares.push_back(1.0 - share);
  std::sort(shares.begin(), shares.end());
  Form made = unlinked(form);
  // New points on each edge of the ring, from its left to its right.
  std::vector<std::vector<std::uint32_t>> on(ring.edges.size());
  for (std::size_t k = 0; k < ring.edges.size(); ++k) {
    const auto [a, b] = ring.edges[k];
    const double sharpness = form.crease(a, b);
    made.creases.erase(form_edge(a, b));
    std::uint32_t before = a;
    for (std::size_t n = 0; n < shares.size(); ++n) {
      const auto fresh = static_cast<std::uint32_t>(made.points.size());
      made.points.push_back(form.points[a] * (1.0 - shares[n]) + form.points[b] * shares[n]);
      made.point_tags.push_back(beside_edge(form, a, b, step, 10 + n));
      on[k].push_back(fresh);
      if (sharpness > 0.0) made.creases[form_edge(before, fresh)] = sharpness;
      before = fresh;
    }
    if (sharpness > 0.0) made.creases[form_edge(before, b)] = sharpness;
  }
  for (std::size_t k = 0; k < ring.faces.size(); ++k) {
    const std::size_t next = (k + 1) % ring.edges.size();
    const auto row = [&](std::size_t which) {
      std::vector<std::uint32_t> all{ring.edges[which][0]};
      all.insert(all.end(), on[which].begin(), on[which].end());
      all.push_back(ring.edges[which][1]);
      return all;
    };
    const std::vector<std::uint32_t> near = row(k);
    const std::vector<std::uint32_t> far = row(next);
    const FormFace& old = form.faces[ring.faces[k]];
    // The sense in which the face walks its edge.
    bool along = false;
    for (std::size_t c = 0; c < 4; ++c)
      along = along || (old.points[c] == near.front() && old.points[(c + 1) % 4] == near.back());
    for (std::size_t n = 0; n + 1 < near.size(); ++n) {
      std::vector<std::uint32_t> points{near[n], near[n + 1], far[n + 1], far[n]};
      if (!along) std::reverse(points.begin(), points.end());
      if (n == 0)
        made.faces[ring.faces[k]].points = points;
      else
        made.faces.push_back({make_tag(step, old.tag, made.point_tags[near[n]]), points});
    }
  }
  check(made);
  return made;
}

Form with_creases(const Form& form, std::span<const FormEdge> edges, double sharpness) {
  if (!(sharpness >= 0.0 && sharpness <= kSharp))
    throw Error(say("A crease of {:.3g} cannot be; use 0 to {:.0f}.", sharpness, kSharp));
  const FormTopology t = topology(form);
  Form made = unlinked(form);
  for (const FormEdge& e : edges) {
    edge_at(t, e);
    if (sharpness > 0.0)
      made.creases[form_edge(e[0], e[1])] = sharpness;
    else
      made.creases.erase(form_edge(e[0], e[1]));
  }
  return made;
}

}  // namespace evenclay
