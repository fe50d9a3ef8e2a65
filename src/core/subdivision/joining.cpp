#include "core/subdivision/joining.h"

#include <fmt/format.h>

#include <algorithm>
#include <limits>
#include <map>
#include <optional>
#include <set>

#include "core/base/error.h"
#include "core/base/mitre.h"
#include "core/base/say.h"
#include "core/base/union_find.h"
#include "core/subdivision/edit_parts.h"
#include "core/subdivision/edits.h"

namespace evenclay {

namespace {

std::uint32_t number(std::size_t k) {
  return static_cast<std::uint32_t>(k);
}

std::uint32_t add_point(Form& form, const Vec3& place, Tag tag) {
  form.points.push_back(place);
  form.point_tags.push_back(tag);
  return number(form.points.size() - 1);
}

void check_crease(double sharpness) {
  if (!(sharpness >= 0.0 && sharpness <= kSharp))
    throw Error(say("A crease of {:.3g} cannot be; use 0 to {:.0f}.", sharpness, kSharp));
}

using Pairs = std::vector<std::pair<std::uint32_t, std::uint32_t>>;

// a in the sense of its faces; b against it, so that from the bridge both run the same way.
Pairs matched(const Form& form, const std::vector<std::uint32_t>& a, std::vector<std::uint32_t> b,
              int twist) {
  if (std::find(b.begin(), b.end(), a.front()) != b.end())
    throw Error(say("Both edges lie on one border. Pick edges of two borders."));
  if (a.size() != b.size())
    throw Error(
        say("The borders have {} and {} points; a bridge needs equal counts. "
            "Stitch them, or insert loops first.",
            a.size(), b.size()));
  std::reverse(b.begin(), b.end());
  const std::size_t n = a.size();
  std::size_t best = 0;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t shift = 0; shift < n; ++shift) {
    double sum = 0.0;
    for (std::size_t k = 0; k < n; ++k)
      sum += distance(form.points[a[k]], form.points[b[(k + shift) % n]]);
    if (sum >= least) continue;
    least = sum;
    best = shift;
  }
  const auto count = static_cast<long>(n);
  const auto turn =
      static_cast<std::size_t>((((static_cast<long>(best) + twist) % count) + count) % count);
  Pairs pairs;
  for (std::size_t k = 0; k < n; ++k) pairs.emplace_back(a[k], b[(k + turn) % n]);
  return pairs;
}

Form bridge(const Form& form, const Pairs& pairs, const BridgeOptions& options, int step,
            Marks* marks) {
  check_crease(options.crease);
  if (marks != nullptr)
    for (const auto& [a, b] : pairs) marks->push_back({form.points[a], form.points[b]});
  if (options.segments < 1 || options.segments > 50)
    throw Error(say("A bridge has 1 to 50 rows of faces."));
  const std::shared_ptr<const FormLinks> links = links_of(form);
  for (const auto& [a, b] : pairs)
    if (options.segments == 1 && links->topology.number.contains(form_edge(a, b)))
      throw Error(say(
          "The bridge would run along edges that are there already. Give it two rows or more, or "
          "pick rims "
          "further apart."));
  Form made = unlinked(form);
  const std::size_t n = pairs.size();
  const auto segments = static_cast<std::size_t>(options.segments);
  std::vector<std::vector<std::uint32_t>> rows(segments + 1);
  for (std::size_t r = 0; r <= segments; ++r)
    for (std::size_t k = 0; k < n; ++k) {
      const auto [a, b] = pairs[k];
      const double share = static_cast<double>(r) / static_cast<double>(segments);
      if (r == 0)
        rows[r].push_back(a);
      else if (r == segments)
        rows[r].push_back(b);
      else
        rows[r].push_back(add_point(made, form.points[a] * (1.0 - share) + form.points[b] * share,
                                    beside_edge(form, a, b, step, 700 + r)));
    }
  for (std::size_t r = 0; r < segments; ++r)
    for (std::size_t k = 0; k < n; ++k) {
      const std::size_t next = (k + 1) % n;
      // Against the sense of the face that is there already.
      made.faces.push_back({beside_edge(form, pairs[k].first, pairs[next].first, step, 1 + r),
                            {rows[r][next], rows[r][k], rows[r + 1][k], rows[r + 1][next]}});
    }
  if (options.crease > 0.0)
    for (const std::size_t r : {std::size_t{0}, segments})
      for (std::size_t k = 0; k < n; ++k)
        made.creases[form_edge(rows[r][k], rows[r][(k + 1) % n])] = options.crease;
  return linked(std::move(made));
}

}  // namespace

