// Strips in place of edges. Declared in reshape.h.
#include <algorithm>
#include <map>
#include <set>

#include "core/base/error.h"
#include "core/base/say.h"
#include "core/subdivision/edit_parts.h"
#include "core/subdivision/fan.h"
#include "core/subdivision/reshape.h"

namespace evenclay {

namespace {

class Bevel {
 public:
  Bevel(const Form& form, std::span<const FormEdge> edges, double width, int segments, int step)
      : form_(form), t_(topology(form)), width_(width), step_(step) {
    if (edges.empty()) throw Error(say("No edge is picked. Pick the edges to bevel."));
    if (!(width > 0.0)) throw Error(say("A bevel needs a width greater than 0."));
    if (segments < 1 || segments > 20) throw Error(say("A bevel has 1 to 20 segments."));
    segments_ = static_cast<std::size_t>(segments);
    for (const FormEdge& e : edges) {
      if (edge_at(t_, e).border())
        throw Error(
            say("A picked edge is a border, which has nothing to bevel against. Leave it out."));
      picked_.insert(form_edge(e[0], e[1]));
    }
  }

  Form run() {
    made_ = unlinked(form_);
    std::set<std::uint32_t> touched;
    for (const FormEdge& e : picked_) touched.insert(e.begin(), e.end());
    for (const std::uint32_t v : touched) at_point(v);
    move_corners();
    for (const FormEdge& e : picked_) strip(e);
    for (auto& face : corner_faces_) made_.faces.push_back(std::move(face));
    made_.creases = moved_creases();
    return linked(compacted(std::move(made_)));
  }

 private:
  using Key = std::pair<std::uint32_t, std::uint32_t>;  // a point, and a face or another point

  Vec3 place_between(std::uint32_t v, const Fan& a, std::size_t from, std::size_t to) const {
    const Vec3& p = form_.points[v];
    const auto end = [&](std::size_t k) { return form_.points[a.ends[k % a.ends.size()]]; };
    Vec3 way;
    double shortest = 1e300;
    const auto use = [&](std::size_t k) {
      way += normalized(end(k) - p);
      shortest = std::min(shortest, distance(end(k), p));
    };
    const bool ends_open = !a.closed && (from == 0 || to + 1 == a.ends.size());
    if (ends_open) {  // along the border
      use(from == 0 && !is_picked(v, a.ends[0]) ? 0 : to);
      return p + way * std::min(width_, 0.45 * shortest);
    }
    if (to == from + 1) {  // one face between two picked edges: as far from both
      use(from);
      use(to);
      const Vec3 x = normalized(end(from) - p);
      const Vec3 y = normalized(end(to) - p);
      const double sine = length(cross(x, y));
      const double scale = sine > 0.2 ? 1.0 / sine : 5.0;
      return p + way * std::min(width_ * scale, 0.45 * shortest);
    }
    for (std::size_t k = from + 1; k < to; ++k) use(k);
    if (!(length(way) > 1e-9)) return p;
    return p + normalized(way) * std::min(width_, 0.45 * shortest);
  }

  bool is_picked(std::uint32_t a, std::uint32_t b) const {
    return picked_.contains(form_edge(a, b));
  }

  std::uint32_t add(const Vec3& place, Tag tag) {
    made_.points.push_back(place);
    made_.point_tags.push_back(tag);
    return static_cast<std::uint32_t>(made_.points.size() - 1);
  }

  void at_point(std::uint32_t v) {
    Fan a = fan_of(form_, t_, v);
    if (a.closed) {  // begin at a picked edge
      std::size_t first = 0;
      while (!is_picked(v, a.ends[first])) ++first;
      const auto turn = static_cast<long>(first);
      std::rotate(a.ends.begin(), a.ends.begin() + turn, a.ends.end());
      std::rotate(a.faces.begin(), a.faces.begin() + turn, a.faces.end());
    }
    std::vector<std::size_t> cuts;
    for (std::size_t k = 0; k < a.ends.size(); ++k)
      if (is_picked(v, a.ends[k])) cuts.push_back(k);
    if (a.closed && cuts.size() == 1) {
      end_of_run(v, a);
      return;
    }
    if (a.closed) {
      cuts.push_back(a.faces.size());
    } else {
      cuts.insert(cuts.begin(), 0);
      cuts.push_back(a.ends.size() - 1);
    }
    std::vector<std::uint32_t> sectors;
    for (std::size_t s = 0; s + 1 < cuts.size(); ++s) {
      sectors.push_back(
          add(place_between(v, a, cuts[s], cuts[s + 1]),
              make_tag(step_, form_.point_tags[v], form_.faces[a.faces[cuts[s]]].tag)));
      for (std::size_t k = cuts[s]; k < cuts[s + 1]; ++k) corner_[{v, a.faces[k]}] = sectors[s];
    }
    profiles(v, a, cuts, sectors);
  }

