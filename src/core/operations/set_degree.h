#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// B3: another degree on the same spans. See core/grid/set_degree.h.
class SetDegreeOperation : public OperationOf<SetDegreeOperation> {
 public:
  int degree_u = 3, degree_v = 3;

  std::string_view kind() const override { return "set_degree"; }
  std::string_view label() const override { return "Set degree"; }
  std::string_view help() const override {
    return "Another degree along u and v; raising keeps the shape exactly, lowering shows what it "
           "costs.";
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
