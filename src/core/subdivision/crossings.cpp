#include "core/subdivision/crossings.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>
#include <optional>
#include <set>

#include "core/subdivision/refine.h"

namespace evenclay {

namespace {

using Corners = std::array<Vec3, 3>;
using Segment = std::array<Vec3, 2>;

// Where the edges of one triangle pass through the plane of another: the piece of that line inside the first, as two
// places; nothing when it lies on one side, or in the plane.
std::optional<Segment> through_plane(const Corners& t, const Vec3& on, const Vec3& normal,
                                     double near) {
  std::array<double, 3> side{};
  for (std::size_t k = 0; k < 3; ++k) {
    side[k] = dot(t[k] - on, normal);
    if (std::abs(side[k]) < near) side[k] = 0.0;
  }
  Segment ends{};
  std::size_t found = 0;
  for (std::size_t k = 0; k < 3 && found < 2; ++k) {
    const std::size_t next = (k + 1) % 3;
    if (side[k] == 0.0 && side[next] * side[(k + 2) % 3] < 0.0) ends[found++] = t[k];
    if (side[k] * side[next] < 0.0)
      ends[found++] = t[k] + (t[next] - t[k]) * (side[k] / (side[k] - side[next]));
  }
  if (found < 2) return std::nullopt;
  return ends;
}

// The common piece of two triangles that pass through each other.
std::optional<Segment> common_piece(const Corners& a, const Corners& b) {
  const Vec3 na = cross(a[1] - a[0], a[2] - a[0]);
  const Vec3 nb = cross(b[1] - b[0], b[2] - b[0]);
  const Vec3 along = cross(na, nb);
  if (!(length(along) > 1e-12 * length(na) * length(nb))) return std::nullopt;  // in one plane
  const double size = length(a[1] - a[0]) + length(b[1] - b[0]);
  const double near = 1e-12 * size;
  const auto of_a = through_plane(a, b[0], nb, near * length(nb));
  const auto of_b = through_plane(b, a[0], na, near * length(na));
  if (!of_a || !of_b) return std::nullopt;
  // Both lie on the line in which the planes meet: compared along it.
  const Vec3 d = normalized(along);
  const auto range = [&](const Segment& s) { return std::minmax({dot(s[0], d), dot(s[1], d)}); };
  const auto [a0, a1] = range(*of_a);
  const auto [b0, b1] = range(*of_b);
  const double from = std::max(a0, b0);
  const double to = std::min(a1, b1);
  if (!(to - from > 1e-9 * size)) return std::nullopt;
  const Vec3 base = (*of_a)[0] - d * dot((*of_a)[0], d);
  return Segment{base + d * from, base + d * to};
}

class BoxTree {
 public:
  explicit BoxTree(std::vector<Box3> boxes) : boxes_(std::move(boxes)), order_(boxes_.size()) {
    std::iota(order_.begin(), order_.end(), 0U);
    if (!order_.empty()) build(0, order_.size());
  }
  // visit(a, b) for every pair of boxes that meet, each pair once.
  template <typename F>
  void for_each_pair(const F& visit) const {
    if (!nodes_.empty()) within(0, visit);
  }

