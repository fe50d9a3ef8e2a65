#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// B3: another degree on the same spans. See core/grid/set_degree.h.
class SetDegreeOperation : public OperationOf<SetDegreeOperation> {
 public:
  int degree_u = 3, degree_v = 3;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "set_degree",
        .label = "Set degree",
        .help =
            "Another degree along u and v; raising keeps the shape exactly, lowering shows what it "
            "costs.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "chevrons-up",
        .takes = kBody};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
