#include "core/points/form_selection.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/subdivision/edit_parts.h"
#include "core/subdivision/edits.h"

namespace evenclay {

namespace {

PointIndex index_of(std::uint32_t p) {
  return {0, static_cast<int>(p)};
}

// Each thing of a kind with its points, in the order of the form.
struct Thing {
  Tag tag = 0;
  std::vector<std::uint32_t> points;
};

std::vector<Thing> things_of(const FormNet& net, PickKind kind) {
  std::vector<Thing> all;
  const auto& tags = net.links->point_tags;
  switch (kind) {
    case PickKind::Face:
      for (const FormFace& f : net.links->faces) all.push_back({f.tag, f.points});
      break;
    case PickKind::Edge:
      for (const FormTopology::Edge& e : net.links->topology.edges)
        all.push_back({edge_tag(tags, e.points), {e.points[0], e.points[1]}});
      break;
    case PickKind::Corner:
      for (std::uint32_t p = 0; p < tags.size(); ++p) all.push_back({tags[p], {p}});
      break;
  }
  return all;
}

std::map<Tag, std::vector<std::uint32_t>> by_tag(const FormNet& net, PickKind kind) {
  std::map<Tag, std::vector<std::uint32_t>> result;
  for (Thing& t : things_of(net, kind)) result[t.tag] = std::move(t.points);
  return result;
}

// The picked ones first, in their order, then what is new.
void add_new(std::vector<Tag>& tags, const std::vector<Tag>& more) {
  std::set<Tag> there(tags.begin(), tags.end());
  for (const Tag t : more)
    if (there.insert(t).second) tags.push_back(t);
}

std::set<std::uint32_t> touched_points(const FormNet& net, PickKind kind,
                                       const std::vector<Tag>& tags) {
  std::set<std::uint32_t> result;
  for (const PointIndex& p : points_of(net, kind, tags))
    result.insert(static_cast<std::uint32_t>(p.i));
  return result;
}

}  // namespace

Form form_of(const FormNet& net) {
  return {net.points, net.links->point_tags, net.links->faces, {}, net.links};
}

Selection points_of(const FormNet& net, PickKind kind, const std::vector<Tag>& tags) {
  const std::set<Tag> wanted(tags.begin(), tags.end());
  Selection result;
  for (const Thing& t : things_of(net, kind))
    if (wanted.contains(t.tag))
      for (const std::uint32_t p : t.points) result.insert(index_of(p));
  return result;
}

std::vector<Tag> still_there(const FormNet& net, PickKind kind, const std::vector<Tag>& tags) {
  if (tags.empty()) return {};
  std::set<Tag> there;
  for (const Thing& t : things_of(net, kind)) there.insert(t.tag);
  std::vector<Tag> result;
  for (const Tag t : tags)
    if (there.erase(t) > 0) result.push_back(t);
  return result;
}

std::vector<Pick> as_picks(const FormNet& net, PickKind kind, const std::vector<Tag>& tags) {
  const auto all = by_tag(net, kind);
  std::vector<Pick> result;
  for (const Tag t : tags) {
    const auto found = all.find(t);
    if (found == all.end()) continue;
    Vec3 middle;
    for (const std::uint32_t p : found->second)
      middle += net.points[p] / static_cast<double>(found->second.size());
    result.push_back({kind, t, middle});
  }
  return result;
}

std::vector<Tag> tags_where(const FormNet& net, PickKind kind,
                            const std::function<bool(const Vec3&)>& inside, bool touched) {
  std::vector<bool> in;
  for (const Vec3& p : net.points) in.push_back(inside(p));
  std::vector<Tag> result;
  for (const Thing& t : things_of(net, kind)) {
    const auto one_in = [&](std::uint32_t p) { return static_cast<bool>(in[p]); };
    if (touched ? std::any_of(t.points.begin(), t.points.end(), one_in)
                : std::all_of(t.points.begin(), t.points.end(), one_in))
      result.push_back(t.tag);
  }
  return result;
}

std::vector<Tag> tags_with(const FormNet& net, PickKind kind, const Selection& points) {
  std::vector<Tag> result;
  for (const Thing& t : things_of(net, kind))
    if (std::all_of(t.points.begin(), t.points.end(),
                    [&](std::uint32_t p) { return points.contains(index_of(p)); }))
      result.push_back(t.tag);
  return result;
}

std::vector<Tag> with_mirrored(const FormNet& net, PickKind kind, std::vector<Tag> tags,
                               const std::vector<MirrorMap>& mirrors) {
  if (mirrors.empty() || tags.empty()) return tags;
  std::map<std::vector<std::uint32_t>, Tag> by_points;
  const std::vector<Thing> all = things_of(net, kind);
  std::map<Tag, std::vector<std::uint32_t>> points;
  for (const Thing& t : all) {
    std::vector<std::uint32_t> sorted = t.points;
    std::sort(sorted.begin(), sorted.end());
    by_points[sorted] = t.tag;
    points[t.tag] = std::move(sorted);
  }
  for (const MirrorMap& mirror : mirrors) {
    std::vector<Tag> images;
    for (const Tag t : tags) {
      const auto found = points.find(t);
      if (found == points.end()) continue;
      std::vector<std::uint32_t> there;
      for (const std::uint32_t p : found->second)
        there.push_back(static_cast<std::uint32_t>(mirror.partner(index_of(p)).i));
      std::sort(there.begin(), there.end());
      if (const auto image = by_points.find(there); image != by_points.end())
        images.push_back(image->second);
    }
    add_new(tags, images);
  }
  return tags;
}

std::vector<Tag> grown(const FormNet& net, PickKind kind, const std::vector<Tag>& tags) {
  std::set<std::uint32_t> reached = touched_points(net, kind, tags);
  if (kind == PickKind::Corner)
    for (const std::uint32_t p : std::set<std::uint32_t>(reached))
      for (const std::uint32_t e : net.links->topology.edges_of_point[p])
        reached.insert(net.links->topology.edges[e].points.begin(),
                       net.links->topology.edges[e].points.end());
  std::vector<Tag> more;
  for (const Thing& t : things_of(net, kind))
    if (std::any_of(t.points.begin(), t.points.end(),
                    [&](std::uint32_t p) { return reached.contains(p); }))
      more.push_back(t.tag);
  std::vector<Tag> result = tags;
  add_new(result, more);
  return result;
}

std::vector<Tag> shrunk(const FormNet& net, PickKind kind, const std::vector<Tag>& tags) {
  const std::set<Tag> picked(tags.begin(), tags.end());
  std::set<std::uint32_t> outside;
  for (const Thing& t : things_of(net, kind))
    if (!picked.contains(t.tag)) outside.insert(t.points.begin(), t.points.end());
  if (kind == PickKind::Corner)
    for (const std::uint32_t p : std::set<std::uint32_t>(outside))
      for (const std::uint32_t e : net.links->topology.edges_of_point[p])
        outside.insert(net.links->topology.edges[e].points.begin(),
                       net.links->topology.edges[e].points.end());
  const auto all = by_tag(net, kind);
  std::vector<Tag> result;
  for (const Tag t : tags) {
    const auto found = all.find(t);
    if (found != all.end() && std::none_of(found->second.begin(), found->second.end(),
                                           [&](std::uint32_t p) { return outside.contains(p); }))
      result.push_back(t);
  }
  return result;
}

namespace {

FormEdge as_edge(const std::vector<std::uint32_t>& points) {
  return {points[0], points[1]};
}

}  // namespace

std::vector<Tag> loops_along(const FormNet& net, const std::vector<Tag>& edges) {
  const auto all = by_tag(net, PickKind::Edge);
  std::vector<Tag> result = edges;
  for (const Tag t : edges)
    if (const auto found = all.find(t); found != all.end()) {
      std::vector<Tag> more;
      for (const FormEdge& e : loop_along(net.links->topology, as_edge(found->second)))
        more.push_back(edge_tag(net.links->point_tags, e));
      add_new(result, more);
    }
  return result;
}

std::vector<Tag> rings_across(const FormNet& net, const std::vector<Tag>& edges) {
  const auto all = by_tag(net, PickKind::Edge);
  const Form form = form_of(net);
  std::vector<Tag> result = edges;
  for (const Tag t : edges)
    if (const auto found = all.find(t); found != all.end()) {
      std::vector<Tag> more;
      for (const FormEdge& e : ring_across(form, net.links->topology, as_edge(found->second)).edges)
        more.push_back(edge_tag(net.links->point_tags, e));
      add_new(result, more);
    }
  return result;
}

std::vector<Tag> bands_along(const FormNet& net, const std::vector<Tag>& faces) {
  const std::set<Tag> picked(faces.begin(), faces.end());
  const auto all = by_tag(net, PickKind::Face);
  const FormTopology& t = net.links->topology;
  const Form form = form_of(net);
  std::vector<Tag> result = faces;
  const auto add_ring = [&](const FormEdge& e) {
    std::vector<Tag> more;
    for (const std::uint32_t f : ring_across(form, t, e).faces)
      more.push_back(net.links->faces[f].tag);
    add_new(result, more);
  };
  bool neighbours = false;
  for (const FormTopology::Edge& e : t.edges) {
    if (e.border()) continue;
    const auto tag = [&](std::size_t k) {
      return net.links->faces[static_cast<std::size_t>(e.faces[k])].tag;
    };
    if (!picked.contains(tag(0)) || !picked.contains(tag(1))) continue;
    neighbours = true;
    add_ring(e.points);
  }
  if (neighbours) return result;
  for (const Tag face : faces)
    if (const auto found = all.find(face); found != all.end() && found->second.size() == 4)
      for (std::size_t k = 0; k < 2; ++k) add_ring({found->second[k], found->second[k + 1]});
  return result;
}

}  // namespace evenclay
