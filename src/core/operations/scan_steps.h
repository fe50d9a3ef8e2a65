#pragma once

#include "core/operations/offers.h"
#include "core/stand_ins/scanner.h"

namespace evenclay {

/// From where a scan is taken.
enum class ScannedFrom { Above, Below, Front, Back, Left, Right, View };
enum class ScanResult { Triangles, Points };

/// K1: what a scanner would see of a part, or of the clay model that ships. See core/stand_ins/scanner.h.
class PracticeScannerOperation : public OperationOf<PracticeScannerOperation> {
 public:
  PartRef of;     ///< empty: the palm rest …
  Vec3 centre{};  ///< … standing here
  ScanResult result = ScanResult::Triangles;
  ScannedFrom from = ScannedFrom::Above;
  Vec3 view{0, -1, 1};
  int passes = 1;
  double turn = 120.0, resolution = 0.3, noise = 0.15, torn = 4.0, hole_size = 8.0;
  int holes = 2;
  double outliers = 0.0, drift = 0.0, drift_angle = 0.0;
  int seed = 1;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "practice_scanner",
        .label = "Practice scanner",
        .help =
            "What a scanner would see of a part, or of the clay model that comes with the program.",
        .stage = Stage::Source,
        .group = "Scans",
        .icon = "scan",
        .hint = "Set resolution, noise, torn borders and holes on the right; Enter keeps.",
        .part_name = "Scan"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// Lines drawn around regions, as JSON or as text: "z: 0,0 40,0 40,30; remove visible y: 1,1 5,1 5,5".
class LassosData : public DataParameter {
 public:
  static constexpr std::size_t kMost = 100;
  std::vector<Lasso> lassos;

  std::string to_json() const override;
  void from_json(const std::string& text) override;
  void set(std::string_view address, std::string_view text) override;
  std::string summary() const override;
};

/// A4: a region of a scan as a part of its own; the scan is left as it is. See core/scan/clip.h.
class ClipScanOperation : public OperationOf<ClipScanOperation>, public TakesLassos {
 public:
  PartRef scan;
  LassosData regions;
  PartRef curve;    ///< a closed curve that is one more line around what is kept
  int carried = 2;  ///< along x, y or z
  double border = 0.0, least = 5.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "clip_scan",
        .label = "Clip scan",
        .help = "A region of a scan as a part of its own; the scan stays as it is.",
        .stage = Stage::Source,
        .group = "Scans",
        .icon = "lasso",
        .takes = kMesh | kPoints,
        .hint =
            "Drag a line around what is kept (with Alt a box); Ctrl takes away, Shift takes only "
            "what is "
            "seen. Enter keeps.",
        .new_part = true,
        .part_name = "Clip"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
  std::vector<Lasso> lassos() const override { return regions.lassos; }
  OperationPtr with_lassos(std::vector<Lasso> lassos) const override;
};

}  // namespace evenclay
