#pragma once

#include <array>

#include "core/operations/common.h"
#include "core/points/shaping.h"

namespace evenclay {

/// Which way a fitted surface lies.
enum class FitOff { BestFit, X, Y, Z, Direction };
enum class FitBy { Counts, Tolerance };

/// A4: a surface of chosen grid through a scan. See core/scan/fit_scan.h.
class FitSurfaceOperation : public OperationOf<FitSurfaceOperation> {
 public:
  FitBy by = FitBy::Counts;
  int points_u = 8, points_v = 6, degree_u = 3, degree_v = 3;
  double tolerance = 0.5, smoothing = 20.0;
  FitOff off = FitOff::BestFit;
  Vec3 direction{0, 0, 1};
  PartRef follow;
  double turn = 0.0, margin = 0.0;
  bool flip = false, leave_out_stray = true;
  int corrections = 3;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "fit_surface",
        .label = "Fit surface",
        .help = "A smooth surface of chosen grid through a scan, with its deviation measured.",
        .stage = Stage::Source,
        .group = "Scans",
        .icon = "layers",
        .takes = kMesh | kPoints,
        .hint =
            "Watch the deviation below while you change counts, degree and smoothing; Enter "
            "keeps."};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Control points by their place in the grid: "2,3 4,5".
class PointAddresses : public DataParameter {
 public:
  static constexpr std::size_t kMost = 10000;
  std::vector<std::array<int, 2>> points;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
  std::optional<std::string> typed() const override;
  /// A sign for each point of a grid. Throws Error when one is not in it.
  std::vector<char> signs(int rows, int columns) const;
  void take(const std::vector<std::array<int, 4>>& picked);

 private:
  std::string text() const;
};

/// A4: a surface that was shaped since, brought to the scan again with points held.
class FitAgainOperation : public OperationOf<FitAgainOperation> {
 public:
  PartRef scan;
  double smoothing = 20.0, reach = 3.0;
  int rows = 0;
  PointAddresses held;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "fit_again",
        .label = "Fit again",
        .help =
            "Brings a shaped surface to a scan again; picked control points stay where they are.",
        .stage = Stage::Source,
        .group = "Scans",
        .icon = "refresh-cw",
        .takes = kBody,
        .hint = "Picked control points stay; choose the scan on the right. Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// H11: wobbles taken out within a tolerance. See core/grid/fair.h.
class FairOperation : public OperationOf<FairOperation> {
 public:
  double tolerance = 0.05, shorter_than = 30.0;
  std::array<EdgeRule, 4> holds{EdgeRule::Position, EdgeRule::Position, EdgeRule::Position,
                                EdgeRule::Position};
  PointAddresses held;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "fair",
                                         .label = "Fair",
                                         .help =
                                             "Takes short waves out of surfaces or curves; no "
                                             "place moves farther than the tolerance.",
                                         .stage = Stage::Shaped,
                                         .group = "Order",
                                         .icon = "activity",
                                         .takes = kBody | kCurves,
                                         .hint =
                                             "Picked control points stay; set the tolerance and "
                                             "the length of the waves. Enter keeps."};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