 private:
  static constexpr std::size_t kLeaf = 4;
  struct Node {
    Box3 box;
    std::size_t from, to, left = 0, right = 0;
  };
  std::size_t build(std::size_t from, std::size_t to) {
    const std::size_t number = nodes_.size();
    nodes_.push_back({{}, from, to});
    Box3 box;
    for (std::size_t k = from; k < to; ++k) box.add(boxes_[order_[k]]);
    nodes_[number].box = box;
    if (to - from <= kLeaf) return number;
    const Vec3 extent = box.max - box.min;
    const std::size_t axis = extent.x >= extent.y && extent.x >= extent.z ? 0
                             : extent.y >= extent.z                       ? 1
                                                                          : 2;
    const std::size_t middle = (from + to) / 2;
    const auto at = [&](std::size_t k) { return order_.begin() + static_cast<long>(k); };
    std::nth_element(at(from), at(middle), at(to), [&](std::uint32_t x, std::uint32_t y) {
      return boxes_[x].min[axis] + boxes_[x].max[axis] < boxes_[y].min[axis] + boxes_[y].max[axis];
    });
    const std::size_t left = build(from, middle);
    const std::size_t right = build(middle, to);
    nodes_[number].left = left;
    nodes_[number].right = right;
    return number;
  }
  static bool meet(const Box3& a, const Box3& b) {
    for (std::size_t c = 0; c < 3; ++c)
      if (a.min[c] > b.max[c] || b.min[c] > a.max[c]) return false;
    return true;
  }
  template <typename F>
  void within(std::size_t n, const F& visit) const {
    const Node& node = nodes_[n];
    if (node.left == 0) {
      for (std::size_t a = node.from; a < node.to; ++a)
        for (std::size_t b = a + 1; b < node.to; ++b)
          if (meet(boxes_[order_[a]], boxes_[order_[b]])) visit(order_[a], order_[b]);
      return;
    }
    within(node.left, visit);
    within(node.right, visit);
    between(node.left, node.right, visit);
  }
  template <typename F>
  void between(std::size_t x, std::size_t y, const F& visit) const {
    const Node& a = nodes_[x];
    const Node& b = nodes_[y];
    if (!meet(a.box, b.box)) return;
    if (a.left == 0 && b.left == 0) {
      for (std::size_t i = a.from; i < a.to; ++i)
        for (std::size_t j = b.from; j < b.to; ++j)
          if (meet(boxes_[order_[i]], boxes_[order_[j]])) visit(order_[i], order_[j]);
      return;
    }
    const bool split_a = a.left != 0 && (b.left == 0 || a.to - a.from >= b.to - b.from);
    if (split_a) {
      between(a.left, y, visit);
      between(a.right, y, visit);
    } else {
      between(x, b.left, visit);
      between(x, b.right, visit);
    }
  }
  std::vector<Box3> boxes_;
  std::vector<std::uint32_t> order_;
  std::vector<Node> nodes_;
};

}  // namespace

std::vector<Crossing> crossings(const Form& form, std::size_t most_triangles, Progress& progress) {
  const TriangleMesh mesh = limit_within(form, 2e-4 * size(form), most_triangles, progress);
  // Vertices of both sides of a crease are one place: told apart they would seem to cross.
  std::map<std::array<double, 3>, std::uint32_t> places;
  std::vector<std::uint32_t> place;
  for (const Vec3& p : mesh.points)
    place.push_back(places.try_emplace({p.x, p.y, p.z}, static_cast<std::uint32_t>(places.size()))
                        .first->second);
  std::vector<Box3> boxes(mesh.triangles.size());
  for (std::size_t t = 0; t < boxes.size(); ++t)
    for (const std::uint32_t v : mesh.triangles[t]) boxes[t].add(mesh.points[v]);
  const auto corners = [&](std::uint32_t t) {
    const auto& v = mesh.triangles[t];
    return Corners{mesh.points[v[0]], mesh.points[v[1]], mesh.points[v[2]]};
  };
  const auto neighbours = [&](std::uint32_t a, std::uint32_t b) {
    for (const std::uint32_t x : mesh.triangles[a])
      for (const std::uint32_t y : mesh.triangles[b])
        if (place[x] == place[y]) return true;
    return false;
  };
  std::map<std::pair<std::uint32_t, std::uint32_t>, Crossing> found;
  std::size_t seen = 0;
  BoxTree(std::move(boxes)).for_each_pair([&](std::uint32_t a, std::uint32_t b) {
    if (++seen % 4096 == 0) progress.check();
    if (neighbours(a, b)) return;
    const auto piece = common_piece(corners(a), corners(b));
    if (!piece) return;
    std::uint32_t fa = *face_of_triangle(form, mesh.triangles.size(), a);
    std::uint32_t fb = *face_of_triangle(form, mesh.triangles.size(), b);
    if (fa > fb) std::swap(fa, fb);
    Crossing& c = found[{fa, fb}];
    c.face_a = form.faces[fa].tag;
    c.face_b = form.faces[fb].tag;
    c.length += distance((*piece)[0], (*piece)[1]);
    c.pieces.push_back(*piece);
  });
  std::vector<Crossing> result;
  for (auto& [faces, c] : found) {
    const Segment& middle = c.pieces[c.pieces.size() / 2];
    c.at = (middle[0] + middle[1]) * 0.5;
    result.push_back(std::move(c));
  }
  std::stable_sort(result.begin(), result.end(),
                   [](const Crossing& a, const Crossing& b) { return a.length > b.length; });
  return result;
}

Form crossings_pulled_in(const Form& form, double share, int passes, Progress& progress) {
  constexpr std::size_t kTriangles = 60'000;
  Form now = linked(form);
  const FormTopology& t = now.links->topology;
  const std::map<Tag, std::uint32_t> by_tag = faces_by_tag(now);
  for (int pass = 0; pass < passes; ++pass) {
    std::set<std::uint32_t> points;
    for (const Crossing& c : crossings(now, kTriangles, progress))
      for (const Tag tag : {c.face_a, c.face_b}) {
        const auto& of_face = now.faces[by_tag.at(tag)].points;
        points.insert(of_face.begin(), of_face.end());
      }
    if (points.empty()) break;
    const std::vector<Vec3> before = now.points;
    for (const std::uint32_t p : points) {
      Vec3 mean;
      bool fixed = false;
      for (const std::uint32_t e : t.edges_of_point[p]) {
        const FormEdge& ends = t.edges[e].points;
        fixed = fixed || t.edges[e].border() || now.crease(ends[0], ends[1]) > 0.0;
        mean += before[ends[0] == p ? ends[1] : ends[0]];
      }
      if (fixed) continue;
      mean = mean / static_cast<double>(t.edges_of_point[p].size());
      now.points[p] = before[p] + (mean - before[p]) * share;
    }
  }
  return now;
}

}  // namespace evenclay
