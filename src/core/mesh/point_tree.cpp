#include "core/mesh/point_tree.h"

#include <nanoflann.hpp>

#include <cmath>

namespace evenclay {

namespace {

struct Places {
  std::vector<Vec3> points;
  std::size_t kdtree_get_point_count() const { return points.size(); }
  double kdtree_get_pt(std::uint32_t index, std::size_t axis) const { return points[index][axis]; }
  template <class Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
};

using Tree = nanoflann::KDTreeSingleIndexAdaptor<nanoflann::L2_Simple_Adaptor<double, Places>,
                                                 Places, 3, std::uint32_t>;

}  // namespace

struct PointTree::Impl {
  Places places;
  std::unique_ptr<Tree> tree;
};

PointTree::PointTree(std::span<const Vec3> points) {
  auto impl = std::make_unique<Impl>();
  impl->places.points.assign(points.begin(), points.end());
  impl->tree =
      std::make_unique<Tree>(3, impl->places, nanoflann::KDTreeSingleIndexAdaptorParams(12));
  impl->tree->buildIndex();
  impl_ = std::move(impl);
}
PointTree::~PointTree() = default;
PointTree::PointTree(PointTree&&) noexcept = default;

std::size_t PointTree::size() const {
  return impl_->places.points.size();
}

void PointTree::nearest(const Vec3& q, std::size_t count, std::vector<NearPoint>& out) const {
  count = std::min(count, size());
  out.resize(count);
  if (count == 0) return;
  std::vector<std::uint32_t> indices(count);
  std::vector<double> squares(count);
  const double at[] = {q.x, q.y, q.z};
  const std::size_t found = impl_->tree->knnSearch(at, count, indices.data(), squares.data());
  out.resize(found);
  for (std::size_t k = 0; k < found; ++k) out[k] = {indices[k], std::sqrt(squares[k])};
}

std::optional<NearPoint> PointTree::nearest(const Vec3& q) const {
  if (size() == 0) return std::nullopt;
  std::uint32_t index = 0;
  double square = 0.0;
  const double at[] = {q.x, q.y, q.z};
  if (impl_->tree->knnSearch(at, 1, &index, &square) == 0) return std::nullopt;
  return NearPoint{index, std::sqrt(square)};
}

void PointTree::within(const Vec3& q, double reach, std::vector<NearPoint>& out) const {
  out.clear();
  if (size() == 0) return;
  std::vector<std::pair<std::uint32_t, double>> found;
  nanoflann::SearchParams parameters;
  parameters.sorted = false;
  const double at[] = {q.x, q.y, q.z};
  impl_->tree->radiusSearch(at, reach * reach, found, parameters);
  out.reserve(found.size());
  for (const auto& [index, square] : found) out.push_back({index, std::sqrt(square)});
}

}  // namespace evenclay
