// Mirror and array: more of the same, following the one.
#pragma once

#include "core/operations/common.h"
#include "core/source/copies.h"

namespace evenclay {

/// G8: the shape mirrored in a plane, with or without the first half.
class MirrorOperation : public OperationOf<MirrorOperation> {
 public:
  FlatPlane plane = FlatPlane::XZ;
  double place = 0.0;  ///< of the plane along its normal
  bool keep = true;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "mirror",
        .label = "Mirror",
        .help = "Adds the mirror image in a plane; what is changed below changes on both sides.",
        .stage = Stage::CutAndJoin,
        .group = "Copies",
        .icon = "flip-horizontal-2",
        .takes = kBody | kMesh | kCurves | kForm};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

enum class ArrayWay { Line, Ring, Grid, Curve };

/// G8: copies in a row or around an axis.
class ArrayOperation : public OperationOf<ArrayOperation> {
 public:
  static constexpr int kMost = 400;
  ArrayWay way = ArrayWay::Line;
  int count = 4;
  Vec3 step{30, 0, 0};              ///< Line: from one copy to the next
  FlatPlane plane = FlatPlane::XY;  ///< Ring: the axis stands on it
  double angle = 360.0;             ///< Ring: 360 spreads them all round
  Vec3 centre;                      ///< Ring: a place on the axis
  int rows = 3;                     ///< Grid: rows of `count` each
  Vec3 row_step{0, 30, 0};          ///< Grid: from one row to the next
  PartRef along;                    ///< Curve: the part with the curve
  bool turned = true;               ///< Curve: copies turn with it

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "array",
                                         .label = "Array",
                                         .help =
                                             "Copies of the shape in a row, a grid, around an axis "
                                             "or along a curve, which follow it.",
                                         .stage = Stage::CutAndJoin,
                                         .group = "Copies",
                                         .icon = "layout-grid",
                                         .takes = kBody | kMesh | kCurves | kForm};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;

 private:
  std::vector<Placement> placements(const Inputs& inputs) const;
};

}  // namespace evenclay