Pairs bridge_pairs(const Form& form, const FormEdge& border_a, const FormEdge& border_b,
                   int twist) {
  const FormTopology t = topology(form);
  return matched(form, border_from(form, t, border_a), border_from(form, t, border_b), twist);
}

Form bridged(const Form& form, const FormEdge& border_a, const FormEdge& border_b,
             const BridgeOptions& options, int step, Marks* marks) {
  return bridge(form, bridge_pairs(form, border_a, border_b, options.twist), options, step, marks);
}

Form bridged_faces(const Form& form, std::span<const std::uint32_t> faces,
                   const BridgeOptions& options, int step, Marks* marks) {
  check_picked(form, faces);
  const std::shared_ptr<const FormLinks> links = links_of(form);
  const std::set<std::uint32_t> picked(faces.begin(), faces.end());
  UnionFind groups(form.faces.size());
  std::vector<std::array<Tag, 2>>
      rim;  // edges between picked and other faces, by the names of points
  std::vector<std::uint32_t> of_rim;
  for (const FormTopology::Edge& e : links->topology.edges) {
    const bool a = picked.contains(number(static_cast<std::size_t>(e.faces[0])));
    const bool b = !e.border() && picked.contains(number(static_cast<std::size_t>(e.faces[1])));
    if (a && b)
      groups.join(number(static_cast<std::size_t>(e.faces[0])),
                  number(static_cast<std::size_t>(e.faces[1])));
    if (a == b) continue;
    if (e.border())
      throw Error(say("A picked face lies on a border. Pick faces inside, or the borders."));
    rim.push_back({form.point_tags[e.points[0]], form.point_tags[e.points[1]]});
    of_rim.push_back(number(static_cast<std::size_t>(a ? e.faces[0] : e.faces[1])));
  }
  std::map<std::uint32_t, std::size_t> first;  // of each group one edge of its rim
  for (std::size_t k = 0; k < rim.size(); ++k) first.try_emplace(groups.root(of_rim[k]), k);
  std::set<std::uint32_t> roots;
  for (const std::uint32_t f : picked) roots.insert(groups.root(f));
  if (roots.size() != 2 || first.size() != 2)
    throw Error(
        say("The picked faces are {} groups; a bridge joins two that do not touch.", roots.size()));
  const Form open = without_faces(form, faces);
  std::map<Tag, std::uint32_t> place;
  for (std::uint32_t p = 0; p < open.points.size(); ++p) place[open.point_tags[p]] = p;
  const auto now = [&](std::size_t k) {
    const auto a = place.find(rim[k][0]);
    const auto b = place.find(rim[k][1]);
    if (a == place.end() || b == place.end())
      throw Error(
          say("The two groups of faces touch each other. Leave a row of faces between them."));
    return form_edge(a->second, b->second);
  };
  const std::size_t borders_more = links_of(open)->topology.borders - links->topology.borders;
  if (borders_more != 2)
    throw Error(
        say("A group of faces has a hole in it, so that it would leave more than one rim."));
  return bridged(open, now(first.begin()->second), now(first.rbegin()->second), options, step,
                 marks);
}

