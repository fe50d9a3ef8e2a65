#pragma once

#include "core/document/operation.h"
#include "core/pattern/flow.h"

namespace evenclay {

/// How repeats are spread over the target.
enum class FlowSpacing { Parameter, Even };

/// F2: a tile repeated and mapped onto a target surface; the result is a mesh.
class FlowPatternOperation : public OperationOf<FlowPatternOperation> {
 public:
  PartRef tile;
  PartRef target;
  int count_u = 12, count_v = 6;
  TargetCorner corner = TargetCorner::UVMin;
  bool flip_u = false, flip_v = false, inward = false;
  double height = 1.0;
  double u_from = 0.0, u_to = 1.0, v_from = 0.25, v_to = 0.75;
  FlowSpacing spacing = FlowSpacing::Even;
  int divisions = 12;
  double base_x = 0.0, base_y = 0.0;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "flow_pattern",
        .label = "Flow pattern",
        .help = "Repeats a tile from its flat base over a band of a target surface.",
        .stage = Stage::Pattern,
        .group = "Flow",
        .icon = "layout-grid",
        .takes = kBody,
        .new_part = true,
        .part_name = "Pattern"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
