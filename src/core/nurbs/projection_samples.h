// What the closest-point search keeps of a surface beside its tree: samples, how far the surface strays
// from each, and how far the rest of it stays away. Part of projection.cpp.
#pragma once

#include <array>
#include <functional>
#include <vector>

#include "core/base/frame.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// Samples of a surface in rows; those of u outer.
struct SurfaceSamples {
  std::vector<Vec3> points;
  std::vector<Parameter> at;
  std::vector<std::array<int, 2>> row;  ///< of each sample along u and v
  std::vector<float> reach;  ///< how far the surface strays from the nearest sample, about (mm)
  int rows_u = 0, rows_v = 0;
  // The interface nanoflann asks for.
  std::size_t kdtree_get_point_count() const { return points.size(); }
  double kdtree_get_pt(std::size_t i, std::size_t axis) const { return points[i][axis]; }
  template <typename Box>
  bool kdtree_get_bbox(Box&) const {
    return false;
  }
  /// Those that are accepted; all of them when none is.
  void keep_only(const std::function<bool(Parameter)>& keep);
};

/// At the places us × vs.
SurfaceSamples sampled(const SurfaceEvaluator& evaluator, const std::vector<double>& us,
                       const std::vector<double>& vs);

/// How far the rest of the surface stays away from each block of samples: what is beside a block, one
/// block in each direction, counts as its own. Where an answer is nearer than that, nothing else can be.
class SampleClearance {
 public:
  SampleClearance() = default;
  /// Of all samples, in rows; whether rows go round.
  SampleClearance(const SurfaceSamples& samples, bool round_u, bool round_v);
  /// mm, of the block that holds a sample's row.
  double of(const std::array<int, 2>& row) const {
    return clear_[static_cast<std::size_t>((row[0] / step_u_) * columns_ + row[1] / step_v_)];
  }

 private:
  Box3 box_of(const SurfaceSamples& s, int i, int j, bool round_u, bool round_v) const;
  std::vector<double> clear_;
  int step_u_ = 1, step_v_ = 1, columns_ = 1;
};

}  // namespace evenclay
