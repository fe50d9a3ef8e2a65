#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// The sample of docs/architecture.md: a step that moves the whole form.
class ShiftOperation : public OperationOf<ShiftOperation> {
 public:
  Vec3 way{0, 0, 10};  ///< mm

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "shift",
        .label = "Shift",
        .help = "Moves the whole form by a length along x, y and z.",
        .stage = Stage::Shaped,
        .group = "Order",
        .icon = "move-3d",
        .takes = kBody};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
