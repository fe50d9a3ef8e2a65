#include "core/mesh/point_cloud.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <queue>

#include "core/base/error.h"
#include "core/base/parallel.h"
#include "core/base/say.h"
#include "core/mesh/point_tree.h"

namespace evenclay {

void check(const PointCloud& cloud) {
  if (!cloud.normals.empty() && cloud.normals.size() != cloud.points.size())
    throw Error(
        say("The scan has normals for some of its points only. Save it with all or with none."));
  for (const Vec3& p : cloud.points)
    if (!(std::isfinite(p.x) && std::isfinite(p.y) && std::isfinite(p.z)))
      throw Error(
          say("A point of the scan is not a number. Leave it out and read the scan again."));
}

Box3 box(const PointCloud& cloud) {
  Box3 b;
  for (const Vec3& p : cloud.points) b.add(p);
  return b;
}

double spacing(std::span<const Vec3> points) {
  if (points.size() < 2) return 0.0;
  const PointTree tree(points);
  const std::size_t step = std::max<std::size_t>(1, points.size() / 1000);
  std::vector<double> gaps;
  std::vector<NearPoint> near;
  for (std::size_t k = 0; k < points.size(); k += step) {
    tree.nearest(points[k], 2, near);
    if (near.size() == 2) gaps.push_back(near[1].distance);
  }
  const auto middle = gaps.begin() + static_cast<std::ptrdiff_t>(gaps.size() / 2);
  std::nth_element(gaps.begin(), middle, gaps.end());
  return *middle;
}

namespace {

// Across the plane through the places, unit; up when they say nothing.
Vec3 across(std::span<const Vec3> points, const std::vector<NearPoint>& near) {
  Vec3 middle;
  for (const NearPoint& n : near) middle += points[n.index];
  middle = middle / static_cast<double>(near.size());
  Eigen::Matrix3d spread = Eigen::Matrix3d::Zero();
  for (const NearPoint& n : near) {
    const Vec3 d = points[n.index] - middle;
    const Eigen::Vector3d e(d.x, d.y, d.z);
    spread += e * e.transpose();
  }
  const Eigen::Vector3d least =
      Eigen::SelfAdjointEigenSolver<Eigen::Matrix3d>(spread).eigenvectors().col(0);
  return {least.x(), least.y(), least.z()};
}

// From a point whose side is known to its neighbours, the most parallel ones first.
void agree(std::span<const std::vector<std::uint32_t>> near, std::vector<Vec3>& normals) {
  struct Way {
    double bend;
    std::uint32_t from, to;
    bool operator<(const Way& o) const { return bend > o.bend; }
  };
  std::vector<char> done(normals.size(), 0);
  for (std::uint32_t start = 0; start < normals.size(); ++start) {
    if (done[start] != 0) continue;
    std::vector<std::uint32_t> island{start};
    std::priority_queue<Way> ways;
    const auto reach = [&](std::uint32_t p) {
      done[p] = 1;
      for (const std::uint32_t q : near[p])
        if (done[q] == 0) ways.push({1.0 - std::abs(dot(normals[p], normals[q])), p, q});
    };
    reach(start);
    double up = normals[start].z;
    while (!ways.empty()) {
      const Way w = ways.top();
      ways.pop();
      if (done[w.to] != 0) continue;
      if (dot(normals[w.from], normals[w.to]) < 0.0) normals[w.to] = -normals[w.to];
      island.push_back(w.to);
      up += normals[w.to].z;
      reach(w.to);
    }
    if (up < 0.0)
      for (const std::uint32_t p : island) normals[p] = -normals[p];
  }
}

}  // namespace

std::vector<Vec3> normals_of(const PointCloud& cloud, std::size_t nearest) {
  if (!cloud.normals.empty()) return cloud.normals;
  const PointTree tree(cloud.points);
  std::vector<Vec3> normals(cloud.points.size(), Vec3{0, 0, 1});
  std::vector<std::vector<std::uint32_t>> near(cloud.points.size());
  Progress quiet;
  parallel_blocks(normals.size(), 512, quiet, [&](std::size_t begin, std::size_t end) {
    std::vector<NearPoint> found;
    for (std::size_t k = begin; k < end; ++k) {
      tree.nearest(cloud.points[k], nearest + 1, found);
      if (found.size() < 3) continue;
      normals[k] = across(cloud.points, found);
      for (const NearPoint& n : found)
        if (n.index != k) near[k].push_back(n.index);
    }
  });
  agree(near, normals);
  return normals;
}

}  // namespace evenclay
