// Closest point of a surface.
// Source: seed by a k-d tree of surface samples, then damped Newton on the squared distance
// (The NURBS Book, section 6.1), kept inside the domain.
#pragma once

#include <functional>
#include <memory>
#include <span>
#include <vector>

#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

struct Projection {
  double u = 0.0;
  double v = 0.0;
  Vec3 point;
  double distance = 0.0;
};

/// A surface prepared for many closest-point questions. Thread-safe after construction.
/// The answer is the global minimum wherever the nearest of the samples (at least
/// `samples_per_span` in each span and direction) lies in its basin; distances agree with brute
/// force to 1e-9 × size.
class SurfaceProjector {
 public:
  /// 0 samples a span prepares closest_near() only, which takes hardly any time. Only samples that
  /// `keep` accepts are seeds (all when it is empty); when it accepts none, all are.
  explicit SurfaceProjector(const Surface& surface, int samples_per_span = 9,
                            const std::function<bool(Parameter)>& keep = {});
  ~SurfaceProjector();
  SurfaceProjector(SurfaceProjector&&) noexcept;
  SurfaceProjector& operator=(SurfaceProjector&&) noexcept;

  Projection closest(const Vec3& q) const;
  /// The same, or one at an infinite distance when it is surely farther away than `bound`.
  Projection closest_within(const Vec3& q, double bound) const;
  /// The foot that Newton's method finds from a seed: the closest point when the seed is near it.
  Projection closest_near(const Vec3& q, const Parameter& seed) const;
  /// All at once, on all cores; out has the size of q. Throws Cancelled.
  void closest(std::span<const Vec3> q, std::span<Projection> out, Progress& progress) const;

  const SurfaceEvaluator& evaluator() const;

 private:
  struct Impl;
  std::unique_ptr<const Impl> impl_;
};

}  // namespace evenclay
