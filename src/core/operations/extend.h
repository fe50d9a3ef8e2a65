#pragma once

#include "core/document/operation.h"

namespace evenclay {

/// B7: edges grown or shrunk by a length. See core/grid/extend.h.
class ExtendOperation : public OperationOf<ExtendOperation> {
 public:
  double all = 0.0;
  double u_begin = 0.0, u_end = 0.0, v_begin = 0.0, v_end = 0.0;
  int surface = 1;

  std::string_view kind() const override { return "extend"; }
  std::string_view label() const override { return "Extend"; }
  std::string_view help() const override {
    return "Edges grow by a length along their natural curvature, or shrink; the old region and "
           "the counts stay.";
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
