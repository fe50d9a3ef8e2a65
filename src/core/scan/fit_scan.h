// A surface of chosen grid through a scan.
#pragma once

#include <span>
#include <vector>

#include "core/base/progress.h"
#include "core/nurbs/surface_evaluator.h"

namespace evenclay {

/// The middle of the points, z along their least spread and x along the greatest (principal components: K. Pearson, On
/// lines and planes of closest fit, 1901). z is turned to the mean of the normals, or up when there are none. Throws
/// Error when the points lie in one line.
Frame best_frame(std::span<const Vec3> points, std::span<const Vec3> normals);
/// z along `off` (with length); x along `along` as far as it lies across z, or along the greatest spread there when `along`
/// is no direction. Throws Error when `off` has no length.
Frame frame_facing(std::span<const Vec3> points, const Vec3& off, const Vec3& along);

/// What is taken from a scan: places in mm, finite.
struct ScanFitPlan {
  Frame frame;  ///< u runs along x, v along y, the surface's outside is z
  int points_u = 8, points_v = 6;
  int degree_u = 3, degree_v = 3;
  double smoothing = 0.2;  ///< 0..1: from hardly any to more bending energy than nearness
  double margin =
      0.0;  ///< mm that the surface reaches beyond the scan at every side, or stays within it
  bool leave_out_stray = true;
  int corrections = 3;  ///< rounds in which the parameters follow the surface, 0..20
};

struct ScanFit {
  Surface surface;  ///< over 0..1 × 0..1
  /// Signed distances of all points, mm, positive outside; and those taken for stray (empty: none).
  std::vector<double> off;
  std::vector<char> stray;
  std::size_t strays = 0;
  double max = 0.0, mean = 0.0, percentile95 = 0.0;  ///< mm, without stray points
  Vec3 at;                                           ///< of the greatest
  double seen = 1.0;  ///< share of the surface over which there are points
};

/// Least squares with a thin-plate share (scattered_fit.h): parameters first by projection along the frame's z, then by
/// closest points of the surface that was found. Stray points stand off their neighbours by more than ten times the spread of all
/// (Tukey's biweight: P. Huber, Robust statistics, 1981, section 4.8). Where there are no points the surface bends as little as
/// it can. A million points are corrected on a tenth of them, chosen by their places, and fitted all at the end; the order
/// of the points does not matter to 1e-9 of the size. Memory: about 100 bytes a point.
/// Throws Error when there are fewer points than control points, the points have no extent along x or y, or counts are
/// out of range; Cancelled.
ScanFit fit_scan(std::span<const Vec3> points, const ScanFitPlan& plan, Progress& progress);

/// The fewest control points (up to `most` a direction) with which 95 % of the points lie within `tolerance`, found by adding where it
/// helps more. Throws Error with the nearest that was reached when there is no such grid; Cancelled.
ScanFit fit_scan_within(std::span<const Vec3> points, ScanFitPlan plan, double tolerance, int most,
                        Progress& progress);

/// A surface that was changed by hand since, brought to the scan again: control points in `held` (a sign for each, in the order
/// of the grid) stay; smoothing resists the change, not the form. Throws like fit_scan.
ScanFit fit_again(const Surface& surface, std::span<const Vec3> points,
                  const std::vector<char>& held, double smoothing, double reach,
                  Progress& progress);

}  // namespace evenclay
