#pragma once

#include "core/operations/common.h"

namespace evenclay {

/// D1, D2: a box of n × m × k points that bends whatever is put into it.
class CageOperation : public OperationOf<CageOperation> {
 public:
  int points_x = 3, points_y = 3, points_z = 4;
  Vec3 centre;
  double length_x = 100.0, length_y = 100.0, length_z = 100.0;
  /// Degrees: about z, then the box's own y, then its own x.
  double turn = 0.0, tilt = 0.0, roll = 0.0;
  double band = 0.0;  ///< percent of the box

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "cage",
        .label = "Cage",
        .help = "A box of points around one part or several; shaping its points bends them all.",
        .stage = Stage::Shaped,
        .group = "Cage",
        .icon = "box",
        .takes = kBody | kMesh | kCurves | kForm,
        .hint = "Enter keeps the cage; then drag its points. The picked parts follow.",
        .new_part = true,
        .followed_by = "in_cage"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// What a cage bends.
enum class CageMode { Grid, Exact };

/// D1: the shape as a cage bends it.
class InCageOperation : public OperationOf<InCageOperation> {
 public:
  PartRef cage;
  CageMode mode = CageMode::Grid;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "in_cage",
                                         .label = "In cage",
                                         .help =
                                             "Bends the part as a cage does; by its control "
                                             "points, or exactly within the tolerance.",
                                         .stage = Stage::Shaped,
                                         .group = "Cage",
                                         .icon = "package",
                                         .takes = kBody | kMesh | kCurves | kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
