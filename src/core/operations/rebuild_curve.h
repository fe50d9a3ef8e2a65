#pragma once

#include "core/grid/rebuild.h"
#include "core/operations/rebuild.h"

namespace evenclay {

/// B2: curves with a chosen count of control points. See core/grid/rebuild.h.
class RebuildCurveOperation : public OperationOf<RebuildCurveOperation> {
 public:
  int points = 12;
  int degree = 3;
  Spacing spacing = Spacing::KeepFlow;

  const OperationInfo& info() const override {
    static constexpr OperationInfo kInfo{
        .kind = "rebuild_curve",
        .label = "Rebuild curve",
        .help = "The same curve with a chosen count of control points and degree.",
        .stage = Stage::Grid,
        .group = "Counts",
        .icon = "grid-3x3",
        .takes = kCurves,
        .action = "rebuild"};
    return kInfo;
  }
  void suit(const Beginning& beginning) override;
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  CurveRebuildOptions options() const;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