namespace {

// A run of border points in the sense in which their faces walk them.
struct Chain {
  std::vector<std::uint32_t> points;
  bool closed = false;
};

// The edges in runs.
std::vector<Chain> chains_of(const Form& form, const FormTopology& t,
                             std::span<const FormEdge> edges) {
  std::map<std::uint32_t, std::uint32_t> next;
  std::set<std::uint32_t> behind;
  for (const FormEdge& e : edges) {
    const FormTopology::Edge& edge = edge_at(t, e);
    if (!edge.border())
      throw Error(say("A picked edge is no border. Pick edges that one face has."));
    const auto [a, b] = as_walked(form, edge);
    next[a] = b;
    behind.insert(b);
  }
  std::vector<Chain> chains;
  const auto walk = [&](std::uint32_t from) {
    Chain chain{{from}, false};
    while (true) {
      const auto found = next.find(chain.points.back());
      if (found == next.end()) break;
      const std::uint32_t to = found->second;
      next.erase(found);
      if (to == from) {
        chain.closed = true;
        break;
      }
      chain.points.push_back(to);
    }
    chains.push_back(std::move(chain));
  };
  std::vector<std::uint32_t> starts;
  for (const auto& [a, b] : next)
    if (!behind.contains(a)) starts.push_back(a);
  for (const std::uint32_t p : starts) walk(p);
  while (!next.empty()) walk(next.begin()->first);
  return chains;
}

double run_length(const Form& form, const std::vector<std::uint32_t>& points) {
  double sum = 0.0;
  for (std::size_t k = 0; k + 1 < points.size(); ++k)
    sum += distance(form.points[points[k]], form.points[points[k + 1]]);
  return sum;
}

// For each point of a the place of its partner in b, from 0 to the end; both run the same way, a has fewer points.
std::vector<std::size_t> partners_along(const Form& form, const std::vector<std::uint32_t>& a,
                                        const std::vector<std::uint32_t>& b) {
  std::vector<std::size_t> result{0};
  const double whole_a = std::max(run_length(form, a), 1e-12);
  const double whole_b = std::max(run_length(form, b), 1e-12);
  double way = 0.0;
  for (std::size_t k = 1; k + 1 < a.size(); ++k) {
    way += distance(form.points[a[k - 1]], form.points[a[k]]) / whole_a;
    std::size_t best = result.back() + 1;
    const std::size_t most = b.size() - (a.size() - k);
    double there = 0.0, least = std::numeric_limits<double>::infinity();
    for (std::size_t j = 0; j <= most; ++j) {
      if (j > 0) there += distance(form.points[b[j - 1]], form.points[b[j]]) / whole_b;
      if (j > result.back() && std::abs(there - way) < least) {
        least = std::abs(there - way);
        best = j;
      }
    }
    result.push_back(best);
  }
  result.push_back(b.size() - 1);
  return result;
}

// The closed run from another point of it on, ending where it begins.
std::vector<std::uint32_t> turned(const std::vector<std::uint32_t>& closed, std::size_t from) {
  std::vector<std::uint32_t> run;
  for (std::size_t k = 0; k <= closed.size(); ++k)
    run.push_back(closed[(from + k) % closed.size()]);
  return run;
}

std::vector<std::uint32_t> best_turn(const Form& form, const std::vector<std::uint32_t>& a,
                                     const std::vector<std::uint32_t>& b) {
  const std::vector<std::uint32_t> run_a = turned(a, 0);
  std::vector<std::uint32_t> best;
  double least = std::numeric_limits<double>::infinity();
  for (std::size_t shift = 0; shift < b.size(); ++shift) {
    std::vector<std::uint32_t> run = turned(b, shift);
    const std::vector<std::size_t> at = partners_along(form, run_a, run);
    double sum = 0.0;
    for (std::size_t k = 0; k + 1 < run_a.size(); ++k)
      sum += distance(form.points[run_a[k]], form.points[run[at[k]]]);
    if (sum >= least) continue;
    least = sum;
    best = std::move(run);
  }
  return best;
}

}  // namespace

