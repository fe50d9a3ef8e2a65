#pragma once

#include "core/operations/common.h"

namespace evenclay {

/// A2: an exact rational circle, closed.
class CircleOperation : public OperationOf<CircleOperation> {
 public:
  double radius = 20.0;
  FlatPlane plane = FlatPlane::XY;
  Vec3 centre;

  std::string_view kind() const override { return "circle"; }
  std::string_view label() const override { return "Circle"; }
  std::string_view help() const override { return "An exact circle as a closed curve."; }
  bool is_source() const override { return true; }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
