#pragma once

#include "core/document/operation.h"
#include "core/operations/common.h"

namespace evenclay {

/// A1: a rectangle with one span in each direction.
class PlaneOperation : public OperationOf<PlaneOperation> {
 public:
  double length_x = 100.0;
  double length_y = 100.0;
  FlatPlane plane = FlatPlane::XY;
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "plane",
        .label = "Plane",
        .help = "A flat rectangle about a centre; u runs along its first side, v along its second.",
        .stage = Stage::Source,
        .group = "Surfaces",
        .icon = "square",
        .takes = kNothing};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
