#include "core/scan/clip.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>
#include <limits>
#include <numbers>
#include <optional>
#include <unordered_map>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/base/union_find.h"
#include "core/mesh/point_tree.h"

namespace evenclay {

namespace {

constexpr std::size_t kMostPlaces = 10'000;

// 0 only when all places lie in one line.
double spread_of(const std::vector<Vec3>& outline) {
  double sum = 0.0;
  for (std::size_t k = 1; k + 1 < outline.size(); ++k) {
    const Vec3 a = outline[k] - outline[0], b = outline[k + 1] - outline[0];
    sum += std::abs(a.x * b.y - b.x * a.y);
  }
  return sum;
}

// Onto the plane of the view; the depth towards the eye stays, and is −1e300 behind the eye.
Vec3 seen_at(const Lasso& l, const Vec3& p) {
  const Vec3 q = l.view.to_local(p);
  if (l.eye <= 0.0) return q;
  const double before = l.eye - q.z;
  if (before < 1e-6 * l.eye) return {0.0, 0.0, -1e300};
  const double scale = l.eye / before;
  return {q.x * scale, q.y * scale, q.z};
}

// Whether places lie inside an outline, by the edges that cross the strip they lie in.
class Outline {
 public:
  explicit Outline(const std::vector<Vec3>& places) {
    for (const Vec3& p : places) {
      box_.add(Vec3{p.x, p.y, 0.0});
    }
    step_ = std::max((box_.max.y - box_.min.y) / kStrips, 1e-12);
    strips_.resize(kStrips);
    for (std::size_t k = 0; k < places.size(); ++k) {
      const Vec3 &a = places[k], &b = places[(k + 1) % places.size()];
      if (a.y == b.y) continue;
      const Side side{a.x, a.y, b.x, b.y};
      const std::size_t first = strip(std::min(a.y, b.y)), last = strip(std::max(a.y, b.y));
      for (std::size_t s = first; s <= last; ++s) strips_[s].push_back(side);
    }
  }
  bool contains(double x, double y) const {
    if (!(x >= box_.min.x && x <= box_.max.x && y >= box_.min.y && y <= box_.max.y)) return false;
    bool inside = false;
    for (const Side& s : strips_[strip(y)])
      if ((s.ay > y) != (s.by > y) && x < s.ax + (y - s.ay) / (s.by - s.ay) * (s.bx - s.ax))
        inside = !inside;
    return inside;
  }

 private:
  struct Side {
    double ax, ay, bx, by;
  };
  static constexpr std::size_t kStrips = 256;
  std::size_t strip(double y) const {
    const double s = (y - box_.min.y) / step_;
    return static_cast<std::size_t>(std::clamp(s, 0.0, static_cast<double>(kStrips - 1)));
  }
  Box3 box_;
  double step_ = 1.0;
  std::vector<std::vector<Side>> strips_;
};

// The picture of a scan: the depth nearest to the eye in each cell over the outline's box.
class Depths {
 public:
  explicit Depths(const Box3& box) {
    const double wide = box.max.x - box.min.x, high = box.max.y - box.min.y;
    cell_ = std::max({wide, high, 1e-9}) / (kCells - 4);
    corner_ = {box.min.x - 2 * cell_, box.min.y - 2 * cell_, 0.0};
    depth_.assign(kCells * kCells, -std::numeric_limits<float>::max());
  }
  double cell() const { return cell_; }
  void point(const Vec3& q, int around) {
    const int x = column(q.x), y = column_of_y(q.y);
    for (int j = y - around; j <= y + around; ++j)
      for (int i = x - around; i <= x + around; ++i) put(i, j, q.z);
  }
  // Every cell whose middle lies in the triangle, and the corners' own.
  void triangle(const Vec3& a, const Vec3& b, const Vec3& c) {
    const double area = (b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y);
    for (const Vec3& q : {a, b, c}) put(column(q.x), column_of_y(q.y), q.z);
    if (std::abs(area) < 1e-12 * cell_ * cell_) return;
    const int x0 = std::max(0, column(std::min({a.x, b.x, c.x}))),
              x1 = std::min(kCells - 1, column(std::max({a.x, b.x, c.x})));
    const int y0 = std::max(0, column_of_y(std::min({a.y, b.y, c.y}))),
              y1 = std::min(kCells - 1, column_of_y(std::max({a.y, b.y, c.y})));
    if (x1 - x0 < 2 && y1 - y0 < 2) {
      for (int j = y0; j <= y1; ++j)
        for (int i = x0; i <= x1; ++i) put(i, j, std::min({a.z, b.z, c.z}));
      return;
    }
    for (int j = y0; j <= y1; ++j)
      for (int i = x0; i <= x1; ++i) {
        const double x = corner_.x + (i + 0.5) * cell_, y = corner_.y + (j + 0.5) * cell_;
        const double wb = ((x - a.x) * (c.y - a.y) - (c.x - a.x) * (y - a.y)) / area;
        const double wc = ((b.x - a.x) * (y - a.y) - (x - a.x) * (b.y - a.y)) / area;
        if (wb < -1e-9 || wc < -1e-9 || wb + wc > 1.0 + 1e-9) continue;
        put(i, j, a.z + wb * (b.z - a.z) + wc * (c.z - a.z));
      }
  }
  // Nothing stands between the place and the eye by more than a slope of two cells a cell.
  bool visible(const Vec3& q, double slack) const {
    const int x = column(q.x), y = column_of_y(q.y);
    if (x < 0 || y < 0 || x >= kCells || y >= kCells) return false;
    return q.z >= static_cast<double>(
                      depth_[static_cast<std::size_t>(y) * kCells + static_cast<std::size_t>(x)]) -
                      slack;
  }

