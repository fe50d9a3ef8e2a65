// Sources with a closed or round surface by their measures.
#pragma once

#include "core/operations/common.h"

namespace evenclay {

/// A1: an exact open cylinder about the z axis.
class CylinderOperation : public OperationOf<CylinderOperation> {
 public:
  double radius = 20.0, height = 50.0;
  Vec3 centre;  ///< of its lower circle

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "cylinder",
                                         .label = "Cylinder",
                                         .help = "An exact cylinder with open ends, upright.",
                                         .stage = Stage::Source,
                                         .group = "Surfaces",
                                         .icon = "cylinder"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A1: an exact cone with its tip above, or the band of one.
class ConeOperation : public OperationOf<ConeOperation> {
 public:
  double radius = 25.0, top = 0.0, height = 50.0;
  Vec3 centre;  ///< of its lower circle

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "cone",
        .label = "Cone",
        .help = "An exact upright cone, with a tip or cut off at an upper radius.",
        .stage = Stage::Source,
        .group = "Surfaces",
        .icon = "cone"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A1: an exact torus about the z axis.
class TorusOperation : public OperationOf<TorusOperation> {
 public:
  double ring = 40.0, tube = 12.0;
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "torus",
                                         .label = "Torus",
                                         .help = "An exact ring, closed in both directions.",
                                         .stage = Stage::Source,
                                         .group = "Surfaces",
                                         .icon = "torus"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

/// A1: six rectangles that meet along their borders.
class BoxOperation : public OperationOf<BoxOperation> {
 public:
  double length_x = 60.0, length_y = 40.0, length_z = 30.0;
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{.kind = "box",
                                         .label = "Box",
                                         .help = "Six rectangles that enclose a box.",
                                         .stage = Stage::Source,
                                         .group = "Surfaces",
                                         .icon = "box"};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
