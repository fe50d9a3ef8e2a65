#pragma once

#include "core/document/operation.h"

namespace evenclay {

enum class SpherePart { Whole, Upper, Lower };

/// A1: an exact rational sphere, periodic in u, poles at −z and +z of its centre.
class SphereOperation : public OperationOf<SphereOperation> {
 public:
  double radius = 50.0;
  SpherePart part = SpherePart::Whole;
  Vec3 centre;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "sphere",
        .label = "Sphere",
        .help = "An exact sphere; u runs around the z axis, v from the lower to the upper pole.",
        .stage = Stage::Source,
        .group = "Surfaces",
        .icon = "globe",
        .takes = kNothing};
    return kInfo;
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
