#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// A1: an exact rational sphere, periodic in u, poles at −z and +z of its centre.
class SphereOperation : public OperationOf<SphereOperation> {
 public:
  double radius = 50.0;
  Vec3 centre;

  std::string_view kind() const override { return "sphere"; }
  std::string_view label() const override { return "Sphere"; }
  std::string_view help() const override {
    return "An exact sphere; u runs around the z axis, v from the lower to the upper pole.";
  }
  bool is_source() const override { return true; }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
