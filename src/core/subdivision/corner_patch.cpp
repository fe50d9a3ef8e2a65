#include "core/subdivision/corner_patch.h"

#include <algorithm>
#include <map>
#include <set>

#include "core/base/union_find.h"
#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

// The faces within two rings of faces around a point, as a form of its own. Where they touch in single points only,
// these are doubled: what lies there does not matter.
Form neighbourhood(const Form& form, const FormTopology& t, std::uint32_t point) {
  std::set<std::uint32_t> faces;
  for (const std::uint32_t f : t.faces_of_point[point])
    for (const std::uint32_t p : form.faces[f].points)
      faces.insert(t.faces_of_point[p].begin(), t.faces_of_point[p].end());
  std::map<std::uint32_t, std::vector<std::uint32_t>> faces_of;
  for (const std::uint32_t f : faces)
    for (const std::uint32_t p : form.faces[f].points) faces_of[p].push_back(f);
  Form made;
  std::map<std::pair<std::uint32_t, std::uint32_t>, std::uint32_t> number;  // of a point in a face
  for (const auto& [p, around] : faces_of) {
    UnionFind groups(around.size());
    for (const std::uint32_t e : t.edges_of_point[p]) {
      std::vector<std::uint32_t> both;
      for (std::uint32_t k = 0; k < around.size(); ++k)
        for (const std::int32_t f : t.edges[e].faces)
          if (f == static_cast<std::int32_t>(around[k])) both.push_back(k);
      if (both.size() == 2) groups.join(both[0], both[1]);
    }
    std::map<std::uint32_t, std::uint32_t> of_group;
    for (std::uint32_t k = 0; k < around.size(); ++k) {
      const auto [found, fresh] =
          of_group.try_emplace(groups.root(k), static_cast<std::uint32_t>(made.points.size()));
      if (fresh) {
        made.points.push_back(form.points[p]);
        made.point_tags.push_back(of_group.size() == 1
                                      ? form.point_tags[p]
                                      : make_tag(1, form.point_tags[p], of_group.size()));
      }
      number[{p, around[k]}] = found->second;
    }
  }
  for (const std::uint32_t f : faces) {
    FormFace face{form.faces[f].tag, {}};
    for (const std::uint32_t p : form.faces[f].points) face.points.push_back(number.at({p, f}));
    const auto& old = form.faces[f].points;
    for (std::size_t k = 0; k < old.size(); ++k) {
      const std::size_t next = (k + 1) % old.size();
      if (const double s = form.crease(old[k], old[next]); s > 0.0)
        made.creases[form_edge(face.points[k], face.points[next])] = s;
    }
    made.faces.push_back(std::move(face));
  }
  return made;
}

std::uint32_t with_tag(const Form& form, Tag tag) {
  return static_cast<std::uint32_t>(std::find(form.point_tags.begin(), form.point_tags.end(), tag) -
                                    form.point_tags.begin());
}

}  // namespace

AroundPoint::AroundPoint(const Form& form, std::uint32_t point) : point_(form.point_tags[point]) {
  auto level = std::make_unique<Level>();
  level->form = linked(neighbourhood(form, links_of(form)->topology, point));
  level->point = with_tag(level->form, point_);
  limit_ = limit_of(level->form).points[level->point];
  level->walker = std::make_unique<Walker>(level->form);
  levels_.push_back(std::move(level));
}

// Of two rings of faces the subdivision is right up to its third ring of points, which is as far as a patch beside the
// point reaches.
void AroundPoint::refine() {
  Progress quiet;
  const Level& last = *levels_.back();
  auto level = std::make_unique<Level>();
  level->form = linked(
      subdivided(neighbourhood(last.form, links_of(last.form)->topology, last.point), quiet));
  level->point = with_tag(level->form, point_);
  level->walker = std::make_unique<Walker>(level->form);
  levels_.push_back(std::move(level));
}

PatchPlace AroundPoint::at(Tag face, double u, double v) {
  constexpr std::size_t kDeepest = 40;
  if (u <= 0.0 && v <= 0.0) return {limit_, {}, {}};
  double scale = 1.0;
  Tag tag = face;
  std::size_t level = 0;
  // The child at the point is named after its face and the point.
  do {
    ++level;
    if (level > kDeepest) return {limit_, {}, {}};
    if (levels_.size() <= level) refine();
    tag = make_tag(0, tag, point_);
    u *= 2.0;
    v *= 2.0;
    scale *= 2.0;
  } while (u <= 1.0 && v <= 1.0);
  const Level& l = *levels_[level];
  const auto& faces = l.form.faces;
  const auto f = static_cast<std::uint32_t>(
      std::find_if(faces.begin(), faces.end(), [&](const FormFace& x) { return x.tag == tag; }) -
      faces.begin());
  Cell cell = cell_at(l.form, f, l.point);
  if (u > 1.0) {
    cell = *l.walker->beyond(cell, Side::Right);
    u -= 1.0;
  }
  if (v > 1.0) {
    cell = *l.walker->beyond(cell, Side::Up);
    v -= 1.0;
  }
  PatchPlace place = evaluate(patch_points(*l.walker, cell), u, v);
  place.du = place.du * scale;
  place.dv = place.dv * scale;
  return place;
}

}  // namespace evenclay