 private:
  static constexpr int kCells = 1024;
  int column(double x) const {
    return static_cast<int>(std::clamp((x - corner_.x) / cell_, -1.0, kCells + 1.0));
  }
  int column_of_y(double y) const {
    return static_cast<int>(std::clamp((y - corner_.y) / cell_, -1.0, kCells + 1.0));
  }
  void put(int x, int y, double z) {
    if (x < 0 || y < 0 || x >= kCells || y >= kCells) return;
    float& d = depth_[static_cast<std::size_t>(y) * kCells + static_cast<std::size_t>(x)];
    d = std::max(d, static_cast<float>(z));
  }
  double cell_ = 1.0;
  Vec3 corner_;
  std::vector<float> depth_;
};

Box3 box_of(const std::vector<Vec3>& outline) {
  Box3 b;
  for (const Vec3& p : outline) b.add(Vec3{p.x, p.y, 0.0});
  return b;
}

using Triangles = std::span<const std::array<std::uint32_t, 3>>;

Depths depths_of(const Lasso& lasso, std::span<const Vec3> points, Triangles triangles) {
  Depths depths(box_of(lasso.outline));
  if (triangles.empty()) {
    const double gap = spacing(points);
    const int around = std::clamp(static_cast<int>(std::ceil(1.5 * gap / depths.cell())), 0, 40);
    for (const Vec3& p : points) depths.point(seen_at(lasso, p), around);
    return depths;
  }
  for (const auto& t : triangles)
    depths.triangle(seen_at(lasso, points[t[0]]), seen_at(lasso, points[t[1]]),
                    seen_at(lasso, points[t[2]]));
  return depths;
}

// By the lassos alone, in their order.
std::vector<char> inside_of(std::span<const Vec3> points, Triangles triangles,
                            const std::vector<Lasso>& lassos, Progress& progress) {
  std::vector<char> kept(points.size(), lassos.empty() || lassos.front().remove ? 1 : 0);
  const double slack =
      lassos.empty()
          ? 0.0
          : 4.0 * spacing(points.subspan(0, std::min<std::size_t>(points.size(), 200'000)));
  for (const Lasso& l : lassos) {
    check(l);
    const Outline outline(l.outline);
    std::optional<Depths> depths;
    if (l.visible_only) depths.emplace(depths_of(l, points, triangles));
    parallel_blocks(points.size(), 16384, progress, [&](std::size_t begin, std::size_t end) {
      for (std::size_t k = begin; k < end; ++k) {
        const Vec3 q = seen_at(l, points[k]);
        if (q.z < -1e299 || !outline.contains(q.x, q.y)) continue;
        if (depths && !depths->visible(q, slack + 2.0 * depths->cell())) continue;
        kept[k] = l.remove ? 0 : 1;
      }
    });
  }
  return kept;
}

std::vector<std::array<std::uint32_t, 2>> open_edges(const TriangleMesh& mesh) {
  std::vector<std::uint64_t> halves;
  halves.reserve(mesh.triangles.size() * 3);
  for (const auto& t : mesh.triangles)
    for (std::size_t k = 0; k < 3; ++k) {
      const std::uint64_t a = t[k], b = t[(k + 1) % 3];
      halves.push_back(std::min(a, b) << 32 | std::max(a, b));
    }
  std::sort(halves.begin(), halves.end());
  std::vector<std::array<std::uint32_t, 2>> open;
  for (std::size_t k = 0; k < halves.size();) {
    std::size_t n = k + 1;
    while (n < halves.size() && halves[n] == halves[k]) ++n;
    if (n == k + 1)
      open.push_back(
          {static_cast<std::uint32_t>(halves[k] >> 32), static_cast<std::uint32_t>(halves[k])});
    k = n;
  }
  return open;
}

// What lies within `reach` of the places is not kept any more; how many those were.
std::size_t leave_out_near(std::span<const Vec3> border, double reach, std::span<const Vec3> points,
                           std::vector<char>& kept, Progress& progress) {
  if (border.empty()) return 0;
  const PointTree tree(border);
  std::atomic<std::size_t> left{0};
  parallel_blocks(points.size(), 4096, progress, [&](std::size_t begin, std::size_t end) {
    std::size_t here = 0;
    for (std::size_t k = begin; k < end; ++k)
      if (kept[k] != 0 && tree.nearest(points[k])->distance <= reach) {
        kept[k] = 0;
        ++here;
      }
    left += here;
  });
  return left;
}

// Closed runs of open edges of which a point is kept.
std::size_t borders_in(const std::vector<std::array<std::uint32_t, 2>>& open,
                       const std::vector<char>& kept) {
  std::unordered_map<std::uint32_t, std::uint32_t> number;
  for (const auto& e : open)
    for (const std::uint32_t p : e)
      number.try_emplace(p, static_cast<std::uint32_t>(number.size()));
  UnionFind runs(number.size());
  for (const auto& e : open) runs.join(number[e[0]], number[e[1]]);
  std::vector<char> counted(number.size(), 0);
  std::size_t count = 0;
  for (const auto& [point, n] : number) {
    if (kept[point] == 0) continue;
    char& c = counted[runs.root(n)];
    count += c == 0 ? 1 : 0;
    c = 1;
  }
  return count;
}

TriangleMesh with_kept(const TriangleMesh& scan, const std::vector<char>& kept) {
  TriangleMesh result;
  constexpr auto kNone = static_cast<std::uint32_t>(-1);
  std::vector<char> used(scan.points.size(), 0);
  for (const auto& t : scan.triangles)
    if (kept[t[0]] != 0 && kept[t[1]] != 0 && kept[t[2]] != 0)
      for (const std::uint32_t p : t) used[p] = 1;
  std::vector<std::uint32_t> number(scan.points.size(), kNone);
  for (std::size_t k = 0; k < scan.points.size(); ++k) {
    if (used[k] == 0) continue;
    number[k] = static_cast<std::uint32_t>(result.points.size());
    result.points.push_back(scan.points[k]);
    if (!scan.normals.empty()) result.normals.push_back(scan.normals[k]);
  }
  for (const auto& t : scan.triangles)
    if (kept[t[0]] != 0 && kept[t[1]] != 0 && kept[t[2]] != 0)
      result.triangles.push_back({number[t[0]], number[t[1]], number[t[2]]});
  return result;
}

std::size_t drop_small_pieces(const TriangleMesh& scan, double least, std::vector<char>& kept) {
  UnionFind pieces(scan.points.size());
  std::vector<std::size_t> triangles(scan.points.size(), 0);
  const auto whole = [&](const auto& t) {
    return kept[t[0]] != 0 && kept[t[1]] != 0 && kept[t[2]] != 0;
  };
  for (const auto& t : scan.triangles)
    if (whole(t)) {
      pieces.join(t[0], t[1]);
      pieces.join(t[0], t[2]);
    }
  std::size_t most = 0;
  for (const auto& t : scan.triangles)
    if (whole(t)) most = std::max(most, ++triangles[pieces.root(t[0])]);
  std::size_t dropped = 0;
  for (const std::size_t n : triangles)
    if (n > 0 && static_cast<double>(n) < least * static_cast<double>(most)) ++dropped;
  if (dropped > 0)
    for (std::uint32_t k = 0; k < kept.size(); ++k)
      if (static_cast<double>(triangles[pieces.root(k)]) < least * static_cast<double>(most))
        kept[k] = 0;
  return dropped;
}

void refuse_nothing(bool nothing, const ClipPlan& plan) {
  if (!nothing) return;
  throw Error(plan.border > 0.0
                  ? say("Nothing of the scan is left. Draw the line around more of it, "
                        "or leave out less along its borders.")
                  : say("Nothing of the scan is left. Draw the line around more of it."));
}

}  // namespace

void check(const Lasso& lasso) {
  if (lasso.outline.size() < 3 || lasso.outline.size() > kMostPlaces)
    throw Error(say("A line around a region needs 3 to {} places; this one has {}.", kMostPlaces,
                    lasso.outline.size()));
  for (const Vec3& p : lasso.outline)
    if (!is_finite(p)) throw Error(say("A place of the line around a region is not a number."));
  const Frame& f = lasso.view;
  const bool frame = std::abs(length(f.x) - 1.0) < 1e-6 && std::abs(length(f.y) - 1.0) < 1e-6 &&
                     length(cross(f.x, f.y) - f.z) < 1e-6;
  if (!frame || !is_finite(f.origin) || !std::isfinite(lasso.eye) || lasso.eye < 0.0)
    throw Error(
        say("The view in which a line around a region was drawn is not one that can be used."));
  if (!(spread_of(lasso.outline) > 0.0))
    throw Error(say("The line around a region has no area. Draw it around something."));
}

TriangleMesh clipped(const TriangleMesh& scan, const ClipPlan& plan, Progress& progress,
                     ClipReport* report) {
  std::vector<char> kept = inside_of(scan.points, scan.triangles, plan.lassos, progress);
  progress.report(0.4);
  ClipReport r;
  const std::vector<std::array<std::uint32_t, 2>> open = open_edges(scan);
  progress.report(0.6);
  r.borders = borders_in(open, kept);
  if (plan.border > 0.0) {
    std::vector<Vec3> border;
    for (const auto& e : open)
      for (const std::uint32_t p : e) border.push_back(scan.points[p]);
    r.torn = leave_out_near(border, plan.border, scan.points, kept, progress);
  }
  if (plan.least > 0.0) r.pieces = drop_small_pieces(scan, plan.least, kept);
  progress.report(0.8);
  TriangleMesh result = with_kept(scan, kept);
  refuse_nothing(result.triangles.empty(), plan);
  r.kept = result.points.size();
  if (report != nullptr) *report = r;
  return result;
}

std::vector<char> border_points(const PointCloud& cloud, double reach, Progress& progress) {
  std::vector<char> border(cloud.points.size(), 0);
  const std::vector<Vec3> normals = normals_of(cloud);
  const PointTree tree(cloud.points);
  parallel_blocks(border.size(), 512, progress, [&](std::size_t begin, std::size_t end) {
    std::vector<NearPoint> near;
    std::vector<double> angles;
    for (std::size_t k = begin; k < end; ++k) {
      tree.within(cloud.points[k], reach, near);
      const Vec3 side = std::abs(normals[k].x) < 0.8 ? Vec3{1, 0, 0} : Vec3{0, 1, 0};
      const Vec3 x = normalized(cross(side, normals[k])), y = cross(normals[k], x);
      angles.clear();
      for (const NearPoint& n : near) {
        const Vec3 d = cloud.points[n.index] - cloud.points[k];
        if (n.index != k) angles.push_back(std::atan2(dot(d, y), dot(d, x)));
      }
      std::sort(angles.begin(), angles.end());
      double gap = angles.empty() ? 10.0 : angles.front() + 2.0 * std::numbers::pi - angles.back();
      for (std::size_t a = 0; a + 1 < angles.size(); ++a)
        gap = std::max(gap, angles[a + 1] - angles[a]);
      border[k] = gap > 2.0 * std::numbers::pi / 3.0 ? 1 : 0;
    }
  });
  return border;
}

PointCloud clipped(const PointCloud& scan, const ClipPlan& plan, Progress& progress,
                   ClipReport* report) {
  std::vector<char> kept = inside_of(scan.points, {}, plan.lassos, progress);
  ClipReport r;
  if (plan.border > 0.0) {
    const std::vector<char> at = border_points(scan, 3.5 * spacing(scan.points), progress);
    std::vector<Vec3> border;
    for (std::size_t k = 0; k < at.size(); ++k)
      if (at[k] != 0) border.push_back(scan.points[k]);
    r.torn = leave_out_near(border, plan.border, scan.points, kept, progress);
  }
  PointCloud result;
  for (std::size_t k = 0; k < kept.size(); ++k) {
    if (kept[k] == 0) continue;
    result.points.push_back(scan.points[k]);
    if (!scan.normals.empty()) result.normals.push_back(scan.normals[k]);
  }
  refuse_nothing(result.points.empty(), plan);
  r.kept = result.points.size();
  if (report != nullptr) *report = r;
  return result;
}

}  // namespace evenclay