  // Where only one picked edge ends, its sides run out along the edges next to it.
  void end_of_run(std::uint32_t v, const Fan& a) {
    const std::size_t n = a.faces.size();
    std::vector<std::uint32_t>& run = profile_[{v, a.ends[0]}];
    if (n < 3) {
      run.assign(segments_ + 1, v);
      return;
    }
    const auto along = [&](std::size_t k) {
      const Vec3 way = form_.points[a.ends[k]] - form_.points[v];
      const double reach = std::min(width_, 0.45 * length(way));
      return add(form_.points[v] + normalized(way) * reach,
                 make_tag(step_, form_.point_tags[v], form_.faces[a.faces[k]].tag));
    };
    const std::uint32_t left = along(1);
    const std::uint32_t right = along(n - 1);
    run = profile_between(v, a.ends[0], left, right);
    corner_[{v, a.faces[0]}] = left;
    corner_[{v, a.faces[n - 1]}] = right;
    std::vector<std::uint32_t> back(run.rbegin(), run.rend());
    if (n == 3) {
      instead_[{v, a.faces[1]}] = back;
      return;
    }
    instead_[{v, a.faces[1]}] = {v, left};
    instead_[{v, a.faces[n - 2]}] = {right, v};
    for (const std::size_t k : {std::size_t{1}, n - 1})
      if (const double s = form_.crease(v, a.ends[k]); s > 0.0)
        kept_creases_[form_edge(v, k == 1 ? left : right)] = s;
    back.push_back(v);
    corner_faces_.push_back({make_tag(step_, form_.point_tags[v], 31), std::move(back)});
  }

  // From the side of the face that walks the edge v → end to the other one, rounded towards v.
  std::vector<std::uint32_t> profile_between(std::uint32_t v, std::uint32_t end, std::uint32_t left,
                                             std::uint32_t right) {
    std::vector<std::uint32_t> run{left};
    for (std::size_t k = 1; k < segments_; ++k) {
      const double w = static_cast<double>(k) / static_cast<double>(segments_);
      run.push_back(
          add(made_.points[left] * ((1 - w) * (1 - w)) + form_.points[v] * (2 * w * (1 - w)) +
                  made_.points[right] * (w * w),
              make_tag(step_, beside_edge(form_, v, end, step_, 30), form_.point_tags[v] + k)));
    }
    run.push_back(right);
    return run;
  }

  // From the sector behind each picked edge (that of the face that walks it from v) to the one before it.
  void profiles(std::uint32_t v, const Fan& a, const std::vector<std::size_t>& cuts,
                const std::vector<std::uint32_t>& sectors) {
    const std::size_t n = sectors.size();
    std::vector<std::uint32_t> corner;
    for (std::size_t s = a.closed ? 0 : 1; s < n; ++s) {
      const std::uint32_t end = a.ends[cuts[s] % a.ends.size()];
      const std::uint32_t left = sectors[s];
      const std::uint32_t right = sectors[(s + n - 1) % n];
      std::vector<std::uint32_t>& run = profile_[{v, end}];
      const std::uint32_t other = a.ends[cuts[(s + 1) % n] % a.ends.size()];
      if (a.closed && n == 2 && s == 1) {  // both edges share it
        run = profile_.at({v, other});
        std::reverse(run.begin(), run.end());
        continue;
      }
      run = profile_between(v, end, left, right);
      if (!a.closed && s == 1) corner.push_back(sectors[0]);
      if (n > 2) {
        for (std::size_t k = run.size() - 1; k-- > 1;) corner.push_back(run[k]);
        corner.push_back(left);
      }
    }
    if (n > 2) corner_faces_.push_back({make_tag(step_, form_.point_tags[v], 31), corner});
  }

  void move_corners() {
    for (std::uint32_t f = 0; f < form_.faces.size(); ++f) {
      std::vector<std::uint32_t> now;
      for (const std::uint32_t p : form_.faces[f].points) {
        if (const auto several = instead_.find({p, f}); several != instead_.end())
          now.insert(now.end(), several->second.begin(), several->second.end());
        else if (const auto one = corner_.find({p, f}); one != corner_.end())
          now.push_back(one->second);
        else
          now.push_back(p);
      }
      made_.faces[f].points = std::move(now);
    }
  }

  void strip(const FormEdge& e) {
    const std::vector<std::uint32_t>& a = profile_.at({e[0], e[1]});
    std::vector<std::uint32_t> b = profile_.at({e[1], e[0]});
    std::reverse(b.begin(), b.end());
    for (std::size_t k = 0; k < segments_; ++k) {
      std::vector<std::uint32_t> face;
      for (const std::uint32_t p : {b[k], a[k], a[k + 1], b[k + 1]})
        if (std::find(face.begin(), face.end(), p) == face.end()) face.push_back(p);
      if (face.size() >= 3)
        made_.faces.push_back({beside_edge(form_, e[0], e[1], step_, 40 + k), std::move(face)});
    }
  }

  // Creases of edges that were not bevelled go along with their ends.
  std::map<FormEdge, double> moved_creases() const {
    std::map<FormEdge, double> result = kept_creases_;
    for (const auto& [edge, s] : form_.creases) {
      if (picked_.contains(edge)) continue;
      const auto now = [&](std::uint32_t p) {
        for (const std::int32_t f : edge_at(t_, edge).faces)
          if (const auto found = corner_.find({p, static_cast<std::uint32_t>(f)});
              f >= 0 && found != corner_.end())
            return found->second;
        return p;
      };
      result[form_edge(now(edge[0]), now(edge[1]))] = s;
    }
    return result;
  }

  const Form& form_;
  const FormTopology t_;
  double width_;
  std::size_t segments_ = 1;
  int step_;
  std::set<FormEdge> picked_;
  Form made_;
  std::map<Key, std::uint32_t> corner_;                // of a point in a face: what takes its place
  std::map<Key, std::vector<std::uint32_t>> instead_;  // the same, where several do
  std::map<FormEdge, double> kept_creases_;
  std::map<Key, std::vector<std::uint32_t>> profile_;  // at a point, across the edge to another
  std::vector<FormFace> corner_faces_;
};

}  // namespace

Form bevelled(const Form& form, std::span<const FormEdge> edges, double width, int segments,
              int step) {
  return Bevel(form, edges, width, segments, step).run();
}

}  // namespace evenclay
