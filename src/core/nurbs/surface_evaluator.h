// Fast evaluation of many points of one surface.
#pragma once

#include <array>
#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/kernels.h"
#include "core/nurbs/surface.h"

namespace evenclay {

struct Parameter {
  double u = 0.0;
  double v = 0.0;
  bool operator==(const Parameter&) const = default;
};

struct PointTangents {
  Vec3 p, du, dv;
};
struct PointSecond {
  Vec3 p, du, dv, duu, duv, dvv;
};

/// Samples of a parameter grid as separate planes of numbers; sample (i, j) is at i * columns + j.
template <typename T>
struct GridSamples {
  std::size_t rows = 0;
  std::size_t columns = 0;
  std::array<std::vector<T>, 3> p, du, dv;
};

/// A surface prepared for evaluation: basis functions per knot interval as polynomials (no
/// division, no recursion) and homogeneous points in four lanes. Copies what it needs, so it may
/// outlive the surface. Preparing costs about as much as evaluating a few hundred points.
/// Thread-safe after construction. Agrees with evaluate() to 1e-13 relative.
class SurfaceEvaluator {
 public:
  explicit SurfaceEvaluator(const Surface& surface, const kernels::Table& table = kernels::best());
  SurfaceEvaluator(SurfaceEvaluator&&) noexcept = default;
  SurfaceEvaluator& operator=(SurfaceEvaluator&&) noexcept = default;

  /// Position and derivatives at scattered places; out has the size of `at`. Runs on the calling
  /// thread; parameters outside the domain are wrapped or cut.
  void points(std::span<const Parameter> at, std::span<Vec3> out) const;
  void tangents(std::span<const Parameter> at, std::span<PointTangents> out) const;
  void seconds(std::span<const Parameter> at, std::span<PointSecond> out) const;

  /// The vertices of a pattern at one u; see kernels.h. The outputs have room for run.count values.
  void flow(const kernels::FlowRun& run, std::span<Vec3> points, std::span<Vec3> normals,
            std::span<unsigned char> sound) const;

  Vec3 point(double u, double v) const;
  PointTangents tangents(double u, double v) const;
  PointSecond seconds(double u, double v) const;

  /// Position and first derivatives at us × vs (vs not decreasing), on all cores.
  /// Reuses the memory of `out`. Throws Cancelled.
  void grid(std::span<const double> us, std::span<const double> vs, GridSamples<double>& out,
            Progress& progress) const;
  void grid(std::span<const double> us, std::span<const double> vs, GridSamples<float>& out,
            Progress& progress) const;

 private:
  struct DirectionData {
    std::vector<double> breaks, middles, coefficients;
    std::vector<int> first_point, buckets;
    FlatKnots flat;
    kernels::Direction view(const KnotVector& knots) const;
  };
  static DirectionData prepare(const KnotVector& knots);
  kernels::Net make_net() const;
  template <typename T>
  void grid_of(std::span<const double> us, std::span<const double> vs, GridSamples<T>& out,
               Progress& progress, kernels::GridFn<T> fn) const;

  KnotVector u_, v_;
  DirectionData u_data_, v_data_;
  std::vector<double> points_;
  bool rational_ = false;
  const kernels::Table* table_;
  kernels::Net net_{};  // points into the vectors above, whose memory moves along
};

/// True where du × dv gives a sound normal: not at a pole, where one of them is only rounding.
/// Lengths of the domain make the two comparable.
bool has_sound_normal(const Vec3& du, const Vec3& dv, double domain_u, double domain_v);

}  // namespace evenclay
