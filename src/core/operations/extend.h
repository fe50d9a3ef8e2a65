#pragma once

#include "core/operations/common.h"

namespace evenclay {

/// B7: edges grown or shrunk by a length. See core/grid/extend.h.
class ExtendOperation : public OperationOf<ExtendOperation> {
 public:
  double all = 0.0;
  double u_begin = 0.0, u_end = 0.0, v_begin = 0.0, v_end = 0.0;
  OnFace on;  ///< its place is not used

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "extend",
        .label = "Extend",
        .help =
            "Edges grow by a length along their natural curvature, or shrink; the old region and "
            "the counts stay.",
        .stage = Stage::Grid,
        .group = "Edges",
        .icon = "expand",
        .takes = kBody};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
