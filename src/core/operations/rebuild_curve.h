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

  std::string_view kind() const override { return "rebuild_curve"; }
  std::string_view label() const override { return "Rebuild curve"; }
  std::string_view help() const override {
    return "The same curve with a chosen count of control points and degree.";
  }
  void describe(ParameterVisitor& visitor) override;
  std::string summary() const override;
  CurveRebuildOptions options() const;
  Outcome apply(const Shape& before, const Inputs& inputs, Progress& progress) const override;
};

}  // namespace evenclay
