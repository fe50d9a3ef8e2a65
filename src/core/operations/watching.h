// Measuring one part against another, whatever both are made of.
#pragma once

#include <memory>
#include <vector>

#include "core/check/watch.h"
#include "core/document/evaluator.h"

namespace evenclay {

/// Points and open meshes are measurements: what they do not show is not judged.
bool is_scan(const Shape& shape);

/// The points of a scan; of a mesh its vertices.
std::vector<Vec3> scan_points(const Shape& shape);

/// What was measured where.
struct WatchPlaces {
  std::vector<Vec3> at;
  std::vector<double>
      off;  ///< mm, positive where the part lies outside what it is measured against …
  double spacing = 0.0;  ///< mm between neighbouring places
  bool of_scan = false;  ///< … and of a scan, where its points lie outside the part
};

/// Places of `shape` against `against`: points of a scan on either side against the other one; curves at 64 places a span against
/// surfaces and meshes, or against curves (unsigned); else about `places` of them spread evenly over `shape`, on its surfaces
/// exactly. Throws Error when one has nothing to measure, Cancelled.
WatchPlaces watch_places(const Shape& shape, const Shape& against, Progress& progress,
                         std::size_t places = 20'000);

/// … as numbers.
WatchReport watched(const Shape& shape, const Shape& against, double band, Progress& progress);

/// What a part is watched against, computed; null when it is watched against nothing, or that is gone. Throws Cancelled.
ShapePtr watched_shape(const Document& document, const Part& part, Evaluator& evaluator,
                       Progress& progress);

/// "Part=Other", "Part=Other/Step" or "Part=" (nothing any more), with " within 0.5" behind it for the band in mm; a step by its name or
/// its place from 1. Throws Error with what is there when something is not found.
Document with_watch_words(const Document& document, std::string_view words);
/// "draft=2", "pull=0,0,1". Throws Error with the names when there is no such limit.
Document with_limit_words(const Document& document, std::string_view words);

/// Scans that are watched again and again while the part moves. Not thread-safe.
class Watcher {
 public:
  struct Answer {
    std::shared_ptr<const WatchReport> report;
    std::shared_ptr<const WatchPlaces> places;
  };
  /// Kept while both shapes and the band are the same; `quick` while the hand moves the part. Throws as watch_places() does.
  const Answer& measure(const ShapePtr& shape, const ShapePtr& against, double band, bool quick,
                        Progress& progress);

 private:
  std::unique_ptr<ScanWatch> scan_;
  ShapePtr shape_, against_, scan_of_;
  double band_ = 0.0, spacing_ = 0.0;
  bool quick_ = false;
  Answer answer_;
};

}  // namespace evenclay
