// Which points lie near a place.
#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <span>
#include <vector>

#include "core/base/vec3.h"

namespace evenclay {

struct NearPoint {
  std::uint32_t index = 0;
  double distance = 0.0;  ///< mm
};

/// A k-d tree over points (nanoflann), which are copied. Thread-safe after construction.
class PointTree {
 public:
  explicit PointTree(std::span<const Vec3> points);
  ~PointTree();
  PointTree(PointTree&&) noexcept;

  std::size_t size() const;
  std::optional<NearPoint> nearest(const Vec3& q) const;
  /// The `count` nearest ones, the nearest first.
  void nearest(const Vec3& q, std::size_t count, std::vector<NearPoint>& out) const;
  /// All within `reach`, in no order.
  void within(const Vec3& q, double reach, std::vector<NearPoint>& out) const;

 private:
  struct Impl;
  std::unique_ptr<const Impl> impl_;
};

}  // namespace evenclay