Form stitched(const Form& form, std::span<const FormEdge> edges, int step) {
  const FormTopology t = topology(form);
  std::vector<Chain> chains;
  if (edges.size() == 2) {
    const std::vector<std::uint32_t> a = border_from(form, t, edges[0]);
    const std::vector<std::uint32_t> b = border_from(form, t, edges[1]);
    if (std::find(b.begin(), b.end(), a.front()) == b.end()) chains = {{a, true}, {b, true}};
  }
  if (chains.empty()) chains = chains_of(form, t, edges);
  if (chains.size() != 2)
    throw Error(
        say("The picked edges are {} chains; two are stitched. Pick one edge of each "
            "border, or all edges of two runs.",
            chains.size()));
  if (chains[0].closed != chains[1].closed)
    throw Error(say("One chain is closed and the other is open; they cannot be stitched."));
  if (chains[0].points.size() > chains[1].points.size()) std::swap(chains[0], chains[1]);
  std::vector<std::uint32_t> a = chains[0].points;
  std::vector<std::uint32_t> b = chains[1].points;
  std::reverse(b.begin(), b.end());
  if (chains[0].closed) {
    b = best_turn(form, a, b);
    a = turned(a, 0);
  }
  const std::vector<std::size_t> at = partners_along(form, a, b);
  Form made = unlinked(form);
  for (std::size_t k = 0; k + 1 < a.size(); ++k) {
    std::vector<std::uint32_t> face;
    const auto add = [&](std::uint32_t p) {
      if (std::find(face.begin(), face.end(), p) == face.end()) face.push_back(p);
    };
    add(a[k + 1]);
    add(a[k]);
    for (std::size_t j = at[k]; j <= at[k + 1]; ++j) add(b[j]);
    if (face.size() >= 3) made.faces.push_back({beside_edge(form, a[k], a[k + 1], step, 2), face});
  }
  return linked(std::move(made));
}

Form filled(const Form& form, const FormEdge& border, int step) {
  std::vector<std::uint32_t> rim = border_from(form, topology(form), border);
  std::reverse(rim.begin(), rim.end());
  Form made = unlinked(form);
  made.faces.push_back({beside_edge(form, rim[0], rim[1], step, 3), rim});
  return linked(std::move(made));
}

Form with_face(const Form& form, std::span<const std::uint32_t> points, int step) {
  if (points.size() < 3) throw Error(say("A face needs three points at least. Pick more."));
  const std::shared_ptr<const FormLinks> links = links_of(form);
  std::vector<std::uint32_t> face(points.begin(), points.end());
  for (std::size_t k = 0; k < face.size(); ++k) {
    const std::uint32_t a = face[k];
    const std::uint32_t b = face[(k + 1) % face.size()];
    if (a >= form.points.size()) throw Error(say("A picked point is no longer there. Pick again."));
    const auto found = links->topology.number.find(form_edge(a, b));
    if (found == links->topology.number.end()) continue;
    const FormTopology::Edge& e = links->topology.edges[found->second];
    if (!e.border())
      throw Error(say("The new face would be the third at an edge. Pick points of borders."));
    const auto& p = form.faces[static_cast<std::size_t>(e.faces[0])].points;
    const auto at = static_cast<std::size_t>(std::find(p.begin(), p.end(), a) - p.begin());
    if (p[(at + 1) % p.size()] == b) {
      std::reverse(face.begin(), face.end());
      break;
    }
  }
  Form made = unlinked(form);
  made.faces.push_back({beside_edge(form, face[0], face[1], step, 4), std::move(face)});
  return linked(std::move(made));
}

Form pulled_out(const Form& form, std::span<const FormEdge> edges, const Vec3& by, int step) {
  if (edges.empty()) throw Error(say("No edge is picked. Pick edges of a border."));
  const FormTopology t = topology(form);
  Form made = unlinked(form);
  std::map<std::uint32_t, std::uint32_t> upper;
  const auto up = [&](std::uint32_t p) {
    const auto [found, fresh] = upper.try_emplace(p, 0);
    if (fresh)
      found->second = add_point(made, form.points[p] + by, make_tag(step, form.point_tags[p], 200));
    return found->second;
  };
  for (const FormEdge& picked : edges) {
    const FormTopology::Edge& e = edge_at(t, picked);
    if (!e.border())
      throw Error(say("A picked edge has faces on both sides. Only border edges are pulled out."));
    const auto [a, b] = as_walked(form, e);
    const std::uint32_t ua = up(a);
    const std::uint32_t ub = up(b);
    made.faces.push_back({beside_edge(form, a, b, step, 5), {b, a, ua, ub}});
  }
  return linked(std::move(made));
}

