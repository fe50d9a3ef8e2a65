// How far a part is from what it is watched against.
#pragma once

#include <array>
#include <memory>
#include <span>
#include <string>
#include <vector>

#include "core/check/measures.h"
#include "core/mesh/point_cloud.h"

namespace evenclay {

/// A place that stands out: more than the reach away from those named before it.
struct WorstPlace {
  Vec3 at;
  double off = 0.0;  ///< mm, positive outside
};

/// The signed distances of measured places. Of a scan they go from its points to the part, so that what the scan does
/// not show is not judged; of other shapes from the part's samples to them and back.
struct WatchReport {
  std::string name = {};  ///< of what it is measured against
  double band = 0.0;      ///< mm
  std::size_t places = 0;
  double max = 0.0, mean = 0.0, percentile95 = 0.0;  ///< of the sizes, mm
  double bias = 0.0;                                 ///< mean of the signed distances, mm
  double inside = 0.0;                               ///< share of the places within the band, 0..1
  std::vector<WorstPlace> worst = {};                ///< at most five, the greatest first
  /// Shares of the places in 40 equal steps from −2 to 2 bands, and what lies below and above them.
  std::array<double, 42> histogram{};
};

/// From signed distances at places; `reach` (mm) keeps the worst places apart. Throws Error when there are none or
/// the band is not above 0.
WatchReport watch_report(std::span<const Vec3> places, std::span<const double> off, double band,
                         double reach);

/// The points of a scan against a part, prepared so that the part may move: each point keeps its foot on the part, and
/// the next foot is looked for from there. Not thread-safe; measures on all cores.
class ScanWatch {
 public:
  explicit ScanWatch(std::vector<Vec3> points);
  ~ScanWatch();
  ScanWatch(ScanWatch&&) noexcept;

  /// Signed distances of all points, positive on the part's outside. When the body has the same number of faces with the same
  /// domains as the last one and `quick`, one step of Newton's method from the last feet (their distances are right to
  /// second order in the step); else closest points anew. Throws Error when the body is empty, Cancelled.
  const std::vector<double>& measure(const Body& body, bool quick, Progress& progress);
  const std::vector<Vec3>& points() const;

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

}  // namespace evenclay