namespace {

// The vector that keeps the distance to the planes of all faces around as well as one can.
Vec3 inward(const Form& form, const FormTopology& t, std::uint32_t p, double thickness) {
  Mitre mitre;
  for (const std::uint32_t f : t.faces_of_point[p]) mitre.add(normal_of(form, f));
  return mitre.move() * thickness;
}

}  // namespace

Form thickened(const Form& form, double thickness, double crease, int step) {
  check_crease(crease);
  if (!(std::abs(thickness) > 1e-9))
    throw Error(say("A thickness of 0 makes no wall. Choose another."));
  const FormTopology t = topology(form);
  Form made = unlinked(form);
  const std::uint32_t offset = number(form.points.size());
  for (std::uint32_t p = 0; p < form.points.size(); ++p)
    add_point(made, form.points[p] - inward(form, t, p, thickness),
              make_tag(step, form.point_tags[p], 800));
  // The side that looks along the normals is the outer one, whichever way the thickness goes.
  const bool out = thickness < 0.0;
  for (std::size_t f = 0; f < form.faces.size(); ++f) {
    std::vector<std::uint32_t> inner = form.faces[f].points;
    for (std::uint32_t& p : inner) p += offset;
    if (out)
      std::reverse(made.faces[f].points.begin(), made.faces[f].points.end());
    else
      std::reverse(inner.begin(), inner.end());
    made.faces.push_back({make_tag(step, form.faces[f].tag, 801), std::move(inner)});
  }
  for (const auto& [edge, s] : form.creases) made.creases[{edge[0] + offset, edge[1] + offset}] = s;
  for (const FormTopology::Edge& e : t.edges) {
    if (!e.border()) continue;
    auto [a, b] = as_walked(form, e);
    if (out) std::swap(a, b);  // its face was turned over
    made.faces.push_back({beside_edge(form, a, b, step, 6), {b, a, a + offset, b + offset}});
    if (crease > 0.0) {
      made.creases[form_edge(a, b)] = crease;
      made.creases[form_edge(a + offset, b + offset)] = crease;
    }
  }
  return linked(std::move(made));
}

Form mirrored_form(const Form& form, const Vec3& origin, const Vec3& normal, double near, bool weld,
                   int step) {
  const FormTopology t = topology(form);
  const Vec3 n = normalized(normal);
  const auto height = [&](std::uint32_t p) { return dot(form.points[p] - origin, n); };
  Form made = unlinked(form);
  std::vector<bool> shared(form.points.size(), false);
  if (weld)
    for (const FormTopology::Edge& e : t.edges)
      if (e.border() && std::abs(height(e.points[0])) <= near &&
          std::abs(height(e.points[1])) <= near)
        shared[e.points[0]] = shared[e.points[1]] = true;
  std::vector<std::uint32_t> image(form.points.size());
  for (std::uint32_t p = 0; p < form.points.size(); ++p) {
    if (shared[p]) made.points[p] = form.points[p] - n * height(p);
    image[p] = shared[p] ? p
                         : add_point(made, form.points[p] - n * (2.0 * height(p)),
                                     make_tag(step, form.point_tags[p], 900));
  }
  for (const FormFace& face : form.faces) {
    FormFace other{make_tag(step, face.tag, 901), {}};
    for (const std::uint32_t p : face.points) other.points.push_back(image[p]);
    std::reverse(other.points.begin(), other.points.end());
    made.faces.push_back(std::move(other));
  }
  for (const auto& [edge, s] : form.creases)
    made.creases[form_edge(image[edge[0]], image[edge[1]])] = s;
  return linked(std::move(made));
}

}  // namespace evenclay
